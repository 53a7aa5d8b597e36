import type { Database } from 'better-sqlite3';
import { Store } from '../store/store';
import { start, type Running } from '../testing/harness';
import { RunningNumbers } from './runningNumbers';
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
  // Who came behind has the next transaction.
  expect(told.map(({ status }) => status)).toEqual(['rejected', 'rejected', 'fulfilled']);
  expect(lost).toEqual([10, 11]);
  expect(await stored()).toEqual([1, 3, 12]);
  await queue.run(put(20), fail);
  expect(await stored()).toEqual([1, 3, 12, 20]);
});

test('running numbers of writes that share a commit have no gaps or doubles, whichever are refused or lost', async () => {
  const numbers = running.app.get(RunningNumbers);
  const take = (columnId: string, how: 'kept' | 'refused' | 'lost') =>
    queue.run(
      (database) => {
        const number = numbers.take(database, columnId, 1);
        if (how === 'refused') throw new Error('refused');
        if (how === 'lost') database.exec('ROLLBACK');
        return number;
      },
      () => undefined,
    );
  const given = async (...batch: Parameters<typeof take>[]): Promise<(number | null)[]> => {
    const told = await Promise.allSettled(batch.map((each) => take(...each)));
    return told.map((each) => (each.status === 'fulfilled' ? each.value : null));
  };
  expect(await given(['a', 'kept'], ['a', 'refused'], ['b', 'kept'], ['a', 'kept'])).toEqual([
    ...[1, null, 1, 2],
  ]);
  expect(await given(['a', 'kept'], ['b', 'lost'])).toEqual([null, null]);
  expect(await given(['a', 'refused'], ['a', 'kept'], ['b', 'kept'])).toEqual([null, 3, 2]);
  await queue.run((database) => numbers.goOnFrom(database, 'a', 9), fail);
  expect(await given(['a', 'kept'], ['c', 'kept'])).toEqual([10, 1]);
  expect(await queue.run((database) => numbers.last(database, 'a'), fail)).toBe(10);
});

test('writes that take long are parted, so that others are answered between them', async () => {
  const busy = (ms: number): void => {
    for (const until = performance.now() + ms; performance.now() < until;);
  };
  let [turns, isDone] = [0, false];
  const answering = (): void => {
    turns += 1;
    if (!isDone) setImmediate(answering);
  };
  const seen = await Promise.all(
    Array.from({ length: 12 }, (_, n) =>
      queue.run((database) => {
        if (n === 0) setImmediate(answering);
        busy(20);
        put(100 + n)(database);
        return turns;
      }, fail),
    ),
  );
  isDone = true;
  // Two or so in each; in the order they came.
  expect(new Set(seen).size).toBeGreaterThan(3);
  expect(seen).toEqual([...seen].sort((a, b) => a - b));
  expect((await stored()).filter((n) => n >= 100)).toHaveLength(12);
});
