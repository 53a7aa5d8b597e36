import { Injectable } from '@nestjs/common';
import type { Database } from 'better-sqlite3';
import { LINE_COLUMNS, valuesOf } from '../log/changeRow';
import type { NewLine } from '../log/line';
import { Store } from '../store/store';
import { Pace, Turns } from '../turns/turns';
import type { RecordDecision } from './decision';

/** Rows that are put into the staging tables, and carried over from them, at a time. */
const STAGED_AT_ONCE = 200;
const CARRIED_AT_ONCE = 500;

const TABLES = `
  CREATE TEMP TABLE IF NOT EXISTS staged_line (n INTEGER PRIMARY KEY, ${LINE_COLUMNS.join(', ')});
  CREATE TEMP TABLE IF NOT EXISTS staged_record
    (n INTEGER PRIMARY KEY, kind, id, sheet_id, order_key, revision, cells);`;

const CARRY_LINES = `INSERT INTO change (${LINE_COLUMNS.join(', ')})
  SELECT ${LINE_COLUMNS.join(', ')} FROM staged_line WHERE n >= ? AND n < ? ORDER BY n`;
const CARRY_NEW = `INSERT INTO record (id, sheet_id, order_key, revision, cells)
  SELECT id, sheet_id, order_key, revision, cells FROM staged_record
  WHERE n >= ? AND n < ? AND kind = 'recordAdded' ORDER BY n`;
const CARRY_CHANGED = `UPDATE record SET revision = staged.revision, cells = staged.cells
  FROM staged_record AS staged WHERE staged.n >= ? AND staged.n < ?
    AND staged.kind = 'recordChanged' AND record.id = staged.id
    AND record.revision = staged.revision - 1 AND record.removed_at IS NULL`;
/** What goes or comes back keeps its cells: its line tells all there is. */
const CARRY_BINNED = `UPDATE record SET revision = staged.revision,
    removed_at = CASE staged.kind WHEN 'recordRemoved' THEN staged.at END
  FROM staged_line AS staged WHERE staged.n >= ? AND staged.n < ?
    AND staged.kind IN ('recordRemoved', 'recordPutBack') AND record.id = staged.record_id
    AND record.revision = staged.revision - 1
    AND (record.removed_at IS NULL) = (staged.kind = 'recordRemoved')`;

/** What the log adds to a line that was carried over. */
export type Carried = (n: number) => { readonly seq: number; readonly at: number };

/**
 * Where a large write stands ready before it is carried out: its lines and records in tables of the
 * connection's own, from which few statements of SQLite's carry them over.
 */
@Injectable()
export class Staging {
  private readonly turns = new Turns();

  constructor(private readonly store: Store) {}

  /** One large write at a time. */
  alone<T>(work: () => Promise<T>): Promise<T> {
    return this.turns.take(work);
  }

  /**
   * Puts the lines of a write, and the records as they will be, into the tables; in turns.
   *
   * @param told how much is done, from 0 to 1; what it throws ends it
   */
  async stage(
    lines: readonly NewLine[],
    decisions: readonly RecordDecision[],
    told: (share: number) => void,
  ): Promise<void> {
    const at = Date.now();
    const pace = new Pace();
    for (let from = 0; from < lines.length; from += STAGED_AT_ONCE) {
      await this.store.withConnection((database) => {
        if (from === 0)
          database.exec(`${TABLES} DELETE FROM staged_line; DELETE FROM staged_record`);
        const places = LINE_COLUMNS.map(() => '?').join(', ');
        const line = this.store.statement(
          database,
          `INSERT INTO staged_line VALUES (?, ${places})`,
        );
        const record = this.store.statement(
          database,
          'INSERT INTO staged_record VALUES (?, ?, ?, ?, ?, ?, ?)',
        );
        database.exec('BEGIN');
        for (let n = from; n < Math.min(from + STAGED_AT_ONCE, lines.length); n += 1) {
          const each = lines[n];
          const decision = decisions[n];
          if (!each || !decision) throw new Error(`nothing to stage at ${n}`);
          line.run(n, ...valuesOf(each, at));
          if (decision.kind !== 'recordAdded' && decision.kind !== 'recordChanged') continue;
          const { id, orderKey, revision } = decision.record;
          const cells = JSON.stringify(decision.judged.cells);
          record.run(n, decision.kind, id, each.sheetId, orderKey, revision, cells);
        }
        database.exec('COMMIT');
      });
      told(from / lines.length);
      await pace.keep();
    }
  }

  /**
   * Carries over what is staged, inside of a transaction.
   *
   * @param pause lets others be answered, and is told how much is done
   * @throws Error where a record is not as it was when the write was decided
   */
  async carryOut(database: Database, pause: (share: number) => Promise<void>): Promise<Carried> {
    const count = database.prepare('SELECT count(*) AS n, min(at) AS at FROM staged_line');
    const { n: total, at } = count.get() as { n: number; at: number };
    const carry = [CARRY_NEW, CARRY_CHANGED, CARRY_BINNED].map((sql) =>
      this.store.statement(database, sql),
    );
    const carryLines = this.store.statement(database, CARRY_LINES);
    let last = 0;
    let carried = 0;
    for (let from = 0; from < total; from += CARRIED_AT_ONCE) {
      const to = from + CARRIED_AT_ONCE;
      last = Number(carryLines.run(from, to).lastInsertRowid);
      await pause(from / total);
      for (const statement of carry) carried += statement.run(from, to).changes;
      await pause(from / total);
    }
    if (carried !== total) throw new Error(`${carried} of ${total} records were carried over`);
    return (n) => ({ seq: last - total + 1 + n, at });
  }
}
