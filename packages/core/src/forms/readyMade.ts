/** Choices that are ready to be picked, in words of English, or of a locale. */
export type ReadyMade =
  'yesNo' | 'agreement' | 'frequency' | 'months' | 'weekdays' | 'countries' | 'parts';

export const READY_MADE: readonly (readonly [ReadyMade, string])[] = [
  ['yesNo', 'Yes, no, don’t know'],
  ['agreement', 'Agreement, five steps'],
  ['frequency', 'How often'],
  ['months', 'Months'],
  ['weekdays', 'Days of the week'],
  ['countries', 'Countries'],
  ['parts', 'Parts of a country'],
];

const FIXED: Readonly<Partial<Record<ReadyMade, readonly string[]>>> = {
  yesNo: ['Yes', 'No', 'Don’t know'],
  agreement: ['Disagree', 'Somewhat disagree', 'Neither', 'Somewhat agree', 'Agree'],
  frequency: ['Never', 'Rarely', 'Sometimes', 'Often', 'Always'],
};

/** What a label says that asks for one of them. */
const ASKED_BY: readonly (readonly [ReadyMade, RegExp])[] = [
  ['parts', /\b(?:provinces?|count(?:y|ies)|cantons?|prefectures?|part of (?:the )?country)\b/i],
  ['countries', /\bcountr(?:y|ies)\b/i],
  ['months', /\bmonths?\b/i],
  ['weekdays', /\b(?:weekdays?|day of (?:the )?week)\b/i],
  ['agreement', /\bagree\b/i],
  ['frequency', /\b(?:how often|frequency)\b/i],
];

/** The ready-made choices that a label asks for by its words; `null` where it asks for none. */
export const readyMadeFor = (label: string): ReadyMade | null =>
  ASKED_BY.find(([, words]) => words.test(label))?.[0] ?? null;

/** What a country is called in a locale. @param code ISO 3166-1, two letters */
export const countryName = (code: string, tag: string): string =>
  new Intl.DisplayNames(tag, { type: 'region', fallback: 'none' }).of(code) ?? code;

/** 1 January 2024 was a Monday. */
const MONDAY = Date.UTC(2024, 0, 1);
const DAY_MS = 86_400_000;

/**
 * A ready-made list of choices.
 *
 * @param tag the workbook's locale (BCP 47), for names of months, days and countries
 * @param places ISO 3166-1 codes of two letters for countries; names for the parts of one
 */
export function readyMade(
  set: ReadyMade,
  tag: string,
  places: readonly string[] = [],
): readonly string[] {
  const fixed = FIXED[set];
  if (fixed) return fixed;
  if (set === 'countries' || set === 'parts') {
    const known = set === 'parts' ? [...places] : places.map((code) => countryName(code, tag));
    return known.sort(new Intl.Collator(tag).compare);
  }
  const part = set === 'months' ? ({ month: 'long' } as const) : ({ weekday: 'long' } as const);
  const format = new Intl.DateTimeFormat(tag, { ...part, timeZone: 'UTC' });
  return set === 'months'
    ? Array.from({ length: 12 }, (_, n) => format.format(Date.UTC(2024, n, 1)))
    : Array.from({ length: 7 }, (_, n) => format.format(MONDAY + n * DAY_MS));
}

/** Choices in pasted text: cells, lines, or a list with commas or semicolons on one line. */
export function choicesIn(text: string): string[] {
  const lines = text.split(/[\n\r\t]+/).filter((each) => each.trim() !== '');
  const [only = ''] = lines;
  const sign = only.includes(';') ? ';' : ',';
  const parts = lines.length > 1 ? lines : only.split(sign);
  return [...new Set(parts.map((each) => each.trim()).filter((each) => each !== ''))];
}
