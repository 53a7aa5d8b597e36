import { showValue, type Column } from '../kinds';
import type { LocaleFacts } from '../values';
import type { SheetModel } from './sheetModel';

const SAMPLE = 2000;

/**
 * The 95th percentile (nearest rank) of the lengths of a column's stored values as shown, blanks
 * left out; 0 when nothing is stored. Of a long sheet an even sample is measured.
 */
export function usualLength(model: SheetModel, column: Column, locale: LocaleFacts): number {
  const step = Math.max(1, Math.floor(model.count / SAMPLE));
  const lengths: number[] = [];
  for (let position = 0; position < model.count; position += step) {
    const value = model.cellAt(position, column.id);
    if (value !== null) lengths.push([...showValue(value, column, locale)].length);
  }
  lengths.sort((a, b) => a - b);
  return lengths[Math.ceil(lengths.length * 0.95) - 1] ?? 0;
}
