import * as fc from 'fast-check';
import { KIND_IDS, type Column, type KindId } from '../kinds';
import { localeFacts, readIsoMoment } from '../values';
import { sayProblem } from '../words';
import {
  fieldSpan,
  fill,
  filledByVarn,
  fillRows,
  formOfSheet,
  landingRow,
  PAGE_PARTS,
  readiness,
  startingAnswers,
  type FormDefinition,
} from '.';

const context = { locale: localeFacts('en-GB'), now: readIsoMoment('2026-11-25T09:30') ?? 0 };
const column = (id: string, kind: KindId, settings: Column['settings'] = {}): Column => ({
  id,
  heading: id,
  kind,
  settings,
});
const columns = [
  column('number', 'runningNumber', { pattern: 'RW-000' }),
  column('date', 'date'),
  column('river', 'oneChoice', { choices: ['Ash Beck', 'Mereling'] }),
  column('ph', 'number'),
  column('rinsed', 'yesNo'),
  column('share', 'computed'),
  column('notes', 'text'),
  column('at', 'writtenAt'),
  column('by', 'writtenBy'),
];
const byId = new Map(columns.map((each) => [each.id, each]));
const form: FormDefinition = {
  fields: [
    { id: 'f1', columnId: 'date', required: true, start: { kind: 'today' } },
    { id: 'f2', columnId: 'river', required: true },
    { id: 'f3', columnId: 'ph', required: true },
    { id: 'f4', columnId: 'rinsed' },
    { id: 'f5', columnId: 'notes', several: true },
    { id: 'f6', columnId: 'number' },
  ],
};
const codes = (answers: Record<string, string>): Record<string, string> =>
  Object.fromEntries(
    fill(form, answers, byId, context).verdicts.map((each) => [each.columnId, each.problem.code]),
  );

test('a filled form becomes values by column; blanks are left out', () => {
  const answers = { f1: '24 nov', f2: 'mereling', f3: '7.10', f4: 'y', f5: '  ' };
  expect(fill(form, answers, byId, context)).toEqual({
    cells: { date: 46_350, river: 'Mereling', ph: 7.1, rinsed: true },
    verdicts: [],
  });
});

test.each([
  [
    { f1: '31/2/2026', f2: '', f3: 'x' },
    { date: 'noSuchDay', river: 'required', ph: 'notANumber' },
  ],
  [{ f1: '24/11', f2: 'Mereling', f3: ' ' }, { ph: 'required' }],
  [{ f1: '24/11', f2: 'Mereling', f3: '7', f6: 'RW-9' }, { number: 'notTyped' }],
])('%j gives one verdict per column: %j', (answers, expected) => {
  expect(codes(answers)).toEqual(expected);
});

test('a form with nothing typed is held back, even when nothing is required', () => {
  const { verdicts } = fill(formOfSheet(columns), {}, byId, context);
  expect(verdicts).toEqual([
    { fieldId: 'date', columnId: 'date', problem: { code: 'nothingTyped' } },
  ]);
});

test('a field holds on to its column by id: moved, renamed and added columns change nothing', () => {
  const answers = { f1: '24/11/2026', f2: 'Mereling', f3: '7' };
  const moved = [column('new', 'text'), ...[...columns].reverse()].map((each) => ({
    ...each,
    heading: `${each.heading}!`,
  }));
  const there = fill(form, answers, new Map(moved.map((each) => [each.id, each])), context);
  expect(there).toEqual(fill(form, answers, byId, context));
  // A column that is gone takes its field off the page, and nothing else.
  const without = new Map([...byId].filter(([id]) => id !== 'river'));
  expect(fill(form, answers, without, context).cells).toEqual({ date: 46_351 - 1, ph: 7 });
});

test('starting values: today, now, a text', () => {
  const start = startingAnswers(
    {
      fields: [
        { id: 'a', columnId: 'date', start: { kind: 'today' } },
        { id: 'b', columnId: 'notes', start: { kind: 'text', text: 'WQ-' } },
        { id: 'c', columnId: 'clock', start: { kind: 'now' } },
      ],
    },
    new Map([...byId, ['clock', column('clock', 'time')]]),
    context,
  );
  expect(start).toEqual({ a: '25/11/2026', b: 'WQ-', c: '09:30' });
});

test('Varn fills in what no one types', () => {
  const facts = { by: 'Ines', at: context.now, door: 'Grid', nextNumber: () => 42 };
  expect(filledByVarn(columns, facts)).toEqual({ number: 'RW-042', at: context.now, by: 'Ines' });
});

test('the landing row tells each cell as it will be stored, and what is missing', () => {
  const filling = fill(form, { f1: '24 nov', f3: 'x' }, byId, context);
  const row = landingRow(columns, filling, { locale: context.locale, nextNumbers: { number: 43 } });
  expect(row.map(({ state, text }) => [state, text])).toEqual([
    ['byVarn', 'about RW-043'],
    ['value', '24/11/2026'],
    ['missing', ''],
    ['refused', ''],
    ['blank', ''],
    ['blank', ''],
    ['blank', ''],
    ['byVarn', 'on submit'],
    ['byVarn', 'on submit'],
  ]);
  expect(readiness(form, byId, filling)).toEqual({ required: 3, missing: ['f2'], refused: ['f3'] });
});

test('the landing row shows exactly what fill would store, whatever is typed', () => {
  const typed = fc.dictionary(fc.constantFrom('f1', 'f2', 'f3', 'f4', 'f5'), fc.string());
  fc.assert(
    fc.property(typed, (answers) => {
      const filling = fill(form, answers, byId, context);
      const row = landingRow(columns, filling, { locale: context.locale, nextNumbers: {} });
      const shown = row.filter(({ state }) => state === 'value').map(({ columnId }) => columnId);
      expect(new Set(shown)).toEqual(new Set(Object.keys(filling.cells)));
      for (const { problem } of filling.verdicts)
        expect(sayProblem(problem)).toMatch(/^.{10,200}$/su);
    }),
  );
});

test.each<[KindId, number, boolean, number]>([
  ['number', 4, false, 2],
  ['text', 0, false, 3],
  ['text', 15, false, 3],
  ['text', 30, false, 4],
  ['text', 50, false, 6],
  ['text', 400, false, 12],
  ['text', 4, true, 6],
])('a %s with lengths of %i spans its share', (kind, length, several, span) => {
  expect(fieldSpan({ id: 'f', columnId: 'c', several }, column('c', kind), length)).toBe(span);
});

test('rows of fields end where the page does, and keep their order and their rows', () => {
  fc.assert(
    fc.property(
      fc.array(fc.constantFrom(2, 3, 4, 6, 12), { minLength: 1, maxLength: 60 }),
      (spans) => {
        const filled = fillRows(spans);
        expect(filled).toHaveLength(spans.length);
        filled.forEach((span, index) => expect(span).toBeGreaterThanOrEqual(spans[index] ?? 0));
        let used = 0;
        for (const span of filled) {
          if (used + span > PAGE_PARTS) used = 0;
          used += span;
          expect(used).toBeLessThanOrEqual(PAGE_PARTS);
        }
      },
    ),
  );
});

test('one click makes as many fields as there are columns, to 1,000', () => {
  const many = Array.from({ length: 1000 }, (_, n) =>
    column(`c${n}`, KIND_IDS[n % KIND_IDS.length] ?? 'text'),
  );
  expect(formOfSheet(many).fields.map(({ columnId }) => columnId)).toEqual(
    many.map(({ id }) => id),
  );
});

test('a date that is refused names the day and the month', () => {
  const problem = { code: 'noSuchDay', day: 31, month: 2, year: 2026, days: 28 } as const;
  expect(sayProblem(problem)).toBe(
    'There is no 31 February 2026: the month has 28 days. Check the day.',
  );
});
