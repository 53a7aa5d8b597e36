import type { Landed, RecordChangeKind } from '@varn/contract';
import type { Cells, StoredRecord } from '@varn/core';
import { Injectable } from '@nestjs/common';
import type { Database } from 'better-sqlite3';
import { Store } from '../store/store';

/** One line of the log of changes, as a write adds it. */
export interface LoggedChange {
  readonly workbookId: string;
  readonly kind: RecordChangeKind;
  readonly sheetId: string;
  readonly recordId: string;
  readonly revision: number;
  readonly writeId: string;
  readonly accountId: string;
  readonly door: string;
  readonly before: Cells | null;
  readonly after: Cells | null;
}

interface ChangeRow {
  kind: RecordChangeKind;
  sheet_id: string;
  record_id: string;
  revision: number;
  account_id: string;
  before: string | null;
}

/** A write as the log holds it, for taking it back. */
export interface PastChange {
  readonly kind: RecordChangeKind;
  readonly sheetId: string;
  readonly recordId: string;
  readonly revision: number;
  readonly accountId: string;
  readonly before: Cells | null;
}

const json = (cells: Cells | null): string | null =>
  cells === null ? null : JSON.stringify(cells);

/** The statements of the one write path. They run inside a job of the write queue. */
@Injectable()
export class RecordStore {
  constructor(private readonly store: Store) {}

  /** The answer a write id was given, with the digest of what was asked. */
  answerOf(database: Database, writeId: string): { digest: string; answer: string } | undefined {
    const sql = 'SELECT digest, answer FROM write WHERE id = ?';
    return this.store.statement(database, sql).get(writeId) as
      { digest: string; answer: string } | undefined;
  }

  keepAnswer(database: Database, landed: Landed, digest: string): void {
    const sql = 'INSERT INTO write (id, digest, answer) VALUES (?, ?, ?)';
    this.store.statement(database, sql).run(landed.writeId, digest, JSON.stringify(landed));
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
      (workbook_id, kind, sheet_id, record_id, revision, write_id, account_id, door, at, before, after)
      VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`;
    const { lastInsertRowid } = this.store
      .statement(database, sql)
      .run(
        change.workbookId,
        change.kind,
        change.sheetId,
        change.recordId,
        change.revision,
        change.writeId,
        change.accountId,
        change.door,
        Date.now(),
        json(change.before),
        json(change.after),
      );
    return Number(lastInsertRowid);
  }

  /** The change a write made in a workbook. */
  changeOf(database: Database, workbookId: string, writeId: string): PastChange | undefined {
    const sql = `SELECT kind, sheet_id, record_id, revision, account_id, before FROM change
      WHERE write_id = ? AND workbook_id = ? AND record_id IS NOT NULL`;
    const row = this.store.statement(database, sql).get(writeId, workbookId) as
      ChangeRow | undefined;
    return (
      row && {
        kind: row.kind,
        sheetId: row.sheet_id,
        recordId: row.record_id,
        revision: row.revision,
        accountId: row.account_id,
        before: row.before === null ? null : (JSON.parse(row.before) as Cells),
      }
    );
  }
}
