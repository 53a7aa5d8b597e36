import type { FreeRow, Judged, RangeName, StoredFreeRow, StoredRecord } from '@varn/core';
import { Injectable } from '@nestjs/common';
import type { Database } from 'better-sqlite3';
import { Store } from '../store/store';
import type { SheetShape } from '../store/sheetShape';

interface StoredRow {
  id: string;
  order_key: number;
  revision: number;
  cells: string;
}

type Table = 'record' | 'free_row';
/** Which row, where it stands, and its revision. */
type RecordHead = Pick<StoredRecord, 'id' | 'orderKey' | 'revision'>;
/** A record or a free row: both are stored alike. */
type AnyRow = StoredRecord | FreeRow;

const json = (value: unknown): string => JSON.stringify(value);

/** The statements of the one write path. They run inside a job of the write queue. */
@Injectable()
export class RecordStore {
  constructor(private readonly store: Store) {}

  /** Stores a new record: its place and number, and the cells that the judge let through. */
  addRecord(database: Database, sheetId: string, head: RecordHead, judged: Judged): void {
    this.insert(database, 'record', sheetId, { ...head, cells: judged.cells });
  }

  changeRecord(database: Database, { id, revision }: RecordHead, judged: Judged): void {
    this.update(database, 'record', { id, revision, cells: judged.cells });
  }

  addRow(database: Database, sheetId: string, row: StoredFreeRow): void {
    this.insert(database, 'free_row', sheetId, row);
  }

  changeRow(database: Database, row: StoredFreeRow): void {
    this.update(database, 'free_row', row);
  }

  /** Puts a row elsewhere. */
  move(database: Database, table: Table, { id, revision, orderKey }: RecordHead): void {
    const sql = `UPDATE ${table} SET revision = ?, order_key = ? WHERE id = ?`;
    this.store.statement(database, sql).run(revision, orderKey, id);
  }

  private insert(database: Database, table: Table, sheetId: string, row: AnyRow): void {
    const sql = `INSERT INTO ${table} (id, sheet_id, order_key, revision, cells) VALUES (?, ?, ?, ?, ?)`;
    const { id, orderKey, revision, cells } = row;
    this.store.statement(database, sql).run(id, sheetId, orderKey, revision, json(cells));
  }

  private update(
    database: Database,
    table: Table,
    { id, revision, cells }: Pick<AnyRow, 'id' | 'revision' | 'cells'>,
  ): void {
    const sql = `UPDATE ${table} SET revision = ?, cells = ? WHERE id = ?`;
    this.store.statement(database, sql).run(revision, json(cells), id);
  }

  /** Sends a row to the bin (`removedAt` in milliseconds), or takes it out (`null`). */
  bin(
    database: Database,
    table: Table,
    { id, revision }: RecordHead,
    removedAt: number | null,
  ): void {
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
}
