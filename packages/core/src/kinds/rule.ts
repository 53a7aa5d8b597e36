import type { Strictness } from '../values';

/** Signs a text may be made of. */
export const SIGN_SETS = ['letters', 'capitals', 'smallLetters', 'figures', 'blanks'] as const;
export type SignSet = (typeof SIGN_SETS)[number];

/** How one value stands to another. */
export const RELATIONS = ['=', '<>', '<', '<=', '>', '>='] as const;
export type Relation = (typeof RELATIONS)[number];

/** The least and the most, each included; absent, there is none. */
export interface Span {
  readonly from?: number;
  readonly to?: number;
}

/** What one value is held against, alone or beside another of its record. */
export type RuleTest =
  /** What people see counts: grapheme clusters (Unicode Standard Annex #29). */
  | ({ readonly is: 'length' } & Span)
  | { readonly is: 'contains' | 'begins' | 'ends'; readonly text: string }
  | { readonly is: 'madeOf'; readonly of: readonly SignSet[]; readonly also?: string }
  /** A letter for A, a figure for 9 (ISO/IEC 1989), fixed text in quotes: `'RW-'99999`. */
  | { readonly is: 'picture'; readonly picture: string }
  /** A regular expression that the whole text matches, in the syntax of RE2: it takes linear time. */
  | { readonly is: 'matches'; readonly pattern: string }
  | { readonly is: 'oneOf'; readonly values: readonly string[] }
  | { readonly is: 'mail' | 'webAddress' }
  /** Without a country, its code is to stand before the number. */
  | { readonly is: 'phone'; readonly country?: string }
  /** Numbers, amounts, dates, times and moments, each as its column stores it. */
  | ({ readonly is: 'between' } & Span)
  | { readonly is: 'whole' }
  | { readonly is: 'multiple'; readonly of: number }
  /** Before or after today; today itself is neither. */
  | { readonly is: 'past' | 'future' }
  /** So many days from today at most, before it or after. */
  | { readonly is: 'within'; readonly days: number }
  /** Monday to Friday. */
  | { readonly is: 'weekday' }
  /** Another column of the same record. */
  | { readonly is: 'compared'; readonly by: Relation; readonly columnId: string }
  /** No other record has it; with others, all of them together. It stands alone, and refuses. */
  | { readonly is: 'unique'; readonly with?: readonly string[] }
  /**
   * A word that the server alone knows under a name, and that admits whoever types it; forgotten,
   * nothing of it is stored. It stands alone, and refuses.
   */
  | { readonly is: 'secretWord'; readonly name: string; readonly forgotten?: true };

/** Conditions of which all, or any, must hold. */
export interface ConditionGroup {
  readonly is: 'all' | 'any';
  readonly of: readonly Condition[];
}

/** What must hold: a test, its contrary, or a group. */
export type Condition = (RuleTest & { readonly not?: true }) | ConditionGroup;

export const isGroup = (condition: Condition): condition is ConditionGroup =>
  condition.is === 'all' || condition.is === 'any';

/** What another column of the record holds for a rule to be asked at all. */
export interface When {
  readonly columnId: string;
  readonly holds: Condition | 'answer' | 'blank';
}

/** A rule of a column: what may be stored in it. A blank breaks none; that is what required is for. */
export interface Rule {
  readonly must: Condition;
  /** Whether a value that was stored before it is held to it at any change of its record. */
  readonly always?: true;
  readonly when?: When;
  /** What is said instead of the rule's own sentence; `{value}` stands for what was typed. */
  readonly message?: string;
  /** How a value that breaks it weighs; it is refused where it says nothing. */
  readonly strictness?: Exclude<Strictness, 'refuse'>;
}

/** The most rules of one column, tests in one rule, and characters of a text in one. */
export const MOST_RULES = 50;
const MOST_TESTS = 20;
const MOST_VALUES = 1000;
const LONGEST_TEXT = 500;
const DEEPEST = 3;
const MOST_TOGETHER = 10;

type Parts = Readonly<Record<string, unknown>>;

const isParts = (value: unknown): value is Parts =>
  typeof value === 'object' && value !== null && !Array.isArray(value);
const isText = (value: unknown): value is string =>
  typeof value === 'string' && value !== '' && value.length <= LONGEST_TEXT;
const isNumber = (value: unknown): value is number =>
  typeof value === 'number' && Number.isFinite(value);
const isCount = (value: unknown): boolean =>
  Number.isInteger(value) && (value as number) >= 0 && (value as number) <= 1_000_000;
const isListOf = (value: unknown, most: number, is: (each: unknown) => boolean): boolean =>
  Array.isArray(value) && value.length > 0 && value.length <= most && value.every(is);
const isOneOf =
  (all: readonly string[]) =>
  (value: unknown): boolean =>
    typeof value === 'string' && all.includes(value);

const optional =
  (is: (value: unknown) => boolean) =>
  (value: unknown): boolean =>
    value === undefined || is(value);

const SPAN = { from: optional(isNumber), to: optional(isNumber) };

/** The parts of each test, and what each may be. */
const TESTS: Readonly<
  Record<RuleTest['is'], Readonly<Record<string, (value: unknown) => boolean>>>
> = {
  length: { from: optional(isCount), to: optional(isCount) },
  contains: { text: isText },
  begins: { text: isText },
  ends: { text: isText },
  madeOf: {
    of: (value) => isListOf(value, SIGN_SETS.length, isOneOf(SIGN_SETS)),
    also: optional(isText),
  },
  picture: { picture: isText },
  matches: { pattern: isText },
  oneOf: { values: (value) => isListOf(value, MOST_VALUES, isText) },
  mail: {},
  webAddress: {},
  phone: {
    country: optional((value) => typeof value === 'string' && /^[A-Z]{2}$/.test(value)),
  },
  between: SPAN,
  whole: {},
  multiple: { of: (value) => isNumber(value) && value > 0 },
  past: {},
  future: {},
  within: { days: isCount },
  weekday: {},
  compared: { by: isOneOf(RELATIONS), columnId: isText },
  unique: { with: optional((value) => isListOf(value, MOST_TOGETHER, isText)) },
  secretWord: { name: isText, forgotten: optional((value) => value === true) },
};

function hasParts(value: Parts, parts: Readonly<Record<string, (part: unknown) => boolean>>) {
  const names = Object.keys(value).filter((name) => name !== 'is' && name !== 'not');
  return (
    names.every((name) => Object.hasOwn(parts, name)) &&
    Object.entries(parts).every(([name, is]) => is(value[name]))
  );
}

/** Tests that no browser can decide: what others have stored, or the server alone knows. */
const ALONE: readonly unknown[] = ['unique', 'secretWord'];

/** Whether a test stands alone in its rule, is not turned into its contrary, and refuses. */
export const standsAlone = ({ is }: { readonly is?: unknown }): boolean => ALONE.includes(is);

function isCondition(value: unknown, depth = 0): value is Condition {
  if (!isParts(value) || depth > DEEPEST) return false;
  const { is, of, not } = value;
  if (is === 'all' || is === 'any') {
    return (
      Object.keys(value).length === 2 &&
      isListOf(of, MOST_TESTS, (each) => isCondition(each, depth + 1) && !standsAlone(each))
    );
  }
  if (typeof is !== 'string' || !Object.hasOwn(TESTS, is)) return false;
  if (not !== undefined && not !== true) return false;
  const isSpan = is === 'length' || is === 'between';
  if (isSpan && value['from'] === undefined && value['to'] === undefined) return false;
  return hasParts(value, TESTS[is as RuleTest['is']]);
}

function isWhen(value: unknown): value is When {
  if (!isParts(value)) return false;
  const { columnId, holds, ...others } = value;
  return (
    Object.keys(others).length === 0 &&
    isText(columnId) &&
    (isOneOf(['answer', 'blank'])(holds) || (isCondition(holds) && !standsAlone(holds)))
  );
}

/** Whether a value is a rule, whoever wrote it. */
export function isRule(value: unknown): value is Rule {
  if (!isParts(value)) return false;
  const { must, always, when, message, strictness, ...others } = value;
  const isAlone = isParts(must) && standsAlone(must);
  if (isAlone && (strictness !== undefined || must['not'] !== undefined)) return false;
  return (
    Object.keys(others).length === 0 &&
    isCondition(must) &&
    (always === undefined || (always === true && !isAlone)) &&
    optional(isWhen)(when) &&
    optional(isText)(message) &&
    optional(isOneOf(['ask', 'note']))(strictness)
  );
}
