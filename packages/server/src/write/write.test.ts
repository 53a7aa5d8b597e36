import {
  paths,
  type FormView,
  type Landed,
  type Refusal,
  type RowsView,
  type SheetView,
  type Written,
} from '@varn/contract';
import { columnIdsOf } from '@varn/core';
import { randomUUID } from 'node:crypto';
import { SheetCache } from '../store/sheetCache';
import { Store } from '../store/store';
import { goodAnswers, start, type Answer, type Client, type Running } from '../testing/harness';

let running: Running;
let form: FormView;
let answers: Record<string, string>;
beforeAll(async () => {
  running = await start();
  form = running.form;
  answers = goodAnswers(form);
});
afterAll(() => running.stop());

const submit = (
  by: Client,
  writeId: string = randomUUID(),
  typed = answers,
): Promise<Answer<Landed>> =>
  by.ask<Landed>('POST', paths.submits(form.id), { writeId, answers: typed });
const count = async (): Promise<number> =>
  (await running.owner.get<SheetView>(paths.sheet(form.sheet.id))).count;
const numberOf = ({ cells }: Landed): number =>
  Number((cells['samples.number'] as string).slice(3));
const undo = async (by: Client, undoes: string): Promise<Answer<Landed>> => {
  const path = paths.undo(running.workbook.id);
  const answer = await by.ask<Written>('POST', path, { writeId: randomUUID(), undoes });
  return { ...answer, body: (answer.body as Partial<Written>).records?.[0] as Landed };
};

test('a submit lands at the end, in the grid’s row, with what Varn fills in', async () => {
  const before = await count();
  const { status, body } = await submit(running.owner);
  expect(status).toBe(201);
  // The heading stands in row 4, so the record at position n stands in row n + 5.
  expect(body).toMatchObject({
    kind: 'recordAdded',
    row: before + 5,
    before,
    after: before + 1,
    revision: 1,
  });
  expect(body.cells).toMatchObject({
    'samples.date': '2026-11-24',
    'samples.time': '09:30',
    'samples.river': 'Ash Beck',
    'samples.ph': 7.2,
    'samples.written-by': 'Ines Halloran',
  });
  expect(body.cells['samples.number']).toBe('RW-00021');
  expect(body.cells['samples.written-at']).toMatch(/^\d{4}-\d\d-\d\dT\d\d:\d\d(:\d\d)?$/);
});

test('the same submit sent five times at once writes one row, and each gets the same answer', async () => {
  const before = await count();
  const writeId = randomUUID();
  const all = await Promise.all(Array.from({ length: 5 }, () => submit(running.owner, writeId)));
  expect(all.map(({ status }) => status)).toEqual([201, 201, 201, 201, 201]);
  for (const { body } of all) expect(body).toEqual(all[0]?.body);
  expect(await count()).toBe(before + 1);
  const other = await running.owner.ask<Refusal>('POST', paths.submits(form.id), {
    writeId,
    answers: { ...answers, 'samples.ph': '8' },
  });
  expect([other.status, other.body.code]).toEqual([409, 'writeIdUsed']);
  const someone = await submit(await running.as('clerk'), writeId);
  expect(someone.status).toBe(409);
});

test('50 submits at once get 50 numbers without gaps; refused ones among them use none up', async () => {
  const first = numberOf((await submit(running.owner)).body) + 1;
  const wrong = { ...answers, 'samples.ph': 'x' };
  const all = await Promise.all(
    Array.from({ length: 60 }, (_, n) =>
      submit(running.owner, randomUUID(), n % 6 === 5 ? wrong : answers),
    ),
  );
  const written = all.filter(({ status }) => status === 201).map(({ body }) => numberOf(body));
  expect(written.sort((a, b) => a - b)).toEqual(Array.from({ length: 50 }, (_, n) => first + n));
  expect(all.filter(({ status }) => status === 422)).toHaveLength(10);
});

test('the server holds the line when the browser is bypassed: 422 with one verdict per column', async () => {
  const before = await count();
  const { status, body } = await running.owner.ask<Refusal>('POST', paths.submits(form.id), {
    writeId: randomUUID(),
    answers: {
      'samples.date': '31/2/2026',
      'samples.ph': 'seven',
      'samples.number': 'RW-9',
      'samples.time': ' ',
    },
  });
  expect(status).toBe(422);
  expect(
    Object.fromEntries((body.verdicts ?? []).map(({ columnId, code }) => [columnId, code])),
  ).toEqual({
    'samples.date': 'noSuchDay',
    'samples.ph': 'notANumber',
    'samples.number': 'notTyped',
    'samples.time': 'required',
    'samples.river': 'required',
    'samples.station': 'required',
    'samples.observer': 'required',
    'samples.water-temp': 'required',
  });
  expect(body.verdicts?.find(({ code }) => code === 'notANumber')?.message).toContain(
    '‘seven’ is not a number',
  );
  expect(await count()).toBe(before);
});

describe('undo', () => {
  test('takes a submit back, leaves a gap, and putting back keeps number and place', async () => {
    const { body: first } = await submit(running.owner);
    const { body: second } = await submit(running.owner);
    const { body: taken } = await undo(running.owner, first.writeId);
    expect(taken).toMatchObject({
      kind: 'recordRemoved',
      row: first.row,
      before: second.after,
      after: second.after - 1,
    });
    const { body: third } = await submit(running.owner);
    expect(numberOf(third)).toBe(numberOf(second) + 1);
    const { body: back } = await undo(running.owner, taken.writeId);
    expect(back).toMatchObject({ kind: 'recordPutBack', row: first.row, recordId: first.recordId });
    expect(numberOf(back)).toBe(numberOf(first));
  });

  test('is for one’s own writes, and not for a record changed since', async () => {
    const { body: landed } = await submit(running.owner);
    expect((await undo(await running.as('clerk'), landed.writeId)).status).toBe(403);
    expect((await undo(running.owner, randomUUID())).status).toBe(404);
    const changed = await running.owner.ask<Landed>(
      'PATCH',
      paths.record(landed.sheetId, landed.recordId),
      {
        writeId: randomUUID(),
        revision: landed.revision,
        answers: { 'samples.ph': '6.9', 'samples.nitrate': '' },
      },
    );
    expect(changed.body).toMatchObject({ kind: 'recordChanged', revision: 2, row: landed.row });
    expect((await undo(running.owner, landed.writeId)).status).toBe(409);
    const { body } = await undo(running.owner, changed.body.writeId);
    expect(body.cells['samples.ph']).toBe(7.2);
  });
});

test('a record changed since is not overwritten: 409, and nothing is written', async () => {
  const { body: landed } = await submit(running.owner);
  const patch = (revision: number, typed: object): Promise<Answer<Landed & Refusal>> =>
    running.owner.ask('PATCH', paths.record(landed.sheetId, landed.recordId), {
      writeId: randomUUID(),
      revision,
      answers: typed,
    });
  expect((await patch(1, { 'samples.ph': '6' })).status).toBe(200);
  const late = await patch(1, { 'samples.ph': '5' });
  expect([late.status, late.body.code]).toEqual([409, 'changedSince']);
  expect((await patch(2, { 'samples.written-by': 'me' })).status).toBe(422);
  expect((await patch(2, { 'no such': 'x' })).status).toBe(404);
  const again = await patch(2, { 'samples.notes': 'ok' });
  expect(again.body.cells).toMatchObject({
    'samples.ph': 6,
    'samples.notes': 'ok',
    'samples.number': landed.cells['samples.number'],
  });
});

test('columns moved, renamed and added between two submits: the same answers land in the same columns', async () => {
  const { body: first } = await submit(running.owner);
  const revise = async (method: string, path: string, change: object): Promise<SheetView> => {
    const { revision } = await running.owner.get<SheetView>(paths.sheet(form.sheet.id));
    const { status, body } = await running.owner.ask<SheetView>(method, path, {
      ...change,
      revision,
    });
    expect(status).toBeLessThan(300);
    return body;
  };
  await revise('PATCH', paths.column(form.sheet.id, 'samples.ph'), {
    place: 0,
    heading: 'Acidity',
  });
  await revise('POST', paths.columns(form.sheet.id), { heading: 'Foam', kind: 'yesNo', place: 1 });
  const sheet = await revise('PATCH', paths.column(form.sheet.id, 'samples.date'), { place: 20 });
  expect(sheet.columns.slice(0, 3).map(({ heading }) => heading)).toEqual([
    'Acidity',
    'Foam',
    'Number',
  ]);
  const { body: second } = await submit(running.owner);
  const own = ['samples.number', 'samples.written-at'];
  const typed = ({ cells }: Landed): [string, unknown][] =>
    Object.entries(cells)
      .filter(([id]) => !own.includes(id))
      .sort();
  expect(typed(second)).toEqual(typed(first));
  const { records } = await running.owner.get<RowsView>(paths.rows(sheet.id, second.before, 1));
  expect(records[0]?.cells[0]).toBe(7.2);
  const stale = await running.owner.ask('PATCH', paths.column(sheet.id, 'samples.ph'), {
    place: 3,
    revision: 1,
  });
  expect(stale.status).toBe(409);
  const taken = await running.owner.ask<Refusal>('PATCH', paths.column(sheet.id, 'samples.ph'), {
    heading: ' Foam',
    revision: sheet.revision,
  });
  expect([taken.status, taken.body.code]).toEqual([409, 'headingTaken']);
});

test('answers to a field whose column was deleted meanwhile are refused by its name, at every door of a form', async () => {
  const notes = 'samples.notes';
  const { owner } = running;
  const path = paths.column(form.sheet.id, notes);
  const { body: landed } = await submit(owner);
  const revision = async (): Promise<number> =>
    (await owner.get<SheetView>(paths.sheet(form.sheet.id))).revision;
  expect((await owner.ask('DELETE', `${path}?revision=${await revision()}`)).status).toBe(200);
  const before = await count();
  const typed = { ...answers, [notes]: 'seen from the bank' };
  const of = { revision: landed.revision };
  const doors = [
    ['POST', paths.submits(form.id), {}],
    ['POST', paths.submits(form.id), { version: form.version }],
    ['POST', paths.trials(form.id), {}],
    ['PATCH', paths.formRecord(form.id, landed.recordId), of],
    ['PATCH', paths.formRecord(form.id, landed.recordId), { ...of, version: form.version }],
  ] as const;
  for (const [method, door, more] of doors) {
    const body = { writeId: randomUUID(), answers: typed, ...more };
    const { status, body: said } = await owner.ask<Refusal>(method, door, body);
    expect([door, status, said.message]).toEqual([door, 409, expect.stringContaining('‘Notes’')]);
  }
  expect(await count()).toBe(before);
  // What stood there untouched was typed by nobody: it goes with its field.
  const untouched = { writeId: randomUUID(), answers: typed, untouched: [notes] };
  expect((await owner.ask('POST', paths.submits(form.id), untouched)).status).toBe(201);
  const back = await owner.ask('POST', `${path}/put-back`, { revision: await revision() });
  expect(back.status).toBe(200);
});

test('the cache equals the database after random writes at once', async () => {
  const clerk = await running.as('clerk');
  // A seeded walk: the same each run.
  let state = 7;
  const random = (below: number): number => (state = (state * 48_271) % 2_147_483_647) % below;
  const alive: Landed[] = [];
  for (let round = 0; round < 12; round += 1) {
    const writes = Array.from({ length: 12 }, async () => {
      const held = alive.length > 0 ? alive[random(alive.length)] : undefined;
      const at = held && paths.record(held.sheetId, held.recordId);
      const guard = { writeId: randomUUID(), revision: held?.revision };
      switch (random(5)) {
        case 0:
          return at && clerk.ask<Landed>('POST', `${at}/remove`, guard);
        case 1:
          return (
            at &&
            clerk.ask<Landed>('PATCH', at, {
              ...guard,
              answers: { 'samples.ph': String(random(14)), 'samples.notes': random(2) ? 'x' : '' },
            })
          );
        case 2:
          return at && clerk.ask<Landed>('POST', `${at}/put-back`, guard);
        default:
          return submit(clerk);
      }
    });
    for (const answer of await Promise.all(writes)) {
      if (!answer || answer.status >= 300) continue;
      const at = alive.findIndex(({ recordId }) => recordId === answer.body.recordId);
      if (at < 0) alive.push(answer.body);
      else alive[at] = answer.body;
    }
  }
  const cache = running.app.get(SheetCache);
  const told = async (): Promise<unknown[]> => {
    const model = await cache.model(form.sheet.id);
    return Array.from({ length: model.count }, (_, position) => model.at(position));
  };
  const kept = await told();
  cache.drop(form.sheet.id);
  expect(await told()).toEqual(kept);
  expect(kept.length).toBe(await cache.count(form.sheet.id));
  const logged = await running.app
    .get(Store)
    .withConnection(
      (database) =>
        database
          .prepare(
            `SELECT sum(kind IN ('recordAdded', 'recordPutBack')) - sum(kind = 'recordRemoved') AS n FROM change`,
          )
          .get() as { n: number },
    );
  expect(logged.n).toBe(kept.length - 20);
});

test('events resume after any sequence number, each once and in order', async () => {
  const clerk = await running.as('clerk');
  const { body: from } = await submit(clerk);
  const live = clerk.events(running.workbook.id, from.seq, 4);
  const { body: a } = await submit(clerk);
  const { body: b } = await submit(clerk);
  const { body: c } = await undo(clerk, a.writeId);
  await running.owner.ask('POST', paths.sheetForms(form.sheet.id), {
    writeId: randomUUID(),
    name: 'Another',
  });
  const told = await live;
  expect(told.map(({ seq, kind }) => [seq, kind])).toEqual([
    [a.seq, 'recordAdded'],
    [b.seq, 'recordAdded'],
    [c.seq, 'recordRemoved'],
    [c.seq + 1, 'formAdded'],
  ]);
  expect(told[0]?.landed).toEqual(a);
  expect(await clerk.events(running.workbook.id, b.seq, 2)).toEqual(told.slice(2));
});

test('a form is made of a sheet by one click, once however often it is sent, and renamed under a guard', async () => {
  const make = { writeId: randomUUID() };
  const path = paths.sheetForms(form.sheet.id);
  const first = await running.owner.ask<{ id: string; name: string }>('POST', path, make);
  const again = await running.owner.ask<{ id: string }>('POST', path, make);
  expect(again.body).toEqual(first.body);
  const made = await running.owner.get<FormView>(paths.form(first.body.id));
  expect(made.definition.blocks.flatMap(columnIdsOf)).toEqual(
    made.sheet.columns.map(({ id }) => id),
  );
  const rename = (revision: number, name: string): Promise<Answer<Refusal>> =>
    running.owner.ask('PATCH', paths.form(made.id), { revision, name });
  expect((await rename(1, 'دفتر العيّنات 🧪')).status).toBe(200);
  expect((await rename(1, 'Late')).status).toBe(409);
  expect((await rename(2, '  ')).status).toBe(400);
  expect((await running.owner.get<FormView>(paths.form(made.id))).name).toBe('دفتر العيّنات 🧪');
});

test('a cell of 100,000 characters, right-to-left and emoji, is kept to the letter; a body over 2 MB is 413', async () => {
  const long = `${'שלום 👩‍🔬 '.repeat(9000)}end`.slice(0, 100_000);
  const { status, body } = await submit(running.owner, randomUUID(), {
    ...answers,
    'samples.notes': long,
  });
  expect([status, body.cells['samples.notes']]).toEqual([201, long]);
  const over = await running.owner.ask<Refusal>('POST', paths.submits(form.id), {
    writeId: randomUUID(),
    answers: { 'samples.notes': 'x'.repeat(2_200_000) },
  });
  expect([over.status, over.body.code]).toEqual([413, 'tooLarge']);
});
