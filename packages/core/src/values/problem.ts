import type { DateOrder } from './locale';
import { quote } from './wording';

/**
 * What is to be told of each problem, by its code. This folder declares what can be wrong with
 * typed numbers, dates and times; whoever finds another problem declares it beside itself, as
 * `kinds/money.ts` does. `words/problems.ts` does not compile while one has no sentence.
 */
export interface Problems {
  notANumber: { readonly text: string };
  otherDecimalSign: { readonly text: string; readonly meant: string };
  tooLarge: { readonly text: string };
  tooManyDigits: { readonly text: string; readonly digits: number };
  notADate: { readonly text: string; readonly order: DateOrder };
  noSuchDay: {
    readonly day: number;
    readonly month: number;
    readonly year: number;
    readonly days: number;
  };
  noSuchMonth: { readonly month: number; readonly order: DateOrder };
  dateIncomplete: { readonly open: readonly ('day' | 'month' | 'year')[] };
  otherWeekday: {
    readonly day: number;
    readonly month: number;
    readonly year: number;
    /** The day of the week it is, from 0 for Sunday. */
    readonly weekday: number;
  };
  notATime: { readonly text: string };
}

type ProblemCode = keyof Problems;

/** Why a value may not be stored, or should be looked at again: data, not words. */
export type Problem = {
  [Code in ProblemCode]: { readonly code: Code } & Problems[Code];
}[ProblemCode];

/** The sentences of some problems: each says what is wrong and what to do. */
export type Sentences<Code extends ProblemCode = ProblemCode> = {
  readonly [Each in Code]: (facts: Problems[Each]) => string;
};

/**
 * How much a problem weighs: one is `refuse`d; one is `ask`ed about, and gives way once the person
 * says that it is meant; one is only `note`d.
 */
export const STRICTNESSES = ['refuse', 'ask', 'note'] as const;
export type Strictness = (typeof STRICTNESSES)[number];

/** What reading a typed text gives: a value to store, or why not. */
export type Reading =
  | {
      readonly ok: true;
      readonly value: string | number | boolean | null;
      /** Allowed, but asked about. */
      readonly doubt?: Problem;
      /** How much the doubt weighs, where it is not asked about. */
      readonly strictness?: Exclude<Strictness, 'refuse'>;
    }
  | { readonly ok: false; readonly problem: Problem };

export const read = (value: string | number | boolean | null): Reading => ({ ok: true, value });
/** A value that there is something to be said of. */
export const doubted = (
  value: string | number | boolean | null,
  doubt: Problem,
  strictness: Exclude<Strictness, 'refuse'> = 'ask',
): Reading => ({ ok: true, value, doubt, strictness });
export const refuse = (problem: Problem): Reading => ({ ok: false, problem });

/** How a date is written, by the order of its parts. */
export const DATE_EXAMPLES: Readonly<Record<DateOrder, string>> = {
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

export const READING_SENTENCES: Sentences<
  | 'notANumber'
  | 'otherDecimalSign'
  | 'tooLarge'
  | 'tooManyDigits'
  | 'notADate'
  | 'noSuchDay'
  | 'noSuchMonth'
  | 'dateIncomplete'
  | 'otherWeekday'
  | 'notATime'
> = {
  notANumber: ({ text }) => `${quote(text)} is not a number. Use digits only.`,
  otherDecimalSign: ({ text, meant }) => `${quote(text)} has another decimal sign. Write ${meant}.`,
  tooLarge: ({ text }) => `${quote(text)} is larger than a number can be. Check the exponent.`,
  tooManyDigits: ({ text, digits }) =>
    `${quote(text)} has ${digits} digits; a number keeps 15. Shorten it, or keep it in a text column.`,
  notADate: ({ text, order }) =>
    `${quote(text)} is not a date. Write it like ${DATE_EXAMPLES[order]}.`,
  noSuchDay: ({ day, month, year, days }) =>
    `There is no ${day} ${MONTHS[month - 1] ?? ''} ${year}: the month has ${days} days. Check the day.`,
  noSuchMonth: ({ month, order }) =>
    `There is no month ${month}. Write the date like ${DATE_EXAMPLES[order]}.`,
  dateIncomplete: ({ open }) => `Choose the ${open.join(' and the ')} as well.`,
  otherWeekday: ({ day, month, year, weekday }) =>
    `${day} ${MONTHS[month - 1] ?? ''} ${year} is a ${WEEKDAYS[weekday] ?? ''}. Check the day.`,
  notATime: ({ text }) => `${quote(text)} is not a time of day. Write it like 14:05.`,
};
