import type { FormulaProblem } from '../formula';
import { sayCountOf, type ErrorReason, type ErrorValue } from '../values';

type Sentences = {
  [Code in FormulaProblem['code']]: (problem: Extract<FormulaProblem, { code: Code }>) => string;
};

const count = (n: number, what: string): string => `${n} ${what}${n === 1 ? '' : 's'}`;

/** What is wrong with a formula as it was typed, and what to do. Its place is shown beside. */
const SENTENCES: Sentences = {
  empty: () => 'There is no formula after =.',
  tooLong: ({ length, most }) =>
    `The formula has ${length} characters; ${most} is the most. Move parts of it into other cells.`,
  tooManyOperators: ({ most }) =>
    `The formula is too long: it has more than ${most} operators. Add up ranges with SUM, or split it.`,
  tooDeep: ({ most }) =>
    `More than ${most} parentheses or signs are nested. Move parts of it into other cells.`,
  strayCharacter: ({ character }) => `‘${character}’ has no meaning here. Take it out.`,
  unclosedText: () => 'The text has no closing quotation mark ".',
  unclosedQuote: () => "The heading or sheet name has no closing apostrophe '.",
  unclosedParenthesis: ({ name }) =>
    name === null
      ? 'This parenthesis is not closed. Add a ).'
      : `The parenthesis of ${name} is not closed. Add a ).`,
  unclosedArray: () => 'This array is not closed. Add a }.',
  unevenArray: ({ first, here }) =>
    `The array’s first row has ${count(first, 'value')}, another one ${here}. Give each row the same number.`,
  valueWanted: ({ found }) =>
    found === '' ? 'A value is missing here.' : `A value is missing before ‘${found}’.`,
  operatorWanted: ({ found }) =>
    `‘${found}’ can’t follow what comes before it. Put an operator such as + or & between them.`,
  numberTooLarge: ({ text }) => `${text} is larger than a number can be. Check the exponent.`,
  unknownFunction: ({ name, near }) =>
    near === null
      ? `There is no function ${name}. Check its spelling.`
      : `There is no function ${name}. Did you mean ${near}?`,
  argumentCount: ({ name, given, least, most }) => {
    const wanted =
      most === null
        ? `at least ${count(least, 'argument')}`
        : least === most
          ? count(least, 'argument')
          : `${least} to ${most} arguments`;
    return `${name} takes ${wanted}, and ${given} ${given === 1 ? 'is' : 'are'} given.`;
  },
  openColon: ({ instead }) => `A range that goes on down is written ${instead}.`,
  unknownName: ({ name }) =>
    `There is no name ${name}. Put text in "quotes" and headings in 'apostrophes'.`,
  unknownSheet: ({ name }) => `There is no sheet ‘${name}’ in this workbook.`,
  unknownHeading: ({ heading, sheet }) =>
    `No column${sheet === '' ? '' : ` of ${sheet}`} is called ‘${heading}’.`,
  noRecordHere: ({ heading, sheet }) =>
    `'${heading}' alone means the value of the record a formula stands for, and this cell belongs to none. For the whole column write ${sheet ?? 'its sheet'}!'${heading}'.`,
  severalHeadings: ({ heading }) => `More than one column is headed ‘${heading}’.`,
};

export function sayFormulaProblem(problem: FormulaProblem): string {
  const say = SENTENCES[problem.code] as (problem: FormulaProblem) => string;
  return say(problem);
}

/** What the error values of OpenFormula mean where nothing more is known. */
const ERRORS: Readonly<Record<string, string>> = {
  '#NULL!': 'Two ranges that were to meet have no cell in common.',
  '#DIV/0!': 'A number is divided by zero, or the mean of no number is asked for.',
  '#VALUE!': 'A value is of the wrong kind: perhaps text instead of a number.',
  '#REF!': 'It refers to something that is not there.',
  '#NAME?': 'It names a function or a range that is not there.',
  '#NUM!': 'The result is too large, or not defined.',
  '#N/A': 'No value was found.',
};

const REASONS: {
  [Code in ErrorReason['code']]: (reason: Extract<ErrorReason, { code: Code }>) => string;
} = {
  blocked: ({ by }) => `Its values need room, and ${by} is not blank. Clear that cell or move it.`,
  noRoom: () => 'There are not enough free rows or columns for its values.',
  circle: ({ path }) => `It depends on itself: ${path.join(' → ')}. Take one of them out.`,
  gone: ({ what }) => `It reads ${what}, which was deleted. Put that back, or rewrite the formula.`,
  several: ({ count: values }) =>
    `It gives ${values} values, and a record’s cell holds one. Choose one, or sum them.`,
  slowList: ({ seconds, rows }) =>
    `It would take about ${sayCountOf(seconds, 'second')} over ${sayCountOf(rows, 'row')}. Let its condition and labels read their own row, or put what they need into a column.`,
  tooLong: () =>
    'This formula would take too long. Let it read fewer cells, or move parts of it into other cells.',
  tooLongTogether: () =>
    'The formulas here would take too long together. Let them read fewer cells, or use fewer of them.',
  longText: ({ most }) =>
    `The text would be longer than ${most.toLocaleString('en-GB')} characters, the most a cell can hold.`,
  unread: ({ message }) => message,
};

/** Why a cell shows an error. */
export function sayErrorValue({ error, why }: ErrorValue): string {
  if (!why) return ERRORS[error] ?? error;
  const say = REASONS[why.code] as (reason: ErrorReason) => string;
  return say(why);
}

/** That a condition waits for answers it compares by size. @param headings one or more */
export function sayOpenWhileBlank(headings: readonly string[]): string {
  const named = headings.map((heading) => `‘${heading}’`).join(' or ');
  return `While ${named} is blank, this counts as false.`;
}
