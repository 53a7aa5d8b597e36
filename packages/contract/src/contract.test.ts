import { plainToInstance } from 'class-transformer';
import { validateSync, type ValidationError } from 'class-validator';
import { readOutline } from '@varn/core';
import * as fc from 'fast-check';
import {
  BringIn,
  CheckAnswers,
  EditCells,
  mayAs,
  RemoveRows,
  RenameForm,
  ROLES,
  RowsQuery,
  SaveDraft,
  shapeOf,
  SignIn,
  Submit,
  UpdateRecord,
  UploadQuery,
  type Role,
} from '.';

const writeId = '6f1c1d5e-3b7a-4c8e-9a51-0d9f6f0c2b11';

const errorsOf = (shape: new () => object, plain: object): ValidationError[] =>
  validateSync(plainToInstance(shape, plain), { whitelist: true, forbidNonWhitelisted: true });

/** The fields that are off, nested ones with their path. */
function wrong(shape: new () => object, plain: object): string[] {
  const errors = errorsOf(shape, plain);
  return errors.flatMap(({ property, children = [] }) =>
    children.length === 0
      ? [property]
      : children.flatMap((child) =>
          (child.children ?? []).map((leaf) => `${property}.${child.property}.${leaf.property}`),
        ),
  );
}

const column = { index: 0, heading: 'A', kind: 'text', decimal: '.', dateOrder: 'dmy' };
const order = {
  writeId,
  sheetName: 'S',
  encoding: 'utf-8',
  delimiter: ',',
  headingRow: 1,
  headingRows: 1,
  keepTotals: false,
  guarded: true,
  columns: [column],
};

test.each<[string, new () => object, object, string[]]>([
  ['a submit', Submit, { writeId, answers: { a: 'x' } }, []],
  ['a submit of nothing', Submit, { writeId, answers: {} }, []],
  ['a write id that is none', Submit, { writeId: '1', answers: {} }, ['writeId']],
  ['an answer that is a number', Submit, { writeId, answers: { a: 1 } }, ['answers']],
  ['answers that are null', Submit, { writeId, answers: null }, ['answers']],
  [
    'too many answers',
    Submit,
    { writeId, answers: Object.fromEntries(Array.from({ length: 1001 }, (_, n) => [n, ''])) },
    ['answers'],
  ],
  ['a field nobody knows', Submit, { writeId, answers: {}, role: 'owner' }, ['role']],
  ['a name of emoji', RenameForm, { name: '🧪 שלום', revision: 1 }, []],
  ['a blank name', RenameForm, { name: ' \t', revision: 1 }, ['name']],
  ['a name that is too long', RenameForm, { name: 'x'.repeat(201), revision: 1 }, ['name']],
  ['a revision that is a text', RenameForm, { name: 'x', revision: '1' }, ['revision']],
  ['rows by text', RowsQuery, { from: '0', count: '200' }, []],
  ['rows from before the first', RowsQuery, { from: '-1', count: '200' }, ['from']],
  ['too many rows', RowsQuery, { from: '0', count: '1001' }, ['count']],
  ['half a row', RowsQuery, { from: '0.5', count: '1' }, ['from']],
  ['a mail address', SignIn, { email: 'ines@riverwatch.example', password: 'x' }, []],
  ['no mail address', SignIn, { email: 'ines', password: '' }, ['email', 'password']],
  ['a locale', UploadQuery, { name: 'a.csv', locale: 'zh-Hant-TW' }, []],
  ['no locale', UploadQuery, { name: 'a.csv', locale: 'en_GB; x' }, ['locale']],
  [
    'a tag that only looks like a locale',
    UploadQuery,
    { name: 'a.csv', locale: 'en-a1' },
    ['locale'],
  ],
  ['a file to bring in', BringIn, order, []],
  ['a workbook of no locale', BringIn, { ...order, locale: 'en-12' }, ['locale']],
  [
    'a kind nobody knows',
    BringIn,
    { ...order, columns: [{ ...column, kind: 'colour' }] },
    ['columns.0.kind'],
  ],
  [
    'a column without heading',
    BringIn,
    { ...order, columns: [column, { ...column, heading: '' }] },
    ['columns.1.heading'],
  ],
  ['no columns', BringIn, { ...order, columns: [] }, ['columns']],
  ['a delimiter nobody knows', BringIn, { ...order, delimiter: 'x' }, ['delimiter']],
])('%s', (_name, shape, plain, fields) => {
  expect(wrong(shape, plain)).toEqual(fields);
});

test('any texts by any ids are a map of texts; anything else among them is not', () => {
  fc.assert(
    fc.property(
      fc.dictionary(fc.string(), fc.string()),
      fc.string(),
      fc.oneof(fc.integer(), fc.constant(null), fc.object()),
      (answers, key, other) => {
        const id = `x${key}`;
        expect(wrong(Submit, { writeId, answers: { ...answers, [id]: 'text' } })).toEqual([]);
        expect(wrong(Submit, { writeId, answers: { ...answers, [id]: other } })).toEqual([
          'answers',
        ]);
      },
    ),
  );
});

test('shapes and decorators let the same requests through', () => {
  const id = 'a';
  const requests: [new () => object, object][] = [
    [Submit, { writeId, answers: { a: 'x' }, untouched: [id], pressedAt: 5, version: 1 }],
    [CheckAnswers, { answers: {}, meant: [id], draft: true }],
    [UpdateRecord, { writeId, answers: { a: '' }, revision: 2 }],
    [RemoveRows, { writeId, revision: 1, records: [{ id, revision: 1 }], rows: [1, 2] }],
    [
      EditCells,
      {
        writeId,
        revision: 1,
        records: [{ id, revision: 1, answers: { a: 'x' }, meant: [id] }],
        added: [{ answers: { b: '1' }, above: 'r' }],
        rows: [{ row: 3, revision: 1, cells: { 0: 'x' } }],
        partly: true,
      },
    ],
  ];
  // Shapes take no null where something may be absent, and decorators do.
  const junk = fc.oneof(
    fc.constantFrom<unknown>('', 'x', -1, 0, 0.5, true, [], {}, [id], { a: 1 }, ['a', 1]),
    fc.array(fc.integer(), { maxLength: 3 }),
  );
  const places = (value: unknown): string[][] =>
    typeof value === 'object' && value !== null
      ? Object.entries(value).flatMap(([key, each]) => [
          [key],
          ...places(each).map((rest) => [key, ...rest]),
        ])
      : [];
  const put = (value: unknown, [key = '', ...rest]: readonly string[], to: unknown): unknown => {
    const made = (
      Array.isArray(value) ? [...(value as unknown[])] : { ...(value as object) }
    ) as Record<string, unknown>;
    if (rest.length > 0) made[key] = put(made[key], rest, to);
    else if (to === undefined) Reflect.deleteProperty(made, key);
    else made[key] = to;
    return made;
  };
  fc.assert(
    fc.property(
      fc.constantFrom(...requests),
      fc.nat(),
      fc.oneof(junk, fc.constant(undefined)),
      fc.boolean(),
      ([type, whole], n, other, isNew) => {
        const all = places(whole);
        const at = all[n % all.length] ?? [];
        const isInList = other === undefined && /^\d+$/.test(at.at(-1) ?? '');
        // Of a list where an object is wanted, decorators check what is in it.
        const isListed = Array.isArray(other) && /^\d+$/.test(at.at(-1) ?? '');
        if (isInList || isListed) return;
        const request = put(whole, isNew ? [...at.slice(0, -1), 'unknown'] : at, other) as object;
        expect([request, shapeOf(type)?.(request) === null]).toEqual([
          request,
          errorsOf(type, request).length === 0,
        ]);
      },
    ),
    { numRuns: 1500 },
  );
});

test('each role may all that those before it may, and nothing that is for those after it', () => {
  const table = ROLES.map((role) =>
    ROLES.map((needed) => (mayAs(role, needed) ? needed : null)).filter(
      (each): each is Role => each !== null,
    ),
  );
  expect(table).toEqual([
    ['reader'],
    ['reader', 'clerk'],
    ['reader', 'clerk', 'analyst'],
    ['reader', 'clerk', 'analyst', 'owner'],
  ]);
});

/** Words of the outline, each with something behind it that it may not want. */
const kind = fc.constantFrom(
  ...['text', 'number', 'money', 'steps', 'scale', 'phone', 'date', 'file', 'running number'],
  ...['one of', 'several of', 'statements of', 'ticks', 'computed =', 'whole number', 'time'],
);
const said = fc.constantFrom(
  ...[
    'unit',
    'by',
    'high',
    'up to',
    'width',
    'decimals',
    'digits',
    'currency',
    'looks like',
    'ends',
  ],
  ...[
    'own answer after',
    'parted by',
    'hint',
    'starts',
    'starts with',
    'gives',
    'repeated',
    'column',
  ],
  ...['pictures', 'only', 'shown when', 'required when', 'beside', 'as a suggestion', 'kept', ''],
);
const behind = fc.oneof(
  fc.constantFrom(
    '',
    '0',
    '-1',
    '99',
    '1e9',
    '2.5',
    'EUR',
    'XXQ',
    'GB',
    '(a, b)',
    '1..1000',
    '0..',
  ),
  fc.constantFrom("'x' > 1", '"a" and "b"', '4-4-4', 'images', '= 1', '99 times', 'x'.repeat(300)),
  fc.constantFrom('("a" = id-1)', '(<script> = ../x)', '9'.repeat(400), '60 lines', '5000 MB'),
);

test('what is read of an outline, however odd, is what a draft may be', () => {
  const line = fc
    .tuple(fc.constantFrom('A', 'B', 'note', 'C: c', 'x'.repeat(300)), kind, behind, said, behind)
    .map(([label, what, tail, word, more]) => `"${label}": ${what} ${tail}, ${word} ${more}`);
  fc.assert(
    fc.property(fc.array(line, { maxLength: 4 }), (lines) => {
      let n = 0;
      const newId = (): string => `n${(n += 1)}`;
      const reading = readOutline(lines.join('\n'), { columns: [], newId });
      const { definition, columns } = reading;
      expect([lines, wrong(SaveDraft, { definition, columns, revision: 1 })]).toEqual([lines, []]);
    }),
    { numRuns: 2000 },
  );
});
