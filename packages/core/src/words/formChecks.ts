import type { FormCheck } from '../forms';
import { sayCount } from './counts';
import { sayFormulaProblem } from './formulas';

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

/** What should be seen to before a form is put to use. */
const SENTENCES: Sentences = {
  unnamed: () => 'The form has no name yet.',
  nothingToFill: () => 'There is nothing to fill in yet.',
  tooManyFields: ({ count }) =>
    `The form has ${sayCount(count)} fields; 1,000 is the most. Part it into several forms.`,
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
  nothingPasses: ({ blockId }, call) => `No value can pass the limits of ${call(blockId)}.`,
  emptyList: ({ blockId }, call) => `${call(blockId)} has no choices yet.`,
  choiceHoldsSeparator: ({ choice }) =>
    `‘${choice}’ holds the sign that stands between choices; in the cell it stands in quotes.`,
  notWritten: ({ columnId }, call) => `No form writes the column ${call(columnId)}.`,
  keyNotOnForm: ({ columnId }, call) =>
    `Records are told apart by ${call(columnId)}, and it is not on the form.`,
  pictureWithoutWords: () => 'A picture has no words for those who do not see it.',
};

export function sayFormCheck(check: FormCheck, call: (id: string) => string): string {
  const say = SENTENCES[check.code] as (check: FormCheck, call: (id: string) => string) => string;
  return say(check, (id) => `‘${call(id)}’`);
}
