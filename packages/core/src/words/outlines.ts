import type { OutlineProblem } from '../outline';
import { sayCount } from '../values';

type Sentences = {
  [Code in OutlineProblem['code']]: (problem: Extract<OutlineProblem, { code: Code }>) => string;
};

const meant = (near: string | null): string => (near === null ? '' : ` Did you mean ‘${near}’?`);

/** What is wrong with a line of an outline, and what to do. Its place is told beside. */
const SENTENCES: Sentences = {
  tooManyLines: ({ count, most }) =>
    `The outline has ${sayCount(count)} lines; a form takes ${sayCount(most)} at most. Split it into several forms.`,
  noRoom: ({ most }) =>
    `A form has ${sayCount(most)} fields at most. This line and those under it are left out: split it into several forms.`,
  lineTooLong: ({ count, most }) =>
    `The line has ${sayCount(count)} characters; ${sayCount(most)} is the most. Shorten it.`,
  unknownKind: ({ text, near }) =>
    near === null
      ? `‘${text}’ is not a kind of field. Write text, number, date, yes/no, one of (…) or another kind.`
      : `‘${text}’ is not a kind of field. Did you mean ‘${near}’?`,
  unknownWord: ({ text, near }) => `‘${text}’ means nothing here.${meant(near)}`,
  commaWanted: ({ text }) => `Put a comma before ‘${text}’.`,
  doesNotFit: ({ text, kind }) => `‘${text}’ does not go with ${kind.toLowerCase()}. Take it out.`,
  noNumber: ({ text }) =>
    text === '' ? 'A number is missing here.' : `‘${text}’ is not a number. Write it like 4.5.`,
  notSoOften: ({ text, most }) =>
    `A field can’t be repeated ${text} times; 1 to ${most} can be. Change the number.`,
  outOfBounds: ({ text, allowed }) => `‘${text}’ is out of bounds. Write ${allowed}.`,
  noFile: ({ text }) =>
    `‘${text}’ is not a stored picture. Put it in on the page; its id then stands here.`,
  ruleUnread: ({ text }) =>
    text === ''
      ? 'The rule breaks off. Write it like: must be from 0 to 14, ask above 9 "Rinse the meter."'
      : `The rule can’t be read from ‘${text}’ on. Write it like: must be from 0 to 14.`,
  noFormula: ({ word }) => `A formula is missing after ‘${word}’.`,
  labelMissing: () => 'The label is missing before the colon.',
  columnTwice: ({ heading, first }) =>
    `‘${heading}’ is on line ${first} already. Each column can be on a form once.`,
  otherKind: ({ heading, is, said }) =>
    `‘${heading}’ holds ${is.toLowerCase()} in the sheet, not ${said.toLowerCase()}. Change its kind in the heading strip, or rename this field.`,
  membersWanted: ({ label }) =>
    `‘${label}’ lists nothing. Write each on a line of its own below, indented by two spaces.`,
  standsAlone: ({ text }) => `‘${text}’ belongs to something before it, and nothing is there.`,
};

export function sayOutlineProblem(problem: OutlineProblem): string {
  const say = SENTENCES[problem.code] as (problem: OutlineProblem) => string;
  return say(problem);
}
