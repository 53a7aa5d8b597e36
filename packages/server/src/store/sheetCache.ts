import {
  type StoredFreeRows,
  FreeRows,
  SheetModel,
  type CellValue,
  type StoredFormula,
  type StoredFreeCells,
  type StoredRecord,
} from '@varn/core';
import { Injectable } from '@nestjs/common';
import { Store } from './store';
import { Pace } from '../turns/turns';

/** Records read at once; between pages other requests are answered. */
const PAGE = 500;
const COUNTED_AT_ONCE = 10_000;
/** When the sheets in memory hold more records than this, the longest unused are dropped. */
const MOST_RECORDS = 4_000_000;
/** A sheet in use just now is never dropped under a request that holds it. */
const IN_USE_MS = 60_000;

interface RecordRow {
  id: string;
  order_key: number;
  revision: number;
  cells: string;
}

function storedRecord({ id, order_key: orderKey, revision, cells }: RecordRow): StoredRecord {
  return { id, orderKey, revision, cells: JSON.parse(cells) as Record<string, CellValue> };
}

/**
 * The sheets in memory: built at first touch, kept up to date by the one write path. A write
 * waits for its sheet to be loaded, so nothing is written to a sheet that is being read.
 */
@Injectable()
export class SheetCache {
  private readonly loading = new Map<string, Promise<SheetModel>>();
  private readonly models = new Map<string, { model: SheetModel; usedAt: number }>();

  /** Of sheets not in memory: a write has its sheet read first, so these stay true until then. */
  private readonly counts = new Map<string, number>();
  /** Rises whenever a sheet comes into memory, or goes. */
  private shifts = 0;
  /** How often each sheet was forgotten: what was read of it meanwhile may be of two moments. */
  private readonly drops = new Map<string, number>();
  private readonly freeRows = new Map<string, StoredFreeRows>();
  private readonly dropListeners: ((sheetId: string) => void)[] = [];

  constructor(private readonly store: Store) {}

  /** Calls a listener when a sheet is forgotten. */
  onDrop(listener: (sheetId: string) => void): void {
    this.dropListeners.push(listener);
  }

  /** The sheet's rows outside of its records. */
  async rows(sheetId: string): Promise<StoredFreeRows> {
    const held = this.freeRows.get(sheetId);
    if (held) return held;
    const sql = `SELECT id, order_key, revision, cells FROM free_row
      WHERE sheet_id = ? AND removed_at IS NULL ORDER BY order_key`;
    return this.store.reading((database) => {
      // Another request may have read them in the meantime, and changed them since.
      const there = this.freeRows.get(sheetId);
      if (there) return there;
      const found = this.store.statement(database, sql).all(sheetId) as RecordRow[];
      const rows = new FreeRows<StoredFormula>(
        found.map(({ id, order_key: orderKey, revision, cells }) => {
          return { id, orderKey, revision, cells: JSON.parse(cells) as StoredFreeCells };
        }),
      );
      this.freeRows.set(sheetId, rows);
      return rows;
    });
  }

  /** The rows outside of the records, if they are in memory. */
  rowsAtHand(sheetId: string): StoredFreeRows | undefined {
    return this.freeRows.get(sheetId);
  }

  /** The records, if they are in memory. */
  modelAtHand(sheetId: string): SheetModel | undefined {
    return this.models.get(sheetId)?.model;
  }

  /** The sheet's records, read from the database if they are not in memory. */
  async model(sheetId: string): Promise<SheetModel> {
    const held = this.models.get(sheetId);
    if (held) {
      held.usedAt = Date.now();
      return held.model;
    }
    let loading = this.loading.get(sheetId);
    if (!loading) {
      loading = this.load(sheetId).finally(() => this.loading.delete(sheetId));
      this.loading.set(sheetId, loading);
    }
    return loading;
  }

  /** Forgets a sheet; the next touch reads it anew. */
  drop(sheetId: string): void {
    this.shifts += 1;
    this.drops.set(sheetId, (this.drops.get(sheetId) ?? 0) + 1);
    this.models.delete(sheetId);
    this.counts.delete(sheetId);
    this.freeRows.delete(sheetId);
    for (const listener of this.dropListeners) listener(sheetId);
  }

  /** How many records a sheet holds, without reading it into memory. */
  async count(sheetId: string): Promise<number> {
    const held = this.models.get(sheetId)?.model.count ?? this.counts.get(sheetId);
    if (held !== undefined) return held;
    const { shifts } = this;
    const counted = await this.counted(sheetId);
    // It may have been read into memory meanwhile, and written.
    if (shifts !== this.shifts) return this.count(sheetId);
    this.counts.set(sheetId, counted);
    return counted;
  }

  /** Counts a sheet's records in turns with other requests: a million take half a second. */
  private async counted(sheetId: string): Promise<number> {
    const sql = `SELECT count(*) AS n, max(order_key) AS last FROM
      (SELECT order_key FROM record WHERE sheet_id = ? AND order_key > ? AND removed_at IS NULL
        ORDER BY order_key LIMIT ${COUNTED_AT_ONCE})`;
    const pace = new Pace();
    let count = 0;
    for (let after = -Infinity; ;) {
      const { n, last } = await this.store.reading(
        (database) =>
          this.store.statement(database, sql).get(sheetId, after) as { n: number; last: number },
      );
      count += n;
      if (n < COUNTED_AT_ONCE) return count;
      after = last;
      await pace.keep();
    }
  }

  /** Some records as they stand in the database, from a position on. */
  async window(sheetId: string, from: number, count: number): Promise<StoredRecord[]> {
    const sql = `SELECT id, order_key, revision, cells FROM record
      WHERE sheet_id = ? AND removed_at IS NULL ORDER BY order_key LIMIT ? OFFSET ?`;
    const rows = await this.store.reading(
      (database) => this.store.statement(database, sql).all(sheetId, count, from) as RecordRow[],
    );
    return rows.map(storedRecord);
  }

  private async load(sheetId: string): Promise<SheetModel> {
    const drops = this.drops.get(sheetId);
    const model = new SheetModel();
    model.reserve(await this.count(sheetId));
    const pace = new Pace();
    let after = -Infinity;
    for (;;) {
      const rows = await this.page(sheetId, after);
      for (const row of rows) {
        model.add(storedRecord(row));
        after = row.order_key;
      }
      if (rows.length < PAGE) break;
      await pace.keep();
    }
    for (const orderKey of await this.outerOrderKeys(sheetId)) model.noteOrderKey(orderKey);
    if (drops !== this.drops.get(sheetId)) return this.load(sheetId);
    this.shifts += 1;
    this.models.set(sheetId, { model, usedAt: Date.now() });
    this.counts.delete(sheetId);
    this.makeRoom();
    return model;
  }

  private page(sheetId: string, after: number): Promise<RecordRow[]> {
    const sql = `SELECT id, order_key, revision, cells FROM record
      WHERE sheet_id = ? AND order_key > ? AND removed_at IS NULL ORDER BY order_key LIMIT ${PAGE}`;
    return this.store.reading(
      (database) => this.store.statement(database, sql).all(sheetId, after) as RecordRow[],
    );
  }

  /** Of all records, those in the bin too: a key is never given twice. */
  private outerOrderKeys(sheetId: string): Promise<number[]> {
    const first = 'SELECT order_key FROM record WHERE sheet_id = ? ORDER BY order_key LIMIT 1';
    const last = 'SELECT order_key FROM record WHERE sheet_id = ? ORDER BY order_key DESC LIMIT 1';
    return this.store.reading((database) =>
      [first, last].flatMap((sql) => {
        const row = this.store.statement(database, sql).get(sheetId) as
          { order_key: number } | undefined;
        return row ? [row.order_key] : [];
      }),
    );
  }

  private makeRoom(): void {
    let held = [...this.models.values()].reduce((sum, { model }) => sum + model.count, 0);
    const unused = [...this.models].sort(([, a], [, b]) => a.usedAt - b.usedAt);
    for (const [sheetId, { model, usedAt }] of unused) {
      if (held <= MOST_RECORDS || Date.now() - usedAt < IN_USE_MS) return;
      this.drop(sheetId);
      held -= model.count;
    }
  }
}
