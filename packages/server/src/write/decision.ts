import type { RecordChangeKind, RowChangeKind, SheetLook } from '@varn/contract';
import type {
  Calculation,
  Cells,
  Column,
  FreeCells,
  FreeRow,
  FreeRows,
  RangeName,
  SheetModel,
  StoredRecord,
} from '@varn/core';
import type { Database } from 'better-sqlite3';
import type { LostColumnEntry } from '../store/entities';
import type { SheetFacts } from '../store/catalog';

/** Who writes. */
export interface Writer {
  readonly id: string;
  readonly name: string;
}

/** What a write is asked to do, and by whom. */
export interface WriteOrder {
  readonly sheetId: string;
  readonly writeId: string;
  readonly writer: Writer;
  /** Which form (its id), grid or undo it comes through. */
  readonly door: string;
  /** What is asked, so that another request under the same write id is told apart. */
  readonly asked: readonly string[];
  /** The write this one takes back. */
  readonly undoes?: string;
}

/** What a decision works with: all of it as it is inside the transaction. */
export interface WriteSite {
  readonly database: Database;
  readonly sheet: SheetFacts;
  readonly model: SheetModel;
  readonly rows: FreeRows;
  /** The workbook's formulas, or `null` where it has none. */
  readonly calculation: Calculation | null;
  /** The serial of now in the workbook's zone. */
  readonly now: number;
}

/** What is to be done to one record. */
export interface RecordDecision {
  readonly part: 'record';
  readonly kind: RecordChangeKind;
  /** The record as it will be; of a removal, as it goes to the bin. */
  readonly record: StoredRecord;
  readonly before: Cells | null;
  readonly after: Cells | null;
}

/** What is to be done to one row outside of the records. */
export interface RowDecision {
  readonly part: 'row';
  readonly kind: RowChangeKind;
  readonly row: FreeRow;
  readonly before: FreeCells | null;
  readonly after: FreeCells | null;
}

/** What of a sheet can be changed and taken back as one. */
export interface SheetShape {
  readonly name: string;
  readonly place: number;
  readonly columns: readonly Column[];
  readonly looseColumns: readonly string[];
  readonly lostColumns: readonly LostColumnEntry[];
  readonly look: SheetLook;
  readonly removed: boolean;
}

export interface SheetDecision {
  readonly part: 'sheet';
  readonly sheetId: string;
  readonly before: SheetShape;
  readonly after: SheetShape;
}

export interface NamesDecision {
  readonly part: 'names';
  readonly before: readonly RangeName[];
  readonly after: readonly RangeName[];
}

export type Decision = RecordDecision | RowDecision | SheetDecision | NamesDecision;

export function shapeOf(sheet: SheetFacts): SheetShape {
  const { name, place, columns, looseColumns, lostColumns, look, removed } = sheet;
  return { name, place, columns, looseColumns, lostColumns, look, removed };
}

/** A change of a sheet's shape, from what it is. */
export function reshaped(sheet: SheetFacts, change: Partial<SheetShape>): SheetDecision {
  const before = shapeOf(sheet);
  return { part: 'sheet', sheetId: sheet.id, before, after: { ...before, ...change } };
}

const next = (record: StoredRecord, cells: Cells = record.cells): StoredRecord => ({
  ...record,
  revision: record.revision + 1,
  cells,
});

export const added = (record: StoredRecord): RecordDecision => ({
  part: 'record',
  kind: 'recordAdded',
  record,
  before: null,
  after: record.cells,
});

export const changed = (stored: StoredRecord, cells: Cells): RecordDecision => ({
  part: 'record',
  kind: 'recordChanged',
  record: next(stored, cells),
  before: stored.cells,
  after: cells,
});

export const removed = (stored: StoredRecord): RecordDecision => ({
  part: 'record',
  kind: 'recordRemoved',
  record: next(stored),
  before: stored.cells,
  after: null,
});

export const putBack = (binned: StoredRecord): RecordDecision => ({
  part: 'record',
  kind: 'recordPutBack',
  record: next(binned),
  before: null,
  after: binned.cells,
});

/** A record put elsewhere; before and after tell its order key. */
export const moved = (stored: StoredRecord, orderKey: number): RecordDecision => ({
  part: 'record',
  kind: 'recordMoved',
  record: { ...next(stored), orderKey },
  before: { orderKey: stored.orderKey },
  after: { orderKey },
});

export const rowAdded = (row: FreeRow): RowDecision => ({
  part: 'row',
  kind: 'rowAdded',
  row,
  before: null,
  after: row.cells,
});

export const rowChanged = (stored: FreeRow, cells: FreeCells): RowDecision => ({
  part: 'row',
  kind: 'rowChanged',
  row: { ...stored, revision: stored.revision + 1, cells },
  before: stored.cells,
  after: cells,
});

export const rowRemoved = (stored: FreeRow): RowDecision => ({
  part: 'row',
  kind: 'rowRemoved',
  row: { ...stored, revision: stored.revision + 1 },
  before: stored.cells,
  after: null,
});

export const rowPutBack = (binned: FreeRow): RowDecision => ({
  part: 'row',
  kind: 'rowPutBack',
  row: { ...binned, revision: binned.revision + 1 },
  before: null,
  after: binned.cells,
});

export const rowMoved = (stored: FreeRow, orderKey: number): RowDecision => ({
  part: 'row',
  kind: 'rowMoved',
  row: { ...stored, revision: stored.revision + 1, orderKey },
  before: { orderKey: { value: stored.orderKey } },
  after: { orderKey: { value: orderKey } },
});
