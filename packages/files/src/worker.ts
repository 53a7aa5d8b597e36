/** The thread in which files are read, so that the server goes on answering meanwhile. */
import { parentPort, workerData } from 'node:worker_threads';
import { CsvFileError } from './csv/csvFileError';
import { scoutCsv, takeInCsv } from './csv/intake';
import type { WorkerAnswer, WorkerOrder } from './desk';

async function work(order: WorkerOrder): Promise<WorkerAnswer> {
  if (order.job === 'scout')
    return { is: 'scouted', result: await scoutCsv(order.path, order.choices) };
  const report = await takeInCsv(order.order, async (records) => {
    send({ is: 'batch', records });
    await nextMessage();
  });
  return { is: 'takenIn', report };
}

function send(answer: WorkerAnswer): void {
  parentPort?.postMessage(answer);
}

function nextMessage(): Promise<void> {
  return new Promise((resolve) => parentPort?.once('message', () => resolve()));
}

work(workerData as WorkerOrder).then(send, (error: unknown) => {
  send(
    error instanceof CsvFileError
      ? { is: 'unreadable', message: error.message, line: error.line }
      : {
          is: 'failed',
          message: error instanceof Error ? (error.stack ?? error.message) : String(error),
        },
  );
});
