import type { Database } from 'better-sqlite3';
import type { RunningNumbers } from './runningNumbers';

/** Running numbers that a write decides on before it is carried out: taken only if none went meanwhile. */
export class NumbersAhead {
  private readonly columns = new Map<string, { readonly seen: number; last: number }>();

  constructor(private readonly numbers: RunningNumbers) {}

  next(database: Database, columnId: string, least: number): number {
    let column = this.columns.get(columnId);
    if (!column) {
      const seen = this.numbers.last(database, columnId);
      this.columns.set(columnId, (column = { seen, last: seen }));
    }
    column.last = Math.max(column.last + 1, least);
    return column.last;
  }

  /** Whether no other write took a number since. */
  stand(database: Database): boolean {
    return [...this.columns].every(
      ([columnId, { seen }]) => this.numbers.last(database, columnId) === seen,
    );
  }

  /** The last number of each column, as it is to be stored. */
  get taken(): (readonly [columnId: string, last: number])[] {
    return [...this.columns].map(([columnId, { last }]) => [columnId, last] as const);
  }
}
