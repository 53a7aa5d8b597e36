import type { FormCheck, StartingValue } from '../forms';
import { KINDS, type ColumnSettings } from '../kinds';
import { sayCount } from '../values';
import { sayFormulaProblem } from './formulas';
import { sayProblem } from './problems';

type Sentences = {
  [Code in FormCheck['code']]: (
    check: Extract<FormCheck, { code: Code }>,
    /** What a block or a column is called. */
    call: (id: string) => string,
  ) => string;
};

const USES = {
  shownWhen: 'The condition of',
  requiredWhen: 'The formula that makes an answer needed in',
  start: 'The starting value of',
  message: 'The formula of',
} as const;

const STARTS: Readonly<Record<StartingValue['kind'], string>> = {
  text: 'a text',
  beginning: 'a beginning to type on',
  today: 'today',
  now: 'now',
  next: 'the next number',
  formula: 'a formula',
};

const SETTINGS: Readonly<Record<keyof ColumnSettings, string>> = {
  choices: 'choices',
  list: 'a list that feeds its choices',
  own: 'answers beside its choices',
  separator: 'a separator',
  rules: 'rules',
  key: 'a key',
  unit: 'a unit',
  pattern: 'a pattern of numbers',
  decimals: 'a number of decimals',
  grouping: 'grouped thousands',
  percent: 'a percent sign',
  currency: 'a currency',
  digitGroups: 'groups of digits',
  datePattern: 'a date pattern',
  country: 'a country',
  shownAs: 'a kind that its formula gives',
  formula: 'a formula',
  follows: 'a formula that follows',
};

/** What should be seen to before a form is put to use. */
const SENTENCES: Sentences = {
  unnamed: () => 'The form has no name yet.',
  nothingToFill: () => 'There is nothing to fill in yet.',
  tooManyFields: ({ count }) =>
    `The form has ${sayCount(count)} fields; 1,000 is the most. Split it into several forms.`,
  columnGone: ({ blockId }, call) => `The column of ${call(blockId)} is gone from the sheet.`,
  columnTwice: ({ columnId }, call) => `Two fields write the column ${call(columnId)}.`,
  headingMissing: () => 'A column has no heading yet.',
  headingTwice: ({ columnId }, call) => `Two columns are called ${call(columnId)}.`,
  formulaUnread: ({ blockId, use, problem }, call) =>
    `${USES[use]} ${call(blockId)} can’t be read: ${sayFormulaProblem(problem)}`,
  computedUnread: ({ columnId, problem }, call) =>
    `The formula of the column ${call(columnId)} can’t be read: ${sayFormulaProblem(problem)}`,
  dependsOnItself: ({ blockId }, call) =>
    `Whether ${call(blockId)} is there, or what it starts with, depends on its own answer.`,
  computedFromItself: ({ path }, call) =>
    path.length < 2
      ? `The column ${call(path[0] ?? '')} is computed from itself.`
      : `The column ${call(path[0] ?? '')} is computed from itself: ${[...path, path[0] ?? ''].map(call).join(' reads ')}.`,
  startUnread: ({ blockId, problem }, call) =>
    `${call(blockId)} can’t start with what is given. ${sayProblem(problem)}`,
  startMisfits: ({ blockId, start, kind }, call) =>
    `${call(blockId)} can’t start with ${STARTS[start]}: its column holds ${KINDS[kind].label.toLowerCase()}.`,
  onlySuggested: ({ blockId }, call) =>
    `What ${call(blockId)} starts with is only suggested: left as it is, it stays blank.`,
  settingMisfits: ({ columnId, setting, kind }, call) =>
    `The column ${call(columnId)} has ${SETTINGS[setting]}, which ${KINDS[kind].label.toLowerCase()} does not use.`,
  nothingPasses: ({ blockId }, call) => `No value can pass the limits of ${call(blockId)}.`,
  openScale: ({ blockId }, call) =>
    `${call(blockId)} is a scale without its first or last number. Give both.`,
  wordUnset: ({ blockId, name }, call) =>
    `${call(blockId)} asks for the secret word ‘${name}’, which is not set. Set it in the rule.`,
  listUnread: ({ blockId, why }, call) =>
    `The list that feeds ${call(blockId)} can’t be read. ${why}`,
  emptyList: ({ blockId }, call) => `${call(blockId)} has no choices yet.`,
  choiceHoldsSeparator: ({ choice }) =>
    `‘${choice}’ holds the sign that stands between choices; in the cell it stands in quotes.`,
  notWritten: ({ columnId }, call) => `No form writes the column ${call(columnId)}.`,
  keyNotOnForm: ({ columnId }, call) =>
    `${call(columnId)} identifies each record, and is not on the form.`,
  pictureWithoutWords: () => 'A picture has no description for people who can’t see it.',
};

export function sayFormCheck(check: FormCheck, call: (id: string) => string): string {
  const say = SENTENCES[check.code] as (check: FormCheck, call: (id: string) => string) => string;
  return say(check, (id) => `‘${call(id)}’`);
}
