import { Injectable } from '@nestjs/common';
import type { Database } from 'better-sqlite3';
import { Store } from '../store/store';

/** Stores the last number that a column gave. */
export const KEEP_NUMBER = `INSERT INTO running_number (column_id, last) VALUES (?, ?)
  ON CONFLICT (column_id) DO UPDATE SET last = max(last, excluded.last)`;

/**
 * The highest running number each column ever gave. Within a transaction they are counted in memory,
 * and stored once at its end, however many were given.
 */
@Injectable()
export class RunningNumbers {
  /** By column: the highest that was given in the transaction under way. */
  private given = new Map<string, number>();

  constructor(private readonly store: Store) {}

  /** The highest number a column gave; 0 before the first. */
  last(database: Database, columnId: string): number {
    return this.given.get(columnId) ?? this.stored(database, columnId);
  }

  /** Gives a column's next number: one above the highest it ever gave, or `least`. */
  take(database: Database, columnId: string, least: number): number {
    const next = Math.max(this.last(database, columnId) + 1, least);
    this.given.set(columnId, next);
    return next;
  }

  /** Lets a column's numbers go on above one that is taken. */
  goOnFrom(database: Database, columnId: string, last: number): void {
    this.given.set(columnId, Math.max(this.last(database, columnId), last));
  }

  /** @returns takes back what is given from here on */
  mark(): () => void {
    const before = [...this.given];
    return () => {
      this.given = new Map(before);
    };
  }

  /** Stores what was given, before the transaction is committed. */
  keep(database: Database): void {
    for (const each of this.given) this.store.statement(database, KEEP_NUMBER).run(...each);
  }

  /** Forgets what was given, once the transaction is over, however it ended. */
  forget(): void {
    this.given.clear();
  }

  private stored(database: Database, columnId: string): number {
    const sql = 'SELECT last FROM running_number WHERE column_id = ?';
    const row = this.store.statement(database, sql).get(columnId) as { last: number } | undefined;
    return row?.last ?? 0;
  }
}
