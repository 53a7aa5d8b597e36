import * as fc from 'fast-check';
import { ListIndex } from '../lists/listIndex';
import { typedValue, type Column, type ListItem } from '../kinds';
import { isTyped, judgeCell } from '../records';
import { localeFacts, type Cells } from '../values';
import {
  broughtAlong,
  fill,
  prepareForm,
  seenAnswers,
  startingAnswers,
  textIn,
  TextEvaluator,
  TextFormulas,
  type FieldBlock,
} from '.';

const locale = localeFacts('en-GB');
const itemOf = (text: string, by: string[], fills: (string | number)[]): ListItem => {
  return { value: text, text, label: text, second: '', by, fills };
};
/** A loan brings its item and price, an item its shelf, and a river narrows stations. */
const LISTS: Readonly<Record<string, readonly ListItem[]>> = {
  loan: [itemOf('L-1', [], ['Waders', 40]), itemOf('L-2', [], ['Probe', 125.5])],
  item: [itemOf('Waders', [], ['North']), itemOf('Probe', [], ['South'])],
  station: [itemOf('AB-1', ['Ash Beck'], [0.5]), itemOf('CW-1', ['Corrow Water'], [1])],
};
const indexes = new Map(Object.entries(LISTS).map(([id, items]) => [id, new ListIndex(items)]));
const brings = (...columnIds: string[]) => columnIds.map((columnId) => ({ columnId, from: '' }));
const column = (
  id: string,
  kind: Column['kind'],
  settings: Column<string>['settings'] = {},
): Column<string> => {
  return { id, heading: id, kind, settings };
};
const COLUMNS: readonly Column<string>[] = [
  column('loan', 'oneChoice', { list: { source: '', fills: brings('item', 'price') } }),
  column('item', 'oneChoice', { list: { source: '', fills: brings('shelf') } }),
  column('shelf', 'text'),
  column('price', 'money'),
  column('days', 'number'),
  column('due', 'computed', { formula: "'price' * 'days'" }),
  column('river', 'text'),
  column('station', 'oneChoice', {
    list: { source: '', narrowed: [{ columnId: 'river', by: '' }], fills: brings('depth') },
  }),
  column('depth', 'number'),
];
const byId = new Map(COLUMNS.map((each) => [each.id, each]));
const context = { locale, now: 46_000, listed: (id: string) => indexes.get(id), held: null };

interface Step {
  readonly inputId: string;
  readonly text: string;
}

/** A form filled in as at the desk, sent, and filled anew as the server does. */
function atBothEnds(blocks: readonly FieldBlock[], steps: readonly Step[], held: Cells | null) {
  const form = prepareForm<string>({ blocks }, byId);
  const moment = { locale, now: () => context.now };
  const evaluator = new TextEvaluator(new TextFormulas({ columns: COLUMNS, moment }));
  const all = { ...context, held };
  const stored = form.inputs.flatMap(({ id, column: of }) =>
    held && isTyped(of) ? [[id, typedValue(held[id] ?? null, of, locale)] as const] : [],
  );
  let filled = held
    ? { answers: Object.fromEntries(stored), untouched: new Set<string>() as ReadonlySet<string> }
    : startingAnswers(form, all);
  for (const step of steps) filled = broughtAlong(form, step, filled, all);
  const desk = fill(form, filled, all, evaluator);
  const { answers, untouched } = seenAnswers(form, filled, desk);
  const server = fill(form, { answers, untouched: new Set(untouched) }, all, evaluator);
  const standing = Object.fromEntries(
    form.inputs.flatMap((input) => {
      if (!isTyped(input.column)) return [];
      const isThere = desk.shown.has(input.block.id);
      const text = isThere ? textIn(input, filled, desk) : '';
      const { value } = judgeCell({ typed: text }, input.column, { context: all });
      return [[input.id, value ?? null] as const];
    }),
  );
  return { desk, server, standing };
}

const field = (columnId: string, more: Partial<FieldBlock> = {}): FieldBlock => {
  return { is: 'field', id: columnId, columnId, ...more };
};
const readOnly = (id: string, more: Partial<FieldBlock> = {}) =>
  field(id, { ...more, readOnly: true });

test.each<[says: string, steps: Step[], held: Cells | null, stored: Cells]>([
  [
    'what a choice fills is stored though nobody can type in it',
    [
      { inputId: 'loan', text: 'L-2' },
      { inputId: 'days', text: '2' },
    ],
    null,
    { loan: 'L-2', item: 'Probe', shelf: 'South', price: 125.5, days: 2, due: 251 },
  ],
  [
    'another choice fills it anew',
    [
      { inputId: 'loan', text: 'L-2' },
      { inputId: 'loan', text: 'L-1' },
    ],
    null,
    { loan: 'L-1', item: 'Waders', shelf: 'North', price: 40, due: 0 },
  ],
  [
    'no choice fills nothing',
    [
      { inputId: 'loan', text: '' },
      { inputId: 'days', text: '1' },
    ],
    null,
    { days: 1, due: 0 },
  ],
  [
    'nobody types into it by another way',
    [
      { inputId: 'price', text: '1' },
      { inputId: 'days', text: '1' },
    ],
    null,
    { days: 1, due: 0 },
  ],
  [
    'a correction of something else leaves what was brought when it was chosen',
    [{ inputId: 'days', text: '3' }],
    { loan: 'L-1', item: 'Waders', shelf: 'Attic', price: 38, days: 1 },
    { loan: 'L-1', item: 'Waders', shelf: 'Attic', price: 38, days: 3, due: 114 },
  ],
  [
    'a correction of the choice brings what goes with it now',
    [{ inputId: 'loan', text: 'L-2' }],
    { loan: 'L-1', item: 'Waders', shelf: 'Attic', price: 38, days: 1 },
    { loan: 'L-2', item: 'Probe', shelf: 'South', price: 125.5, days: 1, due: 125.5 },
  ],
])('a read-only field: %s', (_, steps, held, stored) => {
  const blocks = [
    field('loan'),
    readOnly('item'),
    readOnly('shelf'),
    readOnly('price'),
    field('days'),
    field('due'),
  ];
  const { desk, server } = atBothEnds(blocks, steps, held);
  for (const { judged, computed } of [desk, server]) {
    expect({ ...judged.cells, ...computed }).toEqual(stored);
  }
});

/** Conditions of a field that do not read what it brings, or itself. */
const conditionsOf = (id: string): (string | undefined)[] => [
  undefined,
  ...(id === 'days' ? [] : ["'days' > 1"]),
  ...(['loan', 'item', 'shelf', 'days'].includes(id) ? [] : ['\'item\' = "Waders"']),
];

/** Fields in any mix: read only, with starts, shown by a condition; typed into in any order. */
const mixed = fc.record({
  blocks: fc.tuple(
    ...COLUMNS.map(({ id, kind }) =>
      fc
        .record({
          isThere: fc.boolean(),
          isReadOnly: fc.boolean(),
          start: fc.constantFrom(undefined, '', '7', 'Waders'),
          when: fc.constantFrom(...conditionsOf(id)),
        })
        .map(({ isThere, isReadOnly, start, when }) =>
          isThere || id === 'loan'
            ? [
                field(id, {
                  ...(isReadOnly && { readOnly: true as const }),
                  ...(start !== undefined &&
                    kind !== 'computed' && { start: { kind: 'text' as const, text: start } }),
                  ...(when && { shownWhen: when }),
                }),
              ]
            : [],
        ),
    ),
  ),
  steps: fc.array(
    fc.record({
      inputId: fc.constantFrom(...COLUMNS.map(({ id }) => id)),
      text: fc.constantFrom(
        '',
        'L-1',
        'L-2',
        'Waders',
        'Probe',
        'AB-1',
        'CW-1',
        'Ash Beck',
        '2',
        '0.5',
        'x',
      ),
    }),
    { maxLength: 8 },
  ),
  held: fc.constantFrom(null, { loan: 'L-1', item: 'Waders', price: 38, days: 1, shelf: 'Attic' }),
});

test('what stands on a form when it is sent is what is stored, whatever its fields are', () => {
  fc.assert(
    fc.property(mixed, ({ blocks, steps, held }) => {
      const { desk, server, standing } = atBothEnds(blocks.flat(), steps, held);
      expect(server.judged.cells).toEqual(desk.judged.cells);
      if (desk.verdicts.length > 0) return;
      const stored = Object.entries(standing).map(([id]) => [id, server.judged.cells[id] ?? null]);
      expect(Object.fromEntries(stored)).toEqual(standing);
    }),
    { numRuns: 300 },
  );
});
