import { plainSigns, read, readNumber, refuse, type LocaleFacts, type Reading } from '../values';
import type { Column } from './kind';

/** A percent sign behind the figures, or before them as Turkish has it, and a minus before that. */
const PERCENT = /^([-\u2212\u2013]?)\s*[%\u066A]\s*|\s*[%\u066A]$/;

/**
 * Reads a number with what its column writes around it: its unit behind it, a percent sign, groups
 * of digits.
 */
export function readMeasured(
  typed: string,
  { settings: { unit, percent = false, digitGroups } }: Column,
  locale: LocaleFacts,
): Reading {
  let text = withoutUnit(plainSigns(typed).trim(), unit);
  if (digitGroups) text = text.replace(/(\d)\s+(?=\d)/g, '$1');
  if (!percent || !PERCENT.test(text)) return readNumber(text, locale);
  const figures = text.replace(PERCENT, '$1');
  // A percent sign alone is no number.
  if (figures.trim() === '') return refuse({ code: 'notANumber', text: typed.trim() });
  const reading = readNumber(figures, locale);
  if (!reading.ok || typeof reading.value !== 'number') return reading;
  // A hundredth of 15 digits has 15 digits.
  return read(Number((reading.value / 100).toPrecision(15)));
}

/** What stands before a unit; a unit alone is no number, and stays. */
export function withoutUnit(text: string, unit = ''): string {
  const sign = plainSigns(unit).trim().toLowerCase();
  if (sign === '' || !text.toLowerCase().endsWith(sign)) return text;
  const rest = text.slice(0, -sign.length).trim();
  return /\d/.test(rest) ? rest : text;
}
