import { quote, type Problem, type Sentences } from '../values';
import type { ControlDetails } from './controls';

declare module '../values/problem' {
  interface Problems {
    fileTooLarge: { readonly text: string; readonly most: number };
    otherFiles: { readonly text: string; readonly accepts: 'images' | 'documents' };
  }
}

export const FILE_LIMIT_SENTENCES: Sentences<'fileTooLarge' | 'otherFiles'> = {
  fileTooLarge: ({ text, most }) =>
    `The file ${quote(text)} is over ${most} MB. Choose a smaller one.`,
  otherFiles: ({ text, accepts }) =>
    accepts === 'images'
      ? `The file ${quote(text)} is not a picture. Choose a PNG, JPEG, GIF or WebP.`
      : `The file ${quote(text)} is a picture, but a document is needed. Choose another one.`,
};

const MEGABYTE = 1024 * 1024;

/** What keeps a file from being an answer of a field with these details. */
export function fileProblem(
  file: { readonly name: string; readonly type: string; readonly bytes: number },
  { accepts, most }: ControlDetails,
): Problem | null {
  const text = file.name;
  if (most !== undefined && file.bytes > most * MEGABYTE)
    return { code: 'fileTooLarge', text, most };
  if (accepts === undefined) return null;
  const isPicture = file.type.startsWith('image/');
  return isPicture === (accepts === 'images') ? null : { code: 'otherFiles', text, accepts };
}
