import type { ReadingContext } from '../kinds';
import { showDate, type LocaleFacts } from '../values';
import { readPeriod } from './period';

/** What stands before the last day of a condition (`>= `, `1/3/2026..`, `not `), and that day. */
const DAY_AT_END = /^(.*(?:\.\.|>=|<=|<>|[<>=,]|\bnot\b)\s*)?(.*)$/is;

/** The day a condition ends with, as a serial; `null` where it names none. */
export function dayAtEnd(says: string, context: ReadingContext): number | null {
  const [, , last = ''] = DAY_AT_END.exec(says) ?? [];
  const period = last.trim() === '' ? null : readPeriod(last.trim(), context);
  return period && period.to - period.from <= 1 ? period.from : null;
}

/** A picked day in the place of the last one: behind a comparison, or at the end of a stretch. */
export function withDayAtEnd(says: string, day: number, locale: LocaleFacts): string {
  const [, before = ''] = DAY_AT_END.exec(says) ?? [];
  return before + showDate(day, locale);
}
