import {
  asShown,
  type Admits,
  foldText,
  isGroup,
  KINDS,
  kindOf,
  showValue,
  type Column,
  type Condition,
  type KindId,
  type Relation,
  type Rule,
  type RuleTest,
  type SignSet,
  type When,
} from '../kinds';
import {
  isErrorValue,
  sameNumber,
  weekdayOf,
  type Cells,
  type CellValue,
  type LocaleFacts,
} from '../values';
import { graphemeCount, graphemesOf } from './graphemes';
import { patternTest } from './patterns';
import { fitsPicture, readPicture } from './picture';

/** A value that a rule is held against: never blank, never an error. */
export type Held = string | number | boolean;

/** What a test knows besides the value. */
export interface RuleGround {
  readonly locale: LocaleFacts;
  /** The serial of now in the workbook's zone. */
  readonly now: number;
  /** The rest of the record; absent, what compares with it holds. */
  readonly cells?: Cells;
  /** The columns of its sheet; without them, what is asked only at times is never. */
  readonly columns?: ReadonlyMap<string, Column>;
  /** Absent, any word may be the secret one. */
  readonly admits?: Admits | undefined;
}

/** Whether a value passes. */
type Test = (value: Held, ground: RuleGround) => boolean;

const SETS: Readonly<Record<SignSet, RegExp>> = {
  letters: /^\p{L}\p{M}*$/u,
  capitals: /^\p{Lu}\p{M}*$/u,
  smallLetters: /^\p{Ll}\p{M}*$/u,
  figures: /^[0-9]$/,
  blanks: /^\s$/,
};

/** What a value is as a text: as its column shows it. */
const textOf = (value: Held, column: Column, locale: LocaleFacts): string =>
  typeof value === 'string' ? value : showValue(value, column, locale);

/** A test of the value as a text. */
const ofText =
  (column: Column, test: (text: string) => boolean): Test =>
  (value, { locale }) =>
    test(textOf(value, column, locale));

/** A test of the value as a number; what is none passes, as its kind tells that. */
const ofNumber =
  (test: (value: number, ground: RuleGround) => boolean): Test =>
  (value, ground) =>
    typeof value !== 'number' || test(value, ground);

/** Whether a text is read as a value of a kind. */
const asKind =
  (kind: KindId, column: Column, settings: Column['settings'] = {}): Test =>
  (value, { locale, now }) => {
    const text = textOf(value, column, locale);
    const as = { ...column, kind, settings };
    return KINDS[kind].read(text, as, { locale, now }).ok;
  };

/** Values as the numbers, days or times they are typed as, whatever format the column shows; read once. */
function readNumbers(
  values: readonly string[],
  column: Column,
): (ground: RuleGround) => readonly number[] {
  let read: { readonly tag: string; readonly numbers: readonly number[] } | null = null;
  return ({ locale, now }) => {
    if (read?.tag !== locale.tag) {
      const numbers = values.flatMap((text) => {
        const reading = kindOf(column).read(text, column, { locale, now });
        return reading.ok && typeof reading.value === 'number' ? [reading.value] : [];
      });
      read = { tag: locale.tag, numbers };
    }
    return read.numbers;
  };
}

const within = (value: number, from: number | undefined, to: number | undefined): boolean =>
  (from === undefined || value > from || sameNumber(value, from)) &&
  (to === undefined || value < to || sameNumber(value, to));

function isMultiple(value: number, of: number): boolean {
  const times = value / of;
  return sameNumber(times, Math.round(times));
}

const collators = new Map<string, { compare: (a: string, b: string) => number }>();
function compareTexts(a: string, b: string, { tag }: LocaleFacts): number {
  const collator = collators.get(tag) ?? new Intl.Collator(tag, { numeric: true });
  collators.set(tag, collator);
  return foldText(a) === foldText(b) ? 0 : collator.compare(a, b);
}

/** How one value stands to another: under 0, 0 or over; numbers before texts. */
function order(a: Held, b: Held, locale: LocaleFacts): number {
  if (typeof a === 'number' && typeof b === 'number') return sameNumber(a, b) ? 0 : a - b;
  return compareTexts(String(a), String(b), locale);
}

const STANDS: Readonly<Record<Relation, (order: number) => boolean>> = {
  '=': (order) => order === 0,
  '<>': (order) => order !== 0,
  '<': (order) => order < 0,
  '<=': (order) => order <= 0,
  '>': (order) => order > 0,
  '>=': (order) => order >= 0,
};

const held = (value: CellValue): Held | null => (isErrorValue(value) ? null : value);

function testOf(test: RuleTest, column: Column): Test {
  switch (test.is) {
    case 'length': {
      const { from, to } = test;
      return ofText(column, (text) => within(graphemeCount(text), from, to));
    }
    case 'contains':
    case 'begins':
    case 'ends': {
      const part = foldText(test.text);
      const find = { contains: 'includes', begins: 'startsWith', ends: 'endsWith' } as const;
      const how = find[test.is];
      return ofText(column, (text) => foldText(text)[how](part));
    }
    case 'madeOf': {
      const also = new Set(graphemesOf(test.also ?? ''));
      const sets = test.of.map((set) => SETS[set]);
      const isOne = (sign: string): boolean =>
        also.has(sign) || sets.some((each) => each.test(sign));
      return ofText(column, (text) => graphemesOf(text).every(isOne));
    }
    case 'picture': {
      const places = readPicture(test.picture);
      return ofText(column, (text) => places !== null && fitsPicture(text, places));
    }
    case 'matches': {
      const matches = patternTest(test.pattern);
      return ofText(column, (text) => matches?.(text) === true);
    }
    case 'oneOf': {
      const known = new Set(test.values.map(foldText));
      const numbers = readNumbers(test.values, column);
      return (value, ground) =>
        known.has(foldText(textOf(value, column, ground.locale))) ||
        (typeof value === 'number' && numbers(ground).some((each) => sameNumber(each, value)));
    }
    case 'mail':
      return asKind('email', column);
    case 'webAddress':
      return asKind('webAddress', column);
    case 'phone':
      return asKind('phone', column, test.country === undefined ? {} : { country: test.country });
    case 'between': {
      const { from, to } = test;
      return ofNumber((value) => within(value, from, to));
    }
    case 'whole':
      return ofNumber((value) => sameNumber(value, Math.round(value)));
    case 'multiple': {
      const { of } = test;
      return ofNumber((value) => isMultiple(value, of));
    }
    case 'past':
      return ofNumber((value, { now }) => Math.floor(value) < Math.floor(now));
    case 'future':
      return ofNumber((value, { now }) => Math.floor(value) > Math.floor(now));
    case 'within': {
      const { days } = test;
      return ofNumber((value, { now }) => Math.abs(Math.floor(value) - Math.floor(now)) <= days);
    }
    case 'weekday':
      return ofNumber((value) => weekdayOf(value) % 6 !== 0);
    case 'compared': {
      const { columnId } = test;
      const stands = STANDS[test.by];
      return (value, { cells, locale }) => {
        const other = held(cells?.[columnId] ?? null);
        return other === null || stands(order(value, other, locale));
      };
    }
    case 'unique':
      // The write decides it among all that is stored: see `records/keys.ts`.
      return () => true;
    case 'secretWord': {
      const { name } = test;
      return (value, { admits, locale }) => admits?.(name, textOf(value, column, locale)) ?? true;
    }
  }
}

function conditionOf(condition: Condition, column: Column): Test {
  if (!isGroup(condition)) {
    const test = testOf(condition, column);
    return condition.not ? (value, ground) => !test(value, ground) : test;
  }
  const tests = condition.of.map((each) => conditionOf(each, column));
  return condition.is === 'all'
    ? (value, ground) => tests.every((test) => test(value, ground))
    : (value, ground) => tests.some((test) => test(value, ground));
}

/** Conditions of other columns, made ready once. */
const conditions = new WeakMap<object, { readonly column: Column; readonly test: Test }>();

/** Whether a rule is asked of a record. */
function isAsked({ columnId, holds }: When, ground: RuleGround): boolean {
  const column = ground.columns?.get(columnId);
  if (!column) return false;
  const other = ground.cells?.[columnId] ?? null;
  if (holds === 'blank' || holds === 'answer') return (other === null) === (holds === 'blank');
  const value = held(other);
  if (value === null) return false;
  let made = conditions.get(holds);
  if (made?.column !== column) {
    made = { column, test: conditionOf(holds, column) };
    conditions.set(holds, made);
  }
  return made.test(value, ground);
}

/** Rules made ready once, as long as their column is the same. */
const ready = new WeakMap<Column, readonly { readonly rule: Rule; readonly test: Test }[]>();

function rulesOf(column: Column) {
  const { rules = [] } = column.settings;
  let made = ready.get(column);
  if (!made) {
    const shown = asShown(column);
    made = rules.map((rule) => ({ rule, test: conditionOf(rule.must, shown) }));
    ready.set(column, made);
  }
  return made;
}

/**
 * The rules of a column that a value breaks, in their order. A blank breaks none, and neither does
 * an error: its kind tells that.
 */
export function brokenRules(value: CellValue, column: Column, ground: RuleGround): Rule[] {
  if (!column.settings.rules || value === null || isErrorValue(value)) return [];
  const broken: Rule[] = [];
  for (const { rule, test } of rulesOf(column)) {
    if (rule.when && !isAsked(rule.when, ground)) continue;
    if (!test(value, ground)) broken.push(rule);
  }
  return broken;
}

/** The columns besides its own that a rule reads. */
export function columnsRead({ must, when }: Pick<Rule, 'must' | 'when'>): string[] {
  const of = when && typeof when.holds !== 'string' ? readBy(when.holds) : [];
  return [...readBy(must), ...(when ? [when.columnId, ...of] : [])];
}

function readBy(condition: Condition): string[] {
  if (isGroup(condition)) return condition.of.flatMap(readBy);
  return condition.is === 'compared' ? [condition.columnId] : [];
}

/** Tests of numbers say nothing of texts, and those of texts little of numbers. */
export function fitsKind(test: RuleTest, column: Column): boolean {
  const { iso, holds } = kindOf(column);
  switch (test.is) {
    case 'past':
    case 'future':
    case 'within':
    case 'weekday':
      return iso === 'date' || iso === 'moment';
    case 'between':
      return holds === 'number';
    case 'multiple':
      // Times in steps of a quarter of an hour are; days are in steps of one.
      return holds === 'number' && (iso === undefined || iso === 'time');
    case 'whole':
      return holds === 'number' && iso === undefined;
    case 'secretWord':
      return column.kind === 'text';
    default:
      return true;
  }
}
