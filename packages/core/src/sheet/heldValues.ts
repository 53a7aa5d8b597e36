import { showValue, splitChoices, type Column } from '../kinds';
import { isErrorValue, type CellValue, type LocaleFacts } from '../values';
import type { SheetModel } from './sheetModel';
import { isTrial } from './trial';

/** A value a column holds, as it is shown, and in how many records. */
export interface HeldValue {
  readonly text: string;
  readonly count: number;
}

/**
 * What a column holds, the most frequent first and equals in the order they are met. Several
 * choices in a cell count one by one; blanks, errors and trial records are left out.
 *
 * @param from the position of the first record that is looked at
 */
export function heldValues(
  model: SheetModel,
  column: Column,
  locale: LocaleFacts,
  from = 0,
): HeldValue[] {
  // Values are few and records many: each value is made a text once.
  const counted = new Map<CellValue, number>();
  for (let position = from; position < model.count; position += 1) {
    const value = model.cellAt(position, column.id);
    if (value === null || isErrorValue(value)) continue;
    if (model.holdsTrials && isTrial(model.at(position).cells)) continue;
    counted.set(value, (counted.get(value) ?? 0) + 1);
  }
  const counts = new Map<string, number>();
  for (const [value, count] of counted) {
    const texts =
      column.kind === 'severalChoices' && typeof value === 'string'
        ? splitChoices(value, column.settings.separator)
        : [showValue(value, column, locale)];
    for (const text of texts) counts.set(text, (counts.get(text) ?? 0) + count);
  }
  return [...counts].sort(([, a], [, b]) => b - a).map(([text, count]) => ({ text, count }));
}
