import type { CellValue } from '@varn/core';
import { Worker } from 'node:worker_threads';
import type { FormatId } from './formats';
import { CsvFileError } from './formats/csv/csvFileError';
import type { Dialect } from './formats/csv/dialect';
import type {
  IntakeOrder,
  IntakeReport,
  LookChoices,
  Looked,
  OnBatch,
  RowsOrder,
} from './formats/format';
import { WORKER_FILE } from './workerFile';

export type WorkerOrder = { readonly format: FormatId } & (
  | { readonly job: 'lookThrough'; readonly path: string; readonly choices: LookChoices<Dialect> }
  | { readonly job: 'rows'; readonly order: RowsOrder<Dialect> }
  | { readonly job: 'read'; readonly order: IntakeOrder<Dialect> }
);

export type WorkerAnswer =
  | { readonly is: 'looked'; readonly looked: Looked<Dialect> }
  | { readonly is: 'rows'; readonly rows: string[][] }
  | { readonly is: 'batch'; readonly records: CellValue[][]; readonly rows: readonly number[] }
  | { readonly is: 'read'; readonly report: IntakeReport }
  | { readonly is: 'unreadable'; readonly message: string; readonly line: number }
  | { readonly is: 'failed'; readonly message: string };

/** Looks a file through in a thread of its own. @throws CsvFileError */
export async function lookThroughFile(
  format: FormatId,
  path: string,
  choices: LookChoices<Dialect>,
): Promise<Looked<Dialect>> {
  const order = { format, job: 'lookThrough', path, choices } as const;
  const answer = await inThread(order, () => Promise.resolve());
  if (answer.is !== 'looked') throw new Error(`the thread answered ${answer.is} to a look`);
  return answer.looked;
}

/** Reads some rows of a file as they are, in a thread of its own. @throws CsvFileError */
export async function rowsOfFile(format: FormatId, order: RowsOrder<Dialect>): Promise<string[][]> {
  const answer = await inThread({ format, job: 'rows', order }, () => Promise.resolve());
  if (answer.is !== 'rows') throw new Error(`the thread answered ${answer.is} to rows`);
  return answer.rows;
}

/**
 * Reads a file into records in a thread of its own; batches are awaited one by one.
 *
 * @throws CsvFileError
 */
export async function readFileInto(
  format: FormatId,
  order: IntakeOrder<Dialect>,
  onBatch: OnBatch,
): Promise<IntakeReport> {
  const answer = await inThread({ format, job: 'read', order }, onBatch);
  if (answer.is !== 'read') throw new Error(`the thread answered ${answer.is} to a reading`);
  return answer.report;
}

/** Runs one order to its last answer; hands batches over and asks for the next when done. */
function inThread(order: WorkerOrder, onBatch: OnBatch): Promise<WorkerAnswer> {
  const worker = new Worker(WORKER_FILE, { workerData: order });
  return new Promise<WorkerAnswer>((resolve, reject) => {
    worker.on('message', (answer: WorkerAnswer) => {
      if (answer.is === 'batch') {
        onBatch(answer.records, answer.rows).then(() => worker.postMessage('next'), reject);
      } else if (answer.is === 'unreadable') reject(new CsvFileError(answer.message, answer.line));
      else if (answer.is === 'failed') reject(new Error(answer.message));
      else resolve(answer);
    });
    worker.on('error', reject);
    worker.on('exit', (code) => reject(new Error(`the reading thread ended with ${code}`)));
  }).finally(() => worker.terminate());
}
