import {
  mapColumn,
  writeFormula,
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
  return columns.map((column: StoredColumn) =>
    mapColumn(column, (formula) =>
      calculation && grid ? `=${writeFormula(formula, grid, calculation, workbook.locale)}` : '',
    ),
  );
}
