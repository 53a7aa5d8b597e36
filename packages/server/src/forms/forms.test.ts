import {
  paths,
  type CheckView,
  type DraftView,
  type FileView,
  type FormEntry,
  type FormView,
  type Landed,
  type Refusal,
  type RowsView,
  type SaveDraft,
  type SheetView,
  type WorkbookEntry,
  type WorkbookView,
  type Written,
} from '@varn/contract';
import { fileText, readOutline } from '@varn/core';
import * as fc from 'fast-check';
import { randomUUID } from 'node:crypto';
import { newId } from '../ids';
import { Catalog } from '../store/catalog';
import { start, type Answer, type Running } from '../testing/harness';
import { FormWriter } from './formWriter';

let running: Running;
beforeAll(async () => {
  running = await start();
});
afterAll(() => running.stop());

const ask = <T = Refusal>(method: string, path: string, body?: unknown): Promise<Answer<T>> =>
  running.owner.ask<T>(method, path, body);
const draftOf = (formId: string): Promise<DraftView> => running.owner.get(paths.draft(formId));
const sheetOf = (sheetId: string): Promise<SheetView> => running.owner.get(paths.sheet(sheetId));

async function blank(): Promise<string> {
  const order = { writeId: randomUUID(), name: 'Blank', locale: 'en-GB', timeZone: 'UTC' };
  return (await ask<WorkbookEntry>('POST', paths.workbooks, order)).body.id;
}

async function begun(workbookId: string, rest: object = {}): Promise<FormEntry> {
  const order = { writeId: randomUUID(), name: 'Tally', ...rest };
  return (await ask<FormEntry>('POST', paths.forms(workbookId), order)).body;
}

/** Keeps an outline as the draft of a form. */
async function outlined(formId: string, text: string): Promise<SaveDraft> {
  const { stored, columns, revision, form } = await draftOf(formId);
  const previous = form.definition;
  const reading = readOutline(text, { columns: stored, planned: columns, previous, newId });
  expect(reading.problems).toEqual([]);
  const { definition } = reading;
  const save = { definition, columns: [...reading.columns], revision };
  const { status } = await ask('PUT', paths.draft(formId), save);
  expect(status).toBe(200);
  return save;
}

const use = async (
  formId: string,
  writeId: string = randomUUID(),
): Promise<Answer<FormEntry & Refusal>> =>
  ask('POST', paths.use(formId), { writeId, revision: (await draftOf(formId)).revision });

const submit = (
  form: FormView,
  typed: Record<string, string>,
  path = paths.submits(form.id),
): Promise<Answer<Landed & Refusal>> => {
  const idOf = (heading: string): string => {
    const column = form.sheet.columns.find((each) => each.heading === heading);
    const places = form.definition.blocks.flatMap((block) =>
      block.is === 'group' ? block.members : block.is === 'field' ? [block] : [],
    );
    return places.find(({ columnId }) => columnId === column?.id)?.id ?? heading;
  };
  const answers = Object.fromEntries(
    Object.entries(typed).map(([name, text]) => [idOf(name), text]),
  );
  const version = path.endsWith('submits') ? { version: form.version } : {};
  return ask('POST', path, { writeId: randomUUID(), answers, ...version });
};
const cellsOf = (form: FormView, { cells }: Landed): Record<string, unknown> =>
  Object.fromEntries(form.sheet.columns.map(({ id, heading }) => [heading, cells[id]]));

const TALLY = `
  Item: text, required
  Price: money EUR
  Quantity: whole number 1..99, starts "1"
  Total: computed = 'Price' * 'Quantity'
  Dear: yes/no, shown when 'Total' > 100, required
`;

test('from a blank workbook to a stored record: columns come with the form, once', async () => {
  const workbookId = await blank();
  const entry = await begun(workbookId);
  await outlined(entry.id, TALLY);
  const planned = await draftOf(entry.id);
  expect(planned.stored).toEqual([]);
  expect(planned.form.sheet.columns.map(({ heading }) => heading)).toEqual([
    'Item',
    'Price',
    'Quantity',
    'Total',
    'Dear',
  ]);
  const writeId = randomUUID();
  const { revision } = planned;
  const both = await Promise.all(
    [1, 2].map(() => ask<FormEntry>('POST', paths.use(entry.id), { writeId, revision })),
  );
  expect(both.map(({ status, body }) => [status, body.version])).toEqual([
    [200, 1],
    [200, 1],
  ]);
  const form = await running.owner.get<FormView>(paths.form(entry.id));
  expect(form.sheet.columns).toHaveLength(5);
  expect(form.sheet.columns[3]?.settings.formula).toBe("='Price' * 'Quantity'");
  const landed = await submit(form, { Item: 'Waders', Price: '25', Quantity: '3' });
  expect(landed.status).toBe(201);
  const [record] = (await running.owner.get<RowsView>(paths.rows(form.sheet.id, 0, 5))).records;
  expect(record?.cells).toEqual(['Waders', 25, 3, 75, null]);
  // What is hidden is not asked for; what is there is.
  const dear = await submit(form, { Item: 'Meter', Price: '120', Quantity: '3' });
  expect(dear.body.verdicts?.map(({ code }) => code)).toEqual(['required']);
  const told = await submit(form, { Item: 'Pin', Price: '1', Quantity: '3', Dear: 'yes' });
  expect(cellsOf(form, told.body)['Dear']).toBeUndefined();
});

test.each<[line: string, why: RegExp]>([
  ['Borrower: one of Stock2!B4:B', /‘Borrower’ can’t be read\. .*B4\.\.\./],
  ["Borrower: one of Samples!'Nobody'", /‘Borrower’ can’t be read\. .*Nobody/],
])('a form whose list can’t be read is not put to use: %s', async (line, why) => {
  const entry = await begun(running.workbook.id, { name: line });
  await outlined(entry.id, `${line}\nItem: text`);
  const { status, body } = await use(entry.id);
  expect([status, body.message]).toEqual([409, expect.stringMatching(why)]);
});

test('a draft is kept under a guard, changes nothing in use, and can be let go', async () => {
  const entry = await begun(await blank());
  const save = await outlined(entry.id, TALLY);
  expect((await ask('PUT', paths.draft(entry.id), save)).status).toBe(409);
  expect((await use(entry.id)).status).toBe(200);
  expect((await use(entry.id)).body.code).toBe('nothingChanged');
  await outlined(entry.id, `${TALLY}\n  Notes: lines`);
  expect(await draftOf(entry.id)).toMatchObject({ changed: true });
  expect((await running.owner.get<FormView>(paths.form(entry.id))).definition.blocks).toHaveLength(
    5,
  );
  const { revision } = await draftOf(entry.id);
  expect((await ask('DELETE', `${paths.draft(entry.id)}?revision=${revision}`)).status).toBe(200);
  const { changed, form, columns } = await draftOf(entry.id);
  expect([changed, form.definition.blocks.length, columns]).toEqual([false, 5, []]);
});

test('a draft that is kept while the workbook is read anew is the one that is held', async () => {
  const workbookId = await blank();
  const { id } = await begun(workbookId);
  const catalog = running.app.get(Catalog);
  const writer = running.app.get(FormWriter);
  let { revision } = await draftOf(id);
  for (let turns = 0; turns < 400; turns += 4) {
    const reading = catalog.refresh(workbookId);
    for (let n = 0; n < turns; n += 1) await Promise.resolve();
    const blocks = [{ is: 'divider' as const, id: `d${turns}` }];
    const draft = { definition: { blocks }, columns: [], revision };
    ({ revision } = await writer.save(id, draft));
    await reading;
    expect(catalog.form(id)).toMatchObject({
      draftRevision: revision,
      draft: { definition: { blocks } },
    });
  }
});

test('an open desk goes on with the version it has, and an earlier one can be brought back', async () => {
  const entry = await begun(await blank());
  await outlined(entry.id, 'A: text\nB: text');
  await use(entry.id);
  const old = await running.owner.get<FormView>(paths.form(entry.id));
  await outlined(entry.id, 'A: text\nC: number, required');
  await use(entry.id);
  expect((await submit(old, { A: 'x', B: 'y' })).status).toBe(201);
  const now = await running.owner.get<FormView>(paths.form(entry.id));
  expect(now.version).toBe(2);
  // A field that went takes no column and no value with it.
  expect(now.sheet.columns.map(({ heading }) => heading)).toEqual(['A', 'C', 'B']);
  const { versions, revision } = await draftOf(entry.id);
  expect(versions.map(({ version, fields }) => [version, fields])).toEqual([
    [2, 2],
    [1, 2],
  ]);
  expect((await ask('POST', paths.bringBack(entry.id, 1), { revision })).status).toBe(200);
  expect((await use(entry.id)).body.version).toBe(3);
  const back = await running.owner.get<FormView>(paths.form(entry.id));
  expect(back.definition).toEqual(old.definition);
  expect((await ask('POST', paths.bringBack(entry.id, 77), { revision: 0 })).status).toBe(404);
});

test('a renamed column changes no condition', async () => {
  const entry = await begun(await blank());
  await outlined(entry.id, `A: text\nB: text, required, shown when 'A' = "x"`);
  await use(entry.id);
  const { sheet } = await running.owner.get<FormView>(paths.form(entry.id));
  const change = { heading: 'First', revision: sheet.revision };
  const { status } = await ask('PATCH', paths.column(sheet.id, sheet.columns[0]?.id ?? ''), change);
  expect(status).toBe(200);
  const form = await running.owner.get<FormView>(paths.form(entry.id));
  expect(form.definition.blocks[1]?.shownWhen).toBe(`'First' = "x"`);
  expect((await submit(form, { First: 'y' })).status).toBe(201);
  expect((await submit(form, { First: 'x' })).status).toBe(422);
});

test('trial records land for real, are marked, use up no number, and go all at once', async () => {
  const entry = await begun(await blank());
  await outlined(entry.id, 'Nr: running number T-00\nA: text');
  const { form } = await draftOf(entry.id);
  const trials = [1, 2].map((n) => submit(form, { A: `try ${n}` }, paths.trials(entry.id)));
  expect((await Promise.all(trials)).map(({ status, body }) => [status, body.trial])).toEqual([
    [201, true],
    [201, true],
  ]);
  await use(entry.id);
  const used = await running.owner.get<FormView>(paths.form(entry.id));
  const real = await submit(used, { A: 'real' });
  expect(cellsOf(used, real.body)).toEqual({ Nr: 'T-01', A: 'real' });
  const rows = (): Promise<RowsView> =>
    running.owner.get<RowsView>(paths.rows(form.sheet.id, 0, 9));
  expect((await rows()).records.map(({ trial, cells }) => [trial, cells[0]])).toEqual([
    [true, null],
    [true, null],
    [undefined, 'T-01'],
  ]);
  expect((await draftOf(entry.id)).trials).toBe(2);
  const writeId = randomUUID();
  const removed = await ask<Written>('POST', paths.removeTrials(form.sheet.id), { writeId });
  expect([removed.status, removed.body.records.length]).toEqual([200, 2]);
  expect((await rows()).records.map(({ cells }) => cells[1])).toEqual(['real']);
  const undo = { writeId: randomUUID(), undoes: writeId };
  await ask('POST', paths.undo(form.sheet.workbookId), undo);
  expect((await draftOf(entry.id)).trials).toBe(2);
});

test('what is not ready is not put to use, and says why', async () => {
  const cases: [outline: string, says: string][] = [
    ['heading: Nothing', 'nothing to fill in'],
    ['A: one of', 'no choices'],
    ["A: text, shown when 'A' = 1", 'its own answer'],
    ["A: text, shown when 'Nowhere' = 1", 'Nowhere'],
    ['A: number 5..1', 'can pass the limits'],
    ["A: text, starts = Nowhere!'A'", 'can’t be read'],
  ];
  for (const [outline, says] of cases) {
    const entry = await begun(await blank());
    await outlined(entry.id, outline);
    const { status, body } = await use(entry.id);
    expect([outline, status, body.message]).toEqual([
      outline,
      409,
      expect.stringContaining(says) as string,
    ]);
    expect((await sheetOf((await draftOf(entry.id)).form.sheet.id)).columns).toEqual([]);
  }
});

test.each<[what: string, definition: unknown]>([
  ['no blocks', {}],
  ['an unknown block', { blocks: [{ is: 'frame', id: 'x' }] }],
  ['an unknown part', { blocks: [{ is: 'note', id: 'x', text: '', onclick: '' }] }],
  ['an id that is no id', { blocks: [{ is: 'divider', id: '__proto__' }] }],
  ['a width of 13', { blocks: [{ is: 'field', id: 'x', columnId: 'y', width: 13 }] }],
  ['a start of nothing', { blocks: [{ is: 'field', id: 'x', columnId: 'y', start: {} }] }],
  ['too many blocks', { blocks: Array(1501).fill({ is: 'divider', id: 'x' }) }],
])('a definition with %s is refused, and says where', async (_what, definition) => {
  const save = { definition, columns: [], revision: 0 };
  const { status, body } = await ask('PUT', paths.draft(running.form.id), save);
  expect([status, body.fields?.[0]?.path]).toEqual([400, 'definition']);
});

test('another formula of a column that is in the sheet comes with the form, and its values with it', async () => {
  const { id } = await begun(await blank());
  const lines = (formula: string): string =>
    `Price: money\nQuantity: whole number\nTotal: computed = ${formula}`;
  await outlined(id, lines("'Price' * 'Quantity'"));
  expect((await use(id)).status).toBe(200);
  const form = await running.owner.get<FormView>(paths.form(id));
  expect((await submit(form, { Price: '4', Quantity: '3' })).status).toBe(201);
  const total = async (): Promise<unknown> => {
    const { records } = await running.owner.get<RowsView>(paths.rows(form.sheet.id, 0, 1));
    return records[0]?.cells[2];
  };
  expect(await total()).toBe(12);
  // Written as it was, it is no change of the sheet.
  expect((await outlined(id, lines("'Price' * 'Quantity'"))).columns).toEqual([]);
  await outlined(id, lines("'Price' + 'Quantity'"));
  const { form: laidOut } = await draftOf(id);
  expect(laidOut.sheet.columns[2]?.settings.formula).toBe("'Price' + 'Quantity'");
  expect(await total()).toBe(12);
  expect((await use(id)).status).toBe(200);
  for (let tries = 0; tries < 50 && (await total()) !== 7; tries += 1) {
    await new Promise((resolve) => setTimeout(resolve, 20));
  }
  expect(await total()).toBe(7);
});

test('formulas that read other cells are told for what is typed', async () => {
  const workbook = await running.owner.get<WorkbookView>(paths.workbook(running.workbook.id));
  const entry = workbook.sheets
    .flatMap(({ forms }) => forms)
    .find(({ name }) => name === 'Lend kit');
  const form = await running.owner.get<FormView>(paths.form(entry?.id ?? ''));
  const field = form.definition.blocks.find(
    (block) => block.is === 'field' && block.columnId === 'kit-loans.item',
  );
  const { body } = await ask<CheckView>('POST', paths.checks(form.id), {
    answers: { [field?.id ?? '']: 'pH meter' },
  });
  const [price] = Object.entries(body.values).filter(([text]) => text.startsWith('XLOOKUP'));
  expect(price?.[1]).toBe(60);
});

test('what is laid out is tried by those who lay it out alone', async () => {
  const clerk = await running.as('clerk');
  const check = (draft?: true): Promise<Answer<CheckView>> =>
    clerk.ask('POST', paths.checks(running.form.id), { answers: {}, ...(draft && { draft }) });
  expect([(await check()).status, (await check(true)).status]).toEqual([200, 403]);
});

test('a record is corrected through a form: what it does not show stays', async () => {
  const { form } = running;
  const [stored] = (await running.owner.get<RowsView>(paths.rows(form.sheet.id, 0, 1))).records;
  const columns = form.sheet.columns.map(({ id }) => id);
  const answers = Object.fromEntries(
    columns
      .map((id, n) => [id, `${(stored?.cells[n] ?? '') as string | number}`] as const)
      .filter(
        ([id]) =>
          form.definition.blocks.some((block) => block.is === 'field' && block.columnId === id) &&
          !['samples.number', 'samples.oxygen-percent', 'samples.photo'].includes(id),
      ),
  );
  const rinsed = stored?.cells[columns.indexOf('samples.meter-rinsed')] === true ? 'yes' : 'no';
  const update = (revision: number): Promise<Answer<Landed>> =>
    ask('PATCH', paths.formRecord(form.id, stored?.id ?? ''), {
      writeId: randomUUID(),
      revision,
      answers: { ...answers, 'samples.meter-rinsed': rinsed, 'samples.ph': '6.5' },
    });
  const { status, body } = await update(1);
  expect([status, body.cells['samples.ph'], body.cells['samples.number'], body.revision]).toEqual([
    200,
    6.5,
    stored?.cells[0],
    2,
  ]);
  expect((await update(1)).status).toBe(409);
});

const PNG = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg==',
  'base64',
);
const send = async (name: string, body: Buffer | string): Promise<Answer<FileView & Refusal>> => {
  const response = await fetch(running.base + paths.files(running.workbook.id, name), {
    method: 'POST',
    headers: { cookie: running.owner.cookie, 'content-type': 'application/octet-stream' },
    body: typeof body === 'string' ? body : new Uint8Array(body),
  });
  const answer = (await response.json()) as FileView & Refusal;
  return { status: response.status, body: answer, headers: response.headers };
};

test.each<[name: string, body: Buffer | string, status: number, says: string]>([
  ['a.png', PNG, 201, 'a.png'],
  ['../../etc/a b.png', PNG, 201, 'a b.png'],
  ['.\u202Egnp.exe', 'MZ', 201, 'gnp.exe'],
  ['a.svg', '<svg onload="alert(1)"/>', 422, 'can hold script'],
  ['a.png', '<?xml version="1.0"?><svg/>', 422, 'can hold script'],
  ['a.jpg', 'no picture', 422, 'is not a picture'],
  ['a.txt', '', 400, 'empty'],
  ['a.bin', 'x'.repeat(1024 * 1024 + 1), 413, 'over 1 MB'],
])('the file %s is taken or refused (%#)', async (name, content, status, says) => {
  const { body, ...answer } = await send(name, content);
  expect([answer.status, status === 201 ? body.name : body.message]).toEqual([
    status,
    expect.stringContaining(says),
  ]);
});

test('a file is given out as what its bytes are, and only within its workbook', async () => {
  const picture = (await send('a.png', PNG)).body;
  const page = (await send('a.dat', '<p>hello')).body;
  const get = (id: string): Promise<Answer> => ask('GET', paths.file(running.workbook.id, id));
  const shown = await get(picture.id);
  expect(shown.headers.get('content-type')).toBe('image/png');
  expect(shown.headers.get('content-security-policy')).toContain('sandbox');
  const saved = await get(page.id);
  expect(saved.headers.get('content-type')).toBe('application/octet-stream');
  expect(saved.headers.get('content-disposition')).toMatch(/^attachment/);
  expect((await ask('GET', paths.file(await blank(), picture.id))).status).toBe(404);

  const entry = await begun(running.workbook.id, { name: 'Pictures' });
  await outlined(entry.id, 'Photo: file, only images, up to 1 MB');
  await use(entry.id);
  const form = await running.owner.get<FormView>(paths.form(entry.id));
  const codes = await Promise.all(
    [
      fileText(picture.id, 'a.png'),
      fileText(page.id, 'a.dat'),
      fileText(newId(), 'b.png'),
      'b.png',
    ].map(async (Photo) => {
      const { status, body } = await submit(form, { Photo });
      return body.verdicts?.[0]?.code ?? status;
    }),
  );
  expect(codes).toEqual([201, 'otherFiles', 'fileGone', 'notAFile']);
});

test('a form begins like another, on its sheet or on a new one', async () => {
  const workbookId = await blank();
  const entry = await begun(workbookId);
  await outlined(entry.id, `A: text\nB: one of (x, y), shown when 'A' = "1"`);
  await use(entry.id);
  const same = await begun(workbookId, {
    name: 'Two',
    like: entry.id,
    sheetId: (await draftOf(entry.id)).form.sheet.id,
  });
  const other = await begun(workbookId, { name: 'Three', like: entry.id });
  expect((await draftOf(same.id)).columns).toEqual([]);
  const there = await draftOf(other.id);
  expect(there.columns.map(({ heading, settings }) => [heading, settings.choices])).toEqual([
    ['A', undefined],
    ['B', ['x', 'y']],
  ]);
  expect(there.form.definition.blocks[1]?.shownWhen).toBe(`'A' = "1"`);
  expect((await use(other.id)).status).toBe(200);
  const free = await ask('POST', paths.forms(running.workbook.id), {
    writeId: randomUUID(),
    name: 'None',
    sheetId: running.workbook.sheets.find(({ hasRecords }) => !hasRecords)?.id,
  });
  expect([free.status, free.body.code]).toEqual([409, 'noRecords']);
});

test('a removed form takes nothing in and gives nothing out, until it is put back as it was', async () => {
  const workbookId = await blank();
  const entry = await begun(workbookId);
  await outlined(entry.id, 'Item: text');
  await use(entry.id);
  const form = await running.owner.get<FormView>(paths.form(entry.id));
  await submit(form, { Item: 'Waders' });
  const remove = (revision: number): Promise<Answer<FormEntry & Refusal>> =>
    ask('DELETE', `${paths.form(entry.id)}?revision=${revision}`);
  expect((await remove(form.revision + 1)).status).toBe(409);
  expect((await remove(form.revision)).status).toBe(200);
  for (const { status } of [
    await remove(form.revision + 1),
    await ask('GET', paths.form(entry.id)),
    await ask('GET', paths.draft(entry.id)),
    await submit(form, { Item: 'Meter' }),
    await ask('POST', paths.forms(workbookId), {
      writeId: randomUUID(),
      name: 'Like it',
      like: entry.id,
    }),
  ]) {
    expect(status).toBe(404);
  }
  const gone = await running.owner.get<WorkbookView>(paths.workbook(workbookId));
  expect(gone.sheets[0]).toMatchObject({ forms: [], records: 1 });
  expect(gone.removedForms).toEqual([{ id: entry.id, name: 'Tally', version: 1 }]);
  const back = { writeId: randomUUID() };
  const elsewhere = paths.putBackForm(await blank(), entry.id);
  expect((await ask('POST', elsewhere, back)).status).toBe(404);
  for (const twice of [1, 2]) {
    const answer = await ask('POST', paths.putBackForm(workbookId, entry.id), back);
    expect([twice, answer.status]).toEqual([twice, 200]);
  }
  const again = await running.owner.get<FormView>(paths.form(entry.id));
  expect(again.definition).toEqual(form.definition);
  expect((await submit(again, { Item: 'Meter' })).status).toBe(201);
});

/** Everything on it that a form can have, to be spoilt in one place at a time. */
const EVERYTHING = `
  form: Spoilt
  look: accent slate, dense, labels beside
  entering: held back until ready
  after: say "{Item} stored", keep (Item)
  Item: text 2..9, required, starts with "WQ-"
  Price: money EUR 0..99
  How many: steps 1..5, ends "few" and "many"
  Weighed: number with steps, by 0.5, unit kg
  Total: computed = 'Price' * 'How many'
  Day: date 2026-01-01..2026-12-31, starts today, kept
  River: radio of (Ash Beck, Corrow Water), own answer, beside, width 4
  Seen: several of (Heron, Otter), parted by "|"
  Number: running number RW-000
  Photo: file, only images, up to 2 MB
  page: More, shown when 'Total' > 3
  How: statements of (Yes, No), required when 'Item' <> ""
    Easy
    Quick
  Catch: whole number, repeated 3 times
  Smell: ticks
    Earthy
    Oil
  note: **Bring** gloves
  message caution: IF('Total' > 10; "Dear"; "")
`;

type Path = readonly (string | number)[];
const pathsIn = (value: unknown, at: Path = []): Path[] =>
  typeof value === 'object' && value !== null
    ? [at, ...Object.entries(value).flatMap(([name, each]) => pathsIn(each, [...at, name]))]
    : [at];

/** A copy with something else at one place; `undefined` takes it out. */
function spoilt<T>(value: T, [name, ...rest]: Path, by: unknown): T {
  if (name === undefined) return by as T;
  const copy = (Array.isArray(value) ? [...(value as unknown[])] : { ...value }) as Record<
    string | number,
    unknown
  >;
  copy[name] = spoilt(copy[name], rest, by);
  return copy as T;
}

test('another separator, another mark: what is stored is parted anew, in one record once, and read back', async () => {
  const { id } = await begun(await blank());
  const lines = (sign: string, mark: string): string => `
    Seen: several of (Strap, "Lid; large"), own answer after "${mark}", parted by "${sign}"
    Heard: several of (Drip, Hum), parted by "${sign}"
    Note: text
  `;
  await outlined(id, lines('; ', 'Else: '));
  expect((await use(id)).status).toBe(200);
  const form = await running.owner.get<FormView>(paths.form(id));
  const answers = { Seen: 'Strap; "Lid; large"; a|b', Heard: 'Drip; Hum', Note: 'a; b' };
  expect((await submit(form, answers)).status).toBe(201);
  expect((await submit(form, { Note: 'nothing' })).status).toBe(201);
  const cells = async (): Promise<unknown[]> => {
    const { records } = await running.owner.get<RowsView>(paths.rows(form.sheet.id, 0, 9));
    return records.map((record) => record.cells);
  };
  const before = [
    ['Strap; "Lid; large"; Else: a|b', 'Drip; Hum', 'a; b'],
    [null, null, 'nothing'],
  ];
  expect(await cells()).toEqual(before);
  await outlined(id, lines('|', 'Also: '));
  expect((await use(id)).status).toBe(200);
  expect(await cells()).toEqual([
    ['Strap|Lid; large|"Also: a|b"', 'Drip|Hum', 'a; b'],
    [null, null, 'nothing'],
  ]);
  await outlined(id, lines('; ', 'Else: '));
  expect((await use(id)).status).toBe(200);
  expect(await cells()).toEqual(before);
});

test('however a draft is spoilt, it is refused with a reason, or can be tried, used and filled in', async () => {
  const workbookId = await blank();
  const { id } = await begun(workbookId);
  const whole = await outlined(id, EVERYTHING);
  const { definition, columns } = whole;
  const everywhere = pathsIn({ definition, columns }).filter((path) => path.length > 0);
  const odd: fc.Arbitrary<unknown> = fc.oneof(
    fc.constantFrom(undefined, null, '', 0, -1, 1e9, 2.5, true, [], {}, '__proto__', "'Gone' +"),
    fc.constantFrom(...everywhere.map((path) => partAt({ definition, columns }, path))),
    fc.string(),
  );
  await fc.assert(
    fc.asyncProperty(fc.constantFrom(...everywhere), odd, async (path, by) => {
      const { revision } = await draftOf(id);
      const save = spoilt({ definition, columns, revision }, path, by);
      const saved = await ask('PUT', paths.draft(id), save);
      if (saved.status !== 200) {
        expect([saved.status, saved.body.message.length > 10]).toEqual([400, true]);
        return;
      }
      const draft = await draftOf(id);
      const inputs = draft.form.definition.blocks.flatMap((block) =>
        block.is === 'group' ? block.members : block.is === 'field' ? [block] : [],
      );
      const answers = Object.fromEntries(
        inputs.map((each, n) => [each.id, ['3', 'Yes', ''][n % 3] ?? '']),
      );
      const checked = await ask('POST', paths.checks(id), { answers, draft: true });
      expect(checked.status).toBe(200);
      const order = { writeId: randomUUID(), answers };
      const tried = await ask('POST', paths.trials(id), order);
      expect(tried.status).toBeLessThan(500);
    }),
    { numRuns: 150 },
  );
}, 120_000);

function partAt(value: unknown, path: Path): unknown {
  return path.reduce<unknown>(
    (held, name) => (held as Record<string | number, unknown>)[name],
    value,
  );
}

test('an untouched starting value is computed by the server from the answers that are submitted', async () => {
  const loans = running.workbook.sheets.find(({ name }) => name === 'Kit loans');
  const form = await running.owner.get<FormView>(paths.form(loans?.forms[0]?.id ?? ''));
  const { blocks } = form.definition;
  const column = (heading: string): string =>
    form.sheet.columns.find((each) => each.heading === heading)?.id ?? '';
  const id = (heading: string): string =>
    blocks.find((block) => block.is === 'field' && block.columnId === column(heading))?.id ?? '';
  const meter = 'Oxygen meter';
  const [borrower] = form.last.records.map(({ cells }) => cells[0] as string);
  const noon = Date.UTC(2026, 0, 31, 12);
  const body = {
    writeId: randomUUID(),
    answers: { [id('Borrower')]: borrower, [id('Item')]: meter, [id('Deposit')]: '25.00' },
    untouched: [id('Deposit'), id('Quantity'), id('Out')],
    pressedAt: noon,
  };
  const landed = await ask<Landed>('POST', paths.submits(form.id), body);
  expect(landed.status).toBe(201);
  const { cells, became } = landed.body;
  // What stood there was a look-up for another item; a day is that of the press, not of the arrival.
  expect(cells[column('Deposit')]).toBe(120);
  expect(cells[column('Out')]).toBe('2026-01-31');
  expect([...(became ?? [])].sort()).toEqual(['Deposit', 'Out', 'Quantity'].map(column).sort());
  // A repeat is told the same; seen as it is stored, nothing is said.
  expect((await ask<Landed>('POST', paths.submits(form.id), body)).body).toEqual(landed.body);
  const seen = { [id('Deposit')]: '120.00', [id('Quantity')]: '1', [id('Out')]: '31/01/2026' };
  const right = { ...body, writeId: randomUUID(), answers: { ...body.answers, ...seen } };
  expect((await ask<Landed>('POST', paths.submits(form.id), right)).body.became).toBeUndefined();
  // Typed over, it is stored as typed; a clock that runs ahead is not believed.
  const typed = { ...right, writeId: randomUUID(), untouched: [id('Out')], pressedAt: 9e15 };
  typed.answers = { ...typed.answers, [id('Deposit')]: '30' };
  const { body: told } = await ask<Landed>('POST', paths.submits(form.id), typed);
  expect(told.cells[column('Deposit')]).toBe(30);
  expect(told.cells[column('Out')]).toBe(new Date().toISOString().slice(0, 10));
  expect(told.became).toEqual([column('Out')]);
});

test('a number that a form goes on with is the highest and one, given at the write, and never twice', async () => {
  const entry = await begun(await blank());
  await outlined(entry.id, 'No.: text, starts next "K-000", required\nWhat: text');
  await use(entry.id);
  const form = await running.owner.get<FormView>(paths.form(entry.id));
  const [number = '', what = ''] = form.definition.blocks.map(({ id }) => id);
  const column = form.sheet.columns[0]?.id ?? '';
  expect(form.nextTexts).toEqual({ [column]: 'K-001' });
  const send = (
    answers: Record<string, string>,
    untouched = [number],
  ): Promise<Answer<Landed & Refusal>> =>
    ask('POST', paths.submits(form.id), { writeId: randomUUID(), answers, untouched });
  // All saw the same number; each got one of its own, and was told.
  const seen = { [number]: 'K-001', [what]: 'net' };
  const all = await Promise.all([1, 2, 3].map(() => send(seen)));
  expect(all.map(({ body }) => body.cells[column]).sort()).toEqual(['K-001', 'K-002', 'K-003']);
  expect(all.filter(({ body }) => body.became).length).toBe(2);
  const typed = await send({ [number]: 'K-010', [what]: 'pump' }, []);
  expect(typed.body.cells[column]).toBe('K-010');
  const twice = await send({ [number]: 'k-010', [what]: 'pump' }, []);
  expect(twice.body.verdicts).toMatchObject([{ fieldId: number, code: 'keyTaken', row: 5 }]);
  expect((await running.owner.get<FormView>(paths.form(entry.id))).nextTexts).toEqual({
    [column]: 'K-011',
  });

  // The column made a running number goes on there, written as it was.
  const { revision } = await running.owner.get<SheetView>(paths.sheet(form.sheet.id));
  const change = { revision, kind: 'runningNumber' };
  expect((await ask('PATCH', paths.column(form.sheet.id, column), change)).status).toBe(200);
  const plain = await running.owner.get<FormView>(paths.form(entry.id));
  expect(plain.nextNumbers).toEqual({ [column]: 11 });
  expect(plain.sheet.columns[0]?.settings.pattern).toBe('K-000');
  const landed = await send({ [what]: 'rope' }, []);
  expect(landed.body.cells[column]).toBe('K-011');
});
