import { Injectable, type OnApplicationShutdown } from '@nestjs/common';
import type { Database } from 'better-sqlite3';
import { createRequire } from 'node:module';
import { Worker } from 'node:worker_threads';
import { LINE_COLUMNS } from '../log/changeRow';
import { KEEP_NUMBER } from './runningNumbers';

/** Lines that are carried over before it is told how far it is. */
const CARRIED_AT_ONCE = 2000;

/** By name, as each is run with `{ at, from, to }`. */
const CARRY_LINES = `INSERT INTO change (${LINE_COLUMNS.join(', ')})
  SELECT ${LINE_COLUMNS.map((name) => (name === 'at' ? '@at' : name)).join(', ')}
  FROM staging.staged WHERE n >= @from AND n < @to ORDER BY n`;
const CARRY_NEW = `INSERT INTO record (id, sheet_id, order_key, revision, cells)
  SELECT record_id, sheet_id, order_key, revision, after FROM staging.staged
  WHERE n >= @from AND n < @to AND kind = 'recordAdded' ORDER BY n`;
const CARRY_CHANGED = `UPDATE record SET revision = staged.revision, cells = staged.after
  FROM staging.staged WHERE staged.n >= @from AND staged.n < @to
    AND staged.kind = 'recordChanged' AND record.id = staged.record_id
    AND record.revision = staged.revision - 1 AND record.removed_at IS NULL`;
/** What goes or comes back keeps its cells. */
const CARRY_BINNED = `UPDATE record SET revision = staged.revision,
    removed_at = CASE staged.kind WHEN 'recordRemoved' THEN @at END
  FROM staging.staged WHERE staged.n >= @from AND staged.n < @to
    AND staged.kind IN ('recordRemoved', 'recordPutBack') AND record.id = staged.record_id
    AND record.revision = staged.revision - 1
    AND (record.removed_at IS NULL) = (staged.kind = 'recordRemoved')`;

/** A record is not any more as it was when a write was decided. */
export class NotAsSeen extends Error {}

/** What is to be carried over. */
export interface Load {
  /** How many lines are staged. */
  readonly lines: number;
  /** When they are written, in milliseconds since 1970 UTC. */
  readonly at: number;
  /** By column id: the last running number that was given. */
  readonly numbers: readonly (readonly [columnId: string, last: number])[];
}

type Told =
  | { readonly is: 'share'; readonly share: number }
  /** All is carried over, but not committed; the last line's sequence number. */
  | { readonly is: 'ready'; readonly last: number }
  | { readonly is: 'committed' }
  | { readonly is: 'notAsSeen' }
  | { readonly is: 'rolledBack' }
  | { readonly is: 'failed'; readonly message: string; readonly code: string };

/**
 * Runs in a thread of its own: a commit of a million records takes seconds, and a connection that
 * commits answers nobody.
 */
const CARRY_OVER = `
  const { parentPort, workerData } = require('node:worker_threads');
  const SQLite = require(workerData.driver);
  const { path, staging, mostPages, isStopped, load, atOnce, sql } = workerData;
  const stopped = new Int32Array(isStopped);
  const database = new SQLite(path, { fileMustExist: true });
  const end = (told, how) => {
    if (database.inTransaction) database.exec(how);
    database.close();
    parentPort.postMessage(told);
    parentPort.close();
  };
  const trying = (work) => {
    try {
      work();
    } catch ({ message, code }) {
      end({ is: 'failed', message, code }, 'ROLLBACK');
    }
  };
  trying(() => {
    database.pragma('synchronous = FULL');
    database.pragma('busy_timeout = 5000');
    database.pragma('foreign_keys = ON');
    database.pragma('wal_autocheckpoint = 0');
    database.pragma('cache_size = -32768');
    database.pragma('max_page_count = ' + mostPages);
    database.prepare('ATTACH ? AS staging').run(staging);
    database.exec('BEGIN IMMEDIATE');
    const keep = database.prepare(sql.number);
    for (const each of load.numbers) keep.run(...each);
    const lines = database.prepare(sql.lines);
    const records = sql.records.map((each) => database.prepare(each));
    let last = 0;
    let carried = 0;
    for (let from = 0; from < load.lines; from += atOnce) {
      const to = from + atOnce;
      if (stopped[0] === 1) return end({ is: 'rolledBack' }, 'ROLLBACK');
      last = Number(lines.run({ at: load.at, from, to }).lastInsertRowid);
      for (const each of records) carried += each.run({ at: load.at, from, to }).changes;
      if (carried < Math.min(to, load.lines)) return end({ is: 'notAsSeen' }, 'ROLLBACK');
      parentPort.postMessage({ is: 'share', share: Math.min(1, to / load.lines) });
    }
    parentPort.on('message', (mayCommit) =>
      trying(() => {
        if (mayCommit) database.exec('COMMIT');
        end({ is: mayCommit ? 'committed' : 'rolledBack' }, 'ROLLBACK');
      }),
    );
    parentPort.postMessage({ is: 'ready', last });
  });
`;

/** Carries what is staged over into the database, in one transaction, beside the server. */
@Injectable()
export class Carrier implements OnApplicationShutdown {
  private worker: Worker | null = null;

  /**
   * @param database of the server, which writes nothing meanwhile
   * @param told how much is done, from 0 to 1, and `mayCommit` before the end; what they throw takes all back
   * @returns the sequence number of the last line
   * @throws NotAsSeen where a record is not as it was when the write was decided
   */
  carryOut(
    database: Database,
    staging: string,
    load: Load,
    { told, mayCommit }: { told: (share: number) => void; mayCommit: () => void },
  ): Promise<number> {
    const isStopped = new SharedArrayBuffer(4);
    const workerData = {
      driver: createRequire(__filename).resolve('better-sqlite3'),
      path: database.name,
      staging,
      mostPages: database.pragma('max_page_count', { simple: true }),
      isStopped,
      load,
      atOnce: CARRIED_AT_ONCE,
      sql: {
        number: KEEP_NUMBER,
        lines: CARRY_LINES,
        records: [CARRY_NEW, CARRY_CHANGED, CARRY_BINNED],
      },
    };
    const worker = new Worker(CARRY_OVER, { eval: true, workerData });
    this.worker = worker;
    let last = 0;
    let why: unknown = null;
    return new Promise<number>((resolve, reject) => {
      /** @returns whether it goes on */
      const asks = (ask: () => void): boolean => {
        try {
          ask();
          return true;
        } catch (error) {
          why ??= error;
          new Int32Array(isStopped)[0] = 1;
          return false;
        }
      };
      worker.on('message', (said: Told) => {
        if (said.is === 'share') asks(() => told(said.share));
        else if (said.is === 'ready') {
          ({ last } = said);
          worker.postMessage(asks(mayCommit));
        } else if (said.is === 'committed') resolve(last);
        else if (said.is === 'notAsSeen') reject(new NotAsSeen());
        else if (said.is === 'rolledBack') reject(asError(why));
        else reject(Object.assign(new Error(said.message), { code: said.code }));
      });
      worker.on('error', reject);
      worker.on('exit', () => reject(new Error('what carries large writes over has ended')));
    }).finally(() => {
      this.worker = null;
    });
  }

  async onApplicationShutdown(): Promise<void> {
    await this.worker?.terminate();
  }
}

const asError = (why: unknown): Error =>
  why instanceof Error ? why : new Error('stopped', { cause: why });
