import type { CellValue } from '../../values';
import type { Area, Figures, RecordColumn } from '../functions/area';
import { ERRORS } from '../functions/convert';
import { GrowingIndex, LineIndex } from '../functions/lineIndex';
import { heldIndex } from '../functions/pass';
import type { Bounds, SheetGrid } from './sheetGrid';

/** Where an area reads the cells of its sheet from. */
export interface CellReader {
  /** The value at a row, from 1, and a column, from 0. */
  valueAt(grid: SheetGrid, row: number, column: number): CellValue;
  isSubtotalAt(grid: SheetGrid, row: number, column: number): boolean;
  /** The last row that holds anything, values of array results too. */
  lastRowOf(grid: SheetGrid): number;
}

/** A range of a sheet. What of it are records is read straight from their values. */
export function rangeArea(grid: SheetGrid, bounds: Bounds, reader: CellReader): Area {
  const bottom = Math.min(bounds.bottom, Math.max(reader.lastRowOf(grid), bounds.top));
  const { left, right, top } = bounds;
  const heading = grid.headingRow;
  if (heading !== null && top > heading && right < grid.columnCount) {
    const { count } = grid.sheet.records;
    const first = grid.positionOfRow(top);
    const last = Math.min(grid.positionOfRow(bottom), count - 1);
    const ids = Array.from({ length: right - left + 1 }, (_, n) => grid.columnId(left + n) ?? '');
    return new RecordsArea(grid, ids, first, last - first + 1);
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
  return new RecordsArea(grid, [columnId], 0, grid.sheet.records.count);
}

/** Values of columns that stand side by side, of records that follow each other. */
class RecordsArea implements Area {
  readonly columns: number;
  readonly rows: number;
  private readonly slots: Int32Array;
  private readonly readers: readonly ((slot: number) => CellValue)[];

  constructor(
    private readonly grid: SheetGrid,
    private readonly columnIds: readonly string[],
    private readonly first: number,
    count: number,
  ) {
    const { records } = grid.sheet;
    this.columns = columnIds.length;
    this.rows = Math.max(0, count);
    this.slots = records.slots();
    this.readers = columnIds.map((id) => records.readerOf(id));
  }

  at(row: number, column: number): CellValue {
    const slot = this.slots[this.first + row];
    return slot === undefined ? null : (this.readers[column]?.(slot) ?? null);
  }

  get figures(): (() => Figures) | undefined {
    const [id] = this.columnIds;
    const { records } = this.grid.sheet;
    if (!this.isWhole || this.columns > 1 || id === undefined) return undefined;
    const figures = records.figures(id);
    return () => ({ ...figuresOf(figures), error: figures.errors > 0 ? this.firstError() : null });
  }

  index(column: number): LineIndex {
    const { first, rows, grid } = this;
    const { records, id: sheetId } = grid.sheet;
    const id = this.columnIds[column] ?? '';
    if (this.isWhole) {
      // A pass may hold it while records go.
      const at = (row: number): CellValue => (row < records.count ? records.cellAt(row, id) : null);
      const line = { length: rows, at, numbers: () => records.numbersOf(id) };
      return heldIndex([sheetId, id].join('\u0000'), () =>
        records.derived(id, 'whole', () => new GrowingIndex(line)),
      );
    }
    return heldIndex([sheetId, id, first, rows].join('\u0000'), () =>
      records.derived(id, `${first} ${rows}`, () => {
        // Of its own, for this area goes with the evaluation that asked for it.
        const area = new RecordsArea(grid, [id], first, rows);
        return new LineIndex({ length: rows, at: (row) => area.at(row, 0) });
      }),
    );
  }

  get recordColumn(): RecordColumn | undefined {
    const [columnId] = this.columnIds;
    if (!this.isWhole || this.columns > 1 || columnId === undefined) return undefined;
    return { columnId, totals: this.grid.sheet.records.conditionalTotals() };
  }

  private get isWhole(): boolean {
    return this.first === 0 && this.rows === this.grid.sheet.records.count;
  }

  private firstError(): CellValue {
    for (let row = 0; row < this.rows; row += 1) {
      const value = this.at(row, 0);
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
