import type {
  StoredFreeRows,
  Calculation,
  Door,
  Judged,
  StoredFreeCells,
  StoredFreeRow,
  RangeName,
  ReadingContext,
  SheetModel,
  StoredRecord,
} from '@varn/core';
import type { Database } from 'better-sqlite3';
import type { Writer } from '../access/access';
import type { NamesChange, RecordChange, RowChange, SheetChange } from '../log/line';
import { shapeOf, type SheetShape } from '../store/sheetShape';
import type { SheetFacts } from '../store/catalog';

/** What a write is asked to do, and by whom. */
export interface WriteOrder {
  readonly sheetId: string;
  readonly writeId: string;
  readonly writer: Writer;
  readonly door: Door;
  /** Of a form's doors: which form. */
  readonly formId?: string;
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
  readonly rows: StoredFreeRows;
  /** The workbook's formulas, or `null` where it has none. */
  readonly calculation: Calculation | null;
  /** The serial of now in the workbook's zone. */
  readonly now: number;
  /** How typed texts are read now, held against the lists that feed the sheet's columns. */
  readonly context: ReadingContext;
  /** Gives a column's next running number. */
  readonly takeNumber: (columnId: string) => number;
  /** Tells how much of the deciding is done, from 0 to 1. @throws Refused where it was cancelled */
  readonly told?: (share: number) => void;
}

/** A record's cells come to be stored so: they are those that the judge let through. */
export type CellsDecision = Extract<
  RecordChange,
  { kind: 'recordAdded' | 'recordPutBack' | 'recordChanged' }
> & { readonly part: 'record'; readonly record: StoredRecord; readonly judged: Judged };

/** A record goes to the bin as it is, or stands elsewhere. */
type PlaceDecision = Extract<RecordChange, { kind: 'recordRemoved' | 'recordMoved' }> & {
  readonly part: 'record';
  readonly record: StoredRecord;
};

/** What is to be done to one record. */
export type RecordDecision = CellsDecision | PlaceDecision;

/** What is to be done to one row outside of the records. */
export type RowDecision = RowChange & { readonly part: 'row'; readonly row: StoredFreeRow };

export type SheetDecision = SheetChange & { readonly part: 'sheet'; readonly sheetId: string };

export type NamesDecision = NamesChange & { readonly part: 'names' };

export type Decision = RecordDecision | RowDecision | SheetDecision | NamesDecision;

/** A change of a sheet's shape, from what it is. Money that says no currency takes the workbook's. */
export function reshaped(sheet: SheetFacts, change: Partial<SheetShape>): SheetDecision {
  const before = shapeOf(sheet);
  const { currency } = sheet.workbook;
  const columns = change.columns?.map((column) =>
    column.kind === 'money' && column.settings.currency === undefined
      ? { ...column, settings: { ...column.settings, currency } }
      : column,
  );
  return {
    part: 'sheet',
    kind: 'sheetChanged',
    sheetId: sheet.id,
    before,
    after: { ...before, ...change, ...(columns && { columns }) },
  };
}

/** A change of the names of ranges. */
export const named = (
  before: readonly RangeName[],
  after: readonly RangeName[],
): NamesDecision => ({ part: 'names', kind: 'namesChanged', before, after });

const next = (record: StoredRecord): StoredRecord => ({
  ...record,
  revision: record.revision + 1,
});

/** A new record, where it stands. */
export const added = (judged: Judged, { id, orderKey }: NewPlace): CellsDecision => ({
  part: 'record',
  kind: 'recordAdded',
  record: { id, orderKey, revision: 1, cells: judged.cells },
  judged,
  before: null,
  after: judged.cells,
});

export interface NewPlace {
  readonly id: string;
  readonly orderKey: number;
}

export const changed = (stored: StoredRecord, judged: Judged): CellsDecision => ({
  part: 'record',
  kind: 'recordChanged',
  record: { ...next(stored), cells: judged.cells },
  judged,
  before: stored.cells,
  after: judged.cells,
});

export const removed = (stored: StoredRecord): RecordDecision => ({
  part: 'record',
  kind: 'recordRemoved',
  record: next(stored),
  before: stored.cells,
  after: null,
});

/** A record comes out of the bin, where it stood. @param judged all that it holds */
export const restored = (binned: StoredRecord, judged: Judged): CellsDecision => ({
  part: 'record',
  kind: 'recordPutBack',
  record: next(binned),
  judged,
  before: null,
  after: judged.cells,
});

/** A record put elsewhere. */
export const moved = (stored: StoredRecord, orderKey: number): RecordDecision => ({
  part: 'record',
  kind: 'recordMoved',
  record: { ...next(stored), orderKey },
  before: { orderKey: stored.orderKey },
  after: { orderKey },
});

export const rowAdded = (row: StoredFreeRow): RowDecision => ({
  part: 'row',
  kind: 'rowAdded',
  row,
  before: null,
  after: row.cells,
});

export const rowChanged = (stored: StoredFreeRow, cells: StoredFreeCells): RowDecision => ({
  part: 'row',
  kind: 'rowChanged',
  row: { ...stored, revision: stored.revision + 1, cells },
  before: stored.cells,
  after: cells,
});

export const rowRemoved = (stored: StoredFreeRow): RowDecision => ({
  part: 'row',
  kind: 'rowRemoved',
  row: { ...stored, revision: stored.revision + 1 },
  before: stored.cells,
  after: null,
});

export const rowPutBack = (binned: StoredFreeRow): RowDecision => ({
  part: 'row',
  kind: 'rowPutBack',
  row: { ...binned, revision: binned.revision + 1 },
  before: null,
  after: binned.cells,
});

export const rowMoved = (stored: StoredFreeRow, orderKey: number): RowDecision => ({
  part: 'row',
  kind: 'rowMoved',
  row: { ...stored, revision: stored.revision + 1, orderKey },
  before: { orderKey: stored.orderKey },
  after: { orderKey },
});
