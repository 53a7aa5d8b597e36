import type { DateOrder, LocaleFacts } from './locale';
import { read, refuse, type Problem, type Reading } from './problem';
import { readIsoDate } from './iso';
import { dateOfSerial, daysInMonth, serialOfDate } from './serial';

type DateStyle = Pick<LocaleFacts, 'dateOrder' | 'months'>;

/** A two-digit year means the year nearest to today that is at most 20 years ahead. */
const YEARS_AHEAD = 20;

function fullYear(text: string, thisYear: number): number {
  if (text.length > 2) return Number(text);
  const year = Math.floor(thisYear / 100) * 100 + Number(text);
  if (year > thisYear + YEARS_AHEAD) return year - 100;
  return year <= thisYear + YEARS_AHEAD - 100 ? year + 100 : year;
}

/**
 * Reads a calendar date: ISO 8601, figures in the locale's order between any of `/ . -` or
 * spaces, or with the month's name. Without a year it is this year's. `today` is a serial in
 * the workbook's time zone.
 */
export function readDate(text: string, style: DateStyle, today: number): Reading {
  const trimmed = text.trim().replace(/\s+/g, ' ');
  if (trimmed === '') return read(null);
  const iso = readIsoDate(trimmed);
  if (iso !== null) return read(iso);
  const thisYear = dateOfSerial(today).year;
  const parts = /^\d{4}[-/. ]/.test(trimmed)
    ? figures(trimmed, 'ymd', thisYear)
    : (figures(trimmed, style.dateOrder, thisYear) ?? named(trimmed, style.months, thisYear));
  if (!parts) return refuse({ code: 'notADate', text: trimmed, order: style.dateOrder });
  const problem = missingDay(parts, style.dateOrder);
  return problem ? refuse(problem) : read(serialOfDate(parts));
}

interface Parts {
  year: number;
  month: number;
  day: number;
}

function missingDay({ year, month, day }: Parts, order: DateOrder): Problem | null {
  if (month < 1 || month > 12) return { code: 'noSuchMonth', month, order };
  const days = daysInMonth(year, month);
  return year < 1 || day < 1 || day > days ? { code: 'noSuchDay', year, month, day, days } : null;
}

function figures(text: string, order: DateOrder, thisYear: number): Parts | null {
  const match = /^(\d{1,4})( ?[-/.] ?| )(\d{1,2})(?:\2(\d{1,4}))?[./]?$/.exec(text);
  if (!match) return null;
  const [, first = '', , second = '', third] = match;
  if (order === 'ymd') {
    if (third === undefined) {
      return { year: thisYear, month: Number(first), day: Number(second) };
    }
    return { year: fullYear(first, thisYear), month: Number(second), day: Number(third) };
  }
  if (first.length > 2 || third?.length === 1 || third?.length === 3) return null;
  const year = third === undefined ? thisYear : fullYear(third, thisYear);
  return order === 'mdy'
    ? { year, month: Number(first), day: Number(second) }
    : { year, month: Number(second), day: Number(first) };
}

function named(text: string, months: LocaleFacts['months'], thisYear: number): Parts | null {
  const words = text
    .toLocaleLowerCase()
    .split(/[\s,./-]+/)
    .filter((word) => word !== '' && word !== 'de');
  if (words.length < 2 || words.length > 3) return null;
  const at = words.findIndex((word) => monthOf(word, months) > 0);
  if (at < 0 || at > 1) return null;
  const month = monthOf(words[at] ?? '', months);
  const rest = words.filter((_, index) => index !== at);
  const day = /^(\d{1,2})(?:st|nd|rd|th|er)?$/.exec(rest[0] ?? '');
  if (!day || (rest[1] !== undefined && !/^(\d{2}|\d{4})$/.test(rest[1]))) return null;
  const year = rest[1] === undefined ? thisYear : fullYear(rest[1], thisYear);
  return { year, month, day: Number(day[1]) };
}

/** 1 to 12 for a month's name, or its unmistakable first three letters or more; else 0. */
function monthOf(word: string, months: LocaleFacts['months']): number {
  if (!/^\p{L}{3,}/u.test(word)) return 0;
  const whole = months.findIndex((names) => names.includes(word));
  if (whole >= 0) return whole + 1;
  const begun = months.flatMap((names, index) =>
    names.some((name) => name.startsWith(word)) ? [index + 1] : [],
  );
  return begun.length === 1 ? (begun[0] ?? 0) : 0;
}

/** Writes a date as the locale does, figures only, the year in full. */
export function showDate(
  serial: number,
  { dateOrder, dateSeparator }: Pick<LocaleFacts, 'dateOrder' | 'dateSeparator'>,
): string {
  const { year, month, day } = dateOfSerial(serial);
  const of = {
    y: String(year).padStart(4, '0'),
    m: String(month).padStart(2, '0'),
    d: String(day).padStart(2, '0'),
  };
  return [...dateOrder].map((letter) => of[letter as 'y' | 'm' | 'd']).join(dateSeparator);
}
