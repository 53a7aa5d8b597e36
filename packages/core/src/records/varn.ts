import { kindOf, type Column, type WrittenFacts } from '../kinds';
import type { CellValue } from '../values';

/** The cells of a new record that no one types: running numbers, written at, written by. */
export function filledByVarn(
  columns: Iterable<Column>,
  facts: WrittenFacts,
): Record<string, CellValue> {
  const cells: Record<string, CellValue> = {};
  for (const column of columns) {
    const value = kindOf(column).fill?.(column, facts) ?? null;
    if (value !== null) cells[column.id] = value;
  }
  return cells;
}
