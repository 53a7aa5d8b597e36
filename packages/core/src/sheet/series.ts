import { kindOf, typedValue, type Column, type ReadingContext } from '../kinds';
import { dateOfSerial, serialOfDate, type LocaleFacts } from '../values';

/** Gives the nth text behind those a series begins with, from 1. */
export type Series = (n: number) => string;

/**
 * How texts go on: numbers, days and times by their step, days of the week, months, and texts with a
 * number at their end. One text alone goes on by one, or by a day.
 *
 * @param given the texts a series begins with, as they are typed; the last two tell the step
 * @param column of records, in whose way values are read and written; `null` outside of them
 * @returns `null` where they are no series
 */
export function seriesOf(
  given: readonly string[],
  column: Column | null,
  context: ReadingContext,
): Series | null {
  const texts = given.map((each) => each.trim());
  if (texts.length === 0 || texts.includes('')) return null;
  const [one, last] = [texts.at(-2), texts.at(-1) ?? ''];
  const kinds = column ? [column] : FREE;
  for (const each of kinds) {
    const series = ofValues(one, last, each, context);
    if (series) return series;
  }
  const { weekdays, months } = context.locale;
  return ofNames(one, last, weekdays) ?? ofNames(one, last, months) ?? ofNumbered(one, last);
}

const FREE = (['number', 'date', 'time', 'moment'] as const).map((kind): Column => ({
  id: '',
  heading: '',
  kind,
  settings: {},
}));

/** Figures a step is exact to, as numbers are shown. */
const FIGURES = 15;

function ofValues(
  one: string | undefined,
  last: string,
  column: Column,
  context: ReadingContext,
): Series | null {
  if (kindOf(column).holds !== 'number') return null;
  const read = (text: string): number | null => {
    const reading = kindOf(column).read(text, column, context);
    return reading.ok && typeof reading.value === 'number' ? reading.value : null;
  };
  const to = read(last);
  const from = one === undefined ? null : read(one);
  if (to === null || (one !== undefined && from === null)) return null;
  const write = (value: number): string => typedValue(value, column, context.locale);
  const months = from !== null && isOfDays(column) ? monthsBetween(from, to) : 0;
  if (months !== 0 && from !== null) {
    const atEnd = isLastDay(from) && isLastDay(to);
    return (n) => write(monthsLater(to, months * n, atEnd));
  }
  const step = from === null ? firstStep(column) : to - from;
  return (n) => write(Number((to + step * n).toPrecision(FIGURES)));
}

const isOfDays = (column: Column): boolean => kindOf(column).iso === 'date';

/** A time alone goes on by an hour, all else by one. */
const firstStep = (column: Column): number => (kindOf(column).iso === 'time' ? 1 / 24 : 1);

/** Whole months between two days: on the same day of the month, or both at its end; else 0. */
function monthsBetween(from: number, to: number): number {
  const [a, b] = [dateOfSerial(from), dateOfSerial(to)];
  const isAtEnd = isLastDay(from) && isLastDay(to);
  if (a.day !== b.day && !isAtEnd) return 0;
  return (b.year - a.year) * 12 + b.month - a.month;
}

const isLastDay = (serial: number): boolean => dateOfSerial(serial + 1).day === 1;

/** As many months later on the same day, or at the end of a month that does not have it. */
function monthsLater(serial: number, months: number, atEnd: boolean): number {
  const { year, month, day } = dateOfSerial(serial);
  const at = year * 12 + month - 1 + months;
  const first = serialOfDate({ year: Math.floor(at / 12), month: (at % 12) + 1, day: 1 });
  const next = serialOfDate({
    year: Math.floor((at + 1) / 12),
    month: ((at + 1) % 12) + 1,
    day: 1,
  });
  const length = next - first;
  return first + (atEnd ? length : Math.min(day, length)) - 1;
}

/** Names that come round, as the days of the week: written as the last was. */
function ofNames(
  one: string | undefined,
  last: string,
  names: LocaleFacts['months'],
): Series | null {
  const placeOf = (text: string): readonly [number, number] | null => {
    const folded = text.toLowerCase();
    const at = names.findIndex((forms) => forms.includes(folded));
    return at < 0 ? null : [at, names[at]?.indexOf(folded) ?? 0];
  };
  const to = placeOf(last);
  const from = one === undefined ? null : placeOf(one);
  if (!to || (one !== undefined && !from)) return null;
  const step = from ? to[0] - from[0] : 1;
  const { length } = names;
  return (n) => {
    const at = (((to[0] + step * n) % length) + length) % length;
    return inCaseOf(last, names[at]?.[to[1]] ?? names[at]?.[0] ?? '');
  };
}

/** A name in the letters of another: all large, the first one large, or as it is. */
function inCaseOf(like: string, name: string): string {
  if (like.length > 1 && like === like.toUpperCase()) return name.toUpperCase();
  const [first = ''] = like;
  return first === first.toLowerCase() ? name : name.charAt(0).toUpperCase() + name.slice(1);
}

const NUMBERED = /^(.*?)(\d{1,15})(\D*)$/su;

/** Texts with a number in them, which goes on: `AB-03`, `Week 9`, `3rd round` keeps what is behind it. */
function ofNumbered(one: string | undefined, last: string): Series | null {
  const [, before = '', figures = '', behind = ''] = NUMBERED.exec(last) ?? [];
  if (figures === '') return null;
  const [, otherBefore, otherFigures, otherBehind] =
    one === undefined ? [] : (NUMBERED.exec(one) ?? []);
  if (one !== undefined && (otherBefore !== before || otherBehind !== behind)) return null;
  const step = otherFigures === undefined ? 1 : Number(figures) - Number(otherFigures);
  return (n) => {
    const value = Number(figures) + step * n;
    const sign = value < 0 ? '-' : '';
    return `${before}${sign}${String(Math.abs(value)).padStart(figures.length, '0')}${behind}`;
  };
}
