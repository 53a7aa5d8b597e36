import {
  isGroup,
  kindOf,
  standsAlone,
  typedValue,
  type Column,
  type Condition,
  type Rule,
  type RuleTest,
  type SignSet,
} from '../kinds';
import { brokenRules, type RuleGround } from './check';
import { graphemesOf } from './graphemes';
import { readPicture } from './picture';

/** Values as they are typed: some that pass a rule, and some that break it. */
export interface Examples {
  readonly passing: readonly string[];
  readonly failing: readonly string[];
}

/** How many of each are told. */
const MOST = 3;
const LONGEST_MADE = 60;
const LETTERS = 'abcdefghijklmnopqrstuvwxyz';
const FIGURES = '1234567890';

/**
 * Made-up values that pass a rule and that break it. Each was read as its column reads it and held
 * against the rule itself, so that they behave as they say; a rule about other records, or about
 * another column, has none.
 */
export function examplesOf(rule: Rule, column: Column, ground: RuleGround): Examples {
  if (standsAlone(rule.must)) return { passing: [], failing: [] };
  const alone = { must: rule.must };
  const ruled: Column = { ...column, settings: { ...column.settings, rules: [alone] } };
  const passing: string[] = [];
  const failing: string[] = [];
  const seen = new Set<unknown>();
  for (const typed of candidatesFor(rule.must, column, ground)) {
    const reading = kindOf(column).read(typed, column, ground);
    if (!reading.ok || reading.value === null || seen.has(reading.value)) continue;
    seen.add(reading.value);
    const isBroken = brokenRules(reading.value, ruled, ground).length > 0;
    const into = isBroken ? failing : passing;
    if (into.length < MOST) into.push(typed);
  }
  return { passing, failing };
}

/** Texts worth trying on a condition, the plainest first. */
function candidatesFor(condition: Condition, column: Column, ground: RuleGround): string[] {
  if (isGroup(condition)) {
    return condition.of.flatMap((each) => candidatesFor(each, column, ground));
  }
  const typed = (value: number): string => typedValue(value, column, ground.locale);
  const numbers = numbersFor(condition, column, ground.now);
  return numbers.length > 0 ? numbers.map(typed) : textsFor(condition);
}

/** Numbers, days and times at the ends of what a test allows, within and beyond. */
function numbersFor(test: RuleTest, column: Column, now: number): number[] {
  const { iso, holds } = kindOf(column);
  if (holds !== 'number') return [];
  const today = Math.floor(now);
  switch (test.is) {
    case 'between': {
      const step = iso === 'time' || iso === 'moment' ? 1 / 1440 : stepOf(column, test);
      const { from, to } = test;
      const middle = from !== undefined && to !== undefined ? [rounded((from + to) / 2, step)] : [];
      const ends = [from, to].filter((end) => end !== undefined);
      const beyond = [
        ...(from === undefined ? [] : [from - step]),
        ...(to === undefined ? [] : [to + step]),
      ];
      return [...middle, ...ends, ...beyond.map((each) => rounded(each, step))];
    }
    case 'whole':
      return [3, 0, -2, 3.5];
    case 'multiple':
      return [test.of, test.of * 3, test.of * 1.5, test.of / 2];
    case 'past':
    case 'future':
      return [today - 1, today, today + 1];
    case 'within':
      return [today, today + test.days, today - test.days - 1];
    case 'weekday':
      return Array.from({ length: 7 }, (_, n) => today + n);
    default:
      return [];
  }
}

/** The step in which a column's numbers are written, as far as it and its limits tell. */
function stepOf(column: Column, { from = 0, to = 0 }: { from?: number; to?: number }): number {
  const decimals = Math.max(...[from, to].map((each) => String(each).split('.')[1]?.length ?? 0));
  const places = column.kind === 'number' ? Math.max(decimals, 1) : decimals;
  return 10 ** -places;
}

const rounded = (value: number, step: number): number =>
  Number((Math.round(value / step) * step).toPrecision(12));

const ONE_OF: Readonly<Record<SignSet, string>> = {
  letters: 'a',
  capitals: 'A',
  smallLetters: 'a',
  figures: '4',
  blanks: ' ',
};

function textsFor(test: RuleTest): string[] {
  switch (test.is) {
    case 'length':
      return lengths(test.from, test.to);
    case 'contains':
    case 'begins':
    case 'ends':
      return [test.text, `${test.text} 7`, `River ${test.text}`, 'River'];
    case 'madeOf': {
      const one = test.of.map((set) => ONE_OF[set]).join('');
      const also = graphemesOf(test.also ?? '')[0] ?? '';
      const all = Object.values(ONE_OF).map((sign) => `a4${sign}b`);
      return [`${one}${also}${one}`.trim(), one.repeat(3).trim(), ...all, 'a.b', '4.4', 'é'];
    }
    case 'picture':
      return picturesLike(test.picture);
    case 'oneOf':
      return [...test.values.slice(0, MOST), `${test.values[0] ?? ''}x`, 'Another'];
    case 'mail':
      return ['name@post.example', 'name.surname@river.example', 'name@', 'river.example'];
    case 'webAddress':
      return ['https://river.example', 'https://river.example/map?at=4', 'river', 'name@'];
    case 'phone':
      return ['+44 1632 960001', '01632 960001', '+44 7700 900123', '960001', '12'];
    default:
      return ['River', 'AB-01', '12345', '3', '42.5'];
  }
}

/** Texts as long as may be and one sign beyond, of letters and of figures. */
function lengths(from: number | undefined, to: number | undefined): string[] {
  const of = (signs: string, length: number): string =>
    signs.repeat(Math.ceil(length / signs.length)).slice(0, length);
  const right = [from, to].filter((each) => each !== undefined && each > 0);
  const wrong = [from === undefined ? 0 : from - 1, to === undefined ? 0 : to + 1];
  const made = (length: number): string[] =>
    length > 0 && length <= LONGEST_MADE ? [of(LETTERS, length), of(FIGURES, length)] : [];
  return [...right, ...wrong].flatMap((each) => made(each ?? 0));
}

/** A text with the places of a picture, and some that lack one. */
function picturesLike(picture: string): string[] {
  const places = readPicture(picture) ?? [];
  const signs = (letters: string): string => {
    const next = { letter: 0, figure: 0 };
    const one = (is: 'letter' | 'figure', of: string): string =>
      of.charAt((next[is] += 1) - 1) || of.charAt((next[is] = 1) - 1);
    return places
      .map((place) => {
        if (place.is === 'fixed') return place.text;
        const made = Array.from({ length: place.times }, () =>
          place.is === 'figure' ? one('figure', FIGURES) : one('letter', letters),
        );
        return made.join('');
      })
      .join('');
  };
  const right = signs('KLMNPQRST');
  return [right, signs('fghjk'), right.slice(0, -1), `${right}0`, right.replace(/\d/, 'x')];
}
