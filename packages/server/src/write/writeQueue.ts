import { Injectable, type BeforeApplicationShutdown } from '@nestjs/common';
import type { Database } from 'better-sqlite3';
import { Store } from '../store/store';

interface Waiting {
  job: (database: Database) => void;
  settle: (error?: unknown) => void;
}

/**
 * Group commit. Writes that wait at the same time share one transaction, each in a savepoint of
 * its own: one that is refused takes nothing of the others with it, and all that are
 * acknowledged were flushed to disk by one commit.
 */
@Injectable()
export class WriteQueue implements BeforeApplicationShutdown {
  private waiting: Waiting[] = [];
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

  /** Finishes what waits before the database closes. */
  async beforeApplicationShutdown(): Promise<void> {
    while (this.draining) await this.draining;
  }

  private async drain(): Promise<void> {
    try {
      while (this.waiting.length > 0) {
        // Requests that are being read right now join this commit instead of waiting for the next.
        await new Promise<void>((resolve) => setImmediate(resolve));
        await this.store.withConnection((database) => this.commitWaiting(database));
      }
    } finally {
      this.draining = null;
    }
  }

  private commitWaiting(database: Database): void {
    const batch = this.waiting;
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
