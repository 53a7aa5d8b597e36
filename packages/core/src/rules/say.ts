import {
  isGroup,
  kindOf,
  typedValue,
  type Column,
  type Condition,
  type Relation,
  type Rule,
  type RuleTest,
  type SignSet,
  type When,
} from '../kinds';
import { sayCountOf, type LocaleFacts } from '../values';

/** What saying a rule needs to know. */
export interface RuleWords {
  readonly column: Column;
  readonly locale: LocaleFacts;
  readonly headingOf: (columnId: string) => string;
  /** The columns of its sheet; without them, when a rule is asked is not said. */
  readonly columns?: ReadonlyMap<string, Column>;
  /** How parts are written; as people read them where it says nothing. */
  readonly notation?: RuleNotation;
}

/** How parts of a rule are written. */
export interface RuleNotation {
  /** A number, an amount, a date of a column. */
  readonly value: (value: number, column: Column) => string;
  readonly text: (text: string) => string;
  readonly list: (parts: readonly string[], word: 'and' | 'or') => string;
  readonly count: (count: number, one: string) => string;
}

/** A text in quotes, whole; a closing one in it that no letter follows is doubled, as its end is told by it. */
export const quoteRead = (text: string): string => `‘${text.replace(/’(?![\p{L}\p{N}])/gu, '’’')}’`;

/** Words that stand between the parts of a sentence. */
const JOINTS = /(?:^|\s)(?:and|or|when|is|has|must|only)(?:\s|$)/;
/** A heading, in quotes where it could be read as something else. */
const sayHeading = (heading: string, text: (text: string) => string): string =>
  /^\p{L}[\p{L}\p{N} %°/-]*$/u.test(heading) && !JOINTS.test(heading) && heading === heading.trim()
    ? heading
    : text(heading);

export const SETS: Readonly<Record<SignSet, string>> = {
  letters: 'letters',
  capitals: 'capitals',
  smallLetters: 'small letters',
  figures: 'figures',
  blanks: 'spaces',
};

export const DATED: Readonly<Record<Relation, string>> = {
  '=': 'the same as',
  '<>': 'different from',
  '<': 'before',
  '<=': 'on or before',
  '>': 'after',
  '>=': 'on or after',
};
export const MEASURED: Readonly<Record<Relation, string>> = {
  '=': 'the same as',
  '<>': 'different from',
  '<': 'less than',
  '<=': 'at most',
  '>': 'more than',
  '>=': 'at least',
};

const isDated = (column: Column): boolean => kindOf(column).iso !== undefined;

const AS_READ: Omit<RuleNotation, 'value'> = {
  text: quoteRead,
  list: (parts, word) =>
    parts.length < 2
      ? parts.join('')
      : `${parts.slice(0, -1).join(', ')} ${word} ${parts.at(-1) ?? ''}`,
  count: sayCountOf,
};
const notationOf = ({ notation, locale }: RuleWords): RuleNotation =>
  notation ?? { ...AS_READ, value: (value, column) => typedValue(value, column, locale) };

function saySpan(
  { from, to }: { readonly from?: number; readonly to?: number },
  words: RuleWords,
): string {
  const { column } = words;
  const { value } = notationOf(words);
  const write = (limit: number): string => value(limit, column);
  if (from !== undefined && to !== undefined) {
    return from === to ? write(from) : `from ${write(from)} to ${write(to)}`;
  }
  const [least, most] = isDated(column) ? ['on or after', 'on or before'] : ['at least', 'at most'];
  return from !== undefined ? `${least} ${write(from)}` : `${most} ${write(to ?? 0)}`;
}

/** What lies beyond a span with one end: `more than 5`, `before 1/3/2026`. */
function sayBeyond(condition: Condition, words: RuleWords): string | null {
  if (condition.is !== 'between' || !condition.not) return null;
  const { from, to } = condition;
  if (from !== undefined && to !== undefined) return null;
  const relations = isDated(words.column) ? DATED : MEASURED;
  const { value } = notationOf(words);
  const end = from ?? to ?? 0;
  return `${relations[from === undefined ? '>' : '<']} ${value(end, words.column)}`;
}

function sayLength(
  { from, to }: { readonly from?: number; readonly to?: number },
  { count }: RuleNotation,
): string {
  if (from !== undefined && from === to) return `exactly ${count(from, 'character')}`;
  if (from !== undefined && to !== undefined) return `${from} to ${count(to, 'character')}`;
  return from !== undefined
    ? `at least ${count(from, 'character')}`
    : `at most ${count(to ?? 0, 'character')}`;
}

/** What follows ‘must’, or ‘must not’, of each test. */
function sayTest(test: RuleTest, words: RuleWords): string {
  const { value, text, list, count } = notationOf(words);
  const heading = (id: string): string => sayHeading(words.headingOf(id), text);
  switch (test.is) {
    case 'length':
      return `have ${sayLength(test, notationOf(words))}`;
    case 'contains':
      return `contain ${text(test.text)}`;
    case 'begins':
      return `begin with ${text(test.text)}`;
    case 'ends':
      return `end with ${text(test.text)}`;
    case 'madeOf': {
      const sets = test.of.map((set) => SETS[set]);
      const also = test.also === undefined ? [] : [text(test.also)];
      return `be made of ${list([...sets, ...also], 'and')} only`;
    }
    case 'picture':
      return `be written like ${text(test.picture)}`;
    case 'matches':
      return `match the pattern ${text(test.pattern)}`;
    case 'oneOf':
      return `be ${list(test.values.map(text), 'or')}`;
    case 'mail':
      return 'be an email address';
    case 'webAddress':
      return 'be a web address';
    case 'phone':
      return test.country === undefined
        ? 'be a phone number'
        : `be a phone number (${test.country})`;
    case 'between':
      return `be ${saySpan(test, words)}`;
    case 'whole':
      return 'be a whole number';
    case 'multiple':
      return `be a multiple of ${value(test.of, words.column)}`;
    case 'past':
      return 'be before today';
    case 'future':
      return 'be after today';
    case 'within':
      return `be within ${count(test.days, 'day')} of today`;
    case 'weekday':
      return 'be from Monday to Friday';
    case 'compared': {
      const relation = (isDated(words.column) ? DATED : MEASURED)[test.by];
      return `be ${relation} ${heading(test.columnId)}`;
    }
    case 'unique': {
      const others = test.with?.map(heading) ?? [];
      return others.length === 0 ? 'be unique' : `be unique together with ${list(others, 'and')}`;
    }
    case 'secretWord':
      return `match the secret word ${text(test.name)}${test.forgotten ? ' (not stored)' : ''}`;
  }
}

/** What must hold, as it follows ‘must’: `be from 0 to 14`, `not contain ‘x’ or be 3`. */
export const sayCondition = (condition: Condition, words: RuleWords): string =>
  joined(condition, words, (said, not) => `${not ? 'not ' : ''}${said}`);

/** What holds, as it follows a heading: `is from 0 to 14`, `does not contain ‘x’`. */
export const sayHolds = (condition: Condition, words: RuleWords): string =>
  joined(condition, words, stated);

const VERBS: Readonly<Record<string, string>> = { be: 'is', have: 'has', match: 'matches' };

function stated(said: string, not: boolean): string {
  const [verb = '', ...rest] = said.split(' ');
  const after = rest.join(' ');
  if (verb === 'be') return `is ${not ? 'not ' : ''}${after}`;
  return not ? `does not ${said}` : `${VERBS[verb] ?? `${verb}s`} ${after}`;
}

function joined(
  condition: Condition,
  words: RuleWords,
  put: (said: string, not: boolean) => string,
  isInner = false,
): string {
  if (!isGroup(condition)) {
    const beyond = sayBeyond(condition, words);
    if (beyond !== null) return put(`be ${beyond}`, false);
    return put(sayTest(condition, words), condition.not === true);
  }
  const parts = condition.of.map((each) => joined(each, words, put, true));
  const all = parts.join(condition.is === 'all' ? ' and ' : ' or ');
  return isInner && parts.length > 1 ? `(${all})` : all;
}

/** When a rule is asked: ` when Contact is ‘yes’`. */
function sayWhen({ columnId, holds }: When, words: RuleWords): string {
  const { text } = notationOf(words);
  const column = words.columns?.get(columnId);
  if (!column) return ` when ${sayHeading(words.headingOf(columnId), text)} is there`;
  const heading = sayHeading(column.heading, text);
  if (holds === 'blank') return ` when ${heading} is blank`;
  if (holds === 'answer') return ` when ${heading} is filled in`;
  return ` when ${heading} ${sayHolds(holds, { ...words, column })}`;
}

/** What a rule asks, and when: `be at most 9 when Rinsed is ‘no’`. */
export const sayMust = (
  { must, always, when }: Pick<Rule, 'must' | 'always' | 'when'>,
  words: RuleWords,
): string =>
  `${always ? 'always ' : ''}${sayCondition(must, words)}${when ? sayWhen(when, words) : ''}`;

/** A rule as a sentence: ‘pH must be from 0 to 14; otherwise ask.’ */
export function sayRule(rule: Rule, words: RuleWords): string {
  const { message, strictness } = rule;
  const said = message === undefined ? '' : ` and say ${quoteRead(message)}`;
  return `${words.column.heading} must ${sayMust(rule, words)}; otherwise ${strictness ?? 'refuse'}${said}${/[.!?]’$/.test(said) ? '' : '.'}`;
}

/** The word a line of an outline begins a rule with, by how much it weighs. */
export const OUTLINE_WORDS = { refuse: 'must', ask: 'should', note: 'ideally' } as const;

/**
 * A rule as a line of an outline has it: `must be from 0 to 14`, `ask above 9 "Rinse it."`.
 *
 * @param words with the outline's notation
 */
export function sayOutlinedRule(rule: Rule, words: RuleWords): string {
  const { must, message, strictness } = rule;
  const { text } = notationOf(words);
  const said = message === undefined ? '' : ` ${text(message)}`;
  const limit = strictness && !rule.always && openSpan(must, words);
  if (limit) return `${strictness} ${limit}${rule.when ? sayWhen(rule.when, words) : ''}${said}`;
  return `${OUTLINE_WORDS[strictness ?? 'refuse']} ${sayMust(rule, words)}${said}`;
}

/** A span with one end, told by what lies beyond it. */
function openSpan(must: Condition, words: RuleWords): string | null {
  if (must.is !== 'between' || must.not) return null;
  const { value } = notationOf(words);
  if (must.from === undefined) return `above ${value(must.to ?? 0, words.column)}`;
  return must.to === undefined ? `below ${value(must.from, words.column)}` : null;
}
