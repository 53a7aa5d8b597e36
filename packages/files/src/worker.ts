/** The thread in which files are read, so that the server goes on answering meanwhile. */
import '@varn/core/patterns';
import '@varn/core/phones';
import { parentPort, workerData } from 'node:worker_threads';
import { FORMATS } from './formats';
import { CsvFileError } from './formats/csv/csvFileError';
import type { WorkerAnswer, WorkerOrder } from './thread';

async function work(order: WorkerOrder): Promise<WorkerAnswer> {
  const format = FORMATS[order.format];
  if (order.job === 'lookThrough') {
    return { is: 'looked', looked: await format.lookThrough(order.path, order.choices) };
  }
  if (order.job === 'rows') return { is: 'rows', rows: await format.rows(order.order) };
  const report = await format.read(order.order, async (records, rows) => {
    send({ is: 'batch', records, rows });
    await nextMessage();
  });
  return { is: 'read', report };
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
