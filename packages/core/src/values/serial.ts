/**
 * Dates and times as serial numbers, counted as in OpenFormula (ODF 1.3 part 4): whole days
 * since 1899-12-30, which is serial 0, in the proleptic Gregorian calendar; the fraction is the
 * time of day.
 */

export interface DateParts {
  readonly year: number;
  /** 1 to 12. */
  readonly month: number;
  /** 1 to 31. */
  readonly day: number;
}

const DAY_MS = 86_400_000;
const DAY_SECONDS = 86_400;
const EPOCH_MS = Date.UTC(1899, 11, 30);

export function daysInMonth(year: number, month: number): number {
  const leap = (year % 4 === 0 && year % 100 !== 0) || year % 400 === 0;
  return [31, leap ? 29 : 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31][month - 1] ?? 0;
}

/** The serial of a calendar date. The parts must name a day that exists. */
export function serialOfDate({ year, month, day }: DateParts): number {
  const date = new Date(0);
  date.setUTCFullYear(year, month - 1, day);
  return Math.round((date.getTime() - EPOCH_MS) / DAY_MS);
}

export function dateOfSerial(serial: number): DateParts {
  const date = new Date(EPOCH_MS + Math.floor(serial) * DAY_MS);
  return { year: date.getUTCFullYear(), month: date.getUTCMonth() + 1, day: date.getUTCDate() };
}

/** The fraction of a day that has passed at a time of day, exact to the second. */
/** The day of the week of a serial, from 0 for Sunday: serial 1 is Sunday, 1899-12-31. */
export const weekdayOf = (serial: number): number => (((Math.floor(serial) - 1) % 7) + 7) % 7;

export function serialOfTime(hours: number, minutes: number, seconds: number): number {
  return (hours * 3600 + minutes * 60 + seconds) / DAY_SECONDS;
}

/** Whole seconds since midnight; a serial a hair under the next second counts as that second. */
export function secondsOfSerial(serial: number): number {
  return Math.round((serial - Math.floor(serial)) * DAY_SECONDS) % DAY_SECONDS;
}

/** Splits a moment into its day and its second, so that rounding up to midnight moves the day. */
export function splitMoment(serial: number): { day: number; seconds: number } {
  const total = Math.round(serial * DAY_SECONDS);
  const day = Math.floor(total / DAY_SECONDS);
  return { day, seconds: total - day * DAY_SECONDS };
}

/** Zones change their offset at quarters of an hour only, so one reading holds for a quarter. */
const QUARTER_MS = 900_000;
const offsets = new Map<string, { quarter: number; days: number }>();

/** The serial of now in a time zone, to the second. `epochMs` counts from 1970 in UTC. */
export function serialNow(epochMs: number, timeZone: string): number {
  const quarter = Math.floor(epochMs / QUARTER_MS);
  let offset = offsets.get(timeZone);
  if (offset?.quarter !== quarter) {
    const start = quarter * QUARTER_MS;
    offset = { quarter, days: localSerial(start, timeZone) - utcSerial(start) };
    offsets.set(timeZone, offset);
  }
  const { day, seconds } = splitMoment(utcSerial(epochMs) + offset.days);
  return day + seconds / DAY_SECONDS;
}

function utcSerial(epochMs: number): number {
  return (Math.floor(epochMs / 1000) * 1000 - EPOCH_MS) / DAY_MS;
}

function localSerial(epochMs: number, timeZone: string): number {
  const parts = zoneFormat(timeZone).formatToParts(epochMs);
  const of = (type: string): number => Number(parts.find((part) => part.type === type)?.value);
  const date = serialOfDate({ year: of('year'), month: of('month'), day: of('day') });
  return date + serialOfTime(of('hour'), of('minute'), of('second'));
}

const zoneFormats = new Map<string, Intl.DateTimeFormat>();

function zoneFormat(timeZone: string): Intl.DateTimeFormat {
  let format = zoneFormats.get(timeZone);
  if (!format) {
    format = new Intl.DateTimeFormat('en-US', {
      timeZone,
      calendar: 'iso8601',
      numberingSystem: 'latn',
      hourCycle: 'h23',
      year: 'numeric',
      month: 'numeric',
      day: 'numeric',
      hour: 'numeric',
      minute: 'numeric',
      second: 'numeric',
    });
    zoneFormats.set(timeZone, format);
  }
  return format;
}
