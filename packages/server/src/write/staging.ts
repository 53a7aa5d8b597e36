import type { Cells } from '@varn/core';
import { Injectable, type OnModuleInit } from '@nestjs/common';
import type { Database } from 'better-sqlite3';
import { rm } from 'node:fs/promises';
import { LINE_COLUMNS, valuesOf } from '../log/changeRow';
import type { NewLine } from '../log/line';
import { Store } from '../store/store';
import { Turns } from '../turns/turns';
import type { RecordPut } from './applying';
import type { RecordDecision } from './decision';

const TABLE = `CREATE TABLE staging.staged
  (n INTEGER PRIMARY KEY, order_key, ${LINE_COLUMNS.join(', ')})`;
const STAGE = `INSERT INTO staging.staged VALUES (?, ?, ${LINE_COLUMNS.map(() => '?').join(', ')})`;

/** A record as it will be, and its line. */
export interface Staged {
  readonly line: NewLine;
  readonly decision: RecordDecision;
}

interface PutRow {
  readonly kind: RecordPut['kind'];
  readonly id: string;
  readonly orderKey: number;
  readonly revision: number;
  readonly cells: string | null;
}

/** The file beside a database in which a large write stands ready. */
export const stagingOf = ({ name }: Pick<Database, 'name'>): string => `${name}-staging`;

/**
 * Where a large write stands ready before it is carried out: its lines in a file of their own, so
 * that none of it is held in memory, however much it is. What a crash leaves of it is nothing.
 */
@Injectable()
export class Staging implements OnModuleInit {
  private readonly turns = new Turns();

  constructor(private readonly store: Store) {}

  async onModuleInit(): Promise<void> {
    await this.store.open();
    await this.remove();
  }

  /** One large write at a time, for which the table is blank; nothing of it stays there. */
  alone<T>(work: () => Promise<T>): Promise<T> {
    return this.turns.take(async () => {
      await this.store.withConnection((database) => {
        this.store.statement(database, 'ATTACH ? AS staging').run(stagingOf(database));
        // Of what is staged nothing is to outlive the server: it need not be safe on the disk.
        database.pragma('staging.journal_mode = OFF');
        database.pragma('staging.synchronous = OFF');
        database.exec(TABLE);
      });
      try {
        return await work();
      } finally {
        await this.store.withConnection((database) => database.exec('DETACH staging'));
        await this.remove();
      }
    });
  }

  /** Puts some lines of a write into the table. @param from which of them is the first */
  put(database: Database, some: readonly Staged[], from: number): void {
    const stage = this.store.statement(database, STAGE);
    database.transaction(() => {
      for (const [n, { line, decision }] of some.entries()) {
        // When it is written is not known yet.
        stage.run(from + n, decision.record.orderKey, ...valuesOf(line, 0));
      }
    })();
  }

  /** Notes what is answered to a repeat. */
  close(database: Database, answer: unknown): void {
    const told = answer === undefined || answer === null ? null : JSON.stringify(answer);
    database.prepare('UPDATE staging.staged SET answer = ? WHERE n = 0').run(told);
  }

  /** Some of the records as they were stored, so that they can be brought into memory. */
  page(from: number, count: number): Promise<RecordPut[]> {
    const sql = `SELECT kind, record_id AS id, order_key AS orderKey, revision, after AS cells
      FROM staging.staged WHERE n >= ? AND n < ? ORDER BY n`;
    return this.store.withConnection((database) =>
      (this.store.statement(database, sql).all(from, from + count) as PutRow[]).map(
        ({ kind, cells, ...head }) => {
          return { kind, record: { ...head, cells: JSON.parse(cells ?? '{}') as Cells } };
        },
      ),
    );
  }

  private async remove(): Promise<void> {
    const file = await this.store.withConnection(stagingOf);
    await rm(file, { force: true });
  }
}
