import type { Database } from 'better-sqlite3';
import { Store } from '../store/store';
import { start, type Running } from '../testing/harness';
import { WriteQueue } from './writeQueue';

let running: Running;
let queue: WriteQueue;
beforeAll(async () => {
  running = await start();
  queue = running.app.get(WriteQueue);
  await queue.run((database) => database.exec('CREATE TABLE probe (n INTEGER PRIMARY KEY)'), fail);
});
afterAll(() => running.stop());

function fail(): void {
  throw new Error('nothing was lost');
}
const put = (n: number) => (database: Database) => {
  database.prepare('INSERT INTO probe VALUES (?)').run(n);
  return n;
};
const stored = async (): Promise<number[]> =>
  running.app
    .get(Store)
    .withConnection(
      (database) => database.prepare('SELECT n FROM probe ORDER BY n').pluck().all() as number[],
    );

test('jobs that wait together share a commit, and one that throws takes back only its own', async () => {
  const thrown = new Error('refused');
  const told = await Promise.allSettled([
    queue.run(put(1), fail),
    queue.run((database) => {
      put(2)(database);
      throw thrown;
    }, fail),
    queue.run(put(3), fail),
    queue.run(put(1), fail),
  ]);
  expect(told.map(({ status }) => status)).toEqual([
    'fulfilled',
    'rejected',
    'fulfilled',
    'rejected',
  ]);
  expect(told[1]).toMatchObject({ reason: thrown });
  // The driver's error itself, or behind ours where it comes from another realm, as between tests.
  const { reason } = told[3] as { reason: { code?: string; cause?: { code?: string } } };
  expect(reason.code ?? reason.cause?.code).toBe('SQLITE_CONSTRAINT_PRIMARYKEY');
  expect(await stored()).toEqual([1, 3]);
});

test('when the commit itself fails nobody is told it is written, and what was done in memory is lost', async () => {
  const lost: number[] = [];
  const told = await Promise.allSettled([
    queue.run(put(10), () => lost.push(10)),
    // As a full disk would: the transaction is gone before it can be committed.
    queue.run(
      (database) => database.exec('ROLLBACK'),
      () => lost.push(11),
    ),
    queue.run(put(12), () => lost.push(12)),
  ]);
  expect(told.map(({ status }) => status)).toEqual(['rejected', 'rejected', 'rejected']);
  expect(lost).toContain(10);
  expect(await stored()).toEqual([1, 3]);
  await queue.run(put(20), fail);
  expect(await stored()).toEqual([1, 3, 20]);
});
