import type { ChangeKind } from '@varn/contract';
import type { FreeRow, RangeName, StoredRecord } from '@varn/core';
import { Injectable } from '@nestjs/common';
import type { Database } from 'better-sqlite3';
import { Store } from '../store/store';
import type { SheetShape } from './decision';

/** One line of the log of changes. */
export interface LoggedChange {
  readonly workbookId: string;
  readonly kind: ChangeKind;
  readonly sheetId: string;
  /** The record's or the row's id; `null` for changes of structure. */
  readonly recordId: string | null;
  readonly revision: number | null;
  readonly writeId: string;
  readonly batch: string;
  readonly undoes: string | null;
  readonly digest: string;
  readonly accountId: string;
  readonly door: string;
  readonly before: object | null;
  readonly after: object | null;
  readonly gridRow: number | null;
  readonly counted: number | null;
  readonly answer: unknown;
}

/** The log's line as it is read back, with its sequence number. */
export type PastChange = LoggedChange & { readonly seq: number };

interface ChangeRow {
  id: number;
  workbook_id: string;
  kind: ChangeKind;
  sheet_id: string;
  record_id: string | null;
  revision: number | null;
  write_id: string;
  batch: string | null;
  undoes: string | null;
  digest: string;
  account_id: string;
  door: string;
  before: string | null;
  after: string | null;
  grid_row: number | null;
  counted: number | null;
  answer: string | null;
}

interface StoredRow {
  id: string;
  order_key: number;
  revision: number;
  cells: string;
}

type Table = 'record' | 'free_row';
/** A record or a free row: both are stored alike. */
type AnyRow = StoredRecord | FreeRow;

const json = (value: unknown): string | null => (value === null ? null : JSON.stringify(value));
const parsed = (text: string | null): object | null =>
  text === null ? null : (JSON.parse(text) as object);

/** The statements of the one write path. They run inside a job of the write queue. */
@Injectable()
export class RecordStore {
  constructor(private readonly store: Store) {}

  /** The lines of the log that a write made, in the order they were made. */
  changesOf(database: Database, writeId: string): PastChange[] {
    const sql = 'SELECT * FROM change WHERE batch = ? ORDER BY id';
    return (this.store.statement(database, sql).all(writeId) as ChangeRow[]).map(pastChange);
  }

  /** The same, read beside the queue of writes. */
  changesBeside(writeId: string): Promise<PastChange[]> {
    return this.store.withConnection((database) => this.changesOf(database, writeId));
  }

  /** The line of the log with a sequence number. */
  changeAt(database: Database, seq: number): PastChange | undefined {
    const sql = 'SELECT * FROM change WHERE id = ?';
    const row = this.store.statement(database, sql).get(seq) as ChangeRow | undefined;
    return row && pastChange(row);
  }

  /**
   * One's own writes in a workbook, the newest first. The lines of a write stand together in the
   * log, so each is found by its last and its first line, however many are between.
   */
  ownWrites(workbookId: string, accountId: string, most: number): Promise<OwnWrite[]> {
    return this.store.withConnection((database) => {
      const lastBefore = this.store.statement(
        database,
        `SELECT id, batch FROM change WHERE account_id = ? AND workbook_id = ? AND id < ?
          AND batch IS NOT NULL ORDER BY id DESC LIMIT 1`,
      );
      const firstOf = this.store.statement(
        database,
        `SELECT id, undoes, kind, sheet_id AS sheetId FROM change WHERE batch = ?
          ORDER BY id LIMIT 1`,
      );
      const writes: OwnWrite[] = [];
      for (let before = Number.MAX_SAFE_INTEGER; writes.length < most;) {
        const last = lastBefore.get(accountId, workbookId, before) as LastLine | undefined;
        if (!last) break;
        const { id, ...first } = firstOf.get(last.batch) as FirstLine;
        writes.push({ ...first, writeId: last.batch, lines: last.id - id + 1 });
        before = id;
      }
      return writes;
    });
  }

  insert(database: Database, table: Table, sheetId: string, row: AnyRow): void {
    const sql = `INSERT INTO ${table} (id, sheet_id, order_key, revision, cells) VALUES (?, ?, ?, ?, ?)`;
    const { id, orderKey, revision, cells } = row;
    this.store.statement(database, sql).run(id, sheetId, orderKey, revision, json(cells));
  }

  update(database: Database, table: Table, { id, revision, orderKey, cells }: AnyRow): void {
    const sql = `UPDATE ${table} SET revision = ?, order_key = ?, cells = ? WHERE id = ?`;
    this.store.statement(database, sql).run(revision, orderKey, json(cells), id);
  }

  /** Sends a row to the bin (`removedAt` in milliseconds), or takes it out (`null`). */
  bin(database: Database, table: Table, { id, revision }: AnyRow, removedAt: number | null): void {
    const sql = `UPDATE ${table} SET revision = ?, removed_at = ? WHERE id = ?`;
    this.store.statement(database, sql).run(revision, removedAt, id);
  }

  /** A row that waits in the bin of a sheet. */
  binned<T extends AnyRow>(
    database: Database,
    table: T extends StoredRecord ? Table : 'free_row',
    sheetId: string,
    id: string,
  ): T | undefined {
    const sql = `SELECT id, order_key, revision, cells FROM ${table}
      WHERE id = ? AND sheet_id = ? AND removed_at IS NOT NULL`;
    const row = this.store.statement(database, sql).get(id, sheetId) as StoredRow | undefined;
    if (!row) return undefined;
    const { order_key: orderKey, revision } = row;
    return { id, orderKey, revision, cells: JSON.parse(row.cells) as object } as T;
  }

  /** Writes the shape of a sheet anew. */
  reshape(database: Database, sheetId: string, revision: number, shape: SheetShape): void {
    const sql = `UPDATE sheet SET name = ?, place = ?, columns = ?, loose_columns = ?,
      lost_columns = ?, look = ?, removed_at = ?, revision = ? WHERE id = ?`;
    const { name, place, columns, looseColumns, lostColumns, look, removed } = shape;
    this.store
      .statement(database, sql)
      .run(
        name,
        place,
        json(columns),
        json(looseColumns),
        json(lostColumns),
        json(look),
        removed ? Date.now() : null,
        revision,
        sheetId,
      );
  }

  setNames(database: Database, workbookId: string, names: readonly RangeName[]): void {
    const sql = 'UPDATE workbook SET names = ? WHERE id = ?';
    this.store.statement(database, sql).run(json(names), workbookId);
  }

  /** What is known of a workbook's stored file. */
  fileOf(
    database: Database,
    workbookId: string,
    fileId: string,
  ): { name: string; type: string; bytes: number } | undefined {
    const sql = 'SELECT name, type, bytes FROM stored_file WHERE id = ? AND workbook_id = ?';
    return this.store.statement(database, sql).get(fileId, workbookId) as
      { name: string; type: string; bytes: number } | undefined;
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
      (workbook_id, kind, sheet_id, record_id, revision, write_id, batch, undoes, digest,
        account_id, door, at, before, after, grid_row, counted, answer)
      VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`;
    const { lastInsertRowid } = this.store
      .statement(database, sql)
      .run(
        change.workbookId,
        change.kind,
        change.sheetId,
        change.recordId,
        change.revision,
        change.writeId,
        change.batch,
        change.undoes,
        change.digest,
        change.accountId,
        change.door,
        Date.now(),
        json(change.before),
        json(change.after),
        change.gridRow,
        change.counted,
        json(change.answer),
      );
    return Number(lastInsertRowid);
  }
}

/** A write of one's own, told by the lines it made. */
export interface OwnWrite {
  readonly writeId: string;
  readonly undoes: string | null;
  readonly lines: number;
  readonly kind: ChangeKind;
  readonly sheetId: string;
}

type LastLine = { id: number; batch: string };
type FirstLine = { id: number } & Pick<OwnWrite, 'undoes' | 'kind' | 'sheetId'>;

function pastChange(row: ChangeRow): PastChange {
  return {
    seq: row.id,
    workbookId: row.workbook_id,
    kind: row.kind,
    sheetId: row.sheet_id,
    recordId: row.record_id,
    revision: row.revision,
    writeId: row.write_id,
    batch: row.batch ?? row.write_id,
    undoes: row.undoes,
    digest: row.digest,
    accountId: row.account_id,
    door: row.door,
    before: parsed(row.before),
    after: parsed(row.after),
    gridRow: row.grid_row,
    counted: row.counted,
    answer: row.answer === null ? null : (JSON.parse(row.answer) as unknown),
  };
}
