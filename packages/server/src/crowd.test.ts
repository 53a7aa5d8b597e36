import {
  paths,
  type Landed,
  type RecordHistoryView,
  type RowsView,
  type SheetView,
} from '@varn/contract';
import { randomUUID } from 'node:crypto';
import { SheetCache } from './store/sheetCache';
import { goodAnswers, start, type Client, type Running } from './testing/harness';

/** Two hundred people at once: each submits, looks for records, and corrects one of their own. */
const CLIENTS = 200;
const FOR_MS = 2500;

let running: Running;
let clerks: Client[];
beforeAll(async () => {
  running = await start();
  clerks = await Promise.all([1, 2, 3, 4].map(() => running.as('clerk')));
});
afterAll(() => running.stop());

test('what was acknowledged to two hundred clients is there once, with all of its history', async () => {
  const { form, owner } = running;
  const sheetId = form.sheet.id;
  const before = (await owner.get<RowsView>(paths.rows(sheetId, 0, 1))).count;
  /** By record: the notes that were acknowledged, in their order. */
  const acknowledged = new Map<string, string[]>();
  const statuses = new Map<number, number>();
  const told = (status: number): void => void statuses.set(status, (statuses.get(status) ?? 0) + 1);
  const until = Date.now() + FOR_MS;

  const work = async (n: number): Promise<void> => {
    const client = clerks[n % clerks.length] ?? owner;
    for (let turn = 0; Date.now() < until; turn += 1) {
      const note = `n${n} t${turn}`;
      const writeId = randomUUID();
      const submit = { writeId, answers: { ...goodAnswers(form), 'samples.notes': note } };
      // A third of them press twice: the second gets the first one's answer.
      const sending = Array.from({ length: n % 3 === 0 ? 2 : 1 }, () =>
        client.ask<Landed>('POST', paths.submits(form.id), submit),
      );
      const [first, second] = await Promise.all(sending);
      told(first?.status ?? 0);
      if (first?.status !== 201) {
        await new Promise((resolve) => setTimeout(resolve, 200));
        continue;
      }
      if (second) expect([second.status, second.body.recordId]).toEqual([201, first.body.recordId]);
      const { recordId, revision } = first.body;
      acknowledged.set(recordId, [note]);
      const asked = { text: `n${n} ash`, most: 5 };
      told((await client.ask('POST', paths.search(sheetId), asked)).status);
      const corrected = `${note} again`;
      const change = await client.ask<Landed>('PATCH', paths.record(sheetId, recordId), {
        writeId: randomUUID(),
        revision,
        answers: { 'samples.notes': corrected },
      });
      told(change.status);
      if (change.status === 200) acknowledged.get(recordId)?.push(corrected);
    }
  };
  await Promise.all(Array.from({ length: CLIENTS }, (_, n) => work(n)));

  // Everything was written, or said to be too much at once; nothing failed.
  expect([...statuses.keys()].every((status) => [200, 201, 429].includes(status))).toBe(true);
  expect(acknowledged.size).toBeGreaterThanOrEqual(CLIENTS / 2);
  running.app.get(SheetCache).drop(sheetId);
  const stored = new Map<string, unknown>();
  for (let from = 0; ; from += 1000) {
    const { records } = await owner.get<RowsView>(paths.rows(sheetId, from, 1000));
    for (const { id, cells } of records) stored.set(id, cells);
    if (records.length < 1000) break;
  }
  expect(stored.size).toBe(before + acknowledged.size);
  const notesAt = form.sheet.columns.findIndex(({ id }) => id === 'samples.notes');
  for (const [id, notes] of acknowledged) {
    expect([id, (stored.get(id) as unknown[])[notesAt]]).toEqual([id, notes.at(-1)]);
  }
  const some = [...acknowledged].filter((_, n) => n % 20 === 0);
  for (const [id, notes] of some) {
    const { entries } = await owner.get<RecordHistoryView>(paths.recordHistory(sheetId, id));
    expect(entries.map(({ kind }) => kind).reverse()).toEqual(
      ['recordAdded', 'recordChanged'].slice(0, notes.length),
    );
  }
}, 120_000);

test('a column that goes while a correction waits: what was typed into it is refused, and the rest goes on', async () => {
  const { owner, form } = running;
  const { body: landed } = await owner.ask<Landed>('POST', paths.submits(form.id), {
    writeId: randomUUID(),
    answers: goodAnswers(form),
  });
  const sheet = await owner.get<SheetView>(paths.sheet(form.sheet.id));
  const removed = await owner.ask(
    'DELETE',
    `${paths.column(sheet.id, 'samples.notes')}?revision=${sheet.revision}`,
  );
  expect(removed.status).toBeLessThan(300);
  const update = (answers: object, version?: number) =>
    owner.ask<{ message?: string }>('PATCH', paths.formRecord(form.id, landed.recordId), {
      writeId: randomUUID(),
      revision: landed.revision,
      answers: { ...goodAnswers(form), ...answers },
      ...(version !== undefined && { version }),
    });
  const refused = await update({ 'samples.notes': 'typed before it went' }, form.version);
  expect([refused.status, refused.body.message]).toEqual([
    expect.any(Number),
    expect.stringMatching(/\w{3}/),
  ]);
  expect(refused.status).toBeGreaterThanOrEqual(400);
  expect(refused.status).toBeLessThan(500);
  expect((await update({ 'samples.ph': '7.7' })).status).toBe(200);
});
