import type { DateOrder, Problem } from '../values';
import { sayCount, sayCountOf } from './counts';

const EXAMPLES: Record<DateOrder, string> = {
  dmy: '28/03/2026 or 28 March',
  mdy: '03/28/2026 or March 28',
  ymd: '2026-03-28',
};

const MONTHS = [
  'January',
  'February',
  'March',
  'April',
  'May',
  'June',
  'July',
  'August',
  'September',
  'October',
  'November',
  'December',
];

const WEEKDAYS = ['Sunday', 'Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday'];

/** Long typed text is quoted only so far that a sentence stays a sentence. */
function quote(text: string): string {
  const letters = [...text.replace(/\s+/g, ' ')];
  return `‘${letters.length > 30 ? `${letters.slice(0, 29).join('')}…` : letters.join('')}’`;
}

type Sentences = {
  [Code in Problem['code']]: (problem: Extract<Problem, { code: Code }>) => string;
};

/** One sentence per problem: what is wrong and what to do. All such wording stands here. */
const SENTENCES: Sentences = {
  required: () => 'An answer is needed here.',
  notANumber: ({ text }) => `${quote(text)} is not a number. Use figures only.`,
  otherDecimalSign: ({ text, meant }) => `${quote(text)} has another decimal sign. Write ${meant}.`,
  tooLarge: ({ text }) => `${quote(text)} is larger than a number can be. Check the exponent.`,
  tooManyDigits: ({ text, digits }) =>
    `${quote(text)} has ${digits} digits; a number keeps 15. Shorten it, or keep it in a text column.`,
  notWhole: ({ text }) => `${quote(text)} is not a whole number. Leave out the fraction.`,
  notADate: ({ text, order }) => `${quote(text)} is not a date. Write it like ${EXAMPLES[order]}.`,
  noSuchDay: ({ day, month, year, days }) =>
    `There is no ${day} ${MONTHS[month - 1] ?? ''} ${year}: the month has ${days} days. Check the day.`,
  noSuchMonth: ({ month, order }) =>
    `There is no month ${month}. Write the date like ${EXAMPLES[order]}.`,
  dateIncomplete: ({ open }) => `Choose the ${open.join(' and the ')} as well.`,
  otherWeekday: ({ day, month, year, weekday }) =>
    `${day} ${MONTHS[month - 1] ?? ''} ${year} is a ${WEEKDAYS[weekday] ?? ''}. Check the day.`,
  notATime: ({ text }) => `${quote(text)} is not a time of day. Write it like 14:05.`,
  notAMoment: ({ text, order }) =>
    `${quote(text)} is not a date and time. Write it like ${EXAMPLES[order].split(' or')[0] ?? ''} 14:05.`,
  notYesNo: ({ text }) => `${quote(text)} is neither yes nor no. Choose one of them.`,
  notAChoice: ({ text, near }) =>
    near === null
      ? `${quote(text)} is not one of the choices. Pick one from the list.`
      : `${quote(text)} is not one of the choices. Did you mean ${quote(near)}?`,
  finerThanMinor: ({ text, currency, digits }) =>
    `${quote(text)} is finer than ${currency} is counted: it has ${digits === 0 ? 'no decimals' : `${digits} decimals`}. Shorten it, or say that it is meant.`,
  notAnEmail: ({ text }) =>
    `${quote(text)} is not an email address. Write it like name@place.example.`,
  notAPhone: ({ text, country }) =>
    country === null
      ? `${quote(text)} is not a phone number. Begin with + and the country's code.`
      : `${quote(text)} is not a phone number of ${country}. Check its figures, or begin with + and the country's code.`,
  notAWebAddress: ({ text }) =>
    `${quote(text)} is not a web address. Write it like https://place.example.`,
  noStep: ({ text, from, to }) =>
    `${quote(text)} is no step from ${from} to ${to}. Choose one of them.`,
  notChecked: () => 'This is confirmed with a tick, or left blank.',
  tooLow: ({ text, least }) => `${quote(text)} is under ${least}. Check it.`,
  tooHigh: ({ text, most }) => `${quote(text)} is over ${most}. Check it.`,
  tooShort: ({ length, least }) =>
    `${sayCountOf(length, 'character')} of at least ${sayCount(least)}. Write some more.`,
  tooLong: ({ length, most }) =>
    `${sayCount(length)} of ${sayCountOf(most, 'character')}. Shorten it.`,
  notAFile: ({ text }) => `${quote(text)} is no file of this form. Choose the file again.`,
  fileGone: ({ text }) => `The file ${quote(text)} is not there any more. Choose it again.`,
  fileTooLarge: ({ text, most }) =>
    `The file ${quote(text)} is over ${most} MB. Choose a smaller one.`,
  otherFiles: ({ text, accepts }) =>
    accepts === 'images'
      ? `The file ${quote(text)} is no picture. Choose a PNG, JPEG, GIF or WebP.`
      : `The file ${quote(text)} is a picture, and a document is wanted. Choose another one.`,
  keyTaken: ({ text, holder, row }) =>
    `${quote(text)} is already taken${holder === '' ? '' : ` by ${holder}`}, in row ${sayCount(row)}. Give another, or correct that row.`,
  notTyped: ({ kind }) => `${kind} is filled in by Varn. Leave it out.`,
  nothingTyped: () => 'Nothing is filled in yet. Type at least one answer.',
};

export function sayProblem(problem: Problem): string {
  const say = SENTENCES[problem.code] as (problem: Problem) => string;
  return say(problem);
}
