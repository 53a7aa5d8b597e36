import { showValue, splitChoices, type Column } from '../kinds';
import { atOnce, isErrorValue, type CellValue, type LocaleFacts } from '../values';
import type { SheetModel } from './sheetModel';

/** A value a column holds, as it is shown, and in how many records. */
export interface HeldValue {
  readonly text: string;
  readonly count: number;
}

/** Values looked at, or shown, before other work may go between. */
const SLICE = 5000;

/**
 * What a column holds, the most frequent first and equals in the order they are met, in steps
 * between which other work can be done. Several choices in a cell count one by one; blanks, errors
 * and trial records are left out.
 *
 * @param from the position of the first record that is looked at
 */
export function* heldValuesIn(
  model: SheetModel,
  column: Column,
  locale: LocaleFacts,
  from = 0,
): Generator<void, HeldValue[]> {
  // Values are few and records many: each value is made a text once.
  const counted = new Map<CellValue, number>();
  for (let position = from; position < model.count; position += 1) {
    if (position % SLICE === SLICE - 1) yield;
    // Records may have gone while others were answered.
    if (position >= model.count) break;
    const value = model.cellAt(position, column.id);
    if (value === null || isErrorValue(value)) continue;
    if (model.isTrialAt(position)) continue;
    counted.set(value, (counted.get(value) ?? 0) + 1);
  }
  const counts = new Map<string, number>();
  let shown = 0;
  for (const [value, count] of counted) {
    shown += 1;
    if (shown % SLICE === 0) yield;
    const texts =
      column.kind === 'severalChoices' && typeof value === 'string'
        ? splitChoices(value, column.settings.separator)
        : [showValue(value, column, locale)];
    for (const text of texts) counts.set(text, (counts.get(text) ?? 0) + count);
  }
  return [...counts].sort(([, a], [, b]) => b - a).map(([text, count]) => ({ text, count }));
}

/** The same at once, where few records are looked at. */
export function heldValues(...of: Parameters<typeof heldValuesIn>): HeldValue[] {
  return atOnce(heldValuesIn(...of));
}

/** Whether each record of a sheet holds another value in a column, and none is blank. */
export function isUnique(model: SheetModel, columnId: string): boolean {
  const seen = new Set<CellValue>();
  for (let position = 0; position < model.count; position += 1) {
    if (model.isTrialAt(position)) continue;
    const value = model.cellAt(position, columnId);
    if (value === null || isErrorValue(value) || seen.has(value)) return false;
    seen.add(value);
  }
  return seen.size > 0;
}
