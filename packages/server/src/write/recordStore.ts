import type { RecordChangeKind } from '@varn/contract';
import type { Cells, StoredRecord } from '@varn/core';
import { Injectable } from '@nestjs/common';
import type { Database } from 'better-sqlite3';
import { Store } from '../store/store';

/** One line of the log of changes to records. */
export interface LoggedChange {
  readonly workbookId: string;
  readonly kind: RecordChangeKind;
  readonly sheetId: string;
  readonly recordId: string;
  readonly revision: number;
  readonly writeId: string;
  readonly digest: string;
  readonly accountId: string;
  readonly door: string;
  readonly before: Cells | null;
  readonly after: Cells | null;
  readonly gridRow: number;
  readonly counted: number;
}

/** The log's line as it is read back, with its sequence number. */
export type PastChange = Omit<LoggedChange, 'door'> & { readonly seq: number };

interface ChangeRow {
  id: number;
  workbook_id: string;
  kind: RecordChangeKind;
  sheet_id: string;
  record_id: string | null;
  revision: number;
  write_id: string;
  digest: string;
  account_id: string;
  before: string | null;
  after: string | null;
  grid_row: number;
  counted: number;
}

const json = (cells: Cells | null): string | null =>
  cells === null ? null : JSON.stringify(cells);
const cellsIn = (text: string | null): Cells | null =>
  text === null ? null : (JSON.parse(text) as Cells);

/** The statements of the one write path. They run inside a job of the write queue. */
@Injectable()
export class RecordStore {
  constructor(private readonly store: Store) {}

  /** The change a write id made to a record, or `'structure'` when it changed something else. */
  changeOf(database: Database, writeId: string): PastChange | 'structure' | undefined {
    const sql = 'SELECT * FROM change WHERE write_id = ?';
    const row = this.store.statement(database, sql).get(writeId) as ChangeRow | undefined;
    if (!row) return undefined;
    if (row.record_id === null) return 'structure';
    return {
      seq: row.id,
      workbookId: row.workbook_id,
      kind: row.kind,
      sheetId: row.sheet_id,
      recordId: row.record_id,
      revision: row.revision,
      writeId: row.write_id,
      digest: row.digest,
      accountId: row.account_id,
      before: cellsIn(row.before),
      after: cellsIn(row.after),
      gridRow: row.grid_row,
      counted: row.counted,
    };
  }

  insert(database: Database, sheetId: string, record: StoredRecord): void {
    const sql =
      'INSERT INTO record (id, sheet_id, order_key, revision, cells) VALUES (?, ?, ?, ?, ?)';
    const { id, orderKey, revision, cells } = record;
    this.store.statement(database, sql).run(id, sheetId, orderKey, revision, json(cells));
  }

  update(database: Database, { id, revision, cells }: StoredRecord): void {
    const sql = 'UPDATE record SET revision = ?, cells = ? WHERE id = ?';
    this.store.statement(database, sql).run(revision, json(cells), id);
  }

  /** Sends a record to the bin (`removedAt` in milliseconds), or takes it out (`null`). */
  bin(database: Database, { id, revision }: StoredRecord, removedAt: number | null): void {
    const sql = 'UPDATE record SET revision = ?, removed_at = ? WHERE id = ?';
    this.store.statement(database, sql).run(revision, removedAt, id);
  }

  /** A record that waits in the bin of a sheet. */
  binned(database: Database, sheetId: string, recordId: string): StoredRecord | undefined {
    const sql = `SELECT order_key, revision, cells FROM record
      WHERE id = ? AND sheet_id = ? AND removed_at IS NOT NULL`;
    const row = this.store.statement(database, sql).get(recordId, sheetId) as
      { order_key: number; revision: number; cells: string } | undefined;
    return (
      row && {
        id: recordId,
        orderKey: row.order_key,
        revision: row.revision,
        cells: JSON.parse(row.cells) as Cells,
      }
    );
  }

  /** Gives a column's next running number, one above the highest it ever gave. */
  takeNumber(database: Database, columnId: string): number {
    const sql = `INSERT INTO running_number (column_id, last) VALUES (?, 1)
      ON CONFLICT (column_id) DO UPDATE SET last = last + 1 RETURNING last`;
    return (this.store.statement(database, sql).get(columnId) as { last: number }).last;
  }

  /** Lets a column's running numbers go on above one that is taken. */
  startNumbers(database: Database, columnId: string, last: number): void {
    const sql = `INSERT INTO running_number (column_id, last) VALUES (?, ?)
      ON CONFLICT (column_id) DO UPDATE SET last = max(last, excluded.last)`;
    this.store.statement(database, sql).run(columnId, last);
  }

  lastNumber(database: Database, columnId: string): number {
    const sql = 'SELECT last FROM running_number WHERE column_id = ?';
    const row = this.store.statement(database, sql).get(columnId) as { last: number } | undefined;
    return row?.last ?? 0;
  }

  /** Logs a change and gives its sequence number. */
  log(database: Database, change: LoggedChange): number {
    const sql = `INSERT INTO change
      (workbook_id, kind, sheet_id, record_id, revision, write_id, digest, account_id, door, at,
        before, after, grid_row, counted)
      VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`;
    const { lastInsertRowid } = this.store
      .statement(database, sql)
      .run(
        change.workbookId,
        change.kind,
        change.sheetId,
        change.recordId,
        change.revision,
        change.writeId,
        change.digest,
        change.accountId,
        change.door,
        Date.now(),
        json(change.before),
        json(change.after),
        change.gridRow,
        change.counted,
      );
    return Number(lastInsertRowid);
  }
}
