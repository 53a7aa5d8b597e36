import type { ChangeEvent, LastWritten } from '@varn/contract';
import type { ChangeKind } from '@varn/core';
import { Injectable } from '@nestjs/common';
import type { Database } from 'better-sqlite3';
import { Catalog } from '../store/catalog';
import { Store } from '../store/store';
import { LINE_COLUMNS, lineOf, valuesOf, type ChangeRow } from './changeRow';
import type { Line, NewLine } from './line';
import { eventOf } from './told';

const APPEND = `INSERT INTO change (${LINE_COLUMNS.join(', ')})
  VALUES (${LINE_COLUMNS.map(() => '?').join(', ')})`;

/** Lines that are read at once, before others may be answered. */
const LINES_AT_ONCE = 200;

/** A write of one's own, told by the lines it made. */
export interface OwnWrite {
  readonly writeId: string;
  readonly undoes: string | null;
  readonly lines: number;
  /** What its first line tells. */
  readonly kind: ChangeKind;
  readonly sheetId: string;
}

/**
 * The log of changes: one line for each thing a write did, in the order they were done. Undo, the
 * stream of events and a record's history read it.
 */
@Injectable()
export class ChangeLog {
  constructor(
    private readonly store: Store,
    private readonly catalog: Catalog,
  ) {}

  /** Puts a line at the end, inside the transaction of its write. */
  append(database: Database, line: NewLine): Line {
    const at = Date.now();
    const { lastInsertRowid } = this.store.statement(database, APPEND).run(...valuesOf(line, at));
    return { ...line, at, seq: Number(lastInsertRowid) };
  }

  /** The lines that a write made, in the order they were made. @param most how many of the first */
  ofWrite(database: Database, writeId: string, most = Infinity): Line[] {
    const sql = 'SELECT * FROM change WHERE batch = ? ORDER BY id LIMIT ?';
    const rows = this.store.statement(database, sql).all(writeId, most === Infinity ? -1 : most);
    return (rows as ChangeRow[]).map(lineOf);
  }

  /** The first line of a write; nothing where it was not carried out. */
  firstOfWrite(database: Database, writeId: string): Line | undefined {
    return this.ofWrite(database, writeId, 1)[0];
  }

  hasWrite(database: Database, writeId: string): boolean {
    const sql = 'SELECT 1 FROM change WHERE write_id = ?';
    return this.store.statement(database, sql).get(writeId) !== undefined;
  }

  /** A write's first and last line, and how many it has: they stand together in the log. */
  besideExtentOf(writeId: string): Promise<{ first: Line; last: Line; lines: number } | null> {
    return this.store.reading((database) => {
      const first = this.firstOfWrite(database, writeId);
      if (!first) return null;
      const sql = 'SELECT * FROM change WHERE batch = ? ORDER BY id DESC LIMIT 1';
      const last = lineOf(this.store.statement(database, sql).get(writeId) as ChangeRow);
      return { first, last, lines: last.seq - first.seq + 1 };
    });
  }

  /** The lines of a write from the last to the first, however many; `null` after each few of them. */
  *backwards(database: Database, writeId: string): Generator<Line | null, void> {
    const sql = 'SELECT * FROM change WHERE batch = ? AND id < ? ORDER BY id DESC LIMIT ?';
    for (let before = Number.MAX_SAFE_INTEGER; ;) {
      const rows = this.store
        .statement(database, sql)
        .all(writeId, before, LINES_AT_ONCE) as ChangeRow[];
      for (const row of rows) yield lineOf(row);
      if (rows.length < LINES_AT_ONCE) return;
      before = rows.at(-1)?.id ?? 0;
      yield null;
    }
  }

  /** Whether a write was carried out, read beside the queue of writes. */
  besideHasWrite(writeId: string): Promise<boolean> {
    return this.store.reading((database) => this.hasWrite(database, writeId));
  }

  /** What happened to a record or a row, the newest first, from before a sequence number on. */
  ofRecord(recordId: string, before: number, most: number): Promise<Line[]> {
    const sql = 'SELECT * FROM change WHERE record_id = ? AND id < ? ORDER BY id DESC LIMIT ?';
    return this.store.reading((database) =>
      (this.store.statement(database, sql).all(recordId, before, most) as ChangeRow[]).map(lineOf),
    );
  }

  /** The first thing that happened to a record, but for where it was moved to. */
  firstOfRecord(recordId: string): Promise<Line | undefined> {
    const sql = `SELECT * FROM change WHERE record_id = ? AND kind <> 'recordMoved'
      ORDER BY id LIMIT 1`;
    return this.firstLine(sql, recordId);
  }

  /** The write by which a sheet came, with its first records. */
  sheetAdded(sheetId: string): Promise<Line | undefined> {
    const sql = `SELECT * FROM change WHERE sheet_id = ? AND kind = 'sheetAdded' LIMIT 1`;
    return this.firstLine(sql, sheetId);
  }

  private firstLine(sql: string, of: string): Promise<Line | undefined> {
    return this.store.reading((database) => {
      const row = this.store.statement(database, sql).get(of) as ChangeRow | undefined;
      return row && lineOf(row);
    });
  }

  /** What happened in a sheet among the last lines of its workbook, the newest first. */
  ofSheet(workbookId: string, sheetId: string, looked: number): Promise<Line[]> {
    const sql = `SELECT * FROM
      (SELECT * FROM change WHERE workbook_id = ? ORDER BY id DESC LIMIT ?) WHERE sheet_id = ?`;
    return this.store.reading((database) =>
      (this.store.statement(database, sql).all(workbookId, looked, sheetId) as ChangeRow[]).map(
        lineOf,
      ),
    );
  }

  /**
   * The writes of a workbook before a sequence number, the newest first: each by its first line and
   * how many it has. At most `looked` are gone through for `most` that are wanted.
   *
   * @returns where to go on, or `null` after the oldest
   */
  writes(
    workbookId: string,
    before: number,
    isWanted: (first: Line) => boolean,
    { most, looked }: { readonly most: number; readonly looked: number },
  ): Promise<{ found: { first: Line; lines: number }[]; next: number | null }> {
    return this.store.reading((database) => {
      const lastBefore = this.store.statement(
        database,
        `SELECT id, batch FROM change WHERE workbook_id = ? AND id < ? ORDER BY id DESC LIMIT 1`,
      );
      const firstOf = this.store.statement(
        database,
        'SELECT * FROM change WHERE batch = ? ORDER BY id LIMIT 1',
      );
      const alone = this.store.statement(database, 'SELECT * FROM change WHERE id = ?');
      const found: { first: Line; lines: number }[] = [];
      let next = before;
      for (let n = 0; n < looked && found.length < most; n += 1) {
        const last = lastBefore.get(workbookId, next) as OfBatch | undefined;
        if (!last) return { found, next: null };
        const row = (
          last.batch === null ? alone.get(last.id) : firstOf.get(last.batch)
        ) as ChangeRow;
        const first = lineOf(row);
        if (isWanted(first)) found.push({ first, lines: last.id - first.seq + 1 });
        next = first.seq;
      }
      return { found, next };
    });
  }

  /** The writes of a list that were taken back, by writes that were not taken back themselves. */
  takenBack(workbookId: string, writeIds: readonly string[]): Promise<ReadonlySet<string>> {
    const sql = `SELECT batch FROM change WHERE workbook_id = ? AND undoes = ? ORDER BY id DESC LIMIT 1`;
    return this.store.reading((database) => {
      const undoing = this.store.statement(database, sql);
      const isTaken = (writeId: string): boolean => {
        const by = undoing.get(workbookId, writeId) as { batch: string } | undefined;
        return by !== undefined && !isTaken(by.batch);
      };
      return new Set(writeIds.filter(isTaken));
    });
  }

  /**
   * One's own writes in a workbook, the newest first. The lines of a write stand together in the
   * log, so each is found by its last and its first line, however many are between.
   */
  ownWrites(workbookId: string, accountId: string, most: number): Promise<OwnWrite[]> {
    return this.store.reading((database) => {
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

  /** When a workbook was written last, and by whom; nothing before the first time. */
  lastOfWorkbook(workbookId: string): Promise<LastWritten | undefined> {
    const sql = `SELECT at, account.name AS by FROM change
      JOIN account ON account.id = change.account_id
      WHERE workbook_id = ? ORDER BY change.id DESC LIMIT 1`;
    return this.store.reading(
      (database) => this.store.statement(database, sql).get(workbookId) as LastWritten | undefined,
    );
  }

  /**
   * How many records were added to a sheet since a moment, and when and by whom the last: with the
   * sheet itself where it came in with records, and none was added since.
   */
  addedTo(sheetId: string, since: number): Promise<{ today: number; last?: LastWritten }> {
    const added = `FROM change WHERE sheet_id = ? AND kind = ?`;
    return this.store.reading((database) => {
      const count = this.store.statement(database, `SELECT count(*) AS n ${added} AND at >= ?`);
      const last = this.store.statement(
        database,
        `SELECT at, (SELECT name FROM account WHERE id = account_id) AS by ${added}
          ORDER BY at DESC LIMIT 1`,
      );
      const { n } = count.get(sheetId, 'recordAdded', since) as { n: number };
      const found = (last.get(sheetId, 'recordAdded') ?? last.get(sheetId, 'sheetAdded')) as
        LastWritten | undefined;
      return { today: n, ...(found && { last: found }) };
    });
  }

  /** The sequence number of a workbook's last change; 0 before the first. */
  lastSeq(workbookId: string): Promise<number> {
    const sql = 'SELECT max(id) AS seq FROM change WHERE workbook_id = ?';
    return this.store.reading((database) => {
      const row = this.store.statement(database, sql).get(workbookId) as { seq: number | null };
      return row.seq ?? 0;
    });
  }

  /** How many changes came after a sequence number, counted up to `most`. */
  countAfter(workbookId: string, seq: number, most: number): Promise<number> {
    const sql = `SELECT count(*) AS n FROM
      (SELECT 1 FROM change WHERE workbook_id = ? AND id > ? LIMIT ?)`;
    return this.store.reading((database) => {
      const row = this.store.statement(database, sql).get(workbookId, seq, most) as { n: number };
      return row.n;
    });
  }

  /** The changes after a sequence number as events, oldest first, `most` at most. */
  after(workbookId: string, seq: number, most: number): Promise<ChangeEvent[]> {
    const sql = `SELECT change.*, account.name AS by
      FROM change JOIN account ON account.id = change.account_id
      WHERE change.workbook_id = ? AND change.id > ? ORDER BY change.id LIMIT ?`;
    return this.store.reading((database) =>
      (this.store.statement(database, sql).all(workbookId, seq, most) as NamedRow[]).flatMap(
        ({ by, ...row }) => {
          const sheet = this.catalog.sheet(row.sheet_id);
          return sheet ? [eventOf(lineOf(row), by, sheet)] : [];
        },
      ),
    );
  }
}

type NamedRow = ChangeRow & { by: string };
type LastLine = { id: number; batch: string };
type OfBatch = { id: number; batch: string | null };
type FirstLine = { id: number } & Pick<OwnWrite, 'undoes' | 'kind' | 'sheetId'>;
