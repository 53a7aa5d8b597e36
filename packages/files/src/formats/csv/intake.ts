import { arrivalReader, ArrivalScout, localeFacts, topMatterOf, type CellValue } from '@varn/core';
import type {
  FileFormat,
  IntakeOrder,
  IntakeReport,
  LookChoices,
  Looked,
  OnBatch,
  RowMark,
  RowsOrder,
} from '../format';
import { guessDialect, type Dialect } from './dialect';
import { readCsv } from './read';

/** Looks through a CSV file: how it is written, and what it would become. */
async function lookThrough(
  path: string,
  { dialect, layout, keepTotals, guarded, locale }: LookChoices<Dialect>,
): Promise<Looked<Dialect>> {
  const found = await guessDialect(path, dialect);
  const scout = new ArrivalScout(localeFacts(locale), layout, keepTotals, guarded);
  const marks: RowMark[] = [];
  await readCsv(path, found, (row) => scout.add(row), { onMark: (mark) => marks.push(mark) });
  return { dialect: found, preview: scout.finish(), marks };
}

/** Reads some rows as they are; what is behind them is not read. */
async function rows(order: RowsOrder<Dialect>): Promise<string[][]> {
  const { path, dialect, from, count, start } = order;
  const found: string[][] = [];
  let row = start?.row ?? 1;
  const take = (cells: string[]): boolean => {
    if (row >= from) found.push(cells);
    row += 1;
    return found.length < count;
  };
  await readCsv(path, dialect, take, { ...(start && { start }) });
  return found;
}

/** How many records are handed over at once. */
const BATCH = 2000;

/** Reads a CSV file into records by a plan, handing over batches of cells in plan order. */
async function readRecords(
  { path, dialect, plan, locale, now }: IntakeOrder<Dialect>,
  onBatch: OnBatch,
): Promise<IntakeReport> {
  const readRow = arrivalReader(plan, localeFacts(locale), now);
  const counts = { rows: 0, records: 0, blankRows: 0, totalsRows: 0, keptAsText: 0 };
  const above: string[][] = [];
  let batch: CellValue[][] = [];
  let places: number[] = [];
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
    places.push(counts.rows);
    if (batch.length < BATCH) return;
    const [full, at] = [batch, places];
    [batch, places] = [[], []];
    return onBatch(full, at);
  });
  if (batch.length > 0) await onBatch(batch, places);
  return { ...counts, topMatter: topMatterOf(above, plan) };
}

/** Comma-separated values (RFC 4180) and the variants in use. */
export const csv: FileFormat<Dialect> = { lookThrough, rows, read: readRecords };
