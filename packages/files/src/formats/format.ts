import type { ArrivalPlan, ArrivalPreview, CellValue, Layout } from '@varn/core';

/** How a file is to be looked through. `D` is how it is written: a dialect of its format. */
export interface LookChoices<D> {
  readonly dialect: Partial<D>;
  readonly layout?: Layout;
  readonly keepTotals: boolean;
  readonly guarded: boolean;
  /** BCP 47. */
  readonly locale: string;
}

/** What looking a file through finds: how it is written, and what it would become. */
export interface Looked<D> {
  readonly dialect: D;
  readonly preview: ArrivalPreview;
  /** Some rows with where they begin, so that those behind them are read from there. */
  readonly marks: readonly RowMark[];
}

/** Where a row of a file begins: its number, from 1, and its first byte, from 0. */
export interface RowMark {
  readonly row: number;
  readonly byte: number;
}

/** How a file is to be read into records. */
export interface IntakeOrder<D> {
  readonly path: string;
  readonly dialect: D;
  readonly plan: ArrivalPlan;
  readonly locale: string;
  /** Serial of now in the workbook's zone. */
  readonly now: number;
}

/** What became of a file's rows. */
export interface IntakeReport {
  /** What stood above the heading, under the columns that were taken. */
  topMatter: (string | null)[][];
  /** Rows of the file, whatever became of them. */
  rows: number;
  records: number;
  blankRows: number;
  totalsRows: number;
  keptAsText: number;
}

/** Some rows of a file as they are: from a number on, counted from 1, so many at most. */
export interface RowsOrder<D> {
  readonly path: string;
  readonly dialect: D;
  readonly from: number;
  readonly count: number;
  /** Where reading begins, at that row or before it; the file's beginning otherwise. */
  readonly start?: RowMark;
}

/**
 * Takes records batch by batch, in the order of the plan's columns, with the file's row of each, from
 * 1; the next batch waits for it.
 */
export type OnBatch = (records: CellValue[][], rows: readonly number[]) => Promise<void>;

/**
 * A format of files: a file is looked through first, rows of it are shown as they are, and it is
 * read once it is decided what becomes of it. All of it runs in a thread of its own.
 *
 * @throws CsvFileError where the file can't be read
 */
export interface FileFormat<D> {
  readonly lookThrough: (path: string, choices: LookChoices<D>) => Promise<Looked<D>>;
  readonly rows: (order: RowsOrder<D>) => Promise<string[][]>;
  readonly read: (order: IntakeOrder<D>, onBatch: OnBatch) => Promise<IntakeReport>;
}
