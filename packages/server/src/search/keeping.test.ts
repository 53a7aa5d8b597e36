import {
  paths,
  type DraftView,
  type FormView,
  type KnownRecordView,
  type Landed,
  type QuestionEntry,
  type RowsView,
  type TodayView,
  type WorkbookView,
} from '@varn/contract';
import { randomUUID } from 'node:crypto';
import { start, type Client, type Running } from '../testing/harness';

/** A key that exists, what was written today, questions with a name, newest on top. */
let running: Running;
let owner: Client;
let clerk: Client;
let reader: Client;
beforeAll(async () => {
  running = await start();
  owner = running.owner;
  [clerk, reader] = [await running.as('clerk'), await running.as('reader')];
});
afterAll(() => running.stop());

/** A form that makes a sheet of its own, by its outline's blocks. */
async function formOf(name: string, lands?: 'top'): Promise<FormView> {
  const { body: made } = await owner.ask<{ id: string }>(
    'POST',
    paths.sheets(running.workbook.id),
    {
      writeId: randomUUID(),
      name: `${name} ${randomUUID().slice(0, 6)}`,
      headings: ['Tag', 'Who'],
    },
  );
  const sheet = await owner.get<FormView['sheet']>(paths.sheet(made.id));
  const [tag, who] = sheet.columns;
  await owner.ask('PATCH', paths.column(sheet.id, tag?.id ?? ''), {
    revision: sheet.revision,
    settings: { key: true },
  });
  const { body: form } = await owner.ask<FormView>('POST', paths.forms(running.workbook.id), {
    writeId: randomUUID(),
    name,
    sheetId: sheet.id,
  });
  const blocks = [tag, who].map((column) => ({
    is: 'field',
    id: column?.id,
    columnId: column?.id,
  }));
  const draft = await owner.ask<{ revision: number }>('PUT', paths.draft(form.id), {
    revision: (await owner.get<DraftView>(paths.draft(form.id))).revision,
    definition: { blocks, ...(lands && { entering: { lands } }) },
    columns: [],
  });
  expect([draft.status, draft.body]).toMatchObject([200, {}]);
  const used = await owner.ask('POST', paths.use(form.id), {
    writeId: randomUUID(),
    revision: draft.body.revision,
  });
  expect([used.status, used.body]).toMatchObject([200, {}]);
  return owner.get<FormView>(paths.form(form.id));
}

const enter = async (client: Client, form: FormView, tag: string): Promise<Landed> => {
  const [key] = form.sheet.columns;
  const { body, status } = await client.ask<Landed>('POST', paths.submits(form.id), {
    writeId: randomUUID(),
    answers: { [key?.id ?? '']: tag },
    untouched: [],
  });
  expect([status, body]).toMatchObject([201, {}]);
  return body;
};
const tagsIn = async (form: FormView): Promise<unknown[]> => {
  const { records } = await owner.get<RowsView>(paths.rows(form.sheet.id, 0, 50));
  return records.map(({ cells }) => cells[0]);
};

test('a key that exists is known as it is typed, whatever its case and spaces; others are not', async () => {
  const form = await formOf('Tags');
  const landed = await enter(owner, form, 'KL-0007');
  const key = form.sheet.columns[0]?.id ?? '';
  const known = async (text: string): Promise<KnownRecordView> =>
    (
      await clerk.ask<KnownRecordView>('POST', paths.known(form.sheet.id), {
        answers: { [key]: text },
      })
    ).body;
  const record = { id: landed.recordId, name: 'KL-0007', row: landed.row };
  for (const text of ['KL-0007', ' kl-0007 ']) expect(await known(text)).toEqual({ record });
  for (const text of ['', ' ', 'KL-000', 'KL-0008']) expect(await known(text)).toEqual({});
  await owner.ask('POST', paths.removeRecord(form.sheet.id, landed.recordId), {
    writeId: randomUUID(),
    revision: landed.revision,
  });
  expect(await known('KL-0007')).toEqual({});
});

test('what was written today is counted for all and for oneself, without what went to the bin', async () => {
  const form = await formOf('Counted');
  const landed: Landed[] = [];
  for (let n = 0; n < 7; n += 1) landed.push(await enter(clerk, form, `C${n}`));
  await enter(owner, form, 'O');
  const [, gone] = landed.slice(-2);
  await owner.ask('POST', paths.removeRecord(form.sheet.id, gone?.recordId ?? ''), {
    writeId: randomUUID(),
    revision: 1,
  });
  const today = await clerk.get<TodayView>(paths.today(form.sheet.id));
  expect([today.mine, today.all]).toEqual([6, 7]);
  expect(today.last.map(({ name, row }) => [name, row])).toEqual(
    landed
      .slice(1, -1)
      .reverse()
      .map(({ cells, row }) => [Object.values(cells)[0], row]),
  );
  expect(await reader.get<TodayView>(paths.today(form.sheet.id))).toEqual({
    mine: 0,
    all: 7,
    last: [],
  });
});

test('a form may write right under the heading: newest on top, and nothing else moves', async () => {
  const form = await formOf('On top', 'top');
  for (const tag of ['A', 'B', 'C']) {
    const { row, before, after } = await enter(clerk, form, tag);
    expect([row, after - before]).toEqual([form.sheet.headingRow + 1, 1]);
  }
  expect(await tagsIn(form)).toEqual(['C', 'B', 'A']);
  // What is taken out of the top comes back to its place, also under one that came since.
  const newest = await enter(clerk, form, 'D');
  await clerk.ask('POST', paths.undo(running.workbook.id), {
    writeId: randomUUID(),
    undoes: newest.writeId,
  });
  await enter(clerk, form, 'E');
  await owner.ask('POST', paths.putBackRecord(form.sheet.id, newest.recordId), {
    writeId: randomUUID(),
    revision: 2,
  });
  expect(await tagsIn(form)).toEqual(['E', 'D', 'C', 'B', 'A']);
  const shown = await owner.get<FormView>(paths.form(form.id));
  expect([shown.last.from, shown.last.records[0]?.cells[0]]).toEqual([0, 'E']);
});

test('questions are kept for oneself or for all, renamed and forgotten by who may', async () => {
  const form = await formOf('Asked');
  const asked = async (client: Client): Promise<QuestionEntry[]> =>
    (await client.get<WorkbookView>(paths.workbook(running.workbook.id))).questions.filter(
      ({ formId }) => formId === form.id,
    );
  const keep = async (client: Client, id: string, more: object = {}): Promise<number> => {
    const body = { name: 'Acid', address: 'is.a=%3C+6', isShared: false, ...more };
    return (await client.ask('PUT', paths.question(form.id, id), body)).status;
  };
  const drop = async (client: Client, id: string): Promise<number> =>
    (await client.ask('DELETE', paths.question(form.id, id))).status;
  const [mine, shared] = [randomUUID(), randomUUID()];
  expect([await keep(reader, mine), await keep(reader, mine)]).toEqual([204, 204]);
  expect(await keep(reader, shared, { isShared: true })).toBe(403);
  expect(await keep(clerk, shared, { isShared: true, name: '  Low  ' })).toBe(204);
  expect(await asked(reader)).toEqual([
    {
      id: mine,
      formId: form.id,
      name: 'Acid',
      address: 'is.a=%3C+6',
      isShared: false,
      mayChange: true,
    },
    {
      id: shared,
      formId: form.id,
      name: 'Low',
      address: 'is.a=%3C+6',
      isShared: true,
      mayChange: false,
    },
  ]);
  // What one keeps for oneself nobody else sees, also by its id.
  expect((await asked(clerk)).map(({ id }) => id)).toEqual([shared]);
  expect([await keep(clerk, mine), await drop(owner, mine)]).toEqual([404, 404]);
  expect([await keep(reader, shared), await drop(reader, shared)]).toEqual([403, 403]);
  expect(await keep(owner, shared, { isShared: true, name: 'Very low' })).toBe(204);
  expect((await asked(clerk))[0]).toMatchObject({ name: 'Very low', mayChange: true });
  expect([await drop(clerk, shared), await drop(clerk, shared), await drop(reader, mine)]).toEqual([
    204, 204, 204,
  ]);
  expect(await asked(reader)).toEqual([]);

  for (const wrong of [
    { name: ' ' },
    { address: '' },
    { address: 'a'.repeat(10_001) },
    { more: 1 },
  ]) {
    expect(await keep(owner, randomUUID(), wrong)).toBe(400);
  }
  expect((await owner.ask('PUT', paths.question(form.id, 'no-id'), {})).status).toBe(400);
});
