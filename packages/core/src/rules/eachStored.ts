import type { SheetModel } from '../sheet';
import { isErrorValue, type CellValue, type ErrorValue } from '../values';

/** A value that stands in a column. */
type Stored = Exclude<CellValue, null | ErrorValue>;

/** Work between two turns of others, counted in signs that are looked at: long texts take longer. */
export const MOST_AT_ONCE = 50_000;
/** What a value costs that is no text. */
const USUAL = 10;

/** What looking at a value costs. */
export const costOf = (value: CellValue): number =>
  USUAL + (typeof value === 'string' ? value.length : 0);

/**
 * Shows what a column stores, value by value, in steps between which other work can be done. Blank
 * cells, errors and trial records are left out.
 */
export function* eachStored(
  model: SheetModel,
  columnId: string,
  look: (value: Stored, position: number) => void,
): Generator<void> {
  let spent = 0;
  for (let position = 0; position < model.count; position += 1) {
    const value = model.cellAt(position, columnId);
    if (value !== null && !isErrorValue(value) && !model.isTrialAt(position)) look(value, position);
    spent += costOf(value);
    if (spent < MOST_AT_ONCE) continue;
    spent = 0;
    yield;
  }
}
