import { localeFacts, readDate, readTime } from '../values';

/** Whether a text is a figure, a date or a time: what a heading is not. */
export function looksTyped(text: string): boolean {
  const trimmed = text.trim();
  if (trimmed === '' || !/\d/.test(trimmed)) return false;
  return (
    isFigure(trimmed) ||
    isClock(trimmed) ||
    isWholeDate(trimmed, 'dmy') ||
    isWholeDate(trimmed, 'mdy')
  );
}

function isFigure(text: string): boolean {
  return /^[-+\u2212(]?[€£$¥]?\s?\d[\d.,'\s\u00A0\u202F]*(?:[eE][-+]?\d+)?\s?[%€)]?$/.test(text);
}

/** Words that stand first in a row of totals, in the tongues such files come in. */
const TOTAL =
  /^(?:(?:grand|sub|sous|zwischen)?[- ]?(?:totals?|totaux|summe|sum|suma|somme|gesamt|totale)|average|mean|promedio|moyenne|mittelwert|durchschnitt)\b/i;
const ENDS_IN_TOTAL = /\b(?:sub-?)?totals?:?$/i;

/** Whether a row sums up others: it begins with a word for it, and has figures or nothing after. */
export function isTotalsRow(row: readonly string[]): boolean {
  const filled = row.filter((cell) => cell.trim() !== '');
  const [first = '', ...rest] = filled;
  if (!TOTAL.test(first.trim()) && !ENDS_IN_TOTAL.test(first.trim())) return false;
  return rest.length > 0 && rest.every((cell) => looksTyped(cell) || TOTAL.test(cell.trim()));
}

const EN = localeFacts('en-GB');

/** A date with its year, in the order given (ISO 8601 in any order). */
export function isWholeDate(text: string, dateOrder: 'dmy' | 'mdy'): boolean {
  if (!/\d{4}|\d[-/. ]\d{1,2}[-/. ]\d{2}$|'\d{2}$/.test(text) || text.length > 30) return false;
  return (
    /\d.*[-/. ,].*\d/.test(text) && readDate(text, { ...EN, dateOrder }, 0, { asWritten: true }).ok
  );
}

export function isClock(text: string): boolean {
  return /^\d{1,2}:\d{2}/.test(text) && readTime(text).ok;
}

/** A date and a clock time after it. */
export function isWholeMoment(text: string, dateOrder: 'dmy' | 'mdy'): boolean {
  const split = /^(.+?)(?:T|,? )(\d{1,2}:\d{2}.*)$/.exec(text);
  return split !== null && isWholeDate(split[1] ?? '', dateOrder) && isClock(split[2] ?? '');
}
