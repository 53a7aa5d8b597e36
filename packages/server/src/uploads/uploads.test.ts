import {
  paths,
  type BroughtIn,
  type FormEntry,
  type FormView,
  type FreeRowsView,
  type Landed,
  type Refusal,
  type RowsAdded,
  type RowsChecked,
  type RowsView,
  type SheetView,
  type FileRowsView,
  type UploadView,
  type WorkbookView,
} from '@varn/contract';
import { randomUUID } from 'node:crypto';
import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import { Sheet, Workbook } from '../store/entities';
import { Store } from '../store/store';
import { goodAnswers, start, type Answer, type Running } from '../testing/harness';

let running: Running;
beforeAll(async () => {
  running = await start({ mostUploadBytes: 3_000_000 });
});
afterAll(() => running.stop());

async function take(content: string, name = 'kit.csv'): Promise<UploadView> {
  const { status, body } = await running.owner.ask<UploadView>(
    'POST',
    paths.uploads(name),
    content,
  );
  expect(status).toBe(201);
  return body;
}

function orderFor(upload: UploadView, rest: object = {}): object {
  const { encoding, delimiter, headingRow, headingRows, keepTotals, guarded } = upload;
  const columns = upload.columns
    .filter(({ empty }) => !empty)
    .map(({ index, heading, kind, decimal, dateOrder }) => ({
      index,
      heading,
      kind,
      decimal,
      dateOrder,
    }));
  return {
    writeId: randomUUID(),
    workbookName: 'Kit',
    sheetName: 'Kit',
    timeZone: 'Europe/London',
    ...{ encoding, delimiter, headingRow, headingRows, keepTotals, guarded, columns },
    ...rest,
  };
}

const bringIn = (upload: UploadView, order: object): Promise<Answer<BroughtIn & Refusal>> =>
  running.owner.ask('POST', paths.bringIn(upload.id), order);

test('a file is seen before anything is stored, corrected, brought in, and taken away again', async () => {
  const content =
    'Kit list\r\n\r\nId;Item;Out on;Price\r\n0007;"Meter; large";03/04/2026;12,50\r\n0012;=cmd;28/04/2026;8,25\r\nTotal;;;20,75\r\n';
  const upload = await take(content);
  expect(upload).toMatchObject({
    delimiter: ';',
    encoding: 'utf-8',
    headingRow: 3,
    records: 2,
    totalsRows: [6],
    blankRows: [],
  });
  expect(upload.columns.map(({ heading, kind }) => [heading, kind])).toEqual([
    ['Id', 'text'],
    ['Item', 'text'],
    ['Out on', 'date'],
    ['Price', 'number'],
  ]);
  expect(await running.app.get(Store).em().count(Workbook)).toBe(1);

  const { encoding, delimiter } = upload;
  const look = { encoding, delimiter, from: 4, count: 2 };
  const some = await running.owner.ask<FileRowsView>('POST', paths.fileRows(upload.id), look);
  expect([upload.fileRows, some.body.rows]).toEqual([
    6,
    [
      ['0007', 'Meter; large', '03/04/2026', '12,50'],
      ['0012', '=cmd', '28/04/2026', '8,25'],
    ],
  ]);

  const corrected = await running.owner.ask<UploadView>('POST', paths.preview(upload.id), {
    keepTotals: true,
    headingRow: 3,
  });
  expect(corrected.body.records).toBe(3);

  const order = orderFor(upload);
  const [first, again] = await Promise.all([bringIn(upload, order), bringIn(upload, order)]);
  expect(first.body).toMatchObject({ records: 2, totalsRows: 1, keptAsText: 0 });
  expect(again.body).toEqual(first.body);
  // Sent once more, as after a lost answer.
  expect((await bringIn(upload, order)).body).toEqual(first.body);

  const { sheetId } = first.body;
  const rows = await running.owner.get<RowsView>(paths.rows(sheetId, 0, 10));
  expect(rows.records.map(({ cells }) => cells)).toEqual([
    ['0007', 'Meter; large', '2026-04-03', 12.5],
    ['0012', '=cmd', '2026-04-28', 8.25],
  ]);

  const form = await running.owner.ask<FormEntry>('POST', paths.sheetForms(sheetId), {
    writeId: randomUUID(),
  });
  const { definition } = await running.owner.get<FormView>(paths.form(form.body.id));
  const [id = '', item = ''] = definition.blocks.map(({ id }) => id);
  const landed = await running.owner.ask<Landed>('POST', paths.submits(form.body.id), {
    writeId: randomUUID(),
    answers: { [id]: '0099', [item]: '-rope' },
  });
  // Two rows of top matter, the heading, two records.
  expect(landed.body.row).toBe(6);
  const above = await running.owner.get<FreeRowsView>(paths.freeRows(sheetId, 0, 10));
  expect(above.rows.map(({ cells }) => cells[0]?.value ?? null)).toEqual(['Kit list', null]);
  const heading = 'Id,Item,Out on,Price\r\n';
  expect(await running.owner.get(paths.csv(sheetId, 'on'))).toBe(
    `${heading}0007,Meter; large,2026-04-03,12.5\r\n0012,'=cmd,2026-04-28,8.25\r\n0099,'-rope,,\r\n`,
  );
  expect(await running.owner.get(paths.csv(sheetId, 'off'))).toContain('0012,=cmd,');
  const ways = { separator: 'semicolon', decimals: 'comma', encoding: 'utf8Marked', top: 'on' };
  expect(await running.owner.get(paths.csv(sheetId, 'off', '', ways))).toContain(
    'Kit list;;;\r\n;;;\r\nId;Item;Out on;Price\r\n0007;"Meter; large";2026-04-03;12,5\r\n',
  );
});

test('it can go into a workbook there is, whose locale and people hold', async () => {
  const upload = await take('A,B\n1,2\n');
  const { body } = await bringIn(
    upload,
    orderFor(upload, {
      workbookId: running.workbook.id,
      workbookName: undefined,
      sheetName: 'عيّنات 🧪',
    }),
  );
  expect(body.workbookId).toBe(running.workbook.id);
  const { sheets } = await running.owner.get<WorkbookView>(paths.workbook(running.workbook.id));
  expect(sheets.map(({ name }) => name)).toEqual([
    'Stations',
    'Volunteers',
    'Samples',
    'Kit loans',
    'Sightings',
    'Season survey',
    'Choices',
    'Summary',
    'عيّنات 🧪',
  ]);
});

test('a sheet of 200 columns comes in whole, and its form has as many fields', async () => {
  const line = (cell: (n: number) => string): string =>
    Array.from({ length: 200 }, (_, n) => cell(n)).join(',');
  const upload = await take(`${line((n) => `H${n}`)}\n${line(String)}\n`);
  const { body } = await bringIn(upload, orderFor(upload));
  const sheet = await running.owner.get<SheetView>(paths.sheet(body.sheetId));
  expect(sheet.columns).toHaveLength(200);
  const { body: made } = await running.owner.ask<FormEntry>('POST', paths.sheetForms(sheet.id), {
    writeId: randomUUID(),
  });
  expect((await running.owner.get<FormView>(paths.form(made.id))).definition.blocks).toHaveLength(
    200,
  );
});

test('choices are gathered where a column is said to hold one', async () => {
  const upload = await take('River,N\nAsh Beck,1\nMereling,2\nAsh Beck,3\n');
  const columns = upload.columns.map(({ index, heading, kind, decimal, dateOrder }) => ({
    ...{ index, heading, decimal, dateOrder },
    kind: index === 0 ? 'oneChoice' : kind,
  }));
  const { body } = await bringIn(upload, orderFor(upload, { columns }));
  const sheet = await running.owner.get<SheetView>(paths.sheet(body.sheetId));
  expect(sheet.columns[0]?.settings.choices).toEqual(['Ash Beck', 'Mereling']);
});

test.each(['Stations', 'Volunteers', 'Samples'])(
  '%s goes out and comes in again by Varn’s own guesses, value for value',
  async (name) => {
    const sheetId = running.workbook.sheets.find((each) => each.name === name)?.id ?? '';
    const all = async (id: string): Promise<RowsView['records'][number]['cells'][]> =>
      (await running.owner.get<RowsView>(paths.rows(id, 0, 1000))).records.map(
        ({ cells }) => cells,
      );
    const upload = await take(await running.owner.get<string>(paths.csv(sheetId, 'on')));
    const { body } = await bringIn(upload, orderFor(upload, { sheetName: name }));
    // A blank row is no record: the one in Stations does not come back.
    const out = (await all(sheetId)).filter((cells) => cells.some((cell) => cell !== null));
    expect(body).toMatchObject({ records: out.length, keptAsText: 0 });
    expect(await all(body.sheetId)).toEqual(out);
  },
);

test('two uploads at once, and a sheet brought in while another is written to, disturb nobody', async () => {
  const lines = Array.from({ length: 6000 }, (_, n) => `${n},Ford ${n % 50}`).join('\n');
  const [one, two] = await Promise.all([take(`Nr,Name\n${lines}\n`), take(`Nr,Name\n${lines}\n`)]);
  const answers = goodAnswers(running.form);
  const submit = (): Promise<Answer<Landed>> =>
    running.owner.ask('POST', paths.submits(running.form.id), { writeId: randomUUID(), answers });
  const [first, second, ...landed] = await Promise.all([
    bringIn(one, orderFor(one)),
    bringIn(two, orderFor(two)),
    ...Array.from({ length: 20 }, submit),
  ]);
  expect([first.body.records, second.body.records]).toEqual([6000, 6000]);
  expect(landed.map(({ status }) => status)).toEqual(Array(20).fill(201));
  const { records } = await running.owner.get<RowsView>(paths.rows(first.body.sheetId, 5990, 20));
  expect(records.map(({ cells }) => cells[0])).toEqual(
    Array.from({ length: 10 }, (_, n) => 5990 + n),
  );
});

describe('what can’t be brought in says so, and leaves nothing behind', () => {
  const columns = (change: object): object[] => [
    { index: 0, heading: 'A', kind: 'text', decimal: '.', dateOrder: 'dmy', ...change },
  ];
  test.each<[string, object, number]>([
    ['a kind that Varn fills', { columns: columns({ kind: 'writtenAt' }) }, 400],
    ['two columns headed alike', { columns: [...columns({}), ...columns({ index: 1 })] }, 400],
    ['no columns', { columns: [] }, 400],
    ['no name', { workbookName: ' ' }, 400],
    ['no such zone', { timeZone: 'Ashbeck/Nowhere' }, 400],
    ['a tag that is no locale', { locale: 'en-a1' }, 400],
    ['no such workbook', { workbookId: 'none' }, 404],
    ['a heading past the end', { headingRow: 90 }, 400],
    ['no write id', { writeId: 'x' }, 400],
    ['the name of another sheet', { workbookId: 'own', sheetName: 'Samples' }, 409],
  ])('%s', async (_name, given, expected) => {
    const upload = await take('A,B\n1,2\n');
    const isOwn = 'workbookId' in given && given.workbookId === 'own';
    const into = { workbookId: running.workbook.id, workbookName: undefined };
    const change = isOwn ? { ...given, ...into } : given;
    const em = running.app.get(Store).em();
    const before = [await em.count(Workbook), await em.count(Sheet)];
    const { status, body } = await bringIn(upload, orderFor(upload, change));
    expect([status, typeof body.message]).toEqual([expected, 'string']);
    expect([await em.count(Workbook), await em.count(Sheet)]).toEqual(before);
  });

  test('a quote left open: with its line; an empty file; one over the limit', async () => {
    const kept = readdirSync(join(running.folder, 'uploads')).length;
    const open = await running.owner.ask<Refusal>('POST', paths.uploads('open.csv'), 'a,b\n1,"2\n');
    expect([open.status, open.body.code]).toEqual([422, 'unreadable']);
    expect(open.body.message).toMatch(/^open\.csv: .*line \d/);
    expect((await running.owner.ask('POST', paths.uploads('e.csv'), '')).status).toBe(400);
    const over = await running.owner.ask<Refusal>(
      'POST',
      paths.uploads('big.csv'),
      'x'.repeat(3_100_000),
    );
    expect(over.status).toBe(413);
    expect(readdirSync(join(running.folder, 'uploads'))).toHaveLength(kept);
  });

  test('another’s upload is not there for anyone else', async () => {
    const upload = await take('A,B\n1,2\n');
    const other = await running.as('owner');
    expect((await other.ask('POST', paths.preview(upload.id), {})).status).toBe(404);
    expect((await other.ask('DELETE', paths.upload(upload.id))).status).toBe(404);
    expect((await running.owner.ask('DELETE', paths.upload(upload.id))).status).toBe(204);
  });
});

test('what a crash left half-arrived is cleared away at the next start', async () => {
  const em = running.app.get(Store).em();
  await em.insert(Workbook, {
    id: 'half',
    name: 'Half',
    locale: 'en-GB',
    timeZone: 'UTC',
    currency: 'EUR',
    names: [],
  });
  await em.insert(Sheet, {
    id: 'half-sheet',
    workbook: 'half',
    name: 'Half',
    place: 0,
    columns: [],
    hasRecords: true,
    looseColumns: [],
    lostColumns: [],
    look: {},
    revision: 1,
    arriving: true,
  });
  const { folder } = running;
  await running.app.close();
  running = await start({ data: folder });
  expect(await running.app.get(Store).em().count(Workbook, { id: 'half' })).toBe(0);
  expect(await running.app.get(Store).em().count(Sheet, { id: 'half-sheet' })).toBe(0);
});

test('a file that is no text is refused by its bytes, and told what it is', async () => {
  // The beginnings of an archive with a workbook in it, of a PDF, and bytes that are nothing known.
  const zip = Buffer.alloc(200);
  zip.write('PK\u0003\u0004', 'latin1');
  zip.writeUInt16LE(19, 26);
  zip.write('[Content_Types].xml', 30, 'latin1');
  const refusalOf = async (bytes: Buffer, name: string): Promise<[number, string]> => {
    const response = await fetch(running.base + paths.uploads(name), {
      method: 'POST',
      headers: { cookie: running.owner.cookie, 'content-type': 'application/octet-stream' },
      body: new Uint8Array(bytes),
    });
    return [response.status, ((await response.json()) as Refusal).message];
  };
  const [status, message] = await refusalOf(zip, 'kit.csv');
  expect([status, message]).toEqual([
    422,
    expect.stringMatching(/^kit.csv is (?:a workbook|an archive)/),
  ]);
  expect(await refusalOf(Buffer.from('%PDF-1.7\nabc'), 'kit.csv')).toEqual([
    422,
    'kit.csv is a PDF. Save its table as CSV where it was made, and bring that in.',
  ]);
  expect(
    (
      await refusalOf(Buffer.from([1, 0, 255, 7, 7, 7, 7, 7, 7, 7, 7, 7, 7, 7, 7, 7, 7, 7, 7]), 'x')
    )[1],
  ).toBe('x is no text. Bring in a table as CSV.');
  await take('\uFEFFId;Name\n1;Wyn');
});

describe('rows of a file are added to a sheet there is', () => {
  const FILE = [
    'pH;Observer;Date;Smell',
    '7,2;Edo Garrick;01.03.2026;a',
    '15;Edo Garrick;02.03.2026;b',
    '9,4;Edo Garrick;03.03.2026;c',
    '7,0;Nobody at all;04.03.2026;d',
    '',
    '=1+1;Edo Garrick;05.03.2026;e',
  ].join('\n');
  const order = async (upload: UploadView, more: object = {}) => {
    const sheet = await running.owner.get<SheetView>(paths.sheet(running.form.sheet.id));
    const idOf = (heading: string): string =>
      sheet.columns.find((each) => each.heading === heading)?.id ?? '';
    const { encoding, delimiter, headingRow, headingRows, keepTotals, guarded } = upload;
    const columns = upload.columns.slice(0, 3).map(({ index, heading, decimal, dateOrder }) => {
      return { index, columnId: idOf(heading), decimal, dateOrder };
    });
    const reading = { encoding, delimiter, headingRow, headingRows, keepTotals, guarded };
    return { sheetId: sheet.id, ...reading, columns, ...more };
  };
  const counts = async (): Promise<number> =>
    (await running.owner.get<SheetView>(paths.sheet(running.form.sheet.id))).count;

  test('held against its rules before anything is stored; the refused are taken away with why', async () => {
    const { owner } = running;
    const upload = await take(FILE, 'more.csv');
    const before = await counts();
    const { body: seen } = await owner.ask<RowsChecked>(
      'POST',
      paths.checkRows(upload.id),
      await order(upload),
    );
    expect(seen).toMatchObject({ records: 5, passing: 1, asked: 1, refused: 3 });
    expect(
      seen.held.map(({ row, heading, text, strictness }) => [row, heading, text, strictness]),
    ).toEqual([
      // Rows as the file shows them: under its heading, blank ones counted.
      [3, 'pH', '15', 'refuse'],
      [4, 'pH', '9.4', 'ask'],
      [5, 'Observer', 'Nobody at all', 'refuse'],
      [7, 'pH', '=1+1', 'refuse'],
    ]);
    expect(await counts()).toBe(before);
    const fewer = await order(upload, { without: [3, 5] });
    const less = await owner.ask<RowsChecked>('POST', paths.checkRows(upload.id), fewer);
    expect(less.body).toMatchObject({ records: 3, passing: 1, asked: 1, refused: 1 });
    const held = await owner.ask<string>(
      'POST',
      paths.heldRows(upload.id),
      await order(upload, { takesAsked: true }),
    );
    const lines = held.body.split('\r\n');
    expect(lines[0]).toBe('pH,Observer,Date,Why');
    expect(lines[1]).toBe('15,Edo Garrick,02/03/2026,‘15’ must be from 0 to 14.');
    // A formula from a stranger leaves as text.
    expect(lines[3]).toMatch(/^'=1\+1,/);

    const writeId = randomUUID();
    const body = await order(upload, { takesAsked: true, writeId });
    const added = await owner.ask<RowsAdded>('POST', paths.addRows(upload.id), body);
    expect([added.status, added.body]).toEqual([201, { added: 2, left: 3 }]);
    // Sent twice, it is written once.
    await owner.ask('POST', paths.addRows(upload.id), body);
    expect(await counts()).toBe(before + 2);
    const undo = { writeId: randomUUID(), undoes: writeId };
    expect((await owner.ask('POST', paths.undo(running.workbook.id), undo)).status).toBe(200);
    expect(await counts()).toBe(before);
  });

  test.each<[object, number, RegExp]>([
    [{ columns: [] }, 400, /columns/],
    [
      { columns: [{ index: 0, columnId: 'gone', decimal: '.', dateOrder: 'dmy' }] },
      400,
      /columns\.0/,
    ],
    [
      { columns: [{ index: 0, columnId: 'samples.number', decimal: '.', dateOrder: 'dmy' }] },
      400,
      /not filled/,
    ],
    [{ sheetId: 'gone' }, 404, /sheet/],
    [{ headingRow: 150 }, 400, /no record/],
  ])('%j is refused', async (more, status, says) => {
    const upload = await take(FILE);
    const { owner } = running;
    const answer = await owner.ask<Refusal>(
      'POST',
      paths.checkRows(upload.id),
      await order(upload, more),
    );
    expect([answer.status, answer.body.message]).toEqual([status, expect.stringMatching(says)]);
  });
});
