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

/**
 * Where writes stand ready, each in a lane: one of more records than this goes by itself, so that
 * no other waits for it while it is decided.
 */
const MOST_IN_COMMON = 50_000;
const LANES = ['staging_large', 'staging_vast'] as const;
type Lane = (typeof LANES)[number];

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

/** The file beside a database in which a lane's write stands ready. */
const fileOf = ({ name }: Pick<Database, 'name'>, lane: Lane): string => `${name}-${lane}`;

/**
 * Where large writes stand ready before they are carried out: their lines in files of their own, so
 * that none of it is held in memory, however much it is. What a crash leaves of it is nothing.
 */
@Injectable()
export class Staging implements OnModuleInit {
  private readonly turns = { staging_large: new Turns(), staging_vast: new Turns() };

  constructor(private readonly store: Store) {}

  async onModuleInit(): Promise<void> {
    await this.store.open();
    await Promise.all(LANES.map((lane) => this.remove(lane)));
  }

  /**
   * One large write at a time in its lane, for which a stage is blank; nothing of it stays there.
   *
   * @param records how many it is about, as far as is known
   */
  alone<T>(records: number, work: (stage: Stage) => Promise<T>): Promise<T> {
    const lane = records > MOST_IN_COMMON ? 'staging_vast' : 'staging_large';
    return this.turns[lane].take(async () => {
      const stage = await this.store.withConnection((database) => {
        const file = fileOf(database, lane);
        this.store.statement(database, `ATTACH ? AS ${lane}`).run(file);
        // Of what is staged nothing is to outlive the server: it need not be safe on the disk.
        database.pragma(`${lane}.journal_mode = OFF`);
        database.pragma(`${lane}.synchronous = OFF`);
        database.exec(`CREATE TABLE ${lane}.staged
          (n INTEGER PRIMARY KEY, order_key, ${LINE_COLUMNS.join(', ')})`);
        return new Stage(this.store, `${lane}.staged`, file);
      });
      try {
        return await work(stage);
      } finally {
        await this.store.withConnection((database) => database.exec(`DETACH ${lane}`));
        await this.remove(lane);
      }
    });
  }

  /** Waits until no large write is under way any more. */
  async rest(): Promise<void> {
    await Promise.all(LANES.map((lane) => this.turns[lane].take(() => Promise.resolve())));
  }

  private async remove(lane: Lane): Promise<void> {
    const file = await this.store.withConnection((database) => fileOf(database, lane));
    await rm(file, { force: true });
  }
}

/** The lines of one large write. */
export class Stage {
  /** @param table as the server's connection calls it @param file in which it is */
  constructor(
    private readonly store: Store,
    private readonly table: string,
    readonly file: string,
  ) {}

  /** Puts some lines into the table. @param from which of them is the first */
  put(database: Database, some: readonly Staged[], from: number): void {
    const places = LINE_COLUMNS.map(() => '?').join(', ');
    const sql = `INSERT INTO ${this.table} VALUES (?, ?, ${places})`;
    const stage = this.store.statement(database, sql);
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
    database.prepare(`UPDATE ${this.table} SET answer = ? WHERE n = 0`).run(told);
  }

  /** Some of the records as they were stored, so that they can be brought into memory. */
  page(from: number, count: number): Promise<RecordPut[]> {
    const sql = `SELECT kind, record_id AS id, order_key AS orderKey, revision, after AS cells
      FROM ${this.table} WHERE n >= ? AND n < ? ORDER BY n`;
    return this.store.withConnection((database) =>
      (this.store.statement(database, sql).all(from, from + count) as PutRow[]).map(
        ({ kind, cells, ...head }) => {
          return { kind, record: { ...head, cells: JSON.parse(cells ?? '{}') as Cells } };
        },
      ),
    );
  }
}
