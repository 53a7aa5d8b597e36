import { kindOf, type Column, type KindId, type ReadingContext } from '../kinds';
import { readDate, readNumber, readTime, type CellValue, type Problem } from '../values';
import type { FreeCell } from './freeRows';

/** What a text typed into a free cell is: a formula to be read, or a value. */
export type FreeReading =
  | { readonly what: 'formula'; readonly text: string }
  | { readonly what: 'cell'; readonly cell: FreeCell<never> }
  | { readonly what: 'problem'; readonly problem: Problem };

/** Figures that must not lose anything as a number: leading zeros, and more than 15 of them. */
const ID_LIKE = /^(?:0\d+|\d{16,})$/;
const FORMULA = /^=(?:=\s*)*(.+)$/s;
const PERCENT = /^(.*\d)\s*%$/;

/**
 * Reads a text typed into a cell outside of the records. A kind that was set for the cell reads
 * it; else it is a number, percentage, date or time if it says so in the workbook's locale, and
 * a text if not.
 */
export function readFree(
  typed: string,
  held: FreeCell | undefined,
  context: ReadingContext,
): FreeReading {
  const text = typed.trim();
  const look = held?.kind ? { kind: held.kind, settings: held.settings ?? {} } : {};
  if (text === '') return { what: 'cell', cell: look };
  // A sign that was typed once more says nothing.
  const formula = FORMULA.exec(text)?.[1];
  if (formula !== undefined && held?.kind !== 'text') return { what: 'formula', text: formula };
  if (held?.kind) {
    const column: Column = { id: '', heading: '', kind: held.kind, settings: held.settings ?? {} };
    const kind = kindOf(column);
    if (kind.filledBy === 'people' && kind.typing !== 'none') {
      const reading = kind.read(typed, column, context);
      return reading.ok
        ? { what: 'cell', cell: { value: reading.value, ...look } }
        : { what: 'problem', problem: reading.problem };
    }
  }
  return { what: 'cell', cell: guessed(typed, text, context) };
}

function guessed(typed: string, text: string, { locale, now }: ReadingContext): FreeCell<never> {
  const keeps: CellValue = typed;
  if (ID_LIKE.test(text)) return { value: keeps };
  const percent = PERCENT.exec(text);
  const number = readNumber(percent?.[1] ?? text, locale);
  if (number.ok && typeof number.value === 'number') {
    if (!percent) return { value: number.value };
    const value = Number((number.value / 100).toPrecision(15));
    return { value, kind: 'number', settings: { percent: true } };
  }
  const shown = (kind: KindId, value: CellValue): FreeCell<never> => ({ value, kind });
  if (/\d/.test(text) && /[/.\-\s]/.test(text)) {
    const date = readDate(text, locale, Math.floor(now), { asWritten: true });
    if (date.ok && date.value !== null) return shown('date', date.value);
  }
  if (/^\d{1,2}:\d{2}(?::\d{2})?$/.test(text)) {
    const time = readTime(text);
    if (time.ok && time.value !== null) return shown('time', time.value);
  }
  return { value: keeps };
}
