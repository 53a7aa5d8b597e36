import { plainSigns, read, readNumber, refuse, type LocaleFacts, type Reading } from '../values';
import type { Column } from './kind';

/** A percent sign behind the figures, or before them as Turkish has it, and a minus before that. */
const PERCENT = /^([-\u2212\u2013]?)\s*[%\u066A]\s*|\s*[%\u066A]$/;

/** A sign of money before the figures or behind them, and a minus before either. */
const MONEY = /^([-\u2212\u2013]?)\s*\p{Sc}\s*(?=[-\u2212\u2013]?[\d.,])|(?<=\d)\s*\p{Sc}$/u;

/**
 * Reads a number with what its column writes around it, its unit and groups of digits, and with
 * what people copy along: a percent sign, by which 12 % is 0.12, and a sign of money.
 */
export function readMeasured(
  typed: string,
  { settings: { unit, digitGroups } }: Column,
  locale: LocaleFacts,
): Reading {
  let text = withoutUnit(plainSigns(typed).trim(), unit).replace(MONEY, '$1');
  if (digitGroups) text = text.replace(/(\d)\s+(?=\d)/g, '$1');
  if (!PERCENT.test(text)) return readNumber(text, locale);
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
