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
} from '../kinds';
import { quote, sayCountOf, type LocaleFacts } from '../values';

/** What saying a rule needs to know. */
export interface RuleWords {
  readonly column: Column;
  readonly locale: LocaleFacts;
  readonly headingOf: (columnId: string) => string;
}

const SETS: Readonly<Record<SignSet, string>> = {
  letters: 'letters',
  capitals: 'capitals',
  smallLetters: 'small letters',
  figures: 'figures',
  blanks: 'spaces',
};

const DATED: Readonly<Record<Relation, string>> = {
  '=': 'the same as',
  '<>': 'different from',
  '<': 'before',
  '<=': 'on or before',
  '>': 'after',
  '>=': 'on or after',
};
const MEASURED: Readonly<Record<Relation, string>> = {
  '=': 'the same as',
  '<>': 'different from',
  '<': 'less than',
  '<=': 'at most',
  '>': 'more than',
  '>=': 'at least',
};

const listed = (parts: readonly string[], word: 'and' | 'or'): string =>
  parts.length < 2
    ? parts.join('')
    : `${parts.slice(0, -1).join(', ')} ${word} ${parts.at(-1) ?? ''}`;

const isDated = (column: Column): boolean => kindOf(column).iso !== undefined;

function saySpan(
  { from, to }: { readonly from?: number; readonly to?: number },
  { column, locale }: RuleWords,
): string {
  const write = (value: number): string => typedValue(value, column, locale);
  if (from !== undefined && to !== undefined) {
    return from === to ? write(from) : `from ${write(from)} to ${write(to)}`;
  }
  const [least, most] = isDated(column) ? ['on or after', 'on or before'] : ['at least', 'at most'];
  return from !== undefined ? `${least} ${write(from)}` : `${most} ${write(to ?? 0)}`;
}

function sayLength({ from, to }: { readonly from?: number; readonly to?: number }): string {
  if (from !== undefined && from === to) return `exactly ${sayCountOf(from, 'character')}`;
  if (from !== undefined && to !== undefined) return `${from} to ${sayCountOf(to, 'character')}`;
  return from !== undefined
    ? `at least ${sayCountOf(from, 'character')}`
    : `at most ${sayCountOf(to ?? 0, 'character')}`;
}

/** What follows ‘must’, or ‘must not’, of each test. */
function sayTest(test: RuleTest, words: RuleWords): string {
  switch (test.is) {
    case 'length':
      return `have ${sayLength(test)}`;
    case 'contains':
      return `contain ${quote(test.text)}`;
    case 'begins':
      return `begin with ${quote(test.text)}`;
    case 'ends':
      return `end with ${quote(test.text)}`;
    case 'madeOf': {
      const sets = test.of.map((set) => SETS[set]);
      const also = test.also === undefined ? [] : [quote(test.also)];
      return `be made of ${listed([...sets, ...also], 'and')} only`;
    }
    case 'picture':
      return `be written like ${test.picture}`;
    case 'oneOf':
      return `be ${listed(test.values.map(quote), 'or')}`;
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
      return `be a multiple of ${typedValue(test.of, words.column, words.locale)}`;
    case 'past':
      return 'be before today';
    case 'future':
      return 'be after today';
    case 'within':
      return `be within ${sayCountOf(test.days, 'day')} of today`;
    case 'weekday':
      return 'be from Monday to Friday';
    case 'compared': {
      const relation = (isDated(words.column) ? DATED : MEASURED)[test.by];
      return `be ${relation} ${words.headingOf(test.columnId)}`;
    }
  }
}

/** What must hold, as it follows ‘must’: `be from 0 to 14`, `not contain ‘x’ or be 3`. */
export function sayCondition(condition: Condition, words: RuleWords, isInner = false): string {
  if (!isGroup(condition)) {
    return `${condition.not ? 'not ' : ''}${sayTest(condition, words)}`;
  }
  const parts = condition.of.map((each) => sayCondition(each, words, true));
  const joined = parts.join(condition.is === 'all' ? ' and ' : ' or ');
  return isInner && parts.length > 1 ? `(${joined})` : joined;
}

/** A rule as a sentence: ‘pH must be from 0 to 14; otherwise ask.’ */
export function sayRule({ must, message, strictness }: Rule, words: RuleWords): string {
  const said = message === undefined ? '' : ` and say ‘${message}’`;
  return `${words.column.heading} must ${sayCondition(must, words)}; otherwise ${strictness ?? 'refuse'}${said}.`;
}
