import type { Cells } from '@varn/core';
import { Injectable } from '@nestjs/common';
import type { Database } from 'better-sqlite3';
import { LINE_COLUMNS, valuesOf } from '../log/changeRow';
import type { NewLine } from '../log/line';
import { Store } from '../store/store';
import { Pace, Turns } from '../turns/turns';
import type { RecordPut } from './applying';
import type { RecordDecision } from './decision';

/** Rows that are carried over from the table, and cleared out of it, at a time. */
const CARRIED_AT_ONCE = 500;
const CLEARED_AT_ONCE = 5000;

const TABLE = `CREATE TEMP TABLE IF NOT EXISTS staged
  (n INTEGER PRIMARY KEY, order_key, ${LINE_COLUMNS.join(', ')})`;
const STAGE = `INSERT INTO staged VALUES (?, ?, ${LINE_COLUMNS.map(() => '?').join(', ')})`;

const CARRY_LINES = `INSERT INTO change (${LINE_COLUMNS.join(', ')})
  SELECT ${LINE_COLUMNS.map((name) => (name === 'at' ? '@at' : name)).join(', ')}
  FROM staged WHERE n >= @from AND n < @to ORDER BY n`;
const CARRY_NEW = `INSERT INTO record (id, sheet_id, order_key, revision, cells)
  SELECT record_id, sheet_id, order_key, revision, after FROM staged
  WHERE n >= @from AND n < @to AND kind = 'recordAdded' ORDER BY n`;
const CARRY_CHANGED = `UPDATE record SET revision = staged.revision, cells = staged.after
  FROM staged WHERE staged.n >= @from AND staged.n < @to
    AND staged.kind = 'recordChanged' AND record.id = staged.record_id
    AND record.revision = staged.revision - 1 AND record.removed_at IS NULL`;
/** What goes or comes back keeps its cells. */
const CARRY_BINNED = `UPDATE record SET revision = staged.revision,
    removed_at = CASE staged.kind WHEN 'recordRemoved' THEN @at END
  FROM staged WHERE staged.n >= @from AND staged.n < @to
    AND staged.kind IN ('recordRemoved', 'recordPutBack') AND record.id = staged.record_id
    AND record.revision = staged.revision - 1
    AND (record.removed_at IS NULL) = (staged.kind = 'recordRemoved')`;

/** A record is not any more as it was when a write was decided. */
export class NotAsSeen extends Error {}

/** A record that is stored, and its line. */
export interface Staged {
  readonly line: NewLine;
  readonly decision: RecordDecision;
}

/** What the log adds to a line that was carried over. */
export type Carried = (n: number) => { readonly seq: number; readonly at: number };

interface PutRow {
  readonly kind: RecordPut['kind'];
  readonly id: string;
  readonly orderKey: number;
  readonly revision: number;
  readonly cells: string | null;
}

/**
 * Where a large write stands ready before it is carried out: its lines in a table of the
 * connection's own, from which few statements of SQLite's carry them over. What stands there is
 * not held in memory, however much it is.
 */
@Injectable()
export class Staging {
  private readonly turns = new Turns();

  constructor(private readonly store: Store) {}

  /** One large write at a time, for which the table is blank; nothing of it stays there. */
  alone<T>(work: () => Promise<T>): Promise<T> {
    return this.turns.take(async () => {
      await this.store.withConnection((database) => database.exec(TABLE));
      try {
        return await work();
      } finally {
        await this.clear();
      }
    });
  }

  /** Puts some lines of a write into the table. @param from which of them is the first */
  put(database: Database, some: readonly Staged[], from: number): void {
    const stage = this.store.statement(database, STAGE);
    const at = Date.now();
    database.transaction(() => {
      for (const [n, { line, decision }] of some.entries()) {
        stage.run(from + n, decision.record.orderKey, ...valuesOf(line, at));
      }
    })();
  }

  /** Notes what is answered to a repeat. */
  close(database: Database, answer: unknown): void {
    const told = answer === undefined || answer === null ? null : JSON.stringify(answer);
    database.prepare('UPDATE staged SET answer = ? WHERE n = 0').run(told);
  }

  /**
   * Carries over what is staged, inside of a transaction.
   *
   * @param pause lets others be answered, and is told how much is done
   * @throws NotAsSeen where a record is not as it was when the write was decided
   */
  async carryOut(
    database: Database,
    total: number,
    pause: (share: number) => Promise<void>,
  ): Promise<Carried> {
    const at = Date.now();
    const [lines, ...records] = [CARRY_LINES, CARRY_NEW, CARRY_CHANGED, CARRY_BINNED].map((sql) =>
      this.store.statement(database, sql),
    );
    let last = 0;
    let carried = 0;
    for (let from = 0; from < total; from += CARRIED_AT_ONCE) {
      const to = from + CARRIED_AT_ONCE;
      last = Number(lines?.run({ at, from, to }).lastInsertRowid);
      await pause(from / total);
      for (const statement of records) carried += statement.run({ at, from, to }).changes;
      if (carried < Math.min(to, total)) throw new NotAsSeen();
      await pause(from / total);
    }
    return (n) => ({ seq: last - total + 1 + n, at });
  }

  /** Some of the records as they were stored, so that they can be brought into memory. */
  page(from: number, count: number): Promise<RecordPut[]> {
    const sql = `SELECT kind, record_id AS id, order_key AS orderKey, revision, after AS cells
      FROM staged WHERE n >= ? AND n < ? ORDER BY n`;
    return this.store.withConnection((database) =>
      (this.store.statement(database, sql).all(from, from + count) as PutRow[]).map(
        ({ kind, cells, ...head }) => {
          return { kind, record: { ...head, cells: JSON.parse(cells ?? '{}') as Cells } };
        },
      ),
    );
  }

  private async clear(): Promise<void> {
    const pace = new Pace();
    for (;;) {
      const { changes } = await this.store.withConnection((database) =>
        this.store
          .statement(
            database,
            `DELETE FROM staged WHERE n < (SELECT min(n) FROM staged) + ${CLEARED_AT_ONCE}`,
          )
          .run(),
      );
      if (changes === 0) return;
      await pace.keep();
    }
  }
}
