import {
  mapColumn,
  listWriter,
  type Calculation,
  type Column,
  type StoredColumn,
} from '@varn/core';
import type { SheetFacts } from '../store/catalog';

/** A sheet's columns with their formulas as people read them, the sign `=` before them. */
export function writtenColumns(
  { id, workbook, columns }: SheetFacts,
  calculation: Calculation | null,
): Column<string>[] {
  const grid = calculation?.sheet(id);
  const write = calculation && grid && listWriter(grid, calculation, workbook.locale);
  return columns.map((column: StoredColumn) => {
    const isFed = column.settings.list !== undefined;
    return mapColumn(column, (formula, source) =>
      write ? `${isFed ? '' : '='}${write(formula, source)}` : '',
    );
  });
}
