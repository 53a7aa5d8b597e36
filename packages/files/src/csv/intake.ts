import {
  arrivalReader,
  ArrivalScout,
  localeFacts,
  topMatterOf,
  type ArrivalPlan,
  type ArrivalPreview,
  type CellValue,
  type Layout,
} from '@varn/core';
import { guessDialect, type Dialect } from './dialect';
import { readCsv } from './read';

export interface ScoutChoices {
  readonly dialect: Partial<Dialect>;
  readonly layout?: Layout;
  readonly keepTotals: boolean;
  readonly guarded: boolean;
  /** BCP 47. */
  readonly locale: string;
}

/** Looks through a CSV file: how it is written, and what it would become. */
export async function scoutCsv(
  path: string,
  { dialect, layout, keepTotals, guarded, locale }: ScoutChoices,
): Promise<{ dialect: Dialect; preview: ArrivalPreview }> {
  const found = await guessDialect(path, dialect);
  const scout = new ArrivalScout(localeFacts(locale), layout, keepTotals, guarded);
  await readCsv(path, found, (row) => scout.add(row));
  return { dialect: found, preview: scout.finish() };
}

/** How many records are handed over at once. */
const BATCH = 2000;

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

export interface IntakeOrder {
  readonly path: string;
  readonly dialect: Dialect;
  readonly plan: ArrivalPlan;
  readonly locale: string;
  /** Serial of now in the workbook's zone. */
  readonly now: number;
}

/** Reads a CSV file into records by a plan, handing over batches of cells in plan order. */
export async function takeInCsv(
  { path, dialect, plan, locale, now }: IntakeOrder,
  onBatch: (records: CellValue[][]) => Promise<void>,
): Promise<IntakeReport> {
  const readRow = arrivalReader(plan, localeFacts(locale), now);
  const counts = { rows: 0, records: 0, blankRows: 0, totalsRows: 0, keptAsText: 0 };
  const above: string[][] = [];
  let batch: CellValue[][] = [];
  await readCsv(path, dialect, (row) => {
    counts.rows += 1;
    const arrived = readRow(row, counts.rows);
    if (counts.rows < (plan.headingRow ?? 1)) above.push(row);
    if (arrived.is === 'blank') counts.blankRows += 1;
    if (arrived.is === 'totals') counts.totalsRows += 1;
    if (arrived.is !== 'record') return;
    counts.records += 1;
    counts.keptAsText += arrived.unread;
    batch.push([...arrived.cells]);
    if (batch.length < BATCH) return;
    const full = batch;
    batch = [];
    return onBatch(full);
  });
  if (batch.length > 0) await onBatch(batch);
  return { ...counts, topMatter: topMatterOf(above, plan) };
}
