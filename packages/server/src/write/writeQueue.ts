import { Injectable, type BeforeApplicationShutdown } from '@nestjs/common';
import type { Database } from 'better-sqlite3';
import { Store } from '../store/store';
import { nextTurn } from '../turns';

interface Waiting {
  job: (database: Database) => void;
  settle: (error?: unknown) => void;
}

type AloneJob<T> = (database: Database, pause: () => Promise<void>) => Promise<() => Promise<T>>;

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

  constructor(private readonly store: Store) {}

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
   * Runs a job of many statements in a transaction of its own, which pauses so that others are
   * answered; those who write wait for it.
   *
   * @param job gives what is to be done once it is on disk, before the next write
   * @param onLost called where that fails: what is stored stands, and memory is behind it
   */
  runAlone<T>(job: AloneJob<T>, onLost: () => void): Promise<T> {
    return new Promise<T>((resolve, reject) => {
      this.alone.push(() => this.commitAlone(job, onLost).then(resolve, reject));
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
        // Requests that are being read right now join this commit instead of waiting for the next.
        await new Promise<void>((resolve) => setImmediate(resolve));
        await this.store.withConnection((database) => this.commitWaiting(database));
        await this.alone.shift()?.();
      }
    } finally {
      this.draining = null;
    }
  }

  private async commitAlone<T>(job: AloneJob<T>, onLost: () => void): Promise<T> {
    const after = await this.store.holdingConnection(async (database) => {
      database.exec('BEGIN IMMEDIATE');
      try {
        const done = await job(database, () => nextTurn());
        database.exec('COMMIT');
        return done;
      } catch (error) {
        // A full disk takes back the whole transaction by itself.
        if (database.inTransaction) database.exec('ROLLBACK');
        throw error;
      }
    });
    try {
      return await after();
    } catch (error) {
      onLost();
      throw error;
    }
  }

  private commitWaiting(database: Database): void {
    const batch = this.waiting;
    if (batch.length === 0) return;
    this.waiting = [];
    const errors = new Map<Waiting, unknown>();
    const savepoint = this.store.statement(database, 'SAVEPOINT job');
    const release = this.store.statement(database, 'RELEASE job');
    try {
      database.exec('BEGIN IMMEDIATE');
      for (const entry of batch) {
        savepoint.run();
        try {
          entry.job(database);
        } catch (error) {
          // A full disk takes back the whole transaction by itself.
          if (!database.inTransaction) throw error;
          errors.set(entry, error);
          database.exec('ROLLBACK TO job');
        }
        release.run();
      }
      database.exec('COMMIT');
    } catch (error) {
      if (database.inTransaction) database.exec('ROLLBACK');
      for (const { settle } of batch) settle(error);
      return;
    }
    for (const entry of batch) entry.settle(errors.get(entry));
  }
}
