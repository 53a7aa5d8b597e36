import {
  paths,
  type ManyChanged,
  type RecordHistoryView,
  type RowsView,
  type SheetView,
  type UnderwayView,
  type Written,
} from '@varn/contract';
import { judgeChange } from '@varn/core';
import { randomUUID } from 'node:crypto';
import { mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { SheetCache } from '../store/sheetCache';
import { Store } from '../store/store';
import { start, type Client, type Running } from '../testing/harness';
import { changed as changedTo, type WriteSite } from './decision';
import { groundOf } from './judging';
import { Stage, Staging } from './staging';
import type { Decided } from './deciding';
import { WritePath } from './writePath';
import { WriteQueue } from './writeQueue';

/** Writes of many records: decided ahead, staged, carried out in turns with everyone else. */
const MANY = 650;
let running: Running;
let owner: Client;
let clerk: Client;
let sheet: SheetView;
beforeAll(async () => {
  running = await start();
  owner = running.owner;
  clerk = await running.as('clerk');
});
afterAll(() => running.stop());
beforeEach(async () => {
  const made = await owner.ask<SheetView>('POST', paths.sheets(running.workbook.id), {
    writeId: randomUUID(),
    name: `Many ${randomUUID().slice(0, 6)}`,
    headings: ['No', 'Who', 'Amount'],
  });
  sheet = made.body;
  await shape('No', { kind: 'runningNumber' });
  await shape('Amount', { kind: 'number' });
});

const id = (heading: string): string =>
  sheet.columns.find((column) => column.heading === heading)?.id ?? '';
async function shape(heading: string, change: object): Promise<void> {
  const body = { ...change, revision: sheet.revision };
  const { status } = await owner.ask('PATCH', paths.column(sheet.id, id(heading)), body);
  expect(status).toBe(200);
  sheet = await owner.get<SheetView>(paths.sheet(sheet.id));
}
const added = (count: number, from = 0): object[] =>
  Array.from({ length: count }, (_, n) => ({
    answers: { [id('Who')]: `who ${n + from}`, [id('Amount')]: String(n + from) },
  }));
const paste = (
  count: number,
  client = owner,
  writeId: string = randomUUID(),
): Promise<{ status: number; body: Written }> =>
  client.ask<Written>('POST', paths.cells(sheet.id), {
    writeId,
    revision: sheet.revision,
    added: added(count),
  });
const rows = (view = ''): Promise<RowsView> =>
  owner.get<RowsView>(paths.rows(sheet.id, 0, 1000, view));
const all = JSON.stringify({ filters: [], text: 'who' });
const matches = (act: 'change' | 'remove', count: number, more: object = {}) =>
  owner.ask<ManyChanged>(
    'POST',
    act === 'change' ? paths.changeMatches(sheet.id) : paths.removeMatches(sheet.id),
    { writeId: randomUUID(), view: all, count, ...more },
  );
const undo = (client: Client, undoes: string): Promise<{ status: number; body: Written }> =>
  client.ask<Written>('POST', paths.undo(running.workbook.id), { writeId: randomUUID(), undoes });

/** What stands in memory is what the database would give. */
async function expectStored(): Promise<unknown[][]> {
  const held = (await rows()).records;
  running.app.get(SheetCache).drop(sheet.id);
  const read = (await rows()).records;
  expect(read).toEqual(held);
  return held.map(({ cells }) => cells as unknown[]);
}

test('are stored, told and taken back as a small write is, line by line', async () => {
  const pasted = await paste(MANY);
  expect(pasted.status).toBe(200);
  const { records, seq } = pasted.body;
  // One after the other: rows, counts before and after, numbers, sequence.
  expect(records.map(({ row }) => row)).toEqual(records.map((_, n) => sheet.headingRow + 1 + n));
  expect(records.map(({ before, after }) => [before, after])).toEqual(
    records.map((_, n) => [n, n + 1]),
  );
  expect(records.map((record) => record.seq)).toEqual(records.map((_, n) => seq - MANY + 1 + n));
  expect((await expectStored()).map(([no]) => no)).toEqual(records.map((_, n) => String(n + 1)));

  const done = await matches('change', MANY, { columnId: id('Who'), text: 'who else' });
  expect([done.status, done.body.changed]).toEqual([200, MANY]);
  expect(new Set((await expectStored()).map(([, who]) => who))).toEqual(new Set(['who else']));
  const history = await owner.get<RecordHistoryView>(
    paths.recordHistory(sheet.id, records[3]?.recordId ?? ''),
  );
  expect(history.entries.map(({ kind, revision }) => [kind, revision])).toEqual([
    ['recordChanged', 2],
    ['recordAdded', 1],
  ]);

  const gone = await matches('remove', MANY);
  expect([gone.status, (await expectStored()).length]).toEqual([200, 0]);
  expect((await undo(owner, gone.body.writeId)).status).toBe(200);
  expect((await undo(owner, done.body.writeId)).status).toBe(200);
  const back = await expectStored();
  expect(back.map(([no, who]) => [no, who])).toEqual(
    back.map((_, n) => [String(n + 1), `who ${n}`]),
  );
}, 30_000);

test('are of few wide records too, which are told and taken back alike', async () => {
  const width = 110;
  const headings = Array.from({ length: width }, (_, n) => `Measure ${n}`);
  const made = { writeId: randomUUID(), name: `Wide ${randomUUID().slice(0, 6)}`, headings };
  sheet = (await owner.ask<SheetView>('POST', paths.sheets(running.workbook.id), made)).body;
  const answers = (text: string): object =>
    Object.fromEntries(sheet.columns.map((column, n) => [column.id, `${text} ${n}`]));
  const staged = jest.spyOn(running.app.get(Staging), 'alone');
  const edit = async (edits: object): Promise<Written> => {
    const body = { writeId: randomUUID(), revision: sheet.revision, ...edits };
    const told = await owner.ask<Written>('POST', paths.cells(sheet.id), body);
    expect(told.status).toBe(200);
    return told.body;
  };
  const { records } = await edit({
    added: Array.from({ length: 50 }, (_, n) => ({ answers: answers(`first ${n}`) })),
  });
  const { writeId } = await edit({
    records: records.map(({ recordId, revision }, n) => {
      return { id: recordId, revision, answers: answers(`then ${n}`) };
    }),
  });
  const texts = (text: string): unknown[][] =>
    records.map((_, n) => headings.map((_heading, column) => `${text} ${n} ${column}`));
  expect(await expectStored()).toEqual(texts('then'));
  expect((await undo(owner, writeId)).status).toBe(200);
  expect(await expectStored()).toEqual(texts('first'));
  expect(staged).toHaveBeenCalledTimes(3);
}, 30_000);

test('asked again under its write id gives the first answer, and another under it is refused', async () => {
  const writeId = randomUUID();
  const [first, second] = [await paste(MANY, owner, writeId), await paste(MANY, owner, writeId)];
  expect(second.body.records).toEqual(first.body.records);
  expect((await rows()).count).toBe(MANY);
  expect((await paste(MANY + 1, owner, writeId)).status).toBe(409);
});

test('go beside the writes of others, and each is written once, with numbers of its own', async () => {
  await paste(5);
  const others = Array.from({ length: 30 }, async (_, n) => {
    await new Promise((resolve) => setTimeout(resolve, n * 5));
    return paste(1, clerk);
  });
  const large = [paste(MANY), paste(MANY, clerk)];
  for (const { status } of await Promise.all([...others, ...large])) expect(status).toBe(200);
  expect((await rows()).count).toBe(5 + 30 + 2 * MANY);
  const numbers = [
    ...(await rows()).records,
    ...(await owner.get<RowsView>(paths.rows(sheet.id, 1000, 1000))).records,
  ].map(({ cells }) => Number(cells[0]));
  expect(numbers.toSorted((a, b) => a - b)).toEqual(numbers.map((_, n) => n + 1));
  await expectStored();
}, 30_000);

test.each([1, MANY])(
  'numbers begin with the figures of their pattern, and go on above what is there: %i at once',
  async (count) => {
    const numbers = async (): Promise<unknown[]> => {
      const { records } = await owner.get<RowsView>(paths.rows(sheet.id, 0, 1000));
      return records.map(({ cells }) => cells[0]);
    };
    await shape('No', { settings: { pattern: 'INV-0041' } });
    await paste(count);
    const first = await numbers();
    expect([first[0], first.at(-1)]).toEqual([
      'INV-0041',
      `INV-${String(40 + count).padStart(4, '0')}`,
    ]);
    // As an earlier version counted them: in tens.
    await shape('No', { kind: 'text' });
    const [record] = (await rows()).records;
    await owner.ask('PATCH', paths.record(sheet.id, record?.id ?? ''), {
      writeId: randomUUID(),
      revision: record?.revision,
      answers: { [id('No')]: 'INV-9021' },
    });
    await shape('No', { kind: 'runningNumber', settings: { pattern: 'INV-0041' } });
    await paste(1);
    expect((await numbers()).at(-1)).toBe('INV-9022');
  },
);

describe('decided on what was changed before it is carried out', () => {
  /** Decides of all records, and lets something happen in between. */
  const deciding = (between: (attempt: number) => void) => {
    let attempts = 0;
    return function* (site: WriteSite): Generator<undefined, Decided> {
      attempts += 1;
      const { model } = site;
      const decisions = Array.from({ length: model.count }, (_, at) => {
        const record = model.at(at);
        const given = { [id('Who')]: { value: 'all' } };
        return changedTo(record, judgeChange(given, record.cells, groundOf(site)));
      });
      between(attempts);
      yield;
      return { decisions };
    };
  };
  const order = async () => {
    const { person } = await owner.get<{ person: { id: string; name: string } }>(paths.session);
    return {
      sheetId: sheet.id,
      writeId: randomUUID(),
      writer: person,
      door: 'grid' as const,
      asked: ['t'],
    };
  };

  test('is decided anew, and nothing of the other is lost', async () => {
    await paste(MANY);
    const [first] = (await rows()).records;
    const others: Promise<unknown>[] = [];
    const decide = deciding((attempt) => {
      if (attempt > 1) return;
      const body = { writeId: randomUUID(), revision: 1, answers: { [id('Amount')]: '77' } };
      others.push(clerk.ask('PATCH', paths.record(sheet.id, first?.id ?? ''), body));
    });
    // The other is in before what was decided is carried out.
    const slowly = function* (site: WriteSite): Generator<undefined, Decided> {
      const steps = decide(site);
      for (let step = steps.next(); ; step = steps.next()) {
        if (step.done === true) return step.value;
        const until = performance.now() + 30;
        while (performance.now() < until);
        yield;
      }
    };
    await running.app.get(WritePath).writeMany(await order(), slowly, { records: MANY });
    await Promise.all(others);
    const cells = await expectStored();
    expect(cells[0]?.slice(1)).toEqual(['all', 77]);
    expect(new Set(cells.map(([, who]) => who))).toEqual(new Set(['all']));
  });

  test('on a disk that is full writes nothing, and goes on when there is room', async () => {
    await paste(MANY);
    const store = running.app.get(Store);
    const limit = (pages: string): Promise<unknown> =>
      store.withConnection((database) => {
        database.pragma('wal_checkpoint(TRUNCATE)');
        return database.pragma(`max_page_count = ${pages}`);
      });
    await limit('1');
    const asked = { columnId: id('Who'), text: `who ${'x'.repeat(2000)}` };
    const refused = await matches('change', MANY, asked);
    expect(refused.status).toBe(507);
    expect((await expectStored()).map(([, who]) => who)).toContain('who 7');
    await limit('1073741823');
    expect((await matches('change', MANY, asked)).status).toBe(200);
    await expectStored();
  });
});

test('a sheet that was forgotten while a write waited is read anew, and nothing is written past it', async () => {
  const [cache, queue] = [running.app.get(SheetCache), running.app.get(WriteQueue)];
  for (const count of [1, MANY]) {
    const before = (await rows()).count;
    const method = count === 1 ? 'run' : 'runAlone';
    const waits = queue[method].bind(queue) as (...all: unknown[]) => Promise<unknown>;
    jest.spyOn(queue, method).mockImplementationOnce(async (...all: unknown[]) => {
      // As after a commit that failed: it is dropped, and someone reads it before the write's turn.
      cache.drop(sheet.id);
      await rows();
      return await waits(...all);
    });
    expect((await paste(count)).status).toBe(200);
    expect((await rows()).count).toBe(before + count);
    await expectStored();
  }
});

describe('a formula that takes long, computed as each record is written', () => {
  beforeEach(async () => {
    const column = {
      heading: 'Sum',
      kind: 'computed',
      formula: "=ROWS(SEQUENCE(450000))+LEN('Who')",
      follows: false,
      revision: sheet.revision,
    };
    const { status } = await owner.ask('POST', paths.columns(sheet.id), column);
    expect(status).toBe(201);
    sheet = await owner.get<SheetView>(paths.sheet(sheet.id));
  });

  test('some records are written in turns, each with its value; too many are refused', async () => {
    const few = await paste(12);
    expect([few.status, few.body.refused]).toEqual([200, []]);
    const sums = (await expectStored()).map((cells) => cells.at(-1));
    expect(sums).toEqual(Array.from({ length: 12 }, (_, n) => 450_000 + `who ${n}`.length));
    const many = await paste(400);
    expect([many.status, many.body]).toMatchObject([
      422,
      { message: expect.stringContaining('take too long for so many records at once') as string },
    ]);
    expect((await rows()).count).toBe(12);
  });
});

describe('a large write that is cancelled', () => {
  const underway = (writeId: string): string => paths.underway(running.workbook.id, writeId);
  const shareOf = async (writeId: string, client = owner): Promise<number | null> =>
    (await client.get<UnderwayView>(underway(writeId))).share;

  test.each([0, 0.2, 0.5, 0.65, 0.85, 0.99])(
    'when %d of it is done leaves all as it was, or is told that it is too late',
    async (from) => {
      await paste(3000);
      const before = await expectStored();
      const writeId = randomUUID();
      const text = `other ${from}`;
      const changing = matches('change', 3000, { writeId, columnId: id('Who'), text });
      let share = 0;
      for (;;) {
        const now = await shareOf(writeId);
        if (now === null && share > 0) break;
        share = Math.max(share, now ?? 0);
        if (now !== null && now >= from) break;
        // Nobody else is told, or may cancel it.
        expect(await shareOf(writeId, clerk)).toBeNull();
        expect((await clerk.ask('DELETE', underway(writeId))).status).toBe(409);
      }
      const cancelled = await owner.ask<{ message?: string }>('DELETE', underway(writeId));
      const { status, body } = await changing;
      if (cancelled.status === 204) {
        expect([status, (body as { message?: string }).message]).toEqual([
          409,
          'Stopped. Nothing was changed.',
        ]);
        expect(await expectStored()).toEqual(before);
      } else {
        expect([cancelled.status, status]).toEqual([409, 200]);
        expect(cancelled.body.message).toMatch(/already stored/);
      }
      // Asked again, it is done.
      const again = await matches('change', 3000, { writeId, columnId: id('Who'), text });
      expect([again.status, again.body.changed]).toEqual([200, 3000]);
      expect(await shareOf(writeId)).toBeNull();
    },
  );
});

describe('of more records than are held in memory at once', () => {
  const COUNT = 52_000;
  const texts = async (): Promise<Set<unknown>> => {
    const found = await owner.get<RowsView>(paths.rows(sheet.id, COUNT - 500, 500));
    return new Set(found.records.map(({ cells }) => (cells as unknown[])[1]));
  };
  const count = async (): Promise<number> =>
    (await owner.get<RowsView>(paths.rows(sheet.id, 0, 1))).count;
  beforeEach(async () => {
    await running.app.get(Store).withConnection((database) => {
      const insert = database.prepare(
        `INSERT INTO record (id, sheet_id, order_key, revision, cells) VALUES (?, ?, ?, 1, ?)`,
      );
      database.transaction(() => {
        for (let n = 0; n < COUNT; n += 1) {
          const cells = { [id('Who')]: `who ${n % 7}`, [id('Amount')]: n };
          insert.run(`${sheet.id} ${n}`, sheet.id, n * 1000, JSON.stringify(cells));
        }
      })();
    });
    running.app.get(SheetCache).drop(sheet.id);
  });

  test('are changed, removed and taken back as one write each; keys only as many as can be held', async () => {
    const asked = { columnId: id('Who'), text: 'who else' };
    const { body: beside } = await owner.ask<SheetView>('POST', paths.sheets(running.workbook.id), {
      ...{ writeId: randomUUID(), name: `Beside ${randomUUID().slice(0, 6)}`, headings: ['One'] },
    });
    const changing = matches('change', COUNT, asked);
    // What is large in the usual way does not wait until all these are decided.
    const pasting = owner.ask('POST', paths.cells(beside.id), {
      ...{ writeId: randomUUID(), revision: beside.revision },
      added: Array.from({ length: MANY }, () => ({
        answers: { [beside.columns[0]?.id ?? '']: 'x' },
      })),
    });
    const first = await Promise.race([
      changing.then(() => 'changed'),
      pasting.then(() => 'pasted'),
    ]);
    expect([first, (await pasting).status]).toEqual(['pasted', 200]);
    const done = await changing;
    expect([done.status, done.body]).toMatchObject([200, { changed: COUNT, left: 0 }]);
    expect(await texts()).toEqual(new Set(['who else']));
    const gone = await matches('remove', COUNT);
    expect([gone.status, gone.body.changed, await count()]).toEqual([200, COUNT, 0]);
    const back = await undo(owner, gone.body.writeId);
    // Where each is, is told of few.
    expect([back.status, back.body.records]).toEqual([200, []]);
    expect([await count(), await texts()]).toEqual([COUNT, new Set(['who else'])]);
    running.app.get(SheetCache).drop(sheet.id);
    expect([await count(), await texts()]).toEqual([COUNT, new Set(['who else'])]);
    await shape('Amount', { settings: { key: true } });
    const keyed = await matches('change', COUNT, { columnId: id('Amount'), text: "='Amount'+1" });
    expect([keyed.status, keyed.body]).toMatchObject([400, { code: 'tooMany' }]);
  }, 240_000);
});

test('what is brought into memory holds up writes of its own sheet, and of no other', async () => {
  await paste(MANY);
  const other = running.form.sheet.id;
  const { records } = await owner.get<RowsView>(paths.rows(other, 0, 1));
  const first = (await rows()).records[0];
  let open = (): void => undefined;
  const gate = new Promise<void>((resolve) => (open = resolve));
  let isStored = (): void => undefined;
  const stored = new Promise<void>((resolve) => (isStored = resolve));
  // eslint-disable-next-line @typescript-eslint/unbound-method -- called with its stage
  const { page } = Stage.prototype;
  jest.spyOn(Stage.prototype, 'page').mockImplementationOnce(async function (
    this: Stage,
    ...some: [number, number]
  ) {
    isStored();
    await gate;
    return page.apply(this, some);
  });
  const changing = matches('change', MANY, { columnId: id('Who'), text: 'who else' });
  await stored;
  const patch = (sheetId: string, recordId: string, revision: number, answers: object) =>
    clerk.ask('PATCH', paths.record(sheetId, recordId), {
      writeId: randomUUID(),
      revision,
      answers,
    });
  const [sample] = records;
  const { status } = await patch(other, sample?.id ?? '', sample?.revision ?? 0, {
    'samples.ph': '7.1',
  });
  expect(status).toBe(200);
  const own = patch(sheet.id, first?.id ?? '', 2, { [id('Amount')]: '88' });
  const early = await Promise.race([own, new Promise((go) => setTimeout(() => go('waits'), 300))]);
  expect(early).toBe('waits');
  open();
  expect([(await changing).status, (await own).status]).toEqual([200, 200]);
  expect((await expectStored())[0]?.slice(1)).toEqual(['who else', 88]);
});

test('one that takes back records whose key was taken meanwhile changes nothing', async () => {
  await paste(MANY);
  await shape('Who', { settings: { key: true } });
  const gone = await matches('remove', MANY);
  await paste(1);
  const refused = await undo(owner, gone.body.writeId);
  expect([refused.status, (await rows()).count]).toEqual([422, 1]);
  const [taker] = (await rows()).records;
  await owner.ask('POST', paths.removeRows(sheet.id), {
    ...{ writeId: randomUUID(), revision: sheet.revision, rows: [] },
    records: [{ id: taker?.id, revision: taker?.revision }],
  });
  expect((await undo(owner, gone.body.writeId)).status).toBe(200);
  expect(await expectStored()).toHaveLength(MANY);
});

test('a stopping server leaves off what is not decided yet, whole, and finishes what is', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'varn-many-'));
  for (const delay of [5, 60, 250, 600]) {
    const own = await start({ data: folder });
    const made = await own.owner.ask<SheetView>('POST', paths.sheets(own.workbook.id), {
      ...{ writeId: randomUUID(), name: `Stopped ${delay}`, headings: ['No', 'Who', 'Amount'] },
    });
    sheet = made.body;
    expect((await paste(2000, own.owner)).status).toBe(200);
    const changing = own.owner
      .ask('POST', paths.changeMatches(sheet.id), {
        ...{ writeId: randomUUID(), view: all, count: 2000 },
        ...{ columnId: id('Who'), text: 'who else' },
      })
      .then(({ status }) => status)
      // Its connection may be ended before it is answered.
      .catch(() => 0);
    await new Promise((go) => setTimeout(go, delay));
    await own.stop();
    const status = await changing;
    expect([0, 200, 503]).toContain(status);
    const again = await start({ data: folder });
    const pages = [0, 1000].map((from) =>
      again.owner.get<RowsView>(paths.rows(sheet.id, from, 1000)),
    );
    const records = (await Promise.all(pages)).flatMap((page) => page.records);
    const changed = records.filter(({ cells }) => (cells as unknown[])[1] === 'who else');
    expect(records).toHaveLength(2000);
    expect(status === 200 ? [2000] : status === 503 ? [0] : [0, 2000]).toContain(changed.length);
    expect(readdirSync(folder).filter((name) => name.includes('staging'))).toEqual([]);
    await again.stop();
  }
  rmSync(folder, { recursive: true });
}, 120_000);
