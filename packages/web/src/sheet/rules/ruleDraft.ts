import {
  fitsKind,
  kindOf,
  readPicture,
  sayProblem,
  type Column,
  type Condition,
  type LocaleFacts,
  type Relation,
  type Rule,
  type RuleTest,
  type SignSet,
  type Strictness,
} from '@varn/core';

/** A rule while it is written: what was chosen, and texts as they are typed. */
export interface RuleDraft {
  readonly is: TestId;
  readonly from: string;
  readonly to: string;
  readonly text: string;
  readonly sets: readonly SignSet[];
  readonly by: Relation;
  readonly columnId: string;
  readonly not: boolean;
  readonly strictness: Strictness;
  readonly message: string;
}

/** The tests that are offered; of phones there is a kind. */
export type TestId = Exclude<RuleTest['is'], 'phone'>;

/** What follows ‘Must’ for each test. */
export const TEST_NAMES: Readonly<Record<TestId, string>> = {
  between: 'be in a range',
  whole: 'be a whole number',
  multiple: 'be a multiple of',
  past: 'be before today',
  future: 'be after today',
  within: 'be near today',
  weekday: 'be from Monday to Friday',
  compared: 'compare with another column',
  length: 'have so many characters',
  contains: 'contain',
  begins: 'begin with',
  ends: 'end with',
  madeOf: 'be made of',
  picture: 'be written like',
  oneOf: 'be one of',
  mail: 'be an email address',
  webAddress: 'be a web address',
};

export const SET_NAMES: Readonly<Record<SignSet, string>> = {
  letters: 'Letters',
  capitals: 'Capitals',
  smallLetters: 'Small letters',
  figures: 'Figures',
  blanks: 'Spaces',
};

export const RELATION_NAMES: Readonly<
  Record<Relation, readonly [measured: string, dated: string]>
> = {
  '=': ['the same as', 'the same as'],
  '<>': ['different from', 'different from'],
  '<': ['less than', 'before'],
  '<=': ['at most', 'on or before'],
  '>': ['more than', 'after'],
  '>=': ['at least', 'on or after'],
};

/** A test with nothing in it yet, to ask whether it says something of a kind. */
const ofKind = (is: TestId): RuleTest => ({ is }) as RuleTest;

/** The tests that say something of a column. */
export const testsFor = (column: Column): readonly (readonly [TestId, string])[] =>
  (Object.keys(TEST_NAMES) as TestId[])
    .filter((is) => fitsKind(ofKind(is), column))
    .map((is) => [is, TEST_NAMES[is]] as const);

export const blankDraft = (column: Column): RuleDraft => ({
  is: kindOf(column).holds === 'number' ? 'between' : 'length',
  from: '',
  to: '',
  text: '',
  sets: [],
  by: '>=',
  columnId: '',
  not: false,
  strictness: 'refuse',
  message: '',
});

interface DraftGround {
  readonly column: Column;
  readonly locale: LocaleFacts;
  readonly now: number;
}

/** A rule as it was written, or what is still to be said. */
export type ReadDraft =
  { readonly ok: true; readonly rule: Rule } | { readonly ok: false; readonly says: string };

const unsaid = (says: string): ReadDraft => ({ ok: false, says });

export function readDraft(draft: RuleDraft, ground: DraftGround): ReadDraft {
  const read = readTest(draft, ground);
  if (typeof read === 'string') return unsaid(read);
  const must: Condition = draft.not ? { ...read, not: true } : read;
  const { strictness, message } = draft;
  return {
    ok: true,
    rule: {
      must,
      ...(message.trim() !== '' && { message: message.trim() }),
      ...(strictness !== 'refuse' && { strictness }),
    },
  };
}

/** A test, or a sentence of what it lacks. */
function readTest(draft: RuleDraft, ground: DraftGround): RuleTest | string {
  const { is, text } = draft;
  switch (is) {
    case 'length':
    case 'between': {
      const as = is === 'length' ? { ...ground, column: COUNT } : ground;
      const [from, to] = [readBound(draft.from, as), readBound(draft.to, as)];
      if (typeof from === 'string') return from;
      if (typeof to === 'string') return to;
      if (from === undefined && to === undefined) return 'Fill in the least, the most, or both.';
      if (from !== undefined && to !== undefined && from > to) {
        return 'The least is more than the most: nothing would pass.';
      }
      return { is, ...(from !== undefined && { from }), ...(to !== undefined && { to }) };
    }
    case 'multiple':
    case 'within': {
      const count = readBound(text, { ...ground, column: is === 'within' ? COUNT : ground.column });
      if (typeof count === 'string') return count;
      if (count === undefined) return 'Fill in the number.';
      if (is === 'multiple' && count <= 0) return 'A multiple is of a number over 0.';
      return is === 'multiple' ? { is, of: count } : { is, days: count };
    }
    case 'contains':
    case 'begins':
    case 'ends':
      return text === '' ? 'Fill in the text.' : { is, text };
    case 'picture':
      if (text === '') return 'Fill in the places: A for a letter, 9 for a figure.';
      return readPicture(text)
        ? { is, picture: text }
        : "It can’t be read. Put fixed letters in quotes: 'RW-'999.";
    case 'oneOf': {
      const values = text.split('\n').flatMap((each) => (each.trim() === '' ? [] : [each.trim()]));
      return values.length === 0 ? 'Fill in the values, one a line.' : { is, values };
    }
    case 'madeOf':
      if (draft.sets.length === 0) return 'Tick what it may be made of.';
      return { is, of: draft.sets, ...(text !== '' && { also: text }) };
    case 'compared':
      return draft.columnId === ''
        ? 'Choose the other column.'
        : { is, by: draft.by, columnId: draft.columnId };
    default:
      return { is };
  }
}

const COUNT: Column = { id: '', heading: '', kind: 'wholeNumber', settings: {} };

/** A number, an amount, a date as it is typed; nothing where nothing is. */
function readBound(
  text: string,
  { column, locale, now }: DraftGround,
): number | undefined | string {
  if (text.trim() === '') return undefined;
  const reading = kindOf(column).read(text, column, { locale, now });
  if (!reading.ok) return sayProblem(reading.problem);
  return typeof reading.value === 'number' ? reading.value : undefined;
}
