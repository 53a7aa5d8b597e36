import type { ArrivalPreview, CellValue } from '@varn/core';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { Worker } from 'node:worker_threads';
import type { Dialect } from './csv/dialect';
import {
  scoutCsv,
  takeInCsv,
  type IntakeReport,
  type IntakeOrder,
  type ScoutChoices,
} from './csv/intake';
import { CsvFileError } from './csv/csvFileError';

export type WorkerOrder =
  { job: 'scout'; path: string; choices: ScoutChoices } | { job: 'takeIn'; order: IntakeOrder };

export type WorkerAnswer =
  | { is: 'scouted'; result: { dialect: Dialect; preview: ArrivalPreview } }
  | { is: 'batch'; records: CellValue[][] }
  | { is: 'takenIn'; report: IntakeReport }
  | { is: 'unreadable'; message: string; line: number }
  | { is: 'failed'; message: string };

const WORKER = join(__dirname, 'worker.js');

/** Looks through a CSV file in a thread of its own. */
export async function scoutFile(
  path: string,
  choices: ScoutChoices,
): Promise<{ dialect: Dialect; preview: ArrivalPreview }> {
  // Tests run from the sources, where there is no compiled thread to start.
  if (!existsSync(WORKER)) return scoutCsv(path, choices);
  const answer = await inThread({ job: 'scout', path, choices }, () => Promise.resolve());
  if (answer.is !== 'scouted') throw new Error(`the thread answered ${answer.is} to a scout`);
  return answer.result;
}

/** Reads a CSV file into records in a thread of its own; batches are awaited one by one. */
export async function takeInFile(
  order: IntakeOrder,
  onBatch: (records: CellValue[][]) => Promise<void>,
): Promise<IntakeReport> {
  if (!existsSync(WORKER)) return takeInCsv(order, onBatch);
  const answer = await inThread({ job: 'takeIn', order }, onBatch);
  if (answer.is !== 'takenIn') throw new Error(`the thread answered ${answer.is} to an intake`);
  return answer.report;
}

/** Runs one order to its last answer; hands batches over and asks for the next when done. */
function inThread(
  order: WorkerOrder,
  onBatch: (records: CellValue[][]) => Promise<void>,
): Promise<WorkerAnswer> {
  const worker = new Worker(WORKER, { workerData: order });
  return new Promise<WorkerAnswer>((resolve, reject) => {
    worker.on('message', (answer: WorkerAnswer) => {
      if (answer.is === 'batch') {
        onBatch(answer.records).then(() => worker.postMessage('next'), reject);
      } else if (answer.is === 'unreadable') reject(new CsvFileError(answer.message, answer.line));
      else if (answer.is === 'failed') reject(new Error(answer.message));
      else resolve(answer);
    });
    worker.on('error', reject);
    worker.on('exit', (code) => reject(new Error(`the reading thread ended with ${code}`)));
  }).finally(() => worker.terminate());
}
