import { read, refuse, type Reading, quote, type Sentences } from '../values';
import type { Column, Kind } from './kind';
import { joinChoices, splitChoices } from './several';
import { showPlain } from './showPlain';

declare module '../values/problem' {
  interface Problems {
    notAChoice: { readonly text: string; readonly near: string | null };
  }
}

export const CHOICE_SENTENCES: Sentences<'notAChoice'> = {
  notAChoice: ({ text, near }) =>
    near === null
      ? `${quote(text)} is not one of the choices. Pick one from the list.`
      : `${quote(text)} is not one of the choices. Did you mean ${quote(near)}?`,
};

/** Letters, figures and signs of ASCII, with single spaces between them. */
const PLAIN = /^(?:[!-~]| (?! ))*$/;

/** Folds what people type alike: case, accents, and white space at the ends and doubled. */
export function foldText(text: string): string {
  // Most texts are plain, and many are folded at a time.
  if (PLAIN.test(text)) return text.toLowerCase().trim();
  return text.normalize('NFKD').replace(/\p{M}/gu, '').toLowerCase().trim().replace(/\s+/g, ' ');
}

/** A code without what people leave out of it: signs, and zeros before figures. `AB-03` is `ab3`. */
export function foldCode(text: string): string {
  return foldText(text)
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .replace(/(?<!\d)0+(?=\d)/g, '')
    .replace(/ (?!\d)|(?<!\d) /g, '');
}

function findChoice(typed: string, column: Column, asWritten: boolean): string | undefined {
  const choices = column.settings.choices ?? [];
  if (choices.includes(typed)) return typed;
  const folded = foldText(typed);
  const found = choices.find((choice) => foldText(choice) === folded);
  if (found !== undefined || asWritten || !/\d/.test(folded)) return found;
  const code = foldCode(typed);
  const alike = choices.filter((choice) => foldCode(choice) === code);
  return alike.length === 1 ? alike[0] : undefined;
}

/**
 * A typed text as a choice: as the list writes it, or an answer of one's own where the column
 * takes those, with the column's mark before it.
 */
function readChoice(typed: string, column: Column, asWritten = false): Reading {
  const choice = findChoice(typed, column, asWritten);
  if (choice !== undefined) return read(choice);
  const { own } = column.settings;
  if (own !== undefined) {
    const text = ownText(typed.trim(), column) ?? typed.trim();
    // A mark alone says that something else is meant, and not what.
    return text === '' ? read(null) : read(`${own}${text}`);
  }
  const folded = foldText(typed);
  const begun = (column.settings.choices ?? []).find((each) => foldText(each).startsWith(folded));
  return refuse({ code: 'notAChoice', text: typed.trim(), near: begun ?? null });
}

/** What is behind the column's mark of answers of one's own; `null` for one of its choices. */
export function ownText(text: string, column: Column): string | null {
  const { own, choices = [] } = column.settings;
  if (own === undefined || choices.includes(text)) return null;
  if (text.startsWith(own)) return text.slice(own.length);
  return text === own.trim() ? '' : text;
}

/**
 * What a cell of choices says, as another column of choices writes it: parted by its separator,
 * answers of one's own behind its mark. Other texts stay as they are.
 */
export function rewrittenChoices(text: string, before: Column, after: Column): string {
  const isChoice = ({ kind }: Column): boolean => kind === 'oneChoice' || kind === 'severalChoices';
  if (!isChoice(before) || !isChoice(after)) return text;
  const parts =
    before.kind === 'severalChoices' ? splitChoices(text, before.settings.separator) : [text];
  const { own } = after.settings;
  const marked = parts.map((part) => {
    const answer = own === undefined ? null : ownText(part, before);
    return answer === null ? part : `${own ?? ''}${answer}`;
  });
  if (after.kind === 'severalChoices') return joinChoices(marked, after.settings.separator);
  return marked.length === 1 ? (marked[0] ?? text) : text;
}

/** One of the column's choices, stored as the choice is written, however it was typed. */
export const oneChoice: Kind = {
  id: 'oneChoice',
  label: 'One choice',
  align: 'start',
  filledBy: 'people',
  typing: 'choice',
  holds: 'string',
  usualLength: 14,
  tail: 'choices',
  read: (typed, column, { asWritten }) =>
    typed.trim() === '' ? read(null) : readChoice(typed, column, asWritten),
  show: showPlain,
};

/** Any number of the column's choices in one cell, in the order they were given. */
export const severalChoices: Kind = {
  id: 'severalChoices',
  label: 'Several choices',
  align: 'start',
  filledBy: 'people',
  typing: 'choice',
  holds: 'string',
  usualLength: 20,
  tail: 'choices',
  read(typed, column, { asWritten }) {
    const chosen: string[] = [];
    const { separator } = column.settings;
    for (const part of splitChoices(typed, separator)) {
      const reading = readChoice(part, column, asWritten);
      if (!reading.ok) return reading;
      const choice = String(reading.value ?? '');
      if (choice !== '' && !chosen.includes(choice)) chosen.push(choice);
    }
    return read(chosen.length === 0 ? null : joinChoices(chosen, separator));
  },
  show: showPlain,
};
