import {
  dateOfSerial,
  daysInMonth,
  isErrorValue,
  secondsOfSerial,
  serialOfDate,
  splitMoment,
  type DateParts,
  type ErrorValue,
} from '../../values';
import { eachValue, type Area } from './area';
import { spend } from './budget';
import { ERRORS, toNumber } from './convert';
import {
  area,
  define,
  maybe,
  number,
  optional,
  text,
  whole,
  type FunctionDefinition,
  type Moment,
} from './define';

const standard = { standing: 'standard', group: 'dates' } as const;

/** Serials of 0001-01-01 and 9999-12-31: the days a formula can give. */
const FIRST_DAY = serialOfDate({ year: 1, month: 1, day: 1 });
const LAST_DAY = serialOfDate({ year: 9999, month: 12, day: 31 });

const WEEK = 7;

function dayInRange(serial: number): number | ErrorValue {
  return serial >= FIRST_DAY && serial < LAST_DAY + 1 ? serial : ERRORS.number;
}

const areDays = (...serials: readonly number[]): boolean =>
  serials.every((serial) => !isErrorValue(dayInRange(serial)));

/** The day of a date so many months on; `null` days stand for the month's last. */
function addMonths(serial: number, months: number, lastDay: boolean): number | ErrorValue {
  if (!areDays(serial)) return ERRORS.number;
  const { year, month, day } = dateOfSerial(serial);
  const total = year * 12 + (month - 1) + months;
  const parts = { year: Math.floor(total / 12), month: (((total % 12) + 12) % 12) + 1 };
  if (parts.year < 1 || parts.year > 9999) return ERRORS.number;
  const last = daysInMonth(parts.year, parts.month);
  return serialOfDate({ ...parts, day: lastDay ? last : Math.min(day, last) });
}

/** Monday is 0. Serial 2 is Monday, 1900-01-01. */
const weekday = (serial: number): number => (((Math.floor(serial) - 2) % WEEK) + WEEK) % WEEK;

function isoWeek(serial: number): number {
  const thursday = Math.floor(serial) - weekday(serial) + 3;
  const { year } = dateOfSerial(thursday);
  return Math.floor((thursday - serialOfDate({ year, month: 1, day: 1 })) / WEEK) + 1;
}

/** How the first day of the week is counted, by the second argument of `WEEKDAY`. */
function weekdayBy(serial: number, type: number): number | ErrorValue {
  const day = weekday(serial);
  if (type === 3) return day;
  const first = type === 1 ? 6 : type === 2 ? 0 : type >= 11 && type <= 17 ? type - 11 : null;
  return first === null ? ERRORS.number : ((day - first + WEEK) % WEEK) + 1;
}

/** The whole units between two days, by the codes of ODF 1.3 part 4, `DATEDIF`. */
function dateDifference(from: number, to: number, unit: string): number | ErrorValue {
  if (from > to || !areDays(from, to)) return ERRORS.number;
  const a = dateOfSerial(from);
  const b = dateOfSerial(to);
  const short = b.day < a.day ? 1 : 0;
  const months = (b.year - a.year) * 12 + b.month - a.month - short;
  switch (unit.toLowerCase()) {
    case 'd':
      return Math.floor(to) - Math.floor(from);
    case 'm':
      return months;
    case 'y':
      return Math.floor(months / 12);
    case 'ym':
      return months % 12;
    case 'md':
      // Where the month is too short for the day, from its last day (from memory, common practice).
      return (
        Math.floor(to) - Math.min(monthsOn(a, months), monthsOn({ ...a, day: 1 }, months + 1) - 1)
      );
    case 'yd':
      return Math.floor(to) - monthsOn(a, Math.floor(months / 12) * 12);
    default:
      return ERRORS.number;
  }
}

/** The day a whole number of months after a date; days past the month's end run on. */
function monthsOn({ year, month, day }: DateParts, months: number): number {
  const total = year * 12 + month - 1 + months;
  const first = { year: Math.floor(total / 12), month: (total % 12) + 1, day: 1 };
  return serialOfDate(first) + day - 1;
}

function holidaysOf(range: Area | undefined, { locale }: Moment): Set<number> | ErrorValue {
  const days = new Set<number>();
  const failure =
    range &&
    eachValue(range, (value) => {
      spend(3);
      if (value === null) return null;
      const taken = toNumber(value, locale);
      if (isErrorValue(taken)) return taken;
      days.add(Math.floor(taken));
      return null;
    });
  return failure ?? days;
}

/** Weekdays from Monday to Friday in a stretch of days, both ends included. */
function weekdaysBetween(from: number, to: number): number {
  const days = to - from + 1;
  const weeks = Math.floor(days / WEEK);
  let count = weeks * 5;
  for (let day = from + weeks * WEEK; day <= to; day += 1) if (weekday(day) < 5) count += 1;
  return count;
}

function networkDays(from: number, to: number, holidays: ReadonlySet<number>): number {
  const [first, last] = from <= to ? [from, to] : [to, from];
  let count = weekdaysBetween(first, last);
  for (const day of holidays) if (day >= first && day <= last && weekday(day) < 5) count -= 1;
  return from <= to ? count : -count;
}

function workday(from: number, offset: number, holidays: ReadonlySet<number>): number | ErrorValue {
  if (Math.abs(offset) > LAST_DAY || isErrorValue(dayInRange(from))) return ERRORS.number;
  spend(Math.abs(offset) * 3);
  const step = offset < 0 ? -1 : 1;
  let day = from;
  for (let left = Math.abs(offset); left > 0;) {
    day += step;
    if (weekday(day) < 5 && !holidays.has(day)) left -= 1;
  }
  return dayInRange(day);
}

/** A part of a date or a time. */
const part = (about: string, of: (serial: number) => number): FunctionDefinition =>
  define({ ...standard, about }, [number('Date')], (_moment, serial) => {
    const day = dayInRange(serial);
    return typeof day === 'number' ? of(serial) : day;
  });

const timePart = (about: string, of: (seconds: number) => number): FunctionDefinition =>
  define({ ...standard, about }, [number('Time')], (_moment, serial) =>
    of(secondsOfSerial(serial)),
  );

export const dates = {
  DATE: define(
    { ...standard, about: 'A date from year, month and day; months and days may run over.' },
    [whole('Year'), whole('Month'), whole('Day')],
    (_moment, year, month, day) => {
      const months = year * 12 + month - 1;
      const first = { year: Math.floor(months / 12), month: (((months % 12) + 12) % 12) + 1 };
      if (first.year < 1 || first.year > 9999) return ERRORS.number;
      return dayInRange(serialOfDate({ ...first, day: 1 }) + day - 1);
    },
  ),
  TIME: define(
    { ...standard, about: 'A time of day from hours, minutes and seconds.' },
    [number('Hours'), number('Minutes'), number('Seconds')],
    (_moment, hours, minutes, seconds) => {
      const total = hours * 3600 + minutes * 60 + seconds;
      return total < 0 ? ERRORS.number : (total % 86_400) / 86_400;
    },
  ),
  TODAY: define({ ...standard, about: 'The day it is.', volatile: true }, [], (moment) =>
    Math.floor(moment.now()),
  ),
  NOW: define({ ...standard, about: 'The moment it is.', volatile: true }, [], (moment) =>
    moment.now(),
  ),
  YEAR: part('The year of a date.', (serial) => dateOfSerial(splitMoment(serial).day).year),
  MONTH: part(
    'The month of a date, from 1.',
    (serial) => dateOfSerial(splitMoment(serial).day).month,
  ),
  DAY: part(
    'The day of the month of a date.',
    (serial) => dateOfSerial(splitMoment(serial).day).day,
  ),
  HOUR: timePart('The hour of a time.', (seconds) => Math.floor(seconds / 3600)),
  MINUTE: timePart('The minute of a time.', (seconds) => Math.floor(seconds / 60) % 60),
  SECOND: timePart('The second of a time.', (seconds) => seconds % 60),
  WEEKDAY: define(
    {
      ...standard,
      about: 'The day of the week as a number; Sunday is 1 unless a type says otherwise.',
    },
    [number('Date'), optional(whole('Type'), 1)],
    (_moment, serial, type) => weekdayBy(serial, type),
  ),
  ISOWEEKNUM: part('The week of the year by ISO 8601.', isoWeek),
  EDATE: define(
    { ...standard, effort: 4, about: 'The same day some months on.' },
    [number('Date'), whole('Months')],
    (_moment, serial, months) => addMonths(serial, months, false),
  ),
  EOMONTH: define(
    { ...standard, effort: 4, about: 'The last day of the month some months on.' },
    [number('Date'), whole('Months')],
    (_moment, serial, months) => addMonths(serial, months, true),
  ),
  DATEDIF: define(
    {
      ...standard,
      about: 'Whole years, months or days between two dates: "y", "m", "d", "ym", "md", "yd".',
    },
    [number('From'), number('To'), text('Unit')],
    (_moment, from, to, unit) => dateDifference(from, to, unit),
  ),
  DAYS: define(
    { ...standard, about: 'The days between two dates, the later one first.' },
    [number('To'), number('From')],
    (_moment, to, from) => Math.floor(to) - Math.floor(from),
  ),
  NETWORKDAYS: define(
    { ...standard, about: 'The weekdays from one date to another, holidays left out.' },
    [whole('From'), whole('To'), maybe(area('Holidays'))],
    (moment, from, to, range) => {
      const holidays = holidaysOf(range, moment);
      if ('error' in holidays) return holidays;
      return areDays(from, to) ? networkDays(from, to, holidays) : ERRORS.number;
    },
  ),
  WORKDAY: define(
    { ...standard, about: 'The date so many weekdays on, holidays left out.' },
    [whole('From'), whole('Days'), maybe(area('Holidays'))],
    (moment, from, days, range) => {
      const holidays = holidaysOf(range, moment);
      return 'error' in holidays ? holidays : workday(from, days, holidays);
    },
  ),
} satisfies Record<string, FunctionDefinition>;
