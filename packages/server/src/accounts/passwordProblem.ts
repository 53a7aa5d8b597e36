import { dictionary } from '@zxcvbn-ts/language-common';

export const SHORTEST_PASSWORD = 12;

const COMMON: ReadonlySet<string> = new Set(dictionary['passwords-common']);

/** Why a password is too easy to guess, as a sentence; `null` where it will do. */
export function passwordProblem(password: string): string | null {
  const text = password.normalize('NFKC').toLowerCase();
  const characters = [...text];
  if (characters.length < SHORTEST_PASSWORD) {
    return `The password is under ${SHORTEST_PASSWORD} characters. A few words in a row are easy to keep in mind.`;
  }
  if (new Set(characters).size < 4) {
    return 'The password repeats the same few characters. Use more different ones.';
  }
  const core = text.replace(/^[^\p{L}]+|[^\p{L}]+$/gu, '');
  const unit = /^(.+?)\1+$/su.exec(text)?.[1] ?? '';
  if ([text, core, unit].some((each) => COMMON.has(each))) {
    return 'This password is easy to guess. Choose another.';
  }
  return null;
}
