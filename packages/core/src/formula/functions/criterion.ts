import { isErrorValue, type CellValue } from '../../values';
import { compareTexts, compareValues, foldCase, numberInText, type NumberSign } from './convert';

/** Whether a value meets a condition. */
export type Test = (value: CellValue) => boolean;

const COMPARISON = /^(<=|>=|<>|<|>|=)?([\s\S]*)$/;

/**
 * The condition a criterion stands for, as `COUNTIF` and its kin take it: a value to be equal to,
 * or a text of a comparison and a value, `>=7`, `<>closed`; in texts `*` stands for any
 * characters, `?` for one, and `~` takes either as it is. (ODF 1.3 part 4, 4.11.8; wildcards as
 * the host may allow.)
 */
export function testOf(criterion: CellValue, locale: NumberSign): Test {
  if (typeof criterion !== 'string') return equalTo(criterion ?? 0);
  const [, sign = '=', rest = ''] = COMPARISON.exec(criterion) ?? [];
  const typed = numberInText(rest, locale) ?? logicalIn(rest) ?? rest;
  if (rest === '') return testOfNothing(criterion, sign);
  if (sign === '=') return equalTo(typed);
  if (sign === '<>') {
    const equal = equalTo(typed);
    return (value) => !equal(value);
  }
  const holds = ORDER[sign as keyof typeof ORDER];
  return (value) =>
    value !== null &&
    !isErrorValue(value) &&
    typeof value === typeof typed &&
    holds(compareValues(value, typed));
}

const ORDER = {
  '<': (order: number) => order < 0,
  '<=': (order: number) => order <= 0,
  '>': (order: number) => order > 0,
  '>=': (order: number) => order >= 0,
} as const;

function testOfNothing(criterion: string, sign: string): Test {
  if (criterion === '') return (value) => value === null || value === '';
  if (sign === '=') return (value) => value === null;
  if (sign === '<>') return (value) => value !== null;
  return () => false;
}

function logicalIn(text: string): boolean | null {
  const word = text.toUpperCase();
  return word === 'TRUE' ? true : word === 'FALSE' ? false : null;
}

function equalTo(wanted: CellValue): Test {
  if (typeof wanted === 'number') {
    return (value) => typeof value === 'number' && compareValues(value, wanted) === 0;
  }
  if (typeof wanted === 'string') {
    const matches = textTest(wanted);
    return (value) => typeof value === 'string' && matches(value);
  }
  if (isErrorValue(wanted)) return (value) => isErrorValue(value) && value.error === wanted.error;
  return (value) => value === wanted;
}

/** Whether a whole text is as a pattern says, without regard to case. */
export function textTest(pattern: string): (text: string) => boolean {
  if (!/[*?~]/.test(pattern)) return (text) => compareTexts(text, pattern) === 0;
  const parts = partsOf(pattern);
  return (text) => matchesAt(foldedCharacters(text), parts, 0, true) !== null;
}

/** Where a pattern first matches in a text at or after a place, in characters from 0, or `null`. */
export function findPattern(text: string, pattern: string, from: number): number | null {
  const characters = foldedCharacters(text);
  const parts = partsOf(pattern);
  for (let at = from; at <= characters.length; at += 1) {
    if (matchesAt(characters, parts, at, false) !== null) return at;
  }
  return null;
}

/** The characters of a text, each as it is compared: one may become several, and stays one. */
const foldedCharacters = (text: string): string[] => Array.from(text, foldCase);

/** One part of a pattern: a character, any one, or any number of any. */
type Part = string | typeof ANY | typeof ANY_RUN;
const ANY = Symbol('one character');
const ANY_RUN = Symbol('any characters');

function partsOf(pattern: string): Part[] {
  const parts: Part[] = [];
  const characters = foldedCharacters(pattern);
  for (let at = 0; at < characters.length; at += 1) {
    const character = characters[at] ?? '';
    const following = characters[at + 1] ?? '';
    if (character === '~' && /[*?~]/.test(following)) {
      parts.push(following);
      at += 1;
    } else if (character === '*') {
      if (parts.at(-1) !== ANY_RUN) parts.push(ANY_RUN);
    } else parts.push(character === '?' ? ANY : character);
  }
  return parts;
}

/**
 * Matches parts at a place: greedy, going back to the last run only, so that the time is at most
 * the product of both lengths. Gives where the match ends.
 */
function matchesAt(
  text: readonly string[],
  parts: readonly Part[],
  from: number,
  toTheEnd: boolean,
): number | null {
  let at = from;
  let part = 0;
  let run = -1;
  let runAt = from;
  for (;;) {
    const wanted = parts[part];
    if (wanted === undefined && (!toTheEnd || at === text.length)) return at;
    if (wanted === ANY_RUN) {
      run = part;
      runAt = at;
      part += 1;
    } else if (at < text.length && (wanted === ANY || wanted === text[at])) {
      at += 1;
      part += 1;
    } else if (run >= 0 && runAt < text.length) {
      runAt += 1;
      at = runAt;
      part = run + 1;
    } else return null;
  }
}
