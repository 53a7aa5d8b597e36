import {
  paths,
  type CountsView,
  type FoundRecordsView,
  type Landed,
  type ManyChanged,
  type MatchesPreview,
  type RecordPlaceView,
  type Refusal,
  type RowsView,
  type SheetView,
  type Written,
} from '@varn/contract';
import { randomUUID } from 'node:crypto';
import { start, type Client, type Running } from '../testing/harness';

/** A sheet of loans: a number that is its key, who, what, when, how much, and a computed column. */
let running: Running;
let owner: Client;
let sheet: SheetView;
const ROWS: readonly (readonly string[])[] = [
  ['KL-0007', 'Wyn Hart', 'Waders', '20/11/2026', '25'],
  ['KL-0008', 'Ulla Fallow', 'Oxygen meter', '24/11/2026', '120'],
  ['KL-0070', 'Wyn Hart', 'Net', '24/11/2026', '10'],
  ['KL-0071', 'Ünal Marsh', 'Waders', '', '25'],
  ['KL-0700', 'KL-0007', 'Note about another', '25/11/2026', ''],
];
const HEADINGS = ['Number', 'Borrower', 'Item', 'Out', 'Deposit'];

beforeAll(async () => {
  running = await start();
  owner = running.owner;
});
afterAll(() => running.stop());

beforeEach(async () => {
  const body = {
    writeId: randomUUID(),
    name: `Loans ${randomUUID().slice(0, 6)}`,
    headings: HEADINGS,
  };
  const { body: made } = await owner.ask<SheetView>(
    'POST',
    paths.sheets(running.workbook.id),
    body,
  );
  sheet = made;
  const kinds: Record<string, object> = {
    Number: { settings: { key: true } },
    Out: { kind: 'date' },
    Deposit: { kind: 'number' },
  };
  for (const [heading, change] of Object.entries(kinds)) {
    await owner.ask('PATCH', paths.column(sheet.id, id(heading)), {
      ...change,
      revision: sheet.revision,
    });
    sheet = await owner.get<SheetView>(paths.sheet(sheet.id));
  }
  const added = ROWS.map((row) => ({
    answers: Object.fromEntries(row.map((text, n) => [id(HEADINGS[n] ?? ''), text])),
  }));
  const { status } = await owner.ask('POST', paths.cells(sheet.id), {
    writeId: randomUUID(),
    revision: sheet.revision,
    added,
  });
  expect(status).toBe(200);
});

const id = (heading: string): string =>
  sheet.columns.find((column) => column.heading === heading)?.id ?? '';
const view = (filters: readonly [string, string][], text = ''): string =>
  JSON.stringify({
    text,
    filters: filters.map(([heading, says]) => ({ columnId: id(heading), says })),
  });
const numbersIn = (rows: RowsView): unknown[] => rows.records.map(({ cells }) => cells[0]);
const rows = (of = view([])): Promise<RowsView> =>
  owner.get<RowsView>(paths.rows(sheet.id, 0, 50, of));

describe('words that are looked for', () => {
  test.each<[text: string, found: string[]]>([
    ['KL-0007', ['KL-0007', 'KL-0700']],
    ['0007', ['KL-0007', 'KL-0700']],
    ['wyn', ['KL-0070', 'KL-0007']],
    ['unal waders', ['KL-0071']],
    ['24 nov wyn', ['KL-0070']],
    ['120', ['KL-0008']],
    ['nothing like it', []],
    ['  ', []],
  ])('‘%s’ finds by key first, then the newest', async (text, found) => {
    const { body } = await owner.ask<FoundRecordsView>('POST', paths.search(sheet.id), {
      text,
      most: 5,
    });
    expect(body.found.map(({ record }) => record.cells[0])).toEqual(found);
    expect(body.count).toBe(found.length);
    const isKey = ROWS.some(([number]) => number === text);
    expect(body.found[0]?.byKey ?? false).toBe(isKey);
  });

  test('tell only as many as are wanted, and how many there are', async () => {
    const { body } = await owner.ask<FoundRecordsView>('POST', paths.search(sheet.id), {
      text: 'kl',
      most: 2,
    });
    expect([body.count, body.found.map(({ row }) => row)]).toEqual([
      5,
      [sheet.headingRow + 5, sheet.headingRow + 4],
    ]);
  });
});

test('a question is counted condition by condition, and what can’t be read is told beside', async () => {
  const ask = async (filters: readonly [string, string][], text = '') =>
    (
      await owner.ask<CountsView>(
        'POST',
        paths.counts(sheet.id),
        JSON.parse(view(filters, text)) as object,
      )
    ).body;
  const two = await ask([
    ['Item', 'waders'],
    ['Deposit', '>= 25'],
    ['Out', 'not empty'],
  ]);
  expect([two.count, two.of, two.parts.map(({ count }) => count)]).toEqual([1, 5, [2, 2, 1]]);
  expect(two.says).toBe(
    `${sheet.name} where Item contains ‘waders’, Deposit is at least 25 and Out is not empty`,
  );
  const broken = await ask(
    [
      ['Out', '>= soon'],
      ['Item', 'net'],
    ],
    'wyn',
  );
  // What can't be read never means all records, nor those that the rest finds.
  expect([broken.count, broken.says, broken.problems]).toEqual([
    0,
    `Nothing of ${sheet.name} while ‘Out’ can’t be read`,
    [{ columnId: id('Out'), message: expect.stringMatching(/‘soon’ is not a date/) as string }],
  ]);
  expect((await ask([])).count).toBe(5);
});

test('matches are rows of a view, in any order, and follow what is written', async () => {
  const waders = view([['Item', 'waders']]);
  expect(numbersIn(await rows(waders))).toEqual(['KL-0007', 'KL-0071']);
  const [first] = (await rows(waders)).records;
  const change = {
    writeId: randomUUID(),
    revision: first?.revision,
    answers: { [id('Item')]: 'Rope' },
  };
  await owner.ask('PATCH', paths.record(sheet.id, first?.id ?? ''), change);
  expect(numbersIn(await rows(waders))).toEqual(['KL-0071']);
  expect(numbersIn(await rows(view([], '24 nov')))).toEqual(['KL-0008', 'KL-0070']);
  const bad = await owner.ask<Refusal>(
    'GET',
    paths.rows(sheet.id, 0, 5, view([['Deposit', 'dear']])),
  );
  expect([bad.status, bad.body.message]).toEqual([400, expect.stringMatching(/^Deposit: ‘dear’/)]);
});

test('matches are taken away as CSV, in their order, and nothing else is', async () => {
  const asked = JSON.stringify({
    filters: [{ columnId: id('Item'), says: 'waders, net' }],
    order: [{ columnId: id('Number'), falling: true }],
  });
  const csv = async (of: string) => owner.ask<string>('GET', paths.csv(sheet.id, 'on', of));
  const { status, body } = await csv(asked);
  const lines = body.trim().split(/\r?\n/);
  expect([status, lines.map((line) => line.split(',')[0]?.replace(/^\uFEFF/, ''))]).toEqual([
    200,
    ['Number', 'KL-0071', 'KL-0070', 'KL-0007'],
  ]);
  expect((await csv('[')).status).toBe(400);
  expect((await csv('')).body.trim().split(/\r?\n/)).toHaveLength(6);
});

test('one record is told with its place; one that is gone is not', async () => {
  const [, second] = (await rows()).records;
  const place = await owner.get<RecordPlaceView>(paths.record(sheet.id, second?.id ?? ''));
  expect([place.row, place.position, place.count]).toEqual([sheet.headingRow + 2, 1, 5]);
  expect(place.record).toEqual(second);
  expect((await owner.ask('GET', paths.record(sheet.id, 'nobody'))).status).toBe(404);
});

test.each<[what: string, view: object]>([
  ['a long text', { text: 'x'.repeat(301), filters: [] }],
  ['a long condition', { filters: [{ columnId: 'a', says: ' '.repeat(5000) }] }],
  [
    'many conditions',
    { filters: Array.from({ length: 101 }, () => ({ columnId: 'a', says: '1' })) },
  ],
  ['another shape', { filters: [{ columnId: 7 }] }],
  ['a part of another name', { filter: 'x' }],
  ['a condition with a part more', { filters: [{ columnId: 'a', says: '1', not: true }] }],
  ['an order of another name', { order: { column: 'a' } }],
])('a view of %s is refused', async (_what, asked) => {
  const path = paths.rows(sheet.id, 0, 5, JSON.stringify(asked));
  const { status, body } = await owner.ask<Refusal>('GET', path);
  expect([status, body.code]).toEqual([400, 'notAView']);
});

describe('all matches at once', () => {
  const change = (more: object) => ({ writeId: randomUUID(), view: view([]), count: 5, ...more });

  test.each<
    [
      what: string,
      filters: [string, string][],
      count: number,
      heading: string,
      text: string,
      leaves: unknown[],
      refused: number,
    ]
  >([
    ['a value', [['Item', 'waders']], 2, 'Deposit', '30', [30, 120, 10, 30, null], 0],
    ['nothing', [['Item', 'waders']], 2, 'Deposit', '', [null, 120, 10, null, null], 0],
    ['a formula', [], 5, 'Deposit', "='Deposit'*2", [50, 240, 20, 50, 0], 0],
    [
      'a formula of text',
      [['Deposit', '25']],
      2,
      'Item',
      `="1 "&LOWER('Item')`,
      ['1 waders', 'Oxygen meter', 'Net', '1 waders', 'Note about another'],
      0,
    ],
  ])(
    'become %s, as one write that is taken back',
    async (_what, filters, count, heading, text, leaves, refused) => {
      const at = HEADINGS.indexOf(heading);
      const before = (await rows()).records.map(({ cells }) => cells[at]);
      const asked = { view: view(filters), count, columnId: id(heading), text };
      const { body: preview } = await owner.ask<MatchesPreview>(
        'POST',
        paths.previewMatches(sheet.id),
        asked,
      );
      const { status, body: done } = await owner.ask<ManyChanged>(
        'POST',
        paths.changeMatches(sheet.id),
        {
          ...asked,
          writeId: randomUUID(),
        },
      );
      expect([status, done.changed, done.left]).toEqual([200, preview.changed, refused]);
      expect((await rows()).records.map(({ cells }) => cells[at])).toEqual(leaves);
      expect(preview.first).toHaveLength(preview.changed);
      await owner.ask('POST', paths.undo(running.workbook.id), {
        writeId: randomUUID(),
        undoes: done.writeId,
      });
      expect((await rows()).records.map(({ cells }) => cells[at])).toEqual(before);
    },
  );

  test('that can’t take it are told of with why, and stay', async () => {
    const asked = { view: view([]), count: 5, columnId: id('Out'), text: `='Item'` };
    const { body } = await owner.ask<MatchesPreview>('POST', paths.previewMatches(sheet.id), asked);
    expect([body.changed, body.refused]).toEqual([0, 5]);
    expect(body.left[0]?.message).toMatch(/not a date/);
    const sent = await owner.ask<Refusal>('POST', paths.changeMatches(sheet.id), {
      ...asked,
      writeId: randomUUID(),
    });
    expect([sent.status, sent.body.code]).toEqual([422, 'refused']);
  });

  test.each<[what: string, more: object, status: number, code: string]>([
    ['another count', { count: 4 }, 409, 'countChanged'],
    ['a column that is not there', { columnId: 'x' }, 404, 'notFound'],
    ['a formula that is none', { text: "='Nobody'" }, 400, 'notAFormula'],
    ['a view that is none', { view: '[' }, 400, 'notAView'],
  ])('with %s nothing is written', async (_what, more, status, code) => {
    const columnId = id((more as { columnId?: string }).columnId ?? 'Deposit') || 'x';
    const before = (await rows()).records;
    const body = change({ text: '1', ...more, columnId });
    const answer = await owner.ask<Refusal>('POST', paths.changeMatches(sheet.id), body);
    expect([answer.status, answer.body.code]).toEqual([status, code]);
    expect((await rows()).records).toEqual(before);
  });

  test('that would have one key among them: the first is changed, the others are left with why', async () => {
    const asked = change({ columnId: id('Number'), text: 'KL-1' });
    const { writeId: _, ...looked } = asked;
    const preview = paths.previewMatches(sheet.id);
    const { body } = await owner.ask<MatchesPreview>('POST', preview, looked);
    const { body: csv } = await owner.ask<string>('POST', paths.leftMatches(sheet.id), looked);
    const done = await owner.ask<ManyChanged>('POST', paths.changeMatches(sheet.id), asked);
    expect([body.changed, body.refused, done.body.changed, done.body.left]).toEqual([1, 4, 1, 4]);
    const messages = body.left.map(({ message }) => message);
    expect(messages.every((each) => each.startsWith('‘KL-1’ is already taken'))).toBe(true);
    const [heading, ...lines] = csv.trim().split('\r\n');
    expect([heading, lines.length]).toEqual(['Row,Record,Number,Why', 4]);
    const undo = { writeId: randomUUID(), undoes: asked.writeId };
    expect((await owner.ask('POST', paths.undo(running.workbook.id), undo)).status).toBe(200);
  });

  test('go to the bin, once, and come back by one undo', async () => {
    const body = change({ view: view([['Borrower', 'wyn']]), count: 2 });
    for (const _ of [1, 2]) {
      const { body: done } = await owner.ask<ManyChanged>(
        'POST',
        paths.removeMatches(sheet.id),
        body,
      );
      expect(done.changed).toBe(2);
    }
    expect(numbersIn(await rows())).toEqual(['KL-0008', 'KL-0071', 'KL-0700']);
    const undone = await owner.ask<Written>('POST', paths.undo(running.workbook.id), {
      writeId: randomUUID(),
      undoes: body.writeId,
    });
    expect(undone.body.records).toHaveLength(2);
    expect(numbersIn(await rows())).toEqual(ROWS.map(([number]) => number));
  });

  test('are for clerks and above; reading is for everyone of the workbook, and for nobody else', async () => {
    const [reader, clerk, outsider] = [
      await running.as('reader'),
      await running.as('clerk'),
      await running.as('outsider'),
    ];
    const search = { text: 'wyn', most: 3 };
    const asked = change({ columnId: id('Deposit'), text: '1' });
    const statuses = async (who: Client) => [
      (await who.ask('POST', paths.search(sheet.id), search)).status,
      (await who.ask('POST', paths.counts(sheet.id), { filters: [] })).status,
      (await who.ask('POST', paths.changeMatches(sheet.id), asked)).status,
      (await who.ask('POST', paths.removeMatches(sheet.id), change({}))).status,
    ];
    expect(await statuses(reader)).toEqual([200, 200, 403, 403]);
    expect(await statuses(outsider)).toEqual([403, 403, 403, 403]);
    expect(await statuses(clerk)).toEqual([200, 200, 200, 200]);
    const { body } = await owner.ask<Landed & { count: number }>('GET', paths.sheet(sheet.id));
    expect(body.count).toBe(0);
  });
});
