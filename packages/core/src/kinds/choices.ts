import {
  doubted,
  isErrorValue,
  quote,
  read,
  refuse,
  type CellValue,
  type LocaleFacts,
  type Problem,
  type Reading,
  type Sentences,
  type Strictness,
} from '../values';
import { date } from './date';
import type { Column, Kind, KindId, ReadingContext } from './kind';
import type { ChoiceValue, ListSettings } from './list';
import { moment } from './moment';
import { joinChoices, splitChoices } from './several';
import { showPlain } from './showPlain';
import { time } from './time';

declare module '../values/problem' {
  interface Problems {
    notAChoice: { readonly text: string; readonly near: string | null };
    leftTheList: { readonly text: string };
    severalMeant: { readonly text: string; readonly values: readonly string[] };
  }
}

export const CHOICE_SENTENCES: Sentences<'notAChoice' | 'leftTheList' | 'severalMeant'> = {
  leftTheList: ({ text }) =>
    `${quote(text)} is no longer on the list. Choose another, or keep it if you mean it.`,
  notAChoice: ({ text, near }) =>
    near === null
      ? `${quote(text)} is not one of the choices. Pick one from the list.`
      : `${quote(text)} is not one of the choices. Did you mean ${quote(near)}?`,
  severalMeant: ({ text, values }) =>
    `${quote(text)} is the name of ${values.length}: ${values.slice(0, 5).map(quote).join(', ')}. Pick one from the list.`,
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
  const folded = foldText(text);
  if (PLAIN.test(folded)) return plainCode(folded);
  return folded
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .replace(/(?<!\d)0+(?=\d)/g, '')
    .replace(/ (?!\d)|(?<!\d) /g, '');
}

const isFigure = (code: number): boolean => code >= 48 && code <= 57;
const isSmallLetter = (code: number): boolean => code >= 97 && code <= 122;
const ZERO = 48;

/** The same of a plain text, read once through: many are folded when a code is first looked for. */
function plainCode(folded: string): string {
  let code = '';
  let before = 0;
  for (let at = 0; at < folded.length; at += 1) {
    const here = folded.charCodeAt(at);
    if (isFigure(here)) {
      const isLeading = here === ZERO && !isFigure(before) && isFigure(folded.charCodeAt(at + 1));
      // Of zeros at a beginning the next one begins the figures anew.
      if (isLeading) continue;
      const isApart = !isFigure(before) && before !== 0 && !isSmallLetter(before);
      if (isApart && isFigure(code.charCodeAt(code.length - 1))) code += ' ';
      code += folded.charAt(at);
    } else if (isSmallLetter(here)) code += folded.charAt(at);
    before = here;
  }
  return code;
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
function readChoice(typed: string, column: Column, context: ReadingContext): Reading {
  const { asWritten = false } = context;
  if (column.settings.list) return readListed(typed, column, column.settings.list, context);
  const choice = findChoice(typed, column, asWritten);
  if (choice !== undefined) return read(choice);
  const { own } = column.settings;
  if (own !== undefined) return ownAnswer(typed, own, column);
  const folded = foldText(typed);
  const begun = (column.settings.choices ?? []).find((each) => foldText(each).startsWith(folded));
  return refuse({ code: 'notAChoice', text: typed.trim(), near: begun ?? null });
}

/** A typed text as an item of the list that feeds the column. */
function readListed(
  typed: string,
  column: Column,
  { strictness }: ListSettings<unknown>,
  { listed, held, locale, asWritten = false }: ReadingContext,
): Reading {
  const text = typed.trim();
  const list = listed?.(column.id);
  // Where the list is not at hand it is held against it later, or was before.
  if (!list) return read(text);
  const before = held?.[column.id] ?? null;
  // Of several choices only this one stays, not the whole cell it is a part of.
  if (isStillHeld(text, before, column, locale))
    return read(column.kind === 'oneChoice' ? before : text);
  const meant = list.meant(text, asWritten);
  const [item] = meant;
  if (item && meant.every(({ value }) => value === item.value)) return read(item.value);
  const { own } = column.settings;
  if (own !== undefined && !item) return ownAnswer(text, own, column);
  const left = item ? undefined : list.gone(text);
  if (left) return doubted(left.value, { code: 'leftTheList', text: left.label }, strictness);
  const problem: Problem = item
    ? { code: 'severalMeant', text, values: meant.map((each) => each.text) }
    : { code: 'notAChoice', text, near: list.near(text) };
  return strictness === undefined ? refuse(problem) : doubted(text, problem, strictness);
}

/** Whether a text is what the record holds already: a value that left its list may stay. */
function isStillHeld(
  text: string,
  before: CellValue,
  column: Column,
  locale: LocaleFacts,
): before is ChoiceValue {
  if (before === null || isErrorValue(before)) return false;
  if (column.kind === 'oneChoice') return text === showChoice(before, column, locale);
  return splitChoices(String(before), column.settings.separator).includes(text);
}

function ownAnswer(typed: string, own: string, column: Column): Reading {
  const text = ownText(typed.trim(), column) ?? typed.trim();
  // A mark alone says that something else is meant, and not what.
  return text === '' ? read(null) : read(`${own}${text}`);
}

/** A value of a list, shown as its source shows it. */
function showChoice(value: Exclude<CellValue, null>, column: Column, locale: LocaleFacts): string {
  const show = typeof value === 'number' ? SHOWN[column.settings.shownAs ?? 'text'] : undefined;
  return (show ?? showPlain)(value, column, locale);
}

/** Kinds of sources whose numbers are shown as something else. */
const SHOWN: Readonly<Partial<Record<KindId, Kind['show']>>> = {
  date: date.show,
  time: time.show,
  moment: moment.show,
};

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
  read: (typed, column, context) =>
    typed.trim() === '' ? read(null) : readChoice(typed, column, context),
  show: showChoice,
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
  read(typed, column, context) {
    const chosen: string[] = [];
    const { separator } = column.settings;
    let last: { doubt: Problem; strictness: Exclude<Strictness, 'refuse'> } | null = null;
    for (const part of splitChoices(typed, separator)) {
      const reading = readChoice(part, column, context);
      if (!reading.ok) return reading;
      const { value, doubt, strictness } = reading;
      if (doubt) last = { doubt, strictness: strictness ?? 'ask' };
      const choice = value === null ? '' : showChoice(value, column, context.locale);
      if (choice !== '' && !chosen.includes(choice)) chosen.push(choice);
    }
    const joined = chosen.length === 0 ? null : joinChoices(chosen, separator);
    return last ? doubted(joined, last.doubt, last.strictness) : read(joined);
  },
  show: showPlain,
};
