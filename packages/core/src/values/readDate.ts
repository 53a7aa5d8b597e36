import { plainApostrophes, type DateOrder, type LocaleFacts } from './locale';
import { read, refuse, type Problem, type Reading } from './problem';
import { readIsoDate } from './iso';
import { readPartialDate } from './partialDate';
import { dateOfSerial, daysInMonth, serialOfDate, weekdayOf } from './serial';
import { plainSigns } from './signs';

type DateStyle = Pick<LocaleFacts, 'dateOrder' | 'months' | 'weekdays' | 'dayWords' | 'fillers'>;

/** A two-digit year means the year nearest to today that is at most 20 years ahead. */
const YEARS_AHEAD = 20;

/** A year in figures, of two of them the one that is meant by people of this year. */
export function fullYear(text: string, thisYear: number): number {
  if (text.length > 2) return Number(text);
  const year = Math.floor(thisYear / 100) * 100 + Number(text);
  if (year > thisYear + YEARS_AHEAD) return year - 100;
  return year <= thisYear + YEARS_AHEAD - 100 ? year + 100 : year;
}

/** How far a text may be taken for what it does not say in full. */
export interface DateReading {
  /** It stands in a file or another cell: no bare days, figures without separators, or *today*. */
  readonly asWritten?: boolean | undefined;
}

/**
 * Reads a calendar date: ISO 8601, figures in the locale's order between any of `/ . -` or
 * spaces, or with the month's name; the day of the week may stand with it, and must be right.
 * Without a year it is this year's. As people type, also `24` (of this month), `24112026`,
 * `today`. `today` is a serial in the workbook's time zone.
 */
export function readDate(
  text: string,
  style: DateStyle,
  today: number,
  { asWritten = false }: DateReading = {},
): Reading {
  const trimmed = plainApostrophes(plainSigns(text)).trim().replace(/\s+/g, ' ');
  if (trimmed === '') return read(null);
  const partial = readPartialDate(trimmed);
  if (partial) {
    const open = (['day', 'month', 'year'] as const).filter((part) => partial[part] === null);
    return refuse({ code: 'dateIncomplete', open });
  }
  const refused = refuse({ code: 'notADate', text: trimmed, order: style.dateOrder });
  const away = asWritten ? undefined : style.dayWords.get(trimmed.toLowerCase());
  if (away !== undefined) return read(today + away);
  const whole = readParts(trimmed, style, today, asWritten);
  if (whole) return dayOf(whole, style.dateOrder);
  const named = withoutWeekday(trimmed, style);
  const parts = named && readParts(named.rest, style, today, asWritten);
  if (!named || !parts) return refused;
  const reading = dayOf(parts, style.dateOrder);
  if (!reading.ok || typeof reading.value !== 'number') return reading;
  const weekday = weekdayOf(reading.value);
  if (weekday === named.weekday) return reading;
  return refuse({ code: 'otherWeekday', ...parts, weekday });
}

interface Parts {
  year: number;
  month: number;
  day: number;
}

function dayOf(parts: Parts, order: DateOrder): Reading {
  const problem = missingDay(parts, order);
  return problem ? refuse(problem) : read(serialOfDate(parts));
}

function readParts(
  text: string,
  style: DateStyle,
  today: number,
  asWritten: boolean,
): Parts | null {
  const parts = readPlain(text, style, today, asWritten);
  if (parts) return parts;
  const bare = withoutFillers(text, style);
  return bare === text ? null : readPlain(bare, style, today, asWritten);
}

function readPlain(
  text: string,
  { dateOrder, months }: DateStyle,
  today: number,
  asWritten: boolean,
): Parts | null {
  const iso = readIsoDate(text);
  if (iso !== null) return dateOfSerial(iso);
  const now = dateOfSerial(today);
  const startsWithYear = /^\d{4}[-/. ]/.test(text);
  return (
    figures(text, startsWithYear ? 'ymd' : dateOrder, now.year) ??
    spelled(text, now.year) ??
    named(text, months, now.year) ??
    (asWritten || startsWithYear ? null : (bareDay(text, now) ?? joined(text, dateOrder, now.year)))
  );
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

/** A date without the words that say nothing in it, where they stand by themselves. */
function withoutFillers(text: string, { fillers }: DateStyle): string {
  return (
    text
      // An ending in brackets, as in `5(a)`.
      .replace(/(?<=\d)\(\p{L}+\)\p{L}*/gu, ' ')
      .replace(/[\p{L}\p{M}]+(?:\.(?=\P{L}|$))?/gu, (word) => {
        return fillers.has(word.replace('.', '').toLocaleLowerCase()) ? ' ' : word;
      })
      .replace(/\s+/g, ' ')
      .trim()
  );
}

/** Figures with the signs for year, month and day of East Asia: `2026年11月24日`, `11월 24일`. */
function spelled(text: string, thisYear: number): Parts | null {
  const match = /^(?:(\d{1,4}) ?[年년] ?)?(\d{1,2}) ?[月월] ?(\d{1,2}) ?[日일号號]?$/.exec(text);
  if (!match) return null;
  const [, year, month, day] = match;
  return {
    year: year === undefined ? thisYear : fullYear(year, thisYear),
    month: Number(month),
    day: Number(day),
  };
}

/** A day of this month: `24`. */
function bareDay(text: string, { year, month }: Parts): Parts | null {
  return /^\d{1,2}$/.test(text) ? { year, month, day: Number(text) } : null;
}

/** Figures without anything between them, in the locale's order: `24112026`, `241126`. */
function joined(text: string, order: DateOrder, thisYear: number): Parts | null {
  if (!/^(?:\d{6}|\d{8})$/.test(text)) return null;
  const long = text.length === 8;
  const cut = (at: DateOrder): Parts => {
    const lengths = { y: long ? 4 : 2, m: 2, d: 2 };
    const found = { y: '', m: '', d: '' };
    let from = 0;
    for (const letter of [...at] as ('y' | 'm' | 'd')[]) {
      found[letter] = text.slice(from, from + lengths[letter]);
      from += lengths[letter];
    }
    return { year: fullYear(found.y, thisYear), month: Number(found.m), day: Number(found.d) };
  };
  const meant = cut(order);
  // 20261124 is no day of the year 1124.
  const isNear = Math.abs(meant.year - thisYear) < 200;
  return long && !isNear ? cut('ymd') : meant;
}

function named(text: string, months: LocaleFacts['months'], thisYear: number): Parts | null {
  const words = withMonthInWords(text.toLocaleLowerCase(), months)
    // `24nov` and `nov24`, but not the `st` of `1st`.
    .replace(/(\d)(?!(?:st|nd|rd|th|er)(?![\p{L}\p{M}]))(\p{L})/gu, '$1 $2')
    .replace(/([\p{L}\p{M}])(\d)/gu, '$1 $2')
    .split(/[\s,./\u0970\u060C-]+/)
    .filter((word) => word !== '' && word !== 'de');
  if (words.length < 2 || words.length > 3) return null;
  const at = words.findIndex((word) => monthOf(word, months) > 0);
  const startsWithYear = /^\d{4}$/.test(words[0] ?? '');
  if (at < 0 || (at > 1 && !startsWithYear)) return null;
  const month = monthOf(words[at] ?? '', months);
  const others = words.filter((_, index) => index !== at);
  // The year stands first where it can be nothing else.
  const rest = startsWithYear && words.length === 3 ? others.toReversed() : others;
  const day = /^(\d{1,2})(?:st|nd|rd|th|er)?$/.exec(rest[0] ?? '');
  if (!day || (rest[1] !== undefined && !/^(\d{2}|\d{4})$/.test(rest[1]))) return null;
  const year = rest[1] === undefined ? thisYear : fullYear(rest[1], thisYear);
  return { year, month, day: Number(day[1]) };
}

/** Months of which the name is more than one word, by its first three letters in English. */
const IN_ENGLISH = 'jan feb mar apr may jun jul aug sep oct nov dec'.split(' ');

/** A date in whose place of a month's name of several words, or with dots in it, one word stands. */
function withMonthInWords(text: string, months: LocaleFacts['months']): string {
  const names = months
    .flatMap((all, index) => all.map((name) => ({ name, index })))
    .filter(({ name }) => /[^\p{L}\p{M}]/u.test(name))
    .sort((a, b) => b.name.length - a.name.length);
  for (const { name, index } of names) {
    const at = text.indexOf(name);
    if (at < 0) continue;
    const isPart = (sign: string): boolean => /[\p{L}\p{M}\d]/u.test(sign);
    if (isPart(text.charAt(at - 1)) || isPart(text.charAt(at + name.length))) continue;
    return `${text.slice(0, at)} ${IN_ENGLISH[index] ?? ''} ${text.slice(at + name.length)}`;
  }
  return text;
}

/** 1 to 12 for a month's name, or its unmistakable first three letters or more; else 0. */
function monthOf(word: string, months: LocaleFacts['months']): number {
  const whole = months.findIndex((names) => names.includes(word));
  if (whole >= 0) return whole + 1;
  if (!/^[\p{L}\p{M}]{3,}/u.test(word)) return 0;
  const begun = months.flatMap((names, index) =>
    names.some((name) => name.startsWith(word)) ? [index + 1] : [],
  );
  return begun.length === 1 ? (begun[0] ?? 0) : 0;
}

/** A date without the day of the week before or behind it, and which that was. */
function withoutWeekday(
  text: string,
  { weekdays, fillers }: DateStyle,
): { weekday: number; rest: string } | null {
  const low = text.toLocaleLowerCase();
  // The longest first: of 月曜日 the last sign is Sunday's short name.
  const all = weekdays
    .flatMap((names, weekday) => names.map((name) => ({ name, weekday })))
    .sort((a, b) => b.name.length - a.name.length);
  for (const { name, weekday } of all) {
    const [word = ''] = /^[\p{L}\p{M}]*/u.exec(low.slice(name.length)) ?? [];
    if (low.startsWith(name) && (word === '' || fillers.has(word))) {
      const rest = text.slice(name.length + word.length).replace(/^[\s.,\u060C]+/, '');
      return { weekday, rest };
    }
    const behind = low.replace(/[)\uFF09\s.]+$/, '');
    if (behind.endsWith(name) && !/[A-Za-z]/.test(behind.charAt(behind.length - name.length - 1))) {
      const rest = text.slice(0, behind.length - name.length).replace(/[\s.,(\uFF08\u060C]+$/, '');
      return { weekday, rest };
    }
  }
  return null;
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
