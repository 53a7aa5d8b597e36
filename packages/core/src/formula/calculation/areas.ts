import type { CellValue } from '../../values';
import type { Area, Figures } from '../functions/area';
import { ERRORS } from '../functions/convert';
import type { Bounds, SheetGrid } from './sheetGrid';

/** Where an area reads the cells of its sheet from. */
export interface CellReader {
  /** The value at a row, from 1, and a column, from 0. */
  valueAt(grid: SheetGrid, row: number, column: number): CellValue;
  isSubtotalAt(grid: SheetGrid, row: number, column: number): boolean;
  /** The last row that holds anything, spilled values too. */
  lastRowOf(grid: SheetGrid): number;
}

/** A range of a sheet. A column of records is read straight from its values. */
export function rangeArea(grid: SheetGrid, bounds: Bounds, reader: CellReader): Area {
  const bottom = Math.min(bounds.bottom, Math.max(reader.lastRowOf(grid), bounds.top));
  const { left, right, top } = bounds;
  const heading = grid.headingRow;
  if (left === right && heading !== null && top > heading) {
    const columnId = grid.columnId(left);
    const { count } = grid.sheet.records;
    const first = grid.positionOfRow(top);
    const last = Math.min(grid.positionOfRow(bottom), count - 1);
    if (columnId !== undefined) return new RecordsArea(grid, columnId, first, last - first + 1);
  }
  return {
    rows: bottom - top + 1,
    columns: right - left + 1,
    at: (row, column) => reader.valueAt(grid, top + row, left + column),
    isSubtotal: (row, column) => reader.isSubtotalAt(grid, top + row, left + column),
  };
}

/** The whole column of a sheet's records. */
export function wholeColumnArea(grid: SheetGrid, columnId: string): Area {
  return new RecordsArea(grid, columnId, 0, grid.sheet.records.count);
}

/** Values of one column, of records that follow each other. */
class RecordsArea implements Area {
  readonly columns = 1;
  readonly rows: number;
  private readonly slots: Int32Array;
  private readonly read: (slot: number) => CellValue;

  constructor(
    private readonly grid: SheetGrid,
    private readonly columnId: string,
    private readonly first: number,
    count: number,
  ) {
    const { records } = grid.sheet;
    this.rows = Math.max(0, count);
    this.slots = records.slots();
    this.read = records.readerOf(columnId);
  }

  at(row: number): CellValue {
    const slot = this.slots[this.first + row];
    return slot === undefined ? null : this.read(slot);
  }

  get figures(): (() => Figures) | undefined {
    if (!this.isWhole) return undefined;
    const figures = this.grid.sheet.records.figures(this.columnId);
    return () => ({ ...figuresOf(figures), error: figures.errors > 0 ? this.firstError() : null });
  }

  get rowOf():
    ((column: number, value: string | number | boolean) => number | undefined) | undefined {
    if (!this.isWhole) return undefined;
    return (_column, value) => this.grid.sheet.records.firstPositionOf(this.columnId, value);
  }

  private get isWhole(): boolean {
    return this.first === 0 && this.rows === this.grid.sheet.records.count;
  }

  private firstError(): CellValue {
    for (let row = 0; row < this.rows; row += 1) {
      const value = this.at(row);
      if (typeof value === 'object' && value !== null) return value;
    }
    return ERRORS.value;
  }
}

function figuresOf({
  filled,
  numbers,
  sum,
  least,
  most,
}: Omit<Figures, 'error'>): Omit<Figures, 'error'> {
  return { filled, numbers, sum, least, most };
}
