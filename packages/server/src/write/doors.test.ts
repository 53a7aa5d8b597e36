import {
  paths,
  type CellRefusal,
  type FormEntry,
  type FormView,
  type Landed,
  type RowsView,
  type SheetView,
  type VerdictView,
  type Written,
} from '@varn/contract';
import {
  judgeRecord,
  localeFacts,
  toWire,
  typedCells,
  type Cells,
  type Column,
  type Rule,
} from '@varn/core';
import * as fc from 'fast-check';
import { randomUUID } from 'node:crypto';
import { start, type Running } from '../testing/harness';

let running: Running;
let sheet: SheetView;
let form: FormView;
const KINDS = ['text', 'wholeNumber', 'date', 'yesNo', 'money', 'email'] as const;
const RULES: Partial<Record<(typeof KINDS)[number], Rule[]>> = {
  text: [
    { must: { is: 'contains', text: 'x', not: true } },
    { must: { is: 'matches', pattern: '[^0].*' } },
  ],
  date: [{ must: { is: 'weekday' }, strictness: 'ask' }],
  wholeNumber: [{ must: { is: 'between', to: 10 }, strictness: 'ask' }],
  money: [{ must: { is: 'between', from: 0 } }],
};

beforeAll(async () => {
  running = await start();
  const { owner, workbook } = running;
  const body = { writeId: randomUUID(), name: 'Doors', headings: KINDS.map((kind) => `A ${kind}`) };
  sheet = (await owner.ask<SheetView>('POST', paths.sheets(workbook.id), body)).body;
  for (const [n, kind] of KINDS.entries()) {
    const column = sheet.columns[n]?.id ?? '';
    const rules = RULES[kind];
    const change = { kind, revision: sheet.revision, ...(rules && { settings: { rules } }) };
    await owner.ask('PATCH', paths.column(sheet.id, column), change);
    sheet = await owner.get<SheetView>(paths.sheet(sheet.id));
  }
  // Asked only of those who said yes.
  const [yesNo, mail] = [KINDS.indexOf('yesNo'), KINDS.indexOf('email')].map(
    (n) => sheet.columns[n]?.id ?? '',
  );
  const rules: Rule[] = [
    {
      must: { is: 'ends', text: '.example' },
      when: { columnId: yesNo ?? '', holds: { is: 'oneOf', values: ['yes'] } },
    },
  ];
  const change = { settings: { rules }, revision: sheet.revision };
  await owner.ask('PATCH', paths.column(sheet.id, mail ?? ''), change);
  sheet = await owner.get<SheetView>(paths.sheet(sheet.id));
  const made = { writeId: randomUUID() };
  const entry = await owner.ask<FormEntry>('POST', paths.sheetForms(sheet.id), made);
  form = await owner.get<FormView>(paths.form(entry.body.id));
});
afterAll(() => running.stop());

/** What became of a record that came through a door. */
interface Came {
  /** `heading code strictness` of each verdict, in order of headings. */
  readonly said: string[];
  /** What is stored, by heading; `null` where nothing is. */
  readonly stored: Record<string, unknown> | null;
}
type Typed = Readonly<Record<string, string>>;

const columnOf = (id: string): Column =>
  sheet.columns.find((column) => column.id === id) ?? {
    id,
    heading: '?',
    kind: 'text',
    settings: {},
  };
const saying = (all: readonly Pick<VerdictView, 'columnId' | 'code' | 'strictness'>[]): string[] =>
  all.map((each) => `${columnOf(each.columnId).heading} ${each.code} ${each.strictness}`).sort();
const byHeading = (cells: Readonly<Record<string, unknown>>): Record<string, unknown> =>
  Object.fromEntries(Object.entries(cells).map(([id, value]) => [columnOf(id).heading, value]));
const byId = (typed: Typed): Record<string, string> =>
  Object.fromEntries(
    sheet.columns.flatMap(({ id }, n) => {
      const text = typed[KINDS[n] ?? ''];
      return text === undefined ? [] : [[id, text]];
    }),
  );

/** What core's judge says by itself. */
function judged(typed: Typed): Came {
  const context = { locale: localeFacts(running.workbook.locale), now: 46_000 };
  const columns = new Map(sheet.columns.map((column) => [column.id, column]));
  const { cells, verdicts } = judgeRecord(typedCells(byId(typed)), null, { columns, context });
  const said = saying(verdicts.map((each) => ({ ...each, code: each.problem.code })));
  return { said, stored: said.length > 0 ? null : byHeading(wired(cells)) };
}
const wired = (cells: Cells): Record<string, unknown> =>
  Object.fromEntries(Object.entries(cells).map(([id, value]) => [id, toWire(value, columnOf(id))]));

const DOORS: Readonly<Record<string, (typed: Typed) => Promise<Came>>> = {
  async desk(typed) {
    const fields = new Map(
      form.definition.blocks.flatMap((block) =>
        block.is === 'field' ? [[block.columnId, block.id]] : [],
      ),
    );
    const answers = Object.fromEntries(
      Object.entries(byId(typed)).map(([id, text]) => [fields.get(id) ?? id, text]),
    );
    const body = { writeId: randomUUID(), answers };
    const answer = await running.owner.ask<Landed & { verdicts?: VerdictView[] }>(
      'POST',
      paths.submits(form.id),
      body,
    );
    const { verdicts = [], cells } = answer.body;
    return { said: saying(verdicts), stored: answer.status === 201 ? byHeading(cells) : null };
  },
  async grid(typed) {
    const body = {
      writeId: randomUUID(),
      revision: sheet.revision,
      added: [{ answers: byId(typed) }],
      partly: true,
    };
    const { body: written } = await running.owner.ask<Written>('POST', paths.cells(sheet.id), body);
    const said = saying(
      written.refused.map((each: CellRefusal) => ({ ...each, columnId: each.column })),
    );
    const [landed] = written.records;
    return { said, stored: landed && said.length === 0 ? byHeading(landed.cells) : null };
  },
  async api(typed) {
    const first = await DOORS['desk']?.({ text: 'to be changed' });
    expect(first?.said).toEqual([]);
    const { count } = await running.owner.get<SheetView>(paths.sheet(sheet.id));
    const { records } = await running.owner.get<RowsView>(paths.rows(sheet.id, count - 1, 1));
    const [last] = records;
    const text = { text: '', ...typed };
    const answer = await running.owner.ask<Landed & { verdicts?: VerdictView[] }>(
      'PATCH',
      paths.record(sheet.id, last?.id ?? ''),
      { writeId: randomUUID(), revision: last?.revision, answers: byId(text) },
    );
    const { verdicts = [], cells } = answer.body;
    return { said: saying(verdicts), stored: answer.status === 200 ? byHeading(cells) : null };
  },
};

const TYPED: readonly Typed[] = [
  {
    text: 'Ash Beck',
    wholeNumber: '7',
    date: '1/2/2026',
    yesNo: 'yes',
    money: '12.50',
    email: 'a@b.example',
  },
  { wholeNumber: '7.5' },
  { date: '31/2/2026', text: 'x' },
  { money: '3.999' },
  { yesNo: 'perhaps', email: 'nobody', wholeNumber: '1e999' },
  { wholeNumber: '7,5', money: '-€5' },
  { text: '  ', wholeNumber: '0012' },
  { text: 'Axe Beck', money: '5', date: '1/2/2026' },
  { text: '0Ash', yesNo: 'yes', email: 'a@b.test' },
  { date: '2/2/2026', yesNo: 'no', email: 'a@b.test' },
];

test.each(Object.keys(DOORS))(
  'through the %s the judge’s word holds, and nothing else',
  async (door) => {
    for (const typed of TYPED) {
      expect([typed, await DOORS[door]?.(typed)]).toEqual([typed, judged(typed)]);
    }
  },
);

test('whatever is typed, desk and grid take the same and store the same', async () => {
  const text = fc.oneof(
    fc.string({ maxLength: 12 }),
    fc.constantFrom(
      '7',
      '-3',
      '1,234',
      '1/2/26',
      '29/2/2027',
      'yes',
      'no',
      '€5',
      'a@b.example',
      'a@b.test',
    ),
  );
  const typed = fc.dictionary(fc.constantFrom(...KINDS), text, { minKeys: 1 });
  await fc.assert(
    fc.asyncProperty(typed, async (record) => {
      const [desk, grid] = [await DOORS['desk']?.(record), await DOORS['grid']?.(record)];
      // A form with nothing in it is told of at its first field, a row at the cell that was typed into.
      const isBlank = desk?.said.some((each) => each.includes('nothingTyped'));
      if (isBlank) expect(grid?.said.every((each) => each.includes('nothingTyped'))).toBe(true);
      else expect(grid).toEqual(desk);
    }),
    { numRuns: 60 },
  );
});
