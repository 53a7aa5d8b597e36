import { columnLetters } from '../../address';
import type { SheetModel } from '../../sheet';
import type {
  CellPlace,
  ColumnPlace,
  RowPlace,
  StoredColumn,
  StoredFreeRows,
} from '../references/reference';

/** A sheet as formulas see it: its columns, its free rows, and its records under their heading. */
export interface GridSheet {
  readonly id: string;
  readonly name: string;
  /** The columns of the record block, in the order they stand. */
  readonly columns: readonly StoredColumn[];
  /** Ids of columns without a heading, to the right of the block. */
  readonly looseColumns: readonly string[];
  /** Whether it has a record block; else all of its rows are free. */
  readonly hasRecords: boolean;
  readonly rows: StoredFreeRows;
  readonly records: SheetModel;
  /** Columns that were deleted: what they were called, and which column they stood after. */
  readonly lost: ReadonlyMap<string, LostColumn>;
}

export interface LostColumn {
  readonly heading: string;
  readonly after: string | null;
}

/** The last row a sheet can have. */
export const LAST_ROW = 9_999_999;

/** Rows and columns of a sheet by number and by identity. Rows count from 1, columns from 0. */
export class SheetGrid {
  private readonly indexOfColumn = new Map<string, number>();
  private readonly ids: string[];

  constructor(readonly sheet: GridSheet) {
    this.ids = [...sheet.columns.map(({ id }) => id), ...sheet.looseColumns];
    this.ids.forEach((id, index) => this.indexOfColumn.set(id, index));
  }

  get columnCount(): number {
    return this.ids.length;
  }

  /** The row of the heading, or `null` in a sheet without records. */
  get headingRow(): number | null {
    return this.sheet.hasRecords ? this.sheet.rows.count + 1 : null;
  }

  /** The last row that holds anything. */
  get lastRow(): number {
    const { rows, records, hasRecords } = this.sheet;
    return hasRecords ? rows.count + 1 + records.count : rows.count;
  }

  columnId(index: number): string | undefined {
    return this.ids[index];
  }

  columnIndex(id: string): number | undefined {
    return this.indexOfColumn.get(id);
  }

  column(id: string): StoredColumn | undefined {
    const index = this.indexOfColumn.get(id);
    return index === undefined ? undefined : this.sheet.columns[index];
  }

  /** What a row is. */
  placeOfRow(row: number): RowPlace {
    const { rows, records, hasRecords } = this.sheet;
    const free = rows.at(row - 1);
    if (free) return { at: 'row', part: 'top', id: free.id, key: free.orderKey };
    if (!hasRecords) return { at: 'number', row };
    const position = row - rows.count - 2;
    if (position === -1) return { at: 'heading' };
    if (position >= records.count) return { at: 'number', row: position + 1, below: true };
    const { id, orderKey } = records.at(position);
    return { at: 'row', part: 'block', id, key: orderKey };
  }

  placeOfColumn(index: number): ColumnPlace {
    const id = this.ids[index];
    return id === undefined ? { index } : { id };
  }

  /** The index a column stands at, or `null` when it was deleted. */
  indexOf(place: ColumnPlace): number | null {
    return 'id' in place ? (this.indexOfColumn.get(place.id) ?? null) : place.index;
  }

  /** The number of the row a place stands for, or `null` when it was deleted. */
  rowOf(place: RowPlace): number | null {
    const { rows, records } = this.sheet;
    switch (place.at) {
      case 'row': {
        if (place.part === 'top') {
          const position = rows.positionOf(place.id);
          return position === null ? null : position + 1;
        }
        return records.has(place.id) ? this.rowOfRecord(records.positionOf(place.id)) : null;
      }
      case 'heading':
        return this.headingRow;
      case 'first':
        return this.rowOfRecord(0);
      case 'last':
        return this.rowOfRecord(records.count - 1);
      case 'start':
        return 1;
      case 'end':
        return LAST_ROW;
      case 'number':
        return place.below ? this.rowOfRecord(place.row - 1) : place.row;
    }
  }

  /** Like `rowOf`, but where the row was deleted the one that now stands there. */
  rowNear(place: RowPlace, side: 'from' | 'to'): number | null {
    const found = this.rowOf(place);
    if (found !== null || place.at !== 'row') return found;
    const { rows, records } = this.sheet;
    const next =
      place.part === 'top'
        ? rows.positionFor(place.key) + 1
        : this.rowOfRecord(records.positionFor(place.key));
    return side === 'from' ? next : next - 1;
  }

  rowOfRecord(position: number): number {
    return this.sheet.rows.count + 2 + position;
  }

  /** The position of the record that stands in a row; out of range where there is none. */
  positionOfRow(row: number): number {
    return row - this.sheet.rows.count - 2;
  }

  /** Like `indexOf`, but where the column was deleted the one that now stands there. */
  private indexNear(place: ColumnPlace, side: 'from' | 'to'): number | null {
    const found = this.indexOf(place);
    if (found !== null || !('id' in place)) return found;
    const lost = this.sheet.lost.get(place.id);
    if (!lost) return null;
    const before = lost.after === null ? -1 : this.indexNear({ id: lost.after }, 'to');
    return before === null ? null : side === 'from' ? before + 1 : before;
  }

  /** The rows and columns of a range; `null` where nothing of it is left. */
  boundsOf(from: CellPlace, to: CellPlace): Bounds | null {
    const first = this.indexNear(from.column, 'from');
    const last = this.indexNear(to.column, 'to');
    const top = this.rowNear(from.row, 'from');
    const bottom = this.rowNear(to.row, 'to');
    if (first === null || last === null || top === null || bottom === null) return null;
    const columnsGone = this.indexOf(from.column) === null || this.indexOf(to.column) === null;
    if (first > last && columnsGone) return null;
    const [left, right] = first <= last ? [first, last] : [last, first];
    if (top <= bottom) return { left, right, top, bottom };
    // No record between the first and the last: an empty range. Else its rows were moved past
    // each other, or are gone.
    if (from.row.at === 'first') return { left, right, top, bottom };
    const rowsGone = this.rowOf(from.row) === null || this.rowOf(to.row) === null;
    return rowsGone ? null : { left, right, top: bottom, bottom: top };
  }

  /** A cell as people call it, with its sheet: `Choices!B4`. */
  nameOf(row: number, column: number): string {
    return `${this.sheet.name}!${columnLetters(column)}${row}`;
  }
}

export interface Bounds {
  readonly left: number;
  readonly right: number;
  readonly top: number;
  readonly bottom: number;
}
