import {
  asShown,
  fitsKind,
  graphemeCount,
  isGroup,
  kindOf,
  standsAlone,
  sayProblem,
  typedValue,
  unreadPart,
  type Column,
  type Condition,
  type LocaleFacts,
  type Relation,
  type Rule,
  type RuleTest,
  type SignSet,
  type Strictness,
  type When,
} from '@varn/core';

export type TestId = RuleTest['is'];

/** A test while it is written: what was chosen, and texts as they are typed. */
export interface TestDraft {
  readonly is: TestId;
  readonly from: string;
  readonly to: string;
  readonly text: string;
  readonly sets: readonly SignSet[];
  readonly by: Relation;
  readonly columnId: string;
  readonly not: boolean;
  /** Of a secret word: whether nothing of it is stored. */
  readonly forgotten: boolean;
}

/** Sides of a number or a day on which another column's value may lie. */
export const BEYOND = ['>', '>=', '<=', '<'] as const;
export type Beyond = (typeof BEYOND)[number];

export const isBeyond = (how: string): how is Beyond => (BEYOND as readonly string[]).includes(how);

/** When a rule is asked, while it is written. */
export interface WhenDraft {
  /** Blank for always. */
  readonly columnId: string;
  readonly how: 'is' | 'isNot' | 'answer' | 'blank' | Beyond;
  readonly text: string;
}

/** A rule while it is written. */
export interface RuleDraft {
  readonly tests: readonly TestDraft[];
  /** What stands between several tests. */
  readonly joint: 'all' | 'any';
  readonly when: WhenDraft;
  readonly always: boolean;
  readonly strictness: Strictness;
  readonly message: string;
}

/** What follows ‘Must’ for each test. */
const TEST_NAMES: Readonly<Record<TestId, string>> = {
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
  matches: 'match a pattern',
  oneOf: 'be one of',
  mail: 'be an email address',
  webAddress: 'be a web address',
  phone: 'be a phone number',
  unique: 'be unique',
  secretWord: 'be a secret word',
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

/**
 * The tests that say something of a column: among several, none that stands alone; of a field, not
 * that about doubles.
 */
export const testsFor = (
  column: Column,
  { isOfField, isOneOfSeveral }: { isOfField: boolean; isOneOfSeveral: boolean },
): readonly (readonly [TestId, string])[] =>
  (Object.keys(TEST_NAMES) as TestId[])
    .filter((is) => fitsKind(ofKind(is), column) && !(isOfField && is === 'unique'))
    .filter((is) => !(isOneOfSeveral && standsAlone({ is })))
    .map((is) => [is, TEST_NAMES[is]] as const);

export const blankTest = (column: Column): TestDraft => ({
  is: kindOf(column).holds === 'number' ? 'between' : 'length',
  from: '',
  to: '',
  text: '',
  sets: [],
  by: '>=',
  columnId: '',
  not: false,
  // What was never stored can't be read by anyone.
  forgotten: true,
});

export const ALWAYS: WhenDraft = { columnId: '', how: 'is', text: '' };

export const blankDraft = (column: Column): RuleDraft => ({
  tests: [blankTest(column)],
  joint: 'all',
  when: ALWAYS,
  always: false,
  strictness: 'refuse',
  message: '',
});

interface DraftGround {
  readonly column: Column;
  /** The columns of its sheet. */
  readonly columns: readonly Column[];
  readonly locale: LocaleFacts;
  readonly now: number;
}

/** A rule as it was written, or what is still to be said. */
export type ReadDraft =
  { readonly ok: true; readonly rule: Rule } | { readonly ok: false; readonly says: string };

const unsaid = (says: string): ReadDraft => ({ ok: false, says });

export function readDraft(draft: RuleDraft, ground: DraftGround): ReadDraft {
  const of: Condition[] = [];
  for (const each of draft.tests) {
    const test = readTest(each, ground);
    if (typeof test === 'string') return unsaid(test);
    of.push(each.not && !standsAlone(test) ? { ...test, not: true } : test);
  }
  const [first] = of;
  if (!first) return unsaid('Choose what it must be.');
  const must: Condition = of.length === 1 ? first : { is: draft.joint, of };
  const when = readWhen(draft.when, ground);
  if (typeof when === 'string') return unsaid(when);
  const { strictness } = draft;
  const message = draft.message.trim();
  const rule: Rule = {
    must,
    ...(draft.always && !standsAlone(must) && { always: true as const }),
    ...(when && { when }),
    ...(message !== '' && { message }),
    ...(strictness !== 'refuse' && !standsAlone(must) && { strictness }),
  };
  const unread = unreadPart(rule);
  if (!unread) return { ok: true, rule };
  return unsaid(
    unread.part === 'pattern'
      ? `The pattern can’t be read: ${unread.why}.`
      : "It can’t be read. Put fixed letters in quotes: 'RW-'999.",
  );
}

/** When it is asked; nothing for always; a sentence of what is still to be said. */
function readWhen({ columnId, how, text }: WhenDraft, ground: DraftGround): When | null | string {
  if (columnId === '') return null;
  if (how === 'answer' || how === 'blank') return { columnId, holds: how };
  const value = text.trim();
  if (value === '') return 'Fill in the value it is asked for.';
  if (isBeyond(how)) {
    const column = ground.columns.find(({ id }) => id === columnId);
    const bound = column && readBound(value, { ...ground, column: asShown(column) });
    if (typeof bound !== 'number') return bound ?? 'Fill in the value it is asked for.';
    const holds = how.startsWith('>') === how.endsWith('=') ? { from: bound } : { to: bound };
    const isStrict = !how.endsWith('=');
    return { columnId, holds: { is: 'between', ...holds, ...(isStrict && { not: true }) } };
  }
  const holds = { is: 'oneOf', values: [value] } as const;
  return { columnId, holds: how === 'isNot' ? { ...holds, not: true } : holds };
}

/** A test, or a sentence of what it lacks. */
function readTest(draft: TestDraft, ground: DraftGround): RuleTest | string {
  const { is, text } = draft;
  switch (is) {
    case 'length':
    case 'between': {
      const as = is === 'length' ? { ...ground, column: COUNT } : ground;
      const [from, to] = [readBound(draft.from, as), readBound(draft.to, as)];
      if (typeof from === 'string') return from;
      if (typeof to === 'string') return to;
      if (from === undefined && to === undefined)
        return 'Fill in the minimum, the maximum, or both.';
      if (from !== undefined && to !== undefined && from > to) {
        return 'The minimum is over the maximum, so nothing would pass.';
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
      return { is, picture: text };
    case 'matches':
      return text === '' ? 'Fill in the pattern.' : { is, pattern: text };
    case 'oneOf': {
      const values = text.split('\n').flatMap((each) => (each.trim() === '' ? [] : [each.trim()]));
      return values.length === 0 ? 'Fill in the values, one per line.' : { is, values };
    }
    case 'madeOf':
      if (draft.sets.length === 0) return 'Tick what it may be made of.';
      return { is, of: draft.sets, ...(text !== '' && { also: text }) };
    case 'phone': {
      const country = text.trim().toUpperCase();
      if (country === '') return { is };
      return /^[A-Z]{2}$/.test(country) ? { is, country } : 'Write the country as two letters: GB.';
    }
    case 'compared':
      return draft.columnId === ''
        ? 'Choose the other column.'
        : { is, by: draft.by, columnId: draft.columnId };
    case 'unique':
      return draft.columnId === '' ? { is } : { is, with: [draft.columnId] };
    case 'secretWord': {
      const name = text.trim();
      if (name === '') return 'Name the word: ‘Volunteers 2026’.';
      return { is, name, ...(draft.forgotten && { forgotten: true as const }) };
    }
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

/** A rule to be written anew; `null` where it says more than can be chosen, and stays a sentence. */
export function draftOf(
  rule: Rule,
  column: Column,
  columns: readonly Column[],
  locale: LocaleFacts,
): RuleDraft | null {
  const { must, always = false, when, message = '', strictness = 'refuse' } = rule;
  const parts = isGroup(must) ? must.of : [must];
  const tests = parts.map((each) => (isGroup(each) ? null : draftOfTest(each, column, locale)));
  const asked = when ? draftOfWhen(when, columns, locale) : ALWAYS;
  if (!asked || tests.some((each) => each === null)) return null;
  return {
    tests: tests.filter((each) => each !== null),
    joint: isGroup(must) ? must.is : 'all',
    when: asked,
    always,
    strictness,
    message,
  };
}

function draftOfWhen(
  { columnId, holds }: When,
  columns: readonly Column[],
  locale: LocaleFacts,
): WhenDraft | null {
  if (typeof holds === 'string') return { columnId, how: holds, text: '' };
  if (holds.is === 'between') {
    const { from, to, not = false } = holds;
    const column = columns.find(({ id }) => id === columnId);
    if (!column || (from === undefined) === (to === undefined)) return null;
    const text = typedValue(from ?? to ?? 0, asShown(column), locale);
    const [inside, beyond] = from === undefined ? (['<=', '>'] as const) : (['>=', '<'] as const);
    return { columnId, how: not ? beyond : inside, text };
  }
  if (holds.is !== 'oneOf' || holds.values.length !== 1) return null;
  return { columnId, how: holds.not ? 'isNot' : 'is', text: holds.values[0] ?? '' };
}

function draftOfTest(
  test: RuleTest & { readonly not?: true },
  column: Column,
  locale: LocaleFacts,
): TestDraft | null {
  const draft = { ...blankTest(column), is: test.is, not: test.not === true };
  const written = (value: number | undefined, of: Column): string =>
    value === undefined ? '' : typedValue(value, of, locale);
  switch (test.is) {
    case 'length':
    case 'between': {
      const of = test.is === 'length' ? COUNT : column;
      return { ...draft, from: written(test.from, of), to: written(test.to, of) };
    }
    case 'multiple':
      return { ...draft, text: written(test.of, column) };
    case 'within':
      return { ...draft, text: String(test.days) };
    case 'contains':
    case 'begins':
    case 'ends':
      return { ...draft, text: test.text };
    case 'picture':
      return { ...draft, text: test.picture };
    case 'matches':
      return { ...draft, text: test.pattern };
    case 'oneOf':
      return { ...draft, text: test.values.join('\n') };
    case 'madeOf':
      return { ...draft, sets: test.of, text: test.also ?? '' };
    case 'phone':
      return { ...draft, text: test.country ?? '' };
    case 'compared':
      return { ...draft, by: test.by, columnId: test.columnId };
    case 'unique': {
      const [columnId = '', ...more] = test.with ?? [];
      return more.length > 0 ? null : { ...draft, columnId };
    }
    case 'secretWord':
      return { ...draft, text: test.name, forgotten: test.forgotten === true };
    default:
      return draft;
  }
}

/** Where a sentence could not be read on: what stands there. */
export function saysUnread(sentence: string, at: number): string {
  const rest = sentence.slice(at).trim();
  if (rest === '') return 'The sentence breaks off. Say what it must be.';
  const shown = graphemeCount(rest) > 40 ? `${[...rest].slice(0, 39).join('')}…` : rest;
  return `It can’t be read from ‘${shown}’ on.`;
}
