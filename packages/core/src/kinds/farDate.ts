import { doubted, quote, type Reading, type Sentences } from '../values';
import type { Column, ReadingContext } from './kind';

declare module '../values/problem' {
  interface Problems {
    farDate: { readonly text: string; readonly years: number; readonly isAhead: boolean };
  }
}

export const FAR_SENTENCES: Sentences<'farDate'> = {
  farDate: ({ text, years, isAhead }) =>
    `${quote(text)} is ${years} years ${isAhead ? 'ahead' : 'ago'}. Is the year meant?`,
};

/** Beyond these a year is likely of another calendar, or typed short. */
const MOST_YEARS_AHEAD = 100;
const MOST_YEARS_AGO = 150;
const DAYS_OF_YEAR = 365.2425;

/** A day that was typed and lies implausibly far from today is asked about. */
export function askedIfFar(
  reading: Reading,
  typed: string,
  { id }: Pick<Column, 'id'>,
  { now, asWritten, held }: ReadingContext,
): Reading {
  if (!reading.ok || reading.doubt || asWritten || typeof reading.value !== 'number')
    return reading;
  const years = (reading.value - now) / DAYS_OF_YEAR;
  if (years <= MOST_YEARS_AHEAD && years >= -MOST_YEARS_AGO) return reading;
  if (held?.[id] === reading.value) return reading;
  const text = typed.trim();
  const told = { text, years: Math.round(Math.abs(years)), isAhead: years > 0 };
  return doubted(reading.value, { code: 'farDate', ...told });
}
