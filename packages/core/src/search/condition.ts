import { compareValues, textTest } from '../formula';
import {
  foldText,
  isOfKind,
  kindOf,
  runningNumberIn,
  showValue,
  splitChoices,
  type Column,
  type ReadingContext,
} from '../kinds';
import type { Sure } from '../sheet';
import type { CellValue, Problem } from '../values';
import { quote } from '../values';
import { readPeriod, type Period } from './period';

export type Test = (value: CellValue) => boolean;
/** A test of a value as its column shows it, folded; of a blank cell it is `null`. */
export type ShownTest = (shown: string | null) => boolean;

/** What a column's values must be: how they are tested, and how that is said behind its heading. */
export interface Condition {
  readonly test: Test;
  /** Numbers of which its answer is sure. */
  readonly sure?: Sure;
  /** The same test of what is shown, folded: `null` where the cell is blank. */
  readonly ofShown?: ShownTest;
  /** `is at least 7`, `begins with ‘ash’`, `is empty`. */
  readonly says: string;
  /** The same denied: `is not at least 7`. */
  readonly denied: string;
}

/** What reading a condition gives: a test of a column's values, or why it is none. */
export type ConditionReading =
  ({ readonly ok: true } & Condition) | { readonly ok: false; readonly problem: Problem };

const SIGNED = /^(<=|>=|<>|!=|[≤≥≠<>=])\s*(.+)$/s;
/** Signs as people write them otherwise. */
const MEANT_SIGN: Readonly<Record<string, string>> = {
  '!=': '<>',
  '≠': '<>',
  '≤': '<=',
  '≥': '>=',
};
const STRETCH = /^(.*?)\s*\.\.\s*(.*)$/s;
/** A stretch in words or with a dash; of figures the dash may stand right between them. */
const SAID_STRETCH = /^(.+?)(?:\s+(?:to|-)\s+|\s*–\s*|(?<=^\d[\d.,]*)-(?=\d[\d.,]*$))(.+)$/is;
/** A text in quotes is just that text, whatever signs it holds; its own quotes are doubled. */
const QUOTED = /^"((?:[^"]|"")+)"$/s;
const DENIED = /^not\s+(.+)$/is;
const BLANK = /^(?:blank|empty)$/i;

type Sign = '<' | '<=' | '>' | '>=' | '=';

const HOLDS: Readonly<Record<Sign, (order: number) => boolean>> = {
  '<': (order) => order < 0,
  '<=': (order) => order <= 0,
  '>': (order) => order > 0,
  '>=': (order) => order >= 0,
  '=': (order) => order === 0,
};

/** How a comparison is said: of figures and texts, of days, and of times of day. */
const SAYS: Readonly<Record<'size' | 'day', Readonly<Record<Sign, string>>>> = {
  size: { '<': 'under', '<=': 'at most', '>': 'over', '>=': 'at least', '=': '' },
  day: { '<': 'before', '<=': 'on or before', '>': 'after', '>=': 'on or after', '=': '' },
};

/**
 * Reads a condition on a column's values: a value, a comparison (`>= 7`), a stretch (`3..5`, open
 * at either end), a text with `*` and `?`, days (`2026-03`, `this week`), `empty`, one of several
 * (`a, b`), and any of these denied with `not`.
 */
export function readCondition(
  text: string,
  column: Column,
  context: ReadingContext,
): ConditionReading {
  const typed = text.trim();
  const rest = DENIED.exec(typed)?.[1];
  if (rest !== undefined && !isStored(typed, column, context)) {
    const reading = readCondition(rest, column, context);
    if (!reading.ok) return reading;
    return deniedOf(reading);
  }
  const one = readOne(typed, column, context);
  if (one.ok && !isTextual(column)) return one;
  const isWhole = QUOTED.test(typed) || isStored(typed, column, context);
  const parts = isWhole ? [] : partsOf(typed, context);
  if (parts.length < 2) return one;
  const readings = parts.map((part) => readOne(part, column, context));
  const failed = readings.find((each) => !each.ok);
  return failed ?? anyOf(readings.filter((each) => each.ok));
}

function deniedOf({ test, ofShown, says, denied }: Condition): ConditionReading {
  const shown = ofShown && { ofShown: (text: string | null): boolean => !ofShown(text) };
  return { ok: true, test: (value) => !test(value), ...shown, says: denied, denied: says };
}

/** Whether a text is one of a column's own choices, whatever signs it holds. */
function isStored(
  text: string,
  { id, settings: { choices = [], list } }: Column,
  { listed }: ReadingContext,
): boolean {
  if (list) return (listed?.(id)?.meant(text, true).length ?? 0) > 0;
  return choices.some((choice) => foldText(choice) === foldText(text));
}

/** Whether a column's values are looked through as texts. */
export function isTextual(column: Column): boolean {
  const { shownAs } = column.settings;
  if (column.kind === 'computed')
    return shownAs === undefined || isTextual({ ...column, kind: shownAs });
  return kindOf(column).holds === 'string';
}

function readOne(typed: string, column: Column, context: ReadingContext): ConditionReading {
  const isLiteral = QUOTED.test(typed);
  const text = unquoted(typed);
  // What is on the column's list is itself first, whatever signs it begins with.
  const isOneOfSeveral = isLiteral && column.kind === 'severalChoices';
  if (isOneOfSeveral || isStored(text, column, context)) {
    return isTextual(column) ? chosen(text, column, context) : compared(text, column, context, '=');
  }
  if (isLiteral) {
    return isTextual(column)
      ? matching(typed, column, context)
      : shownOr(text, compared(text, column, context, '='), column, context);
  }
  if (BLANK.test(typed)) return phrased((value) => value === null, 'is', 'empty');
  const signed = SIGNED.exec(typed);
  if (signed) {
    const [, written = '=', rest = ''] = signed;
    const sign = MEANT_SIGN[written] ?? written;
    const reading = compared(rest, column, context, sign === '<>' ? '=' : (sign as Sign));
    if (sign !== '<>' || !reading.ok) return reading;
    return deniedOf(reading);
  }
  const stretch = STRETCH.exec(typed);
  if (stretch && typed !== '..') {
    return between(stretch[1] ?? '', stretch[2] ?? '', column, context);
  }
  if (isTextual(column) && column.kind !== 'runningNumber') {
    return matching(typed, column, context);
  }
  // Words and dashes may as well be of the value: `24 - 11 - 2026`.
  const one = isTextual(column)
    ? matching(typed, column, context)
    : compared(typed, column, context, '=');
  const said = SAID_STRETCH.exec(typed);
  if (!said || (one.ok && !isTextual(column))) return one;
  const reading = between(said[1] ?? '', said[2] ?? '', column, context);
  return reading.ok ? reading : one;
}

/** A value as it is shown: what is rounded for the eye is found by what one sees. */
function shownOr(
  text: string,
  reading: ConditionReading,
  column: Column,
  { locale }: ReadingContext,
): ConditionReading {
  if (!reading.ok) return reading;
  const { test, says } = reading;
  const isShown: Test = (value) => value !== null && showValue(value, column, locale) === text;
  return phrased((value) => test(value) || isShown(value), 'is', says.replace(/^is /, ''));
}

/** A stretch from one value to another, both with it; open where nothing stands. */
function between(
  from: string,
  to: string,
  column: Column,
  context: ReadingContext,
): ConditionReading {
  if (from === '') return compared(to, column, context, '<=');
  if (to === '') return compared(from, column, context, '>=');
  const [low, high] = [compared(from, column, context, '>='), compared(to, column, context, '<=')];
  if (!low.ok || !high.ok) return low.ok ? high : low;
  const words = `from ${lastWords(low.says)} to ${lastWords(high.says)}`;
  const test: Test = (value) => low.test(value) && high.test(value);
  return phrased(test, 'is', words, bothSure(low.sure, high.sure));
}

const lastWords = (says: string): string =>
  says.replace(/^is (?:at least|at most|on or after|on or before) /, '');

/** One of the column's choices, or any of them that a cell of several holds. */
function chosen(typed: string, column: Column, { listed }: ReadingContext): ConditionReading {
  const { choices = [], separator } = column.settings;
  const [item] = listed?.(column.id)?.meant(typed, true) ?? [];
  const wanted = foldText(item?.text ?? typed);
  const choice = item?.label ?? choices.find((each) => foldText(each) === wanted) ?? typed;
  if (column.kind !== 'severalChoices') {
    return phrased(
      (value) =>
        typeof value === 'string'
          ? foldText(value) === wanted
          : value !== null && value === item?.value,
      'is',
      choice,
    );
  }
  return {
    ok: true,
    test: (value) =>
      typeof value === 'string' &&
      splitChoices(value, separator).some((each) => foldText(each) === wanted),
    says: `includes ${choice}`,
    denied: `does not include ${choice}`,
  };
}

/** A text that stands anywhere in what is shown, or with `*` and `?` is all of it. */
function matching(typed: string, column: Column, { locale }: ReadingContext): ConditionReading {
  const plain = unquoted(typed);
  const isPattern = plain === typed && /[*?]/.test(typed);
  const figures = column.kind === 'phone' && !isPattern ? figuresOf(plain) : null;
  if (figures) return phoneWith(figures, plain, column, locale);
  const ofValue =
    (holds: ShownTest): Test =>
    (value) =>
      holds(shownOf(value, column, locale));
  if (!isPattern) {
    const wanted = foldText(plain);
    const ofShown: ShownTest = (shown) => shown?.includes(wanted) === true;
    return {
      ok: true,
      test: ofValue(ofShown),
      ofShown,
      says: `contains ${quote(plain)}`,
      denied: `does not contain ${quote(plain)}`,
    };
  }
  const matches = textTest(foldText(typed));
  const ofShown: ShownTest = (shown) => shown !== null && matches(shown);
  const [, ahead, inner = '', behind] = /^(\*?)([^*?]+)(\*?)$/.exec(typed) ?? [];
  const [verb, denied, text] =
    ahead === '' && behind === '*'
      ? ['begins with', 'does not begin with', inner]
      : ahead === '*' && behind === ''
        ? ['ends with', 'does not end with', inner]
        : ahead === '*' && behind === '*'
          ? ['contains', 'does not contain', inner]
          : ['looks like', 'does not look like', typed];
  const words = { says: `${verb} ${quote(text)}`, denied: `${denied} ${quote(text)}` };
  return { ok: true, test: ofValue(ofShown), ofShown, ...words };
}

/** What conditions on texts are asked of: a value as it is shown, folded. */
export const shownOf = (
  value: CellValue,
  column: Column,
  locale: ReadingContext['locale'],
): string | null => (value === null ? null : foldText(showValue(value, column, locale)));

const unquoted = (text: string): string => QUOTED.exec(text)?.[1]?.replaceAll('""', '"') ?? text;

/** The figures of a text that may be a phone number, or a part of one; `null` where it is none. */
const figuresOf = (text: string): string | null =>
  /^[+\d\s()./-]+$/.test(text) && /\d/.test(text) ? text.replaceAll(/\D/g, '') : null;

/** A phone number by its figures, however it is written: with its country's code, or without. */
function phoneWith(
  figures: string,
  plain: string,
  column: Column,
  locale: ReadingContext['locale'],
): ConditionReading {
  const bare = figures.replace(/^0+/, '') || figures;
  const test: Test = (value) => {
    if (typeof value !== 'string') return false;
    const shown = showValue(value, column, locale);
    return [value, shown].some((each) => {
      const of = each.replaceAll(/\D/g, '');
      return of.includes(figures) || of.includes(bare);
    });
  };
  const says = { says: `contains ${quote(plain)}`, denied: `does not contain ${quote(plain)}` };
  return { ok: true, test, ...says };
}

/** The parts of a list: between commas or semicolons that stand in no quotes. */
function partsOf(typed: string, { locale: { decimal } }: ReadingContext): string[] {
  // A comma inside of figures is theirs where it is the decimal sign, and where semicolons part.
  const parted = typed.match(/("[^"]*"|[^;"])+/g) ?? [];
  if (parted.length > 1) return parted.map((part) => part.trim()).filter((part) => part !== '');
  const comma = decimal === ',' ? /("[^"]*"|[^,;"]|,(?=\d))+/g : /("[^"]*"|[^,;"])+/g;
  return (typed.match(comma) ?? []).map((part) => part.trim()).filter((part) => part !== '');
}

function anyOf(readings: readonly Condition[]): ConditionReading {
  const words = readings.map(({ says }, n) =>
    n > 0 && says.startsWith('is ') && readings[0]?.says.startsWith('is ') ? says.slice(3) : says,
  );
  const all = words.map((each) => each);
  const last = all.pop() ?? '';
  const shown = readings.flatMap(({ ofShown }) => ofShown ?? []);
  const ofShown: ShownTest = (text) => shown.some((test) => test(text));
  return {
    ok: true,
    test: (value) => readings.some(({ test }) => test(value)),
    ...(shown.length === readings.length && { ofShown }),
    says: `${all.join(', ')} or ${last}`,
    denied: readings.map(({ denied }) => denied).join(' and '),
  };
}

function phrased(test: Test, verb: 'is', words: string, sure?: Sure): ConditionReading {
  const says = { says: `${verb} ${words}`, denied: `${verb} not ${words}` };
  return { ok: true, test, ...(sure && { sure }), ...says };
}

/** The column whose kind reads what a column's values are compared with. */
function readerOf(column: Column): Column {
  const kind = kindOf(column);
  if (kind.filledBy === 'people') return column;
  if (column.kind === 'computed') {
    return { ...column, kind: column.settings.shownAs ?? 'number' };
  }
  return { ...column, kind: kind.iso === undefined ? column.kind : 'moment' };
}

function compared(
  typed: string,
  column: Column,
  context: ReadingContext,
  sign: Sign,
): ConditionReading {
  const readAs = readerOf(column);
  const reader = kindOf(readAs);
  if (reader.iso === 'date' || reader.iso === 'moment') {
    const period = readPeriod(typed, context);
    if (period) return inPeriod(period, sign);
  }
  // Filled-in kinds that hold texts are compared as the texts they are, and so is any text.
  const isRead =
    reader.filledBy === 'people' && reader.typing !== 'none' && reader.holds !== 'string';
  const reading = isRead
    ? reader.read(typed, readAs, context)
    : ({ ok: true, value: unquoted(typed) } as const);
  if (!reading.ok) return reading;
  const wanted = reading.value;
  const holds = HOLDS[sign];
  const words = SAYS[reader.iso === undefined ? 'size' : 'day'][sign];
  const shown = wanted === null ? 'empty' : showValue(wanted, readAs, context.locale);
  const says = `${words} ${shown}`.trim();
  if (typeof wanted === 'number') {
    return phrased(numberTest(wanted, holds), 'is', says, sureOf(sign, wanted, nearTo(wanted)));
  }
  const order = typeof wanted === 'string' ? orderTo(wanted, column) : byValue(wanted);
  return phrased(
    (value) => {
      if (value === null) return false;
      const isComparable = isOfKind(value, column) && typeof value === typeof wanted;
      return isComparable && holds(order(value));
    },
    'is',
    says,
  );
}

type Order = (value: CellValue) => number;

const byValue =
  (wanted: CellValue): Order =>
  (value) =>
    compareValues(value, wanted);

/**
 * How texts stand to another: ids that differ in their last figures alone as those numbers stand,
 * `RW-99998` before `RW-100000`; running numbers to a bare number as well.
 */
function orderTo(wanted: string, { kind }: Column): Order {
  const meant = runningNumberIn(wanted);
  if (!meant) return byValue(wanted);
  const { number } = meant;
  const isBare = kind === 'runningNumber' && /^\d+$/.test(wanted);
  const shape = shapeOf(meant.pattern);
  return (value) => {
    const held = typeof value === 'string' ? runningNumberIn(value) : null;
    const isAlike = held !== null && (isBare || shapeOf(held.pattern) === shape);
    return isAlike ? held.number - number : compareValues(value, wanted);
  };
}

/** What of an id is not its number: `RW-00000` and `RW-000` are one. */
const shapeOf = (pattern: string): string => foldText(pattern.replace(/0+(?=[^0]*$)/, '0'));

/** How far apart, for their size, two numbers surely differ, whatever digits are kept. */
const SURELY = 1e-9;

const nearTo = (wanted: number): number => Math.abs(wanted) * SURELY + Number.MIN_VALUE;

/** Numbers that a comparison surely takes, and those it surely does not. */
function sureOf(sign: Sign, wanted: number, near: number): Sure {
  const [under, over] = [wanted - near, wanted + near];
  switch (sign) {
    case '<':
    case '<=':
      return { noUnder: -Infinity, noOver: over, yesOver: -Infinity, yesUnder: under };
    case '>':
    case '>=':
      return { noUnder: under, noOver: Infinity, yesOver: over, yesUnder: Infinity };
    case '=':
      return { noUnder: under, noOver: over, yesOver: Infinity, yesUnder: -Infinity };
  }
}

/** What is sure where two must hold. */
const bothSure = (a: Sure | undefined, b: Sure | undefined): Sure | undefined =>
  a &&
  b && {
    noUnder: Math.max(a.noUnder, b.noUnder),
    noOver: Math.min(a.noOver, b.noOver),
    yesOver: Math.max(a.yesOver, b.yesOver),
    yesUnder: Math.min(a.yesUnder, b.yesUnder),
  };

/** A number held against another; only those that are near are looked at by their digits. */
function numberTest(wanted: number, holds: (order: number) => boolean): Test {
  const near = nearTo(wanted);
  return (value) => {
    if (typeof value !== 'number') return false;
    const apart = value - wanted;
    return holds(apart > near || apart < -near ? apart : compareValues(value, wanted));
  };
}

/** A day or moment held against whole days: before all of them, in them, behind all of them. */
function inPeriod({ from, to, says, isDay = false }: Period, sign: Sign): ConditionReading {
  const tests: Readonly<Record<Sign, (serial: number) => boolean>> = {
    '<': (serial) => serial < from,
    '<=': (serial) => serial < to,
    '>': (serial) => serial >= to,
    '>=': (serial) => serial >= from,
    '=': (serial) => serial >= from && serial < to,
  };
  const test = tests[sign];
  const isNamed = /^(?:last|this|next|today|yesterday|tomorrow)/.test(says);
  const isCounted = /^(?:last|next) \d/.test(says);
  const within = isDay || (isNamed && !isCounted) ? '' : 'in';
  const words = `${SAYS.day[sign] || within} ${isCounted ? 'the ' : ''}${says}`.trim();
  const bound: Readonly<Record<Sign, Sure | undefined>> = {
    '<': sureOf('<', from, 0),
    '<=': sureOf('<=', to, 0),
    '>': sureOf('>', to, 0),
    '>=': sureOf('>=', from, 0),
    '=': bothSure(sureOf('>=', from, 0), sureOf('<', to, 0)),
  };
  const testNumber: Test = (value) => typeof value === 'number' && test(value);
  return phrased(testNumber, 'is', words, bound[sign]);
}
