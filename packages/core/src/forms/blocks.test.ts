import * as fc from 'fast-check';
import { KIND_IDS, kindOf, withoutFormula, type Column, type KindId } from '../kinds';
import { fileIdOf, fileNameOf, fileText } from '../kinds';
import { localeFacts, readIsoMoment } from '../values';
import { sayProblem } from '../words';
import {
  columnIdsOf,
  fileProblem,
  fill,
  labelOfBlock,
  messageWithHeadings,
  plannedColumns,
  prepareForm,
  storedApart,
  storedTogether,
  TextEvaluator,
  TextFormulas,
  type Block,
  type ControlDetails,
  type FieldBlock,
} from '.';

const locale = localeFacts('en-GB');
const context = { locale, now: readIsoMoment('2026-11-25T09:30') ?? 0 };
const column = (id: string, kind: KindId, settings: Column['settings'] = {}): Column => ({
  id,
  heading: `The ${id}`,
  kind,
  settings,
});
const byId = (...columns: Column[]): Map<string, Column> =>
  new Map(columns.map((each) => [each.id, each]));

/** Ids one after another. */
const ids = (): (() => string) => {
  let given = 0;
  return () => `id${(given += 1)}`;
};

const settings = fc.record(
  {
    label: fc.string({ minLength: 1 }),
    hint: fc.string(),
    required: fc.constant(true as const),
    requiredWhen: fc.constant("'a' > 1"),
    shownWhen: fc.constant("'b' = 2"),
    remark: fc.string(),
    beside: fc.constant(true as const),
    width: fc.integer({ min: 1, max: 12 }),
  },
  { requiredKeys: [] },
);
const choices = fc.uniqueArray(fc.string({ minLength: 1 }), { minLength: 1, maxLength: 8 });

test('choices in one cell become a column each and one cell again, and nothing said of them is lost', () => {
  fc.assert(
    fc.property(settings, choices, (said, names) => {
      const block: FieldBlock = { is: 'field', id: 'f', columnId: 'smell', ...said };
      const smell = column('smell', 'severalChoices', { choices: names });
      const apart = storedApart(block, smell, ids());
      expect(apart.columns.map(({ kind }) => kind)).toEqual(names.map(() => 'yesNo'));
      expect(apart.columns.map(({ id }) => id)).toEqual(columnIdsOf(apart.block));
      expect(new Set(apart.columns.map(({ heading }) => heading)).size).toBe(names.length);
      const together = storedTogether(apart.block, new Map(), 'smell');
      const { label = smell.heading, ...rest } = said;
      expect(together.block).toEqual({ is: 'field', id: 'f', columnId: 'smell', ...rest });
      expect(together.column).toEqual({ ...smell, heading: label });
    }),
  );
});

test('boxes named by their columns alone keep these names as choices', () => {
  const members = [
    { id: 'm1', columnId: 'bag' },
    { id: 'm2', columnId: 'case', label: 'Hard case' },
    { id: 'm3', columnId: 'gone' },
  ];
  const boxes = { is: 'group', as: 'boxes', id: 'g', label: 'Extras', members } as const;
  const { column: made } = storedTogether(boxes, new Map([['bag', 'Bag']]), 'x');
  expect(made.settings.choices).toEqual(['Bag', 'Hard case', '']);
});

test.each<[block: Block, label: string, columns: string[]]>([
  [{ is: 'field', id: 'f', columnId: 'ph' }, 'The ph', ['ph']],
  [{ is: 'field', id: 'f', columnId: 'ph', label: 'Acidity' }, 'Acidity', ['ph']],
  [{ is: 'field', id: 'f', columnId: 'gone' }, 'a field without a column', ['gone']],
  [
    {
      is: 'group',
      as: 'repeated',
      id: 'g',
      label: 'Catch',
      members: [
        { id: '1', columnId: 'a' },
        { id: '2', columnId: 'b' },
      ],
    },
    'Catch',
    ['a', 'b'],
  ],
  [{ is: 'heading', id: 'h', text: 'At the bank' }, 'At the bank', []],
  [{ is: 'note', id: 'n', text: 'Rinse first' }, 'Rinse first', []],
  [{ is: 'divider', id: 'd' }, 'Divider', []],
  [{ is: 'picture', id: 'p', fileId: 'x', alt: 'The weir' }, 'The weir', []],
  [{ is: 'picture', id: 'p', fileId: 'x', alt: '' }, 'Picture', []],
  [{ is: 'message', id: 'm', tone: 'good', formula: '1' }, 'Live message', []],
  [{ is: 'page', id: 'g', title: 'Weather' }, 'Weather', []],
])('%j is called %s and writes %j', (block, label, columns) => {
  expect(labelOfBlock(block, byId(column('ph', 'number')))).toBe(label);
  expect(columnIdsOf(block)).toEqual(columns);
});

const MEGABYTE = 1024 * 1024;
test.each<
  [name: string, type: string, bytes: number, details: ControlDetails, says: RegExp | null]
>([
  ['weir.png', 'image/png', 5, {}, null],
  ['weir.png', 'image/png', 2 * MEGABYTE, { most: 2 }, null],
  ['weir.png', 'image/png', 2 * MEGABYTE + 1, { most: 2 }, /‘weir\.png’ is over 2 MB/],
  ['weir.png', 'image/png', 5, { accepts: 'images' }, null],
  ['weir.pdf', 'application/pdf', 5, { accepts: 'images' }, /not a picture/],
  ['weir.pdf', 'application/pdf', 5, { accepts: 'documents' }, null],
  ['weir.png', 'image/png', 5, { accepts: 'documents' }, /a document is needed/],
  ['weir.pdf', 'application/pdf', 9 * MEGABYTE, { accepts: 'images', most: 8 }, /over 8 MB/],
])('the file %s of kind %s with %i bytes, where %j', (name, type, bytes, details, says) => {
  const problem = fileProblem({ name, type, bytes }, details);
  if (says === null) expect(problem).toBeNull();
  else expect(problem && sayProblem(problem)).toMatch(says);
});

test('a file’s cell gives back its id and name; what is no such cell is a name alone, and no answer', () => {
  const letter = fc.constantFrom(...'abcXYZ019_-');
  const id = fc.string({ unit: letter, minLength: 20, maxLength: 20 });
  const name = fc.string({
    unit: fc.constantFrom(...'Weir é.png-1 '),
    minLength: 1,
    maxLength: 200,
  });
  const photo = column('photo', 'file');
  const kind = kindOf(photo);
  fc.assert(
    fc.property(id, name, (stored, called) => {
      const text = fileText(stored, called);
      expect([fileIdOf(text), fileNameOf(text)]).toEqual([stored, called]);
      expect(kind.filledBy === 'people' && kind.read(text, photo, context)).toMatchObject({
        ok: true,
        value: text,
      });
    }),
  );
  for (const text of [
    'weir.png',
    'short/weir.png',
    `${'a'.repeat(20)}/`,
    `${'a'.repeat(20)}/a/b`,
  ]) {
    expect([fileIdOf(text), fileNameOf(text)]).toEqual([null, text]);
    expect(kind.filledBy === 'people' && kind.read(text, photo, context).ok).toBe(false);
  }
});

test('a draft’s columns stand in the sheet’s place with their own settings, and new ones at the end', () => {
  const formula = { text: '1', references: [] };
  const inSheet = [column('a', 'text'), column('b', 'computed', { formula, decimals: 1 })];
  const planned = [
    { ...column('b', 'computed', { decimals: 3 }), heading: 'Renamed meanwhile' },
    column('c', 'date'),
  ];
  const made = plannedColumns(inSheet, planned);
  expect(made).toEqual([
    inSheet[0],
    { ...column('b', 'computed', { decimals: 3, formula }) },
    planned[1],
  ]);
  // The same columns give the same objects: their fields need not be drawn again.
  expect(plannedColumns(inSheet, planned)[1]).toBe(made[1]);
  const [first, second] = inSheet;
  if (!first || !second) throw new Error('no columns');
  expect(plannedColumns([first, { ...second, heading: 'New' }], planned)[1]?.heading).toBe('New');
});

test.each([
  // In the sheet, on the form, as they come to stand; capitals are new.
  ['abc', 'aXbc', 'aXbc'],
  ['abc', 'abcX', 'abcX'],
  ['abc', 'bXYa', 'abXYc'],
  ['abc', 'XYba', 'aXYbc'],
  ['abc', 'cXaY', 'aYbcX'],
  ['abc', 'aXaYb', 'aXYbc'],
  ['abc', '', 'abcXY'],
  ['', 'YX', 'YX'],
])('in %j, with a form of %j, columns come to stand as %j', (sheet, form, expected) => {
  const all = (ids: string): Column[] => [...ids].map((id) => column(id, 'text'));
  const coming = all('XY').filter(({ id }) => expected.includes(id));
  const stand = plannedColumns(all(sheet), coming, [...form]).map(({ id }) => id);
  expect(stand.join('')).toBe(expected);
});

test('a computed starting value stands until someone types, and an error in it is no answer', () => {
  const columns = [column('a', 'number'), column('b', 'number'), column('c', 'text')];
  const moment = { locale, now: () => context.now };
  const block = (columnId: string, formula: string): FieldBlock => ({
    is: 'field',
    id: columnId,
    columnId,
    start: { kind: 'formula', formula },
  });
  const definition = {
    blocks: [
      { is: 'field' as const, id: 'a', columnId: 'a' },
      block('b', "'The a' * 2"),
      block('c', "1 / ('The a' - 3)"),
    ],
  };
  const prepared = prepareForm(definition, byId(...columns));
  const untouched = new Set(['b', 'c']);
  const filled = (a: string, rest: Record<string, string> = {}): object =>
    fill(
      prepared,
      { answers: { a, ...rest }, untouched: new Set([...untouched].filter((id) => !(id in rest))) },
      context,
      new TextEvaluator(new TextFormulas({ columns: columns.map(withoutFormula), moment })),
    ).cells;
  expect(filled('4')).toEqual({ a: 4, b: 8, c: '1' });
  expect(filled('3')).toEqual({ a: 3, b: 6 });
  expect(filled('4', { b: '5' })).toEqual({ a: 4, b: 5, c: '1' });
});

test('a message names its columns by their headings, and leaves what is gone as it is', () => {
  const columns = byId(column('ph', 'number'));
  expect(messageWithHeadings('Thanks: {#ph}, {#gone}, {ph} {', columns)).toBe(
    'Thanks: {The ph}, {#gone}, {ph} {',
  );
});

test('every kind reads nothing typed as blank, and has a word for what it can’t read', () => {
  for (const id of KIND_IDS) {
    const each = column('x', id, { choices: ['Ash Beck'], pattern: 'RW-000', currency: 'EUR' });
    const kind = kindOf(each);
    if (kind.filledBy !== 'people') continue;
    expect(kind.read('', each, context)).toMatchObject({ ok: true, value: null });
    const reading = kind.read('\u0001?', each, context);
    if (!reading.ok) expect(sayProblem(reading.problem)).toMatch(/^[‘A-Z].*\.$/);
  }
});
