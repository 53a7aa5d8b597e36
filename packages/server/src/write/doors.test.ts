import {
  paths,
  type CellRefusal,
  type DraftView,
  type FormEntry,
  type FormView,
  type Landed,
  type LeftRecord,
  type ManyChanged,
  type MatchesPreview,
  type ReplacePreview,
  type RowsAdded,
  type RowsChecked,
  type RowsView,
  type SheetView,
  type UploadView,
  type ValuesCount,
  type VerdictView,
  type WorkbookView,
  type Written,
} from '@varn/contract';
import { DOORS, type Door, type FormDefinition, type Rule, type Strictness } from '@varn/core';
import * as fc from 'fast-check';
import { randomUUID } from 'node:crypto';
import { start, type Answer, type Running } from '../testing/harness';

/**
 * Every door by which a record comes to be stored, held against every other: whatever the rules, the
 * stored record, what is given of it and the part of the columns that a form shows, the verdict, the
 * words and what is stored are the same.
 */
const KINDS = {
  code: 'text',
  word: 'text',
  least: 'wholeNumber',
  most: 'wholeNumber',
  day: 'date',
  said: 'yesNo',
} as const;
type Heading = keyof typeof KINDS;
const HEADINGS = Object.keys(KINDS) as Heading[];
type Typed = Readonly<Partial<Record<Heading, string>>>;
type Rules = Partial<Record<Heading | 'twice', readonly Rule[]>>;

/** `VARN_DOORS=300` tries more of them. */
const RUNS = Number(process.env['VARN_DOORS'] ?? 8);

let running: Running;
let sheet: SheetView;
/** The form as it shows all columns, and as it shows some: an older version, and the one in use. */
let form: {
  id: string;
  blocks: FormDefinition['blocks'];
  shown: readonly Heading[];
  whole: number;
};

const idOf = (heading: string): string =>
  sheet.columns.find((column) => column.heading === heading)?.id ?? '';
const ask = async <T>(method: string, path: string, body?: unknown): Promise<Answer<T>> => {
  const answer = await running.owner.ask<T>(method, path, body);
  if (answer.status >= 500) throw new Error(`${method} ${path}: ${JSON.stringify(answer.body)}`);
  return answer;
};
const look = async (): Promise<SheetView> =>
  (sheet = await running.owner.get<SheetView>(paths.sheet(sheet.id)));

async function reshape(heading: string, change: object): Promise<void> {
  const body = { ...change, revision: sheet.revision };
  const { status, body: told } = await ask('PATCH', paths.column(sheet.id, idOf(heading)), body);
  if (status !== 200) throw new Error(JSON.stringify(told));
  await look();
}

beforeAll(async () => {
  running = await start();
  const started = { writeId: randomUUID(), name: 'Doors', locale: 'en-GB', timeZone: 'UTC' };
  const workbook = (await ask<WorkbookView>('POST', paths.workbooks, started)).body;
  const headings = [...HEADINGS, 'twice'];
  const body = { writeId: randomUUID(), name: 'Doors', headings };
  sheet = (await ask<SheetView>('POST', paths.sheets(workbook.id), body)).body;
  for (const heading of HEADINGS) await reshape(heading, { kind: KINDS[heading] });
  await reshape('twice', { kind: 'computed', formula: "='least'*2", follows: false });
  const entry = await ask<FormEntry>('POST', paths.sheetForms(sheet.id), { writeId: randomUUID() });
  const { id } = entry.body;
  const { definition, version } = await running.owner.get<FormView>(paths.form(id));
  form = { id, blocks: definition.blocks, shown: HEADINGS, whole: version };
});
afterAll(() => running.stop());

/** Lets the form show some of the columns, as the version in use and as the draft. */
async function show(shown: readonly Heading[]): Promise<void> {
  const ids = new Set(shown.map(idOf));
  const blocks = form.blocks.filter((block) => block.is === 'field' && ids.has(block.columnId));
  const draft = await running.owner.get<DraftView>(paths.draft(form.id));
  const saved = await ask<{ revision: number }>('PUT', paths.draft(form.id), {
    definition: { ...draft.form.definition, blocks },
    columns: [],
    revision: draft.revision,
  });
  const { revision } = saved.body;
  await ask('POST', paths.use(form.id), { writeId: randomUUID(), revision });
  form = { ...form, shown };
}

async function rule(rules: Rules): Promise<void> {
  for (const heading of [...HEADINGS, 'twice'] as const) {
    const wanted = rules[heading] ?? [];
    const held = sheet.columns.find((column) => column.heading === heading)?.settings.rules ?? [];
    if (JSON.stringify(wanted) !== JSON.stringify(held)) {
      await reshape(heading, { settings: { rules: wanted } });
    }
  }
}

/** What became of what came through a door. */
interface Came {
  /** `heading code strictness words` of what is said, the weightiest of each column, by column. */
  readonly said: readonly string[];
  /** What is stored, by heading; `null` where nothing was written. */
  readonly stored: Readonly<Record<string, unknown>> | null;
}

interface Said {
  readonly columnId: string;
  readonly message: string;
  readonly strictness: Strictness;
}

function came(said: readonly Said[], stored: Landed['cells'] | null): Came {
  const headings = new Map(sheet.columns.map(({ id, heading }) => [id, heading]));
  const weight = { refuse: 0, ask: 1, note: 2 };
  const first = new Map<string, string>();
  for (const { columnId, message, strictness } of [...said].sort(
    (a, b) => weight[a.strictness] - weight[b.strictness],
  )) {
    const heading = headings.get(columnId) ?? columnId;
    if (!first.has(heading)) first.set(heading, `${heading} ${strictness}: ${message}`);
  }
  const cells = Object.entries(stored ?? {}).map(([id, value]) => [headings.get(id) ?? id, value]);
  const { code: _, ...rest } = Object.fromEntries(cells) as Record<string, unknown>;
  return { said: [...first.values()].sort(), stored: stored && rest };
}

const byId = (typed: Typed): Record<string, string> =>
  Object.fromEntries(Object.entries(typed).map(([heading, text]) => [idOf(heading), text]));

/** Answers of the form's fields, of those columns that it shows. */
function answersOf(typed: Typed, shown: readonly Heading[]): Record<string, string> {
  return Object.fromEntries(
    form.blocks.flatMap((block) => {
      if (block.is !== 'field') return [];
      const heading = shown.find((each) => idOf(each) === block.columnId);
      const text = heading && typed[heading];
      return text === undefined || text === '' ? [] : [[block.id, text]];
    }),
  );
}

type Judged = Landed & { verdicts?: VerdictView[] };
const ofVerdicts = ({ status, body }: Answer<Judged>): Came =>
  came(body.verdicts ?? [], status < 300 ? body.cells : null);
const ofCells = (refused: readonly CellRefusal[], landed: Landed | undefined): Came =>
  came(
    refused.map((each) => ({ ...each, columnId: each.column })),
    landed ? landed.cells : null,
  );

/** A stored record: what was typed of it, and where it is. */
interface Stored {
  readonly typed: Typed;
  readonly id: string;
  readonly revision: number;
}

const cellsOf = async (recordId: string): Promise<Landed['cells']> => {
  const { count } = await look();
  const { records } = await running.owner.get<RowsView>(paths.rows(sheet.id, 0, count));
  const record = records.find(({ id }) => id === recordId);
  const cells = sheet.columns.map(({ id }, n) => [id, record?.cells[n] ?? null] as const);
  return Object.fromEntries(cells.filter(([, value]) => value !== null));
};

async function add(typed: Typed): Promise<Stored> {
  const { body } = await ask<Written>('POST', paths.cells(sheet.id), {
    writeId: randomUUID(),
    revision: sheet.revision,
    added: [{ answers: byId(typed) }],
  });
  const [landed] = body.records;
  if (!landed) throw new Error(JSON.stringify(body));
  return { typed, id: landed.recordId, revision: landed.revision };
}

const viewOf = (stored: Stored): string =>
  JSON.stringify({ filters: [{ columnId: idOf('code'), says: stored.typed.code }] });

/** What of many is left, where one record is meant: all of it as if it were told of the column. */
const ofLeft = (heading: string, left: readonly LeftRecord[]): Said[] =>
  left.map((each) => ({ ...each, columnId: idOf(heading) }));

type Changing = (stored: Stored, change: Typed) => Promise<Came>;

/**
 * What a door lets in: a new record, a change of some columns or of one, or something that stood
 * there before.
 */
type Way =
  | { readonly lets: 'new'; readonly through: (typed: Typed) => Promise<Came> }
  | { readonly lets: 'change'; readonly through: Changing }
  | { readonly lets: 'one'; readonly through: Changing }
  | {
      readonly lets: 'back';
      /** Stores what broke rules by now, once more. */
      readonly through: (
        stored: Stored,
        rules: Rules,
      ) => Promise<{ cells: Landed['cells']; notes: string[] | null }>;
    };

const submitting =
  (path: (formId: string) => string, version?: () => number) =>
  async (typed: Typed): Promise<Came> => {
    const shown = version ? HEADINGS : form.shown;
    return ofVerdicts(
      await ask<Judged>('POST', path(form.id), {
        writeId: randomUUID(),
        answers: answersOf(typed, shown),
        ...(version && { version: version(), pressedAt: Date.now() - 60_000 }),
      }),
    );
  };
const updating =
  (version?: () => number) =>
  async ({ id, revision, typed }: Stored, change: Typed): Promise<Came> =>
    ofVerdicts(
      await ask<Judged>('PATCH', paths.formRecord(form.id, id), {
        writeId: randomUUID(),
        revision,
        answers: answersOf({ ...typed, ...change }, version ? HEADINGS : form.shown),
        ...(version && { version: version() }),
      }),
    );
const gridWrite = async (more: object): Promise<Came> => {
  const { body } = await ask<Written & { cells?: CellRefusal[] }>('POST', paths.cells(sheet.id), {
    writeId: randomUUID(),
    revision: sheet.revision,
    ...more,
  });
  return ofCells(body.cells ?? body.refused, body.cells ? undefined : body.records[0]);
};
const notesOf = (told: { notes?: { message: string }[] }): string[] =>
  (told.notes ?? []).map(({ message }) => message).sort();

/** Blanks the word, so that the state before can come back. */
async function blankWord({ id, revision }: Stored): Promise<Landed> {
  const answers = byId({ word: '' });
  const body = { writeId: randomUUID(), revision, answers };
  return (await ask<Landed>('PATCH', paths.record(sheet.id, id), body)).body;
}

async function changeOne(stored: Stored, change: Typed): Promise<Came> {
  const [[heading, text] = ['', '']] = Object.entries(change);
  const asked = { view: viewOf(stored), count: 1, columnId: idOf(heading), text };
  const { body } = await ask<MatchesPreview>('POST', paths.previewMatches(sheet.id), asked);
  const done = await ask<ManyChanged>('POST', paths.changeMatches(sheet.id), {
    ...asked,
    writeId: randomUUID(),
  });
  const isWritten = done.status === 200;
  // What it says before is true to the write.
  expect([body.changed, body.asked + body.refused]).toEqual(isWritten ? [1, 0] : [0, 1]);
  return came(ofLeft(heading, body.left), isWritten ? await cellsOf(stored.id) : null);
}

const WAYS: Readonly<Record<Door, readonly Way[]>> = {
  submit: [
    { lets: 'new', through: submitting(paths.submits) },
    { lets: 'new', through: submitting(paths.submits, () => form.whole) },
  ],
  trial: [{ lets: 'new', through: submitting(paths.trials) }],
  update: [
    { lets: 'change', through: updating() },
    { lets: 'change', through: updating(() => form.whole) },
  ],
  grid: [
    { lets: 'new', through: (typed) => gridWrite({ added: [{ answers: byId(typed) }] }) },
    {
      lets: 'change',
      through: ({ id, revision }, change) =>
        gridWrite({ records: [{ id, revision, answers: byId(change) }] }),
    },
  ],
  record: [
    {
      lets: 'change',
      through: async ({ id, revision }, change) => {
        const body = { writeId: randomUUID(), revision, answers: byId(change) };
        return ofVerdicts(await ask<Judged>('PATCH', paths.record(sheet.id, id), body));
      },
    },
  ],
  file: [
    {
      lets: 'new',
      async through(typed) {
        const headings = Object.keys(typed);
        const quoted = Object.values(typed).map((text) => `"${text.replaceAll('"', '""')}"`);
        const csv = `${headings.join(',')}\r\n${quoted.join(',')}\r\n`;
        const { body: upload } = await ask<UploadView>('POST', paths.uploads('doors.csv'), csv);
        const { encoding, delimiter, headingRow, headingRows, keepTotals, guarded } = upload;
        const order = {
          sheetId: sheet.id,
          ...{ encoding, delimiter, headingRow, headingRows, keepTotals, guarded },
          columns: headings.map((heading, index) => {
            return { index, columnId: idOf(heading), decimal: '.', dateOrder: 'dmy' };
          }),
        };
        const checked = await ask<RowsChecked>('POST', paths.checkRows(upload.id), order);
        const body = { ...order, writeId: randomUUID() };
        const added = await ask<RowsAdded>('POST', paths.addRows(upload.id), body);
        const { count } = await look();
        const { records } = await running.owner.get<RowsView>(paths.rows(sheet.id, count - 1, 1));
        const said = checked.body.held.map((each) => ({ ...each, columnId: idOf(each.heading) }));
        return came(said, added.status < 300 ? await cellsOf(records[0]?.id ?? '') : null);
      },
    },
  ],
  matches: [
    {
      lets: 'one',
      through: changeOne,
    },
  ],
  values: [
    {
      lets: 'one',
      async through(stored, change) {
        const [[heading, to] = ['' as never, '']] = Object.entries(change) as [Heading, string][];
        // Only this record holds this word: it is told apart by its code.
        const from = (stored.typed[heading] ?? '').replaceAll(/\b\d\//g, '0$&');
        const changes = [{ from: [from], to }];
        const column = idOf(heading);
        const { body } = await ask<ValuesCount>('POST', paths.countValues(sheet.id, column), {
          changes,
        });
        const done = await ask<ManyChanged>('POST', paths.changeValues(sheet.id, column), {
          changes,
          count: body.count,
          writeId: randomUUID(),
        });
        const isWritten = done.status === 200;
        if (isWritten) expect(done.body.changed).toBe(body.changed);
        return came(ofLeft(heading, body.left), isWritten ? await cellsOf(stored.id) : null);
      },
    },
  ],
  replace: [
    {
      lets: 'one',
      async through(stored, change) {
        const [[heading, by] = ['' as never, '']] = Object.entries(change) as [Heading, string][];
        const text = (stored.typed[heading] ?? '').replaceAll(/\b\d\//g, '0$&');
        const asked = { view: viewOf(stored), text, by };
        const { body } = await ask<ReplacePreview>('POST', paths.previewReplace(sheet.id), asked);
        // Where the text stands in another cell too, this is no change of one.
        if (body.cells > 1) return changeOne(stored, change);
        const done = await ask<ManyChanged>('POST', paths.replaceAll(sheet.id), {
          ...asked,
          cells: body.cells,
          writeId: randomUUID(),
        });
        const isWritten = done.status === 200;
        expect([body.changed, body.asked + body.refused]).toEqual(isWritten ? [1, 0] : [0, 1]);
        return came(ofLeft(heading, body.left), isWritten ? await cellsOf(stored.id) : null);
      },
    },
  ],
  history: [
    {
      lets: 'back',
      async through(stored, rules) {
        const { revision } = await blankWord(stored);
        await rule(rules);
        const history = await running.owner.get<{ entries: { seq: number }[] }>(
          paths.recordHistory(sheet.id, stored.id),
        );
        const { body } = await ask<Landed>('POST', paths.bringBackState(sheet.id, stored.id), {
          writeId: randomUUID(),
          revision,
          seq: history.entries.at(-1)?.seq,
        });
        return { cells: body.cells, notes: notesOf(body) };
      },
    },
  ],
  undo: [
    {
      lets: 'back',
      async through(stored, rules) {
        const { writeId } = await blankWord(stored);
        await rule(rules);
        const { body } = await ask<Written>('POST', paths.undo(sheet.workbookId), {
          writeId: randomUUID(),
          undoes: writeId,
        });
        return { cells: body.records[0]?.cells ?? {}, notes: notesOf(body) };
      },
    },
  ],
  bin: [
    {
      lets: 'back',
      async through({ id, revision }, rules) {
        const removing = { writeId: randomUUID(), revision };
        const gone = await ask<Landed>('POST', paths.removeRecord(sheet.id, id), removing);
        await rule(rules);
        const body = { writeId: randomUUID(), revision: gone.body.revision };
        const back = await ask<Landed>('POST', paths.putBackRecord(sheet.id, id), body);
        return { cells: back.body.cells, notes: notesOf(back.body) };
      },
    },
  ],
  columns: [
    {
      lets: 'back',
      async through({ id }, rules) {
        await rule(rules);
        const held = sheet.columns.find(({ heading }) => heading === 'word')?.settings ?? {};
        await reshape('word', { kind: 'severalChoices', settings: held });
        await reshape('word', { kind: 'text', settings: held });
        return { cells: await cellsOf(id), notes: null };
      },
    },
  ],
  // A file that becomes a sheet finds no rules there: `uploads.test.ts` looks at what it stores.
  arrival: [],
};

type Through<L extends Way['lets']> = Extract<Way, { lets: L }>['through'];
const waysOf = <L extends Way['lets']>(...lets: L[]): [Door, Through<L>][] =>
  DOORS.flatMap((door) =>
    WAYS[door]
      .filter((way) => (lets as string[]).includes(way.lets))
      .map((way): [Door, Through<L>] => [door, way.through as Through<L>]),
  );

const number = fc.integer({ min: 0, max: 6 });
const strictness = fc.constantFrom<Strictness[]>('refuse', 'refuse', 'ask');
const anyRules: fc.Arbitrary<(id: (heading: string) => string) => Rules> = fc
  .record({
    least: fc.constantFrom('none', 'range', 'compared', 'whenBlank', 'computed'),
    most: fc.constantFrom('none', 'always', 'compared', 'when'),
    word: fc.constantFrom('none', 'length', 'whenSaid'),
    twice: fc.constantFrom('none', 'most', 'compared'),
    n: number,
    strictness,
  })
  .map(({ least, most, word, twice, n, strictness: how }) => (id) => {
    const rule = (of: Omit<Rule, 'strictness'>): Rule[] => [
      how === 'refuse' ? of : { ...of, strictness: how },
    ];
    const between = { is: 'between', to: n } as const;
    const over = (heading: string) =>
      ({ is: 'compared', by: '>=', columnId: id(heading) }) as const;
    return {
      least: {
        none: [],
        range: rule({ must: between }),
        compared: rule({ must: { is: 'compared', by: '<=', columnId: id('most') } }),
        whenBlank: rule({ must: between, when: { columnId: id('day'), holds: 'blank' } }),
        computed: rule({ must: { is: 'compared', by: '<>', columnId: id('twice') } }),
      }[least],
      most: {
        none: [],
        always: rule({ must: { is: 'between', from: n }, always: true }),
        compared: rule({ must: over('twice') }),
        when: rule({
          must: over('least'),
          when: { columnId: id('said'), holds: { is: 'oneOf', values: ['yes'] } },
        }),
      }[most],
      word: {
        none: [],
        length: rule({ must: { is: 'length', to: n + 1 } }),
        whenSaid: rule({
          must: { is: 'contains', text: 'a' },
          when: { columnId: id('said'), holds: 'answer' },
        }),
      }[word],
      twice: {
        none: [],
        most: rule({ must: { is: 'between', to: 2 * n } }),
        compared: rule({ must: { is: 'compared', by: '<=', columnId: id('most') } }),
      }[twice],
    };
  });

const texts: Readonly<Record<Exclude<Heading, 'code'>, readonly string[]>> = {
  word: ['ash', 'corrow', 'oak', 'mereling beck'],
  least: ['0', '1', '3', '5', 'x', '2.5'],
  most: ['0', '2', '4', '9', 'y'],
  day: ['1/2/2026', '3/3/2026', '31/2/2026'],
  said: ['yes', 'no', 'perhaps'],
};
const READABLE = new Set(['x', '2.5', 'y', '31/2/2026', 'perhaps']);
const anyTyped = (of: (text: string) => boolean): fc.Arbitrary<Typed> =>
  fc.record(
    Object.fromEntries(
      Object.entries(texts).map(([heading, all]) => [heading, fc.constantFrom(...all.filter(of))]),
    ),
    { requiredKeys: [] },
  );
const storable = anyTyped((text) => !READABLE.has(text));
const shownColumns = fc.subarray(
  HEADINGS.filter((each) => each !== 'code'),
  { minLength: 1 },
);

let codes = 0;
const withCode = (typed: Typed): Typed => ({ ...typed, code: `c${(codes += 1)}` });
const only = (typed: Typed, shown: readonly Heading[]): Typed =>
  Object.fromEntries(
    Object.entries(typed).filter(([heading]) => shown.includes(heading as Heading)),
  );

test('a new record: whatever the rules and the form, each door says and stores the same', async () => {
  await fc.assert(
    fc.asyncProperty(
      anyRules,
      shownColumns,
      anyTyped(() => true),
      async (rules, shown, typed) => {
        await rule(rules(idOf));
        await show(['code', ...shown]);
        const given = only(typed, shown);
        const all: [Door, Came][] = [];
        for (const [door, through] of waysOf('new')) {
          all.push([door, await through(withCode(given))]);
        }
        const [, first] = all[0] ?? [];
        for (const [door, each] of all) expect([door, each]).toEqual([door, first]);
      },
    ),
    { numRuns: RUNS },
  );
}, 600_000);

test('a change: whatever the rules, the stored record and the form, each door says and stores the same', async () => {
  await fc.assert(
    fc.asyncProperty(
      anyRules,
      storable,
      shownColumns,
      anyTyped(() => true),
      async (rules, stored, shown, typed) => {
        await rule({});
        await show(['code', ...shown]);
        const change = only(typed, shown);
        fc.pre(Object.keys(change).length > 0);
        const ways = waysOf('change');
        const records: Stored[] = [];
        for (const _ of ways) records.push(await add(withCode(stored)));
        await rule(rules(idOf));
        const all: [Door, Came][] = [];
        for (const [n, [door, through]] of ways.entries()) {
          const record = records[n];
          if (record) all.push([door, await through(record, change)]);
        }
        const [, first] = all[0] ?? [];
        for (const [door, each] of all) expect([door, each]).toEqual([door, first]);
      },
    ),
    { numRuns: RUNS },
  );
}, 600_000);

test('one column: all matches and values changed say and store what the grid does', async () => {
  const cell = fc
    .constantFrom(...(Object.keys(texts) as Exclude<Heading, 'code'>[]))
    .chain((heading) => fc.tuple(fc.constant(heading), fc.constantFrom(...texts[heading])));
  await fc.assert(
    fc.asyncProperty(anyRules, storable, cell, async (rules, stored, [heading, text]) => {
      // What is there already is not changed.
      fc.pre(stored[heading] !== undefined && stored[heading] !== text);
      await rule({});
      await show(['code', heading]);
      const change = { [heading]: text };
      const ways = waysOf('change', 'one');
      const all: [Door, Came][] = [];
      for (const [door, through] of ways) {
        await rule({});
        const record = await add(withCode(stored));
        await rule(rules(idOf));
        all.push([door, await through(record, change)]);
        // One at a time, so that values are told apart.
        const { records } = await running.owner.get<RowsView>(
          paths.rows(sheet.id, 0, (await look()).count),
        );
        await ask('POST', paths.removeRows(sheet.id), {
          writeId: randomUUID(),
          revision: sheet.revision,
          records: records.map(({ id, revision }) => ({ id, revision })),
          rows: [],
        });
      }
      const [, first] = all[0] ?? [];
      for (const [door, each] of all) expect([door, each]).toEqual([door, first]);
    }),
    { numRuns: RUNS },
  );
}, 600_000);

test.each(waysOf('back'))(
  'what comes back through %s is stored, and what rules say of it is told',
  async (_door, through) => {
    await rule({});
    const stored = await add(withCode({ word: 'mereling beck', least: '5', most: '3' }));
    const rules: Rules = {
      word: [{ must: { is: 'length', to: 3 } }],
      code: [{ must: { is: 'unique' } }],
    };
    const before = await cellsOf(stored.id);
    const { cells, notes } = await through(stored, rules);
    expect(cells).toEqual(before);
    // What a column's new kind leaves is counted by its rules, and told there.
    if (notes) expect(notes).toEqual(['‘mereling beck’ must have at most 3 characters.']);
  },
);
