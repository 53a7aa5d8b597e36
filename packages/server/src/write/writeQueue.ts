import { Injectable, type BeforeApplicationShutdown } from '@nestjs/common';
import type { Database } from 'better-sqlite3';
import { Store } from '../store/store';
import { RunningNumbers } from './runningNumbers';

/** How long a commit waits at most while more and more writes join it. */
const MOST_GATHERED_MS = 8;
/** How long writes are carried out in one transaction, the first of them in any case. */
const MOST_CARRIED_MS = 30;

interface Waiting {
  job: (database: Database) => void;
  settle: (error?: unknown) => void;
}

type AloneJob<T> = (database: Database) => Promise<T>;

/**
 * Group commit. Writes that wait at the same time share one transaction, each in a savepoint of
 * its own: one that is refused takes nothing of the others with it, and all that are
 * acknowledged were flushed to disk by one commit.
 */
@Injectable()
export class WriteQueue implements BeforeApplicationShutdown {
  private waiting: Waiting[] = [];
  private readonly alone: (() => Promise<void>)[] = [];
  private draining: Promise<void> | null = null;

  constructor(
    private readonly store: Store,
    private readonly numbers: RunningNumbers,
  ) {}

  /**
   * Runs a job inside the next transaction and answers when that is on disk.
   *
   * @param job runs at once, without waiting for anything; what it throws rolls it back alone
   * @param onLost called when the commit itself failed, after `job` had succeeded
   */
  async run<T>(job: (database: Database) => T, onLost: () => void): Promise<T> {
    let result: { value: T } | undefined;
    await new Promise<void>((resolve, reject) => {
      this.waiting.push({
        job: (database) => {
          result = { value: job(database) };
        },
        settle: (error) => {
          if (error === undefined) resolve();
          else {
            if (result) onLost();
            reject(
              error instanceof Error ? error : new Error('the write failed', { cause: error }),
            );
          }
        },
      });
      this.draining ??= this.drain();
    });
    if (!result) throw new Error('the write was settled without having run');
    return result.value;
  }

  /**
   * Runs a job that takes its time and writes by a connection of its own. Others are answered
   * meanwhile; those who write wait for it.
   */
  runAlone<T>(job: AloneJob<T>): Promise<T> {
    return new Promise<T>((resolve, reject) => {
      this.alone.push(() => this.store.holdingConnection(job).then(resolve, reject));
      this.draining ??= this.drain();
    });
  }

  /** Finishes what waits before the database closes. */
  async beforeApplicationShutdown(): Promise<void> {
    while (this.draining) await this.draining;
  }

  private async drain(): Promise<void> {
    try {
      while (this.waiting.length > 0 || this.alone.length > 0) {
        await this.gather();
        await this.store.withConnection((database) => this.commitWaiting(database));
        await this.alone.shift()?.();
      }
    } finally {
      this.draining = null;
    }
  }

  /** Requests that are being read right now join this commit instead of waiting for the next. */
  private async gather(): Promise<void> {
    const until = performance.now() + MOST_GATHERED_MS;
    for (let before = -1; this.waiting.length > before && performance.now() < until;) {
      before = this.waiting.length;
      await new Promise<void>((resolve) => setImmediate(resolve));
    }
  }

  private commitWaiting(database: Database): void {
    if (this.waiting.length === 0) return;
    const batch: Waiting[] = [];
    const until = performance.now() + MOST_CARRIED_MS;
    const errors = new Map<Waiting, unknown>();
    const savepoint = this.store.statement(database, 'SAVEPOINT job');
    const release = this.store.statement(database, 'RELEASE job');
    try {
      database.exec('BEGIN IMMEDIATE');
      do {
        const entry = this.waiting.shift();
        if (!entry) break;
        batch.push(entry);
        savepoint.run();
        const takeBack = this.numbers.mark();
        try {
          entry.job(database);
        } catch (error) {
          // A full disk takes back the whole transaction by itself.
          if (!database.inTransaction) throw error;
          errors.set(entry, error);
          takeBack();
          database.exec('ROLLBACK TO job');
        }
        release.run();
        // Formulas may take long: those who wait behind them have the next transaction.
      } while (performance.now() < until);
      this.numbers.keep(database);
      database.exec('COMMIT');
    } catch (error) {
      if (database.inTransaction) database.exec('ROLLBACK');
      for (const { settle } of batch) settle(error);
      return;
    } finally {
      this.numbers.forget();
    }
    for (const entry of batch) entry.settle(errors.get(entry));
  }
}
