import type {
  FormView,
  FreeRowsView,
  Landed,
  ListDetailView,
  ListPlaceView,
  ListsEvent,
  ListsView,
  OutboxView,
  Refusal,
  RenamedItemView,
  RowsView,
  SheetView,
  TriedListView,
  UploadView,
  ManyChanged,
  ValuesCount,
  VariantsView,
  WorkbookView,
  Written,
} from '@varn/contract';
import { paths } from '@varn/contract';
import { randomUUID } from 'node:crypto';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { goodAnswers, start, type Client, type Running } from '../testing/harness';

let running: Running;
let clerk: Client;
beforeAll(async () => {
  running = await start();
  clerk = await running.as('clerk');
});
afterAll(() => running.stop());

const sheetNamed = async (name: string): Promise<SheetView> => {
  const { sheets } = await running.owner.get<WorkbookView>(paths.workbook(running.workbook.id));
  const id = sheets.find((each) => each.name === name)?.id ?? '';
  return running.owner.get<SheetView>(paths.sheet(id));
};
const columnOf = ({ columns }: SheetView, heading: string): string =>
  columns.find((column) => column.heading === heading)?.id ?? '';
const itemsOf = async (sheet: SheetView, heading: string): Promise<unknown[]> => {
  const { lists } = await clerk.get<ListsView>(paths.sheetLists(sheet.id));
  const list = lists.find(({ columnIds }) => columnIds.includes(columnOf(sheet, heading)));
  return (list?.items ?? []).map(({ value }) => value);
};
const edit = async (sheet: SheetView, more: object): Promise<Written & Refusal> => {
  const { revision } = await running.owner.get<SheetView>(paths.sheet(sheet.id));
  const body = { writeId: randomUUID(), revision, ...more };
  return (await running.owner.ask<Written & Refusal>('POST', paths.cells(sheet.id), body)).body;
};
const until = async <T>(
  read: () => Promise<T>,
  is: (value: T) => boolean,
  most = 100,
): Promise<T> => {
  for (let tries = 0; ; tries += 1) {
    const value = await read();
    if (is(value) || tries > most) return value;
    await new Promise((resolve) => setTimeout(resolve, 20));
  }
};
const submit = (form: FormView, answers: Record<string, string>, more = {}) =>
  clerk.ask<Landed & Refusal>('POST', paths.submits(form.id), {
    writeId: randomUUID(),
    answers,
    ...more,
  });

/** What is told of lists while some work is done. */
async function toldOf(work: () => Promise<unknown>, count: number): Promise<ListsEvent['changes']> {
  const stop = new AbortController();
  const { seq } = await clerk.get<WorkbookView>(paths.workbook(running.workbook.id));
  const path = `${running.base}${paths.events(running.workbook.id)}?after=${seq}`;
  const response = await fetch(path, { headers: { cookie: clerk.cookie }, signal: stop.signal });
  void work();
  const changes: ListsEvent['changes'][number][] = [];
  let text = '';
  for await (const chunk of response.body ?? []) {
    text += new TextDecoder().decode(chunk as Uint8Array);
    const blocks = text.split('\n\n');
    text = blocks.pop() ?? '';
    for (const block of blocks.filter((each) => each.startsWith('event: lists'))) {
      changes.push(...(JSON.parse(block.slice(block.indexOf('{'))) as ListsEvent).changes);
    }
    if (changes.length >= count) break;
  }
  stop.abort();
  return changes;
}

test('a list is current: what a form, the grid or an undo changes of its source is told of, and nothing else', async () => {
  const volunteers = await sheetNamed('Volunteers');
  const samples = await sheetNamed('Samples');
  const before = await itemsOf(samples, 'Observer');
  expect(before).toHaveLength(62);
  const form = await running.owner.get<FormView>(paths.form(volunteers.forms[0]?.id ?? ''));
  const [came] = await toldOf(
    () =>
      submit(form, {
        'volunteers.id': '0900',
        'volunteers.name': 'Aaron Quill',
        'volunteers.training-level': 'Sampler',
      }),
    1,
  );
  expect(came?.columnIds).toEqual([
    columnOf(samples, 'Observer'),
    columnOf(await sheetNamed('Kit loans'), 'Borrower'),
  ]);
  expect(came?.splices).toEqual([{ at: 0, remove: 0, items: [{ value: 'Aaron Quill' }] }]);
  expect(await itemsOf(samples, 'Observer')).toEqual(['Aaron Quill', ...before]);
  const at = volunteers.columns.findIndex(({ heading }) => heading === 'Name');
  const rows = await clerk.get<RowsView>(paths.rows(volunteers.id, 62, 1));
  const [record] = rows.records;
  expect(record?.cells[at]).toBe('Aaron Quill');
  const renamed = await toldOf(
    () =>
      edit(volunteers, {
        records: [
          {
            id: record?.id,
            revision: record?.revision,
            answers: { [columnOf(volunteers, 'Name')]: 'Zed Quill' },
          },
        ],
      }),
    1,
  );
  expect(
    renamed
      .flatMap(({ splices = [] }) => splices)
      .map(({ at: to, remove, items }) => [to, remove, items.length]),
  ).toEqual([
    [0, 1, 0],
    [62, 0, 1],
  ]);
});

test('a list holds on every path: desk, grid, paste; what left it is not in the way of other cells', async () => {
  const samples = await sheetNamed('Samples');
  const station = columnOf(samples, 'Station');
  const good = goodAnswers(running.form);
  const wrong = await submit(running.form, { ...good, 'samples.station': 'XX-99' });
  expect([wrong.status, wrong.body.verdicts?.map(({ code }) => code)]).toEqual([
    422,
    ['notAChoice'],
  ]);
  const other = await submit(running.form, { ...good, 'samples.station': 'CW-01' });
  expect(other.body.verdicts?.map(({ code, message }) => [code, message])).toEqual([
    [
      'goesWithOther',
      '‘CW-01’ is not on the list while River is ‘Ash Beck’. Pick another, or change River.',
    ],
  ]);
  const { records } = await clerk.get<RowsView>(paths.rows(samples.id, 0, 1));
  const cell = (answers: object, more = {}): object => ({
    records: [{ id: records[0]?.id, revision: records[0]?.revision, answers, ...more }],
  });
  const typed = await edit(samples, cell({ [station]: 'XX-99' }));
  expect(JSON.stringify(typed)).toContain('is not one of the choices');
  const added = await edit(samples, { added: [{ answers: { [station]: 'nowhere' } }] });
  expect(JSON.stringify(added)).toContain('is not one of the choices');
});

test('a source in any shape: a row, a name, an array, its own column; and what can’t be read', async () => {
  const samples = await sheetNamed('Samples');
  const tried = async (list: object): Promise<TriedListView> =>
    (await running.owner.ask<TriedListView>('POST', paths.tryList(samples.id), { list })).body;
  const values = async (source: string, more = {}): Promise<unknown[]> =>
    (await tried({ source, ...more })).items.map(({ value, label = value }) => label);
  expect((await values('SEQUENCE(31)')).slice(0, 3)).toEqual([1, 2, 3]);
  expect(await values('Choices!A3:C3')).toEqual(['Weather', 'Flow', 'Smell']);
  expect(await values('Choices!E4..', { label: 'Choices!F4..' })).toHaveLength(7);
  expect(await values("Samples!'Weather'")).not.toHaveLength(0);
  expect(
    await values("Stations!'Code'", { where: "'In use'", label: `'Name'&", "&'River'` }),
  ).not.toHaveLength(46);
  const { counts } = await tried({ source: "Stations!'Code'" });
  expect(counts).toMatchObject({ items: 46, rows: 48, blanks: 1, doubles: 1 });
  expect((await tried({ source: 'Nets!A1..' })).problem).toContain('Nets');
  expect((await tried({ source: "Stations!'Code'", label: "'Weight'" })).of).toBe("'Weight'");
  const days = await tried({ source: "Samples!'Date'" });
  const [day] = days.items;
  expect([typeof day?.value, /\d{4}/.test(day?.text ?? '')]).toEqual(['number', true]);
});

test('an answer of one’s own joins the source, once, and is offered to all', async () => {
  const loans = await sheetNamed('Kit loans');
  const item = loans.columns.find(({ heading }) => heading === 'Item');
  const { list } = item?.settings ?? {};
  const settings = { own: '', list: { source: list?.source, adds: true } };
  const path = paths.column(loans.id, item?.id ?? '');
  expect(
    (await running.owner.ask('PATCH', path, { settings, revision: loans.revision })).status,
  ).toBe(200);
  const form = await running.owner.get<FormView>(paths.form(loans.forms[0]?.id ?? ''));
  const id = (heading: string): string => {
    const column = columnOf(loans, heading);
    const block = form.definition.blocks.find(
      (each) => each.is === 'field' && each.columnId === column,
    );
    return block?.id ?? '';
  };
  const [borrower] = (await itemsOf(loans, 'Borrower')) as string[];
  const body = {
    writeId: randomUUID(),
    answers: {
      [id('Borrower')]: borrower,
      [id('Item')]: 'Drone',
      [id('Out')]: '28/11/2026',
      [id('Quantity')]: '1',
    },
  };
  for (let n = 0; n < 2; n += 1) {
    expect((await clerk.ask('POST', paths.submits(form.id), body)).status).toBe(201);
  }
  const offered = await until(
    () => itemsOf(loans, 'Item'),
    (items) => items.includes('Drone'),
  );
  expect(offered.filter((each) => each === 'Drone')).toHaveLength(1);

  // A correction adds what it brings, and nothing that stood there before and left the source.
  const { records, count } = await clerk.get<RowsView>(paths.rows(loans.id, loans.count, 1));
  const [record] = records;
  expect(count).toBe(loans.count + 1);
  let { revision } = record ?? { revision: 0 };
  const correct = async (answers: Record<string, string>): Promise<void> => {
    const path = paths.formRecord(form.id, record?.id ?? '');
    const all = { ...body.answers, ...answers };
    const { body: landed } = await clerk.ask<Landed>('PATCH', path, {
      writeId: randomUUID(),
      revision,
      answers: all,
      meant: [id('Item')],
    });
    revision = landed.revision;
  };
  await correct({ [id('Item')]: 'Sonar' });
  await until(
    () => itemsOf(loans, 'Item'),
    (items) => items.includes('Sonar'),
  );
  const choices = await sheetNamed('Choices');
  const { rows } = await clerk.get<FreeRowsView>(paths.freeRows(choices.id, 0, 40));
  const at = rows.findIndex(({ cells }) => cells[4]?.value === 'Sonar');
  const cleared = { row: at + 1, revision: rows[at]?.revision, cells: { 4: '' } };
  await edit(choices, { rows: [cleared] });
  await until(
    () => itemsOf(loans, 'Item'),
    (items) => !items.includes('Sonar'),
  );
  await correct({ [id('Item')]: 'Sonar', [id('Quantity')]: '2' });
  expect(await itemsOf(loans, 'Item')).not.toContain('Sonar');
});

test('what has no partner in a sheet of choices is told with its likely one', async () => {
  const samples = await sheetNamed('Samples');
  const weather = columnOf(samples, 'Weather');
  const put = async (settings: object): Promise<void> => {
    const { revision } = await sheetNamed('Samples');
    await running.owner.ask('PATCH', paths.column(samples.id, weather), { settings, revision });
  };
  await put({ choices: ['dry', 'wet'] });
  const place = await clerk.get<ListPlaceView>(paths.lists(running.workbook.id));
  const choices = place.unpaired.find(({ sheet }) => sheet === 'Choices');
  expect(choices?.headings).toContain('Weather');
  expect(choices?.fields).toContainEqual({
    sheetId: samples.id,
    sheet: 'Samples',
    columnId: weather,
    heading: 'Weather',
    likely: 'Weather',
    source: 'Choices!A4..',
  });
  await put({ list: { source: 'Choices!A4..' } });
  const after = await clerk.get<ListPlaceView>(paths.lists(running.workbook.id));
  expect(JSON.stringify(after.unpaired)).not.toContain('Weather');
});

test('two rows of one value are told, with the column that tells them apart', async () => {
  const [volunteers, loans] = [await sheetNamed('Volunteers'), await sheetNamed('Kit loans')];
  const [name = ''] = (await itemsOf(loans, 'Borrower')) as string[];
  const answers = { [columnOf(volunteers, 'Id')]: '9001', [columnOf(volunteers, 'Name')]: name };
  await edit(volunteers, { added: [{ answers }] });
  const { revision } = await sheetNamed('Kit loans');
  const settings = { list: { source: "Volunteers!'Name'", second: "'Mail'" } };
  const path = paths.column(loans.id, columnOf(loans, 'Borrower'));
  await running.owner.ask('PATCH', path, { settings, revision });
  const place = await until(
    () => clerk.get<ListPlaceView>(paths.lists(running.workbook.id)),
    ({ lists }) => lists.some(({ troubles }) => troubles.some(({ code }) => code === 'mixed')),
  );
  const troubles = place.lists.flatMap((each) => each.troubles);
  expect(troubles.find(({ code }) => code === 'mixed')).toMatchObject({
    says: expect.stringContaining(`‘${name}’`) as string,
    proposed: { source: "Volunteers!'Id'", label: "'Name'", second: "'Mail'" },
  });
  const { lists } = await clerk.get<ListsView>(paths.sheetLists(loans.id));
  const offered = lists.find(({ columnIds }) => columnIds.includes(columnOf(loans, 'Borrower')));
  // The most used are ranked, and how often they are used is not told.
  const ranks = (offered?.items ?? []).flatMap(({ use }) => use ?? []).sort((a, b) => b - a);
  expect(ranks.slice(0, 3)).toEqual([100, 99, 98]);
});

test('a source that goes is told of once, with what it was; put back, all is well', async () => {
  const stations = await sheetNamed('Stations');
  const samples = await sheetNamed('Samples');
  const code = columnOf(stations, 'Code');
  const outbox = (): Promise<OutboxView> =>
    running.owner.get<OutboxView>(paths.outbox(running.workbook.id));
  const before = (await outbox()).unread;
  await running.owner.ask(
    'DELETE',
    `${paths.column(stations.id, code)}?revision=${stations.revision}`,
  );
  const { notices } = await until(outbox, ({ unread }) => unread > before);
  expect(notices[0]).toMatchObject({
    subject: 'The list of Station in Samples is broken',
    isRead: false,
  });
  expect(notices[0]?.text).toContain('Code');
  const place = await clerk.get<ListPlaceView>(paths.lists(running.workbook.id));
  const [trouble] =
    place.lists.find(({ id }) => id === columnOf(samples, 'Station'))?.troubles ?? [];
  expect(trouble).toMatchObject({ code: 'broken', lostSheetId: stations.id, lostColumnId: code });
  const [notice] = notices;
  await running.owner.ask('POST', paths.readNotices(running.workbook.id), { ids: [notice?.id] });
  expect((await outbox()).unread).toBe(before);
  const { revision } = await sheetNamed('Stations');
  await running.owner.ask('POST', paths.putBackColumn(stations.id, code), { revision });
  const items = await until(
    () => itemsOf(samples, 'Station'),
    ({ length }) => length > 0,
  );
  expect(items).toHaveLength(46);
  expect((await outbox()).notices).toHaveLength(notices.length);
});

test('a renamed item is told of, carried into the records that hold it, and taken back', async () => {
  const stations = await sheetNamed('Stations');
  const samples = await sheetNamed('Samples');
  const [code, station] = [columnOf(stations, 'Code'), columnOf(samples, 'Station')];
  const held = await clerk.get<{ values: { text: string; count: number }[] }>(
    paths.columnValues(samples.id, station),
  );
  const [{ text, count } = { text: '', count: 0 }] = held.values;
  const { records } = await clerk.get<RowsView>(paths.rows(stations.id, 0, 60));
  const own = records.filter(({ cells }) => cells[0] === text);
  await edit(stations, {
    records: own.map(({ id, revision }) => ({ id, revision, answers: { [code]: `${text}a` } })),
  });
  const detail = await until(
    () => clerk.get<ListDetailView>(paths.list(samples.id, station)),
    ({ unlisted }) => unlisted.length > 0,
  );
  expect(detail.unlisted).toContainEqual({ columnId: station, text, count, becomes: `${text}a` });
  expect(detail.history[0]).toMatchObject({
    what: 'renamed',
    before: text,
    after: `${text}a`,
    door: 'Grid',
  });
  const renamed = { columnId: code, before: text, after: `${text}a` };
  const asked = await clerk.ask<RenamedItemView>('POST', paths.renamedItem(stations.id), renamed);
  expect(asked.body.uses.map(({ columnId }) => columnId)).toEqual([station]);
  const unlike = { ...renamed, after: 'nothing' };
  const other = await clerk.ask<RenamedItemView>('POST', paths.renamedItem(stations.id), unlike);
  expect(other.body.uses).toEqual([]);
  const changes = [{ from: [text], to: `${text}a` }];
  const counted = await clerk.ask<ValuesCount>('POST', paths.countValues(samples.id, station), {
    changes,
  });
  expect(counted.body.count).toBe(count);
  const ask = (seen: number, writeId = randomUUID()) =>
    clerk.ask<ManyChanged>('POST', paths.changeValues(samples.id, station), {
      writeId,
      changes,
      count: seen,
    });
  expect((await ask(count + 1)).status).toBe(409);
  const writeId = randomUUID();
  expect([(await ask(count, writeId)).body, (await ask(count, writeId)).body]).toEqual([
    { writeId, changed: count, left: 0 },
    { writeId, changed: count, left: 0 },
  ]);
  expect((await clerk.get<ListDetailView>(paths.list(samples.id, station))).unlisted).toEqual([]);
  const undo = { writeId: randomUUID(), undoes: writeId };
  expect((await clerk.ask('POST', paths.undo(running.workbook.id), undo)).status).toBe(200);
  expect((await clerk.get<ListDetailView>(paths.list(samples.id, station))).unlisted).toHaveLength(
    1,
  );
});

test('when a list was another last is known after a restart', async () => {
  const data = mkdtempSync(join(tmpdir(), 'varn-lists-'));
  const changedAt = async ({ owner, workbook }: Running): Promise<number | undefined> => {
    const { lists } = await owner.get<ListPlaceView>(paths.lists(workbook.id));
    return lists.find(({ source }) => source === "Volunteers!'Name'")?.changedAt;
  };
  const first = await start({ data });
  expect(await changedAt(first)).toBeUndefined();
  const volunteers = first.workbook.sheets.find(({ name }) => name === 'Volunteers');
  const sheet = await first.owner.get<SheetView>(paths.sheet(volunteers?.id ?? ''));
  const added = [{ answers: { [columnOf(sheet, 'Name')]: 'Aaron Quill' } }];
  const { id, revision } = sheet;
  await first.owner.ask('POST', paths.cells(id), { writeId: randomUUID(), revision, added });
  const told = await until(
    () => changedAt(first),
    (at) => at !== undefined,
  );
  await first.stop();
  const second = await start({ data });
  const again = await changedAt(second);
  await second.stop();
  rmSync(data, { recursive: true });
  expect(Math.abs((again ?? 0) - (told ?? NaN))).toBeLessThan(2000);
});

test('spellings of one name are proposed', async () => {
  const sightings = await sheetNamed('Sightings');
  const where = columnOf(sightings, 'Where');
  for (const text of ['Heron Steps', 'Heron Steps', 'heron  steps', 'Heron Stpes']) {
    await edit(sightings, { added: [{ answers: { [where]: text } }] });
  }
  const { variants } = await clerk.get<VariantsView>(paths.variants(sightings.id, where));
  const found = variants.find(({ keep }) => keep.text === 'Heron Steps');
  expect(found?.others.map(({ text, isWritten }) => [text, isWritten]).sort()).toEqual([
    ['Heron Stpes', false],
    ['heron  steps', true],
  ]);
});

test('whoever asks while a list is being built waits for it, and is not told what it was before', async () => {
  const many = 12_000;
  const { owner, workbook } = running;
  const file = ['Place', ...Array.from({ length: many }, (_, n) => `Place ${n}`)].join('\n');
  const { body: taken } = await owner.ask<UploadView>('POST', paths.uploads('long.csv'), file);
  const { id, encoding, delimiter, headingRow, headingRows, keepTotals, guarded } = taken;
  await owner.ask('POST', paths.bringIn(id), {
    ...{ encoding, delimiter, headingRow, headingRows, keepTotals, guarded },
    writeId: randomUUID(),
    workbookId: workbook.id,
    sheetName: 'Long',
    columns: [{ index: 0, heading: 'Place', kind: 'text', decimal: '.', dateOrder: 'dmy' }],
  });
  const samples = await sheetNamed('Samples');
  const settings = { list: { source: "Long!'Place'" } };
  const put = await owner.ask('PATCH', paths.column(samples.id, columnOf(samples, 'Flow')), {
    settings,
    revision: samples.revision,
  });
  expect(put.status).toBe(200);
  const counts = await Promise.all(
    Array.from({ length: 20 }, async (_, n) => {
      await new Promise((resolve) => setTimeout(resolve, 5 * n));
      return (await itemsOf(samples, 'Flow')).length;
    }),
  );
  expect(counts).toEqual(counts.map(() => many));
});

test('a list that takes too long is refused with how long; one that comes to is broken, keeps what it offers, and is waited for by nobody', async () => {
  const data = mkdtempSync(join(tmpdir(), 'varn-slow-'));
  let own = await start({ data });
  const { id: workbookId } = own.workbook;
  const sheetOf = async (name: string): Promise<SheetView> => {
    const { sheets } = await own.owner.get<WorkbookView>(paths.workbook(workbookId));
    return own.owner.get<SheetView>(
      paths.sheet(sheets.find((each) => each.name === name)?.id ?? ''),
    );
  };
  const made = { writeId: randomUUID(), name: 'Places', headings: ['Place'] };
  expect((await own.owner.ask('POST', paths.sheets(workbookId), made)).status).toBe(201);
  const fill = async (from: number, to: number): Promise<void> => {
    const { id, revision, columns: held } = await sheetOf('Places');
    const place = held[0]?.id ?? '';
    const added = Array.from({ length: to - from }, (_, n) => ({
      answers: { [place]: `Place ${from + n}` },
    }));
    const body = { writeId: randomUUID(), revision, added };
    expect((await own.owner.ask('POST', paths.cells(id), body)).status).toBe(200);
  };
  const feed = async (heading: string) => {
    const { id, revision, columns: held } = await sheetOf('Samples');
    const columnId = held.find((each) => each.heading === heading)?.id ?? '';
    // Each row of the source looks for itself within all of them.
    const where = `COUNTIF(Places!'Place';"*"&'Place'&"*")>3`;
    const settings = { list: { source: "Places!'Place'", where } };
    return own.owner.ask<Refusal>('PATCH', paths.column(id, columnId), { settings, revision });
  };
  const trouble = async (): Promise<string | undefined> => {
    const { lists } = await own.owner.get<ListPlaceView>(paths.lists(workbookId));
    const list = lists.find(({ source }) => source === "Places!'Place'");
    return list?.troubles.find(({ code }) => code === 'broken')?.says;
  };
  const offered = async (): Promise<number> => {
    const { id } = await sheetOf('Samples');
    const { lists } = await own.owner.get<ListsView>(paths.sheetLists(id));
    return Math.max(
      ...lists.map(({ items }) => items.filter(({ value }) => /^Place/.test(String(value))).length),
    );
  };
  await fill(0, 400);
  expect((await feed('Flow')).status).toBe(200);
  const before = await offered();
  expect(before).toBeGreaterThan(0);
  await fill(400, 6000);
  const says = /It would take about [\d,]+ seconds over [\d,]+ rows/;
  expect(await until(trouble, (each) => each !== undefined, 1500)).toMatch(says);
  expect(await offered()).toBe(before);
  const refused = await feed('Weather');
  expect([refused.status, refused.body.message]).toEqual([422, expect.stringMatching(says)]);
  await own.stop();
  // Opened again, the sheet is there before the list is read, and then it is told what it is.
  own = await start({ data });
  expect(await offered()).toBe(0);
  expect(await until(trouble, (each) => each !== undefined, 1500)).toMatch(says);
  await own.stop();
  rmSync(data, { recursive: true });
}, 180_000);

test('lists that would feed one another in a circle are refused with the way round', async () => {
  const { owner } = running;
  const feed = async (of: SheetView, heading: string, source: string) =>
    owner.ask<Refusal>('PATCH', paths.column(of.id, columnOf(of, heading)), {
      kind: 'oneChoice',
      settings: { list: { source }, own: 'own' },
      revision: (await sheetNamed(of.name)).revision,
    });
  const [sightings, stations] = [await sheetNamed('Sightings'), await sheetNamed('Stations')];
  expect((await feed(sightings, 'Where', "Stations!'Name'")).status).toBe(200);
  const { status, body } = await feed(stations, 'Name', "Sightings!'Where'");
  expect([status, body.message]).toEqual([
    409,
    '‘Name’ of Stations would take its choices from ‘Where’ of Sightings, and that from ‘Name’ of Stations: a circle. Choose another source for one of them.',
  ]);
  // What stands in the column itself may be offered there.
  expect((await feed(sightings, 'Other', "Sightings!'Other'")).status).toBe(200);
});
