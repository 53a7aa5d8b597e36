import { kindOf, type ReadingContext } from '../kinds';
import {
  dateOfSerial,
  plainApostrophes,
  serialOfDate,
  showDate,
  weekdayOf,
  type LocaleFacts,
} from '../values';

/** Whole days on end: serials, the first and the one past the last. */
export interface Period {
  readonly from: number;
  readonly to: number;
  /** How it is said: `this week`, `March 2026`, `24/11/2026`. */
  readonly says: string;
  /** Whether it is one day, named by its date. */
  readonly isDay?: boolean;
}

type Span = readonly [from: number, to: number];

const MONDAY = 1;
/** The first day of a week; weeks begin on Monday (ISO 8601). */
const weekOf = (day: number): number => day - ((weekdayOf(day) - MONDAY + 7) % 7);

function monthOf(day: number, away: number): Span {
  const { year, month } = dateOfSerial(day);
  const first = (months: number): number =>
    serialOfDate({
      year: year + Math.floor((month - 1 + months) / 12),
      month: ((((month - 1 + months) % 12) + 12) % 12) + 1,
      day: 1,
    });
  return [first(away), first(away + 1)];
}

function yearOf(day: number, away: number): Span {
  const { year } = dateOfSerial(day);
  const first = (of: number): number => serialOfDate({ year: of, month: 1, day: 1 });
  return [first(year + away), first(year + away + 1)];
}

const AWAY: Readonly<Record<string, number>> = { last: -1, this: 0, next: 1 };
/** More days than this are counted from no day that a sheet holds. */
const MOST_DAYS = 40_000;

/** `this week`, `last month`, `next 7 days`: counted from today, in the workbook's zone. */
function readRelative(text: string, today: number): Span | null {
  const [, which = '', count, unit = ''] =
    /^(last|this|next) (?:(\d{1,5}) )?(day|week|month|quarter|year)s?$/.exec(text) ?? [];
  const away = AWAY[which];
  if (away === undefined) return null;
  if (count !== undefined) {
    const many = Number(count);
    if (away === 0 || many < 1 || many > MOST_DAYS) return null;
    if (unit === 'day') return away < 0 ? [today - many + 1, today + 1] : [today, today + many];
    // Whole ones: those before this one, or those behind it.
    const [near, far] = [unitOf(unit, today, away), unitOf(unit, today, away * many)];
    return near && far && [Math.min(near[0], far[0]), Math.max(near[1], far[1])];
  }
  return unitOf(unit, today, away);
}

/** A whole week, month, quarter or year, so many away from the one of a day. */
function unitOf(unit: string, today: number, away: number): Span | null {
  switch (unit) {
    case 'week':
      return [weekOf(today) + 7 * away, weekOf(today) + 7 * (away + 1)];
    case 'month':
      return monthOf(today, away);
    case 'quarter': {
      const into = (dateOfSerial(today).month - 1) % 3;
      const [from] = monthOf(today, 3 * away - into);
      return [from, monthOf(from, 2)[1]];
    }
    case 'year':
      return yearOf(today, away);
    default:
      return null;
  }
}

/** A month of some year, or of this one: `2026-03`, `03/2026`, `March 2026`, `mar`. */
function readMonth(text: string, { months }: LocaleFacts, today: number): Span | null {
  const iso = /^(\d{4})[-/.](\d{1,2})$/.exec(text);
  const turned = /^(\d{1,2})[-/.](\d{4})$/.exec(text);
  const named = /^(\p{L}[\p{L}.]*)(?: (\d{4}))?$/u.exec(text);
  const month = named
    ? months.findIndex((names) => names.includes(named[1] ?? '')) + 1
    : Number(iso?.[2] ?? turned?.[1] ?? 0);
  if (month < 1 || month > 12) return null;
  const year = Number(iso?.[1] ?? turned?.[2] ?? named?.[2] ?? dateOfSerial(today).year);
  return year < 1 ? null : monthOf(serialOfDate({ year, month, day: 1 }), 0);
}

function sayMonth([from]: Span, { tag }: LocaleFacts): string {
  const { year, month } = dateOfSerial(from);
  const shown = new Intl.DateTimeFormat(tag, {
    calendar: 'gregory',
    numberingSystem: 'latn',
    timeZone: 'UTC',
    year: 'numeric',
    month: 'long',
  });
  return shown.format(Date.UTC(year, month - 1, 1));
}

/** Days as people write them: a date, a month, a year, or days counted from today; else `null`. */
export function readPeriod(typed: string, context: ReadingContext): Period | null {
  const { locale } = context;
  const today = Math.floor(context.now);
  const text = typed.trim().toLowerCase().replace(/\s+/g, ' ');
  const plain = plainApostrophes(text);
  const away = locale.dayWords.get(plain);
  if (away !== undefined) return { from: today + away, to: today + away + 1, says: text };
  const word = locale.periodWords.get(plain);
  const relative = word ? unitOf(word.unit, today, word.away) : readRelative(text, today);
  if (relative) return { from: relative[0], to: relative[1], says: text };
  const year = /^[12]\d{3}$/.test(text) ? Number(text) : null;
  if (year !== null) {
    const first = serialOfDate({ year, month: 1, day: 1 });
    return { from: first, to: yearOf(first, 0)[1], says: text };
  }
  const month = readMonth(text, locale, today);
  if (month) return { from: month[0], to: month[1], says: sayMonth(month, locale) };
  const day = kindOf({ kind: 'date' }).read(typed, DAY_COLUMN, context);
  if (!day.ok || typeof day.value !== 'number') return null;
  return { from: day.value, to: day.value + 1, says: showDate(day.value, locale), isDay: true };
}

const DAY_COLUMN = { id: '', heading: '', kind: 'date', settings: {} } as const;
