import type { Column } from '../kinds';

/** Where the records of a sheet stand: the heading's row, and the columns in order of place. */
export interface RecordBlock {
  /** Counted from 1; the rows above it are top matter. */
  readonly headingRow: number;
  readonly columns: readonly Column[];
}

/** The grid's row number, from 1, of the record at a position, from 0. */
export function rowOfPosition(block: Pick<RecordBlock, 'headingRow'>, position: number): number {
  return block.headingRow + 1 + position;
}

/** A heading no other column of the block bears, so that people can tell them apart. */
export function isHeadingFree(heading: string, others: readonly string[]): boolean {
  return !others.some((other) => other.trim() === heading.trim());
}
