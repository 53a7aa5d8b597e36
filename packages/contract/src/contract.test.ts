import { plainToInstance } from 'class-transformer';
import { validateSync } from 'class-validator';
import { readOutline } from '@varn/core';
import * as fc from 'fast-check';
import {
  BringIn,
  mayAs,
  RenameForm,
  ROLES,
  RowsQuery,
  SaveDraft,
  SignIn,
  Submit,
  UploadQuery,
  type Role,
} from '.';

const writeId = '6f1c1d5e-3b7a-4c8e-9a51-0d9f6f0c2b11';

/** The fields that are off, nested ones with their path. */
function wrong(shape: new () => object, plain: object): string[] {
  const errors = validateSync(plainToInstance(shape, plain), {
    whitelist: true,
    forbidNonWhitelisted: true,
  });
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
      const { definition, columns, formulas } = reading;
      expect([lines, wrong(SaveDraft, { definition, columns, formulas, revision: 1 })]).toEqual([
        lines,
        [],
      ]);
    }),
    { numRuns: 2000 },
  );
});
