import {
  KINDS,
  localeFacts,
  readIsoDate,
  readIsoMoment,
  type ArrivalPlan,
  type CellValue,
  type Column,
  type KindId,
} from '@varn/core';
import spectrum from 'csv-spectrum';
import * as fc from 'fast-check';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import {
  CsvFileError,
  csvHeading,
  csvRows,
  guessDelimiter,
  guessDialect,
  readCsv,
  lookThroughFile,
  rowsOfFile,
  readFileInto,
} from '../..';
import type { Dialect } from './dialect';
import { csv } from './intake';

let folder: string;
let path: string;
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'varn-csv-'));
  path = join(folder, 'file.csv');
});
afterAll(() => rmSync(folder, { recursive: true }));

async function rowsOf(content: string | Buffer, dialect?: Dialect): Promise<string[][]> {
  writeFileSync(path, content);
  const rows: string[][] = [];
  await readCsv(path, dialect ?? (await guessDialect(path)), (row) => void rows.push(row));
  return rows;
}

const COMMA: Dialect = { encoding: 'utf-8', delimiter: ',' };

describe('csv-spectrum’s cases', () => {
  // The package's published files, each with what it holds as JSON.
  const cases = new Promise<{ name: string; csv: Buffer; json: Buffer }[]>((resolve, reject) => {
    spectrum((error, found) => (error ? reject(error) : resolve(found)));
  });
  test('each is read as its JSON says', async () => {
    const found = await cases;
    expect(found.length).toBeGreaterThan(10);
    for (const { name, csv, json } of found) {
      const [heading = [], ...rows] = await rowsOf(csv, COMMA);
      const records = rows.map((row) => Object.fromEntries(heading.map((key, n) => [key, row[n]])));
      const expected: unknown = JSON.parse(json.toString());
      // This one's JSON was published as a bare object, and with another phone number than its CSV.
      if (name === 'location_coordinates') {
        records.forEach((record) => (record['Contact Phone Number'] = '1234567890'));
        expect(records).toEqual([expected]);
      } else expect([name, records]).toEqual([name, expected]);
    }
  });
});

const TEXT = 'Näme;Tiefe\r\nÜfer;1,5\r\n';
const utf16be = (text: string): Buffer => Buffer.from(text, 'utf16le').swap16();
test.each<[string, Buffer, string]>([
  ['UTF-8', Buffer.from(TEXT), 'utf-8'],
  ['UTF-8 with a byte-order mark', Buffer.from(`\uFEFF${TEXT}`), 'utf-8'],
  ['UTF-16 LE with a mark', Buffer.from(`\uFEFF${TEXT}`, 'utf16le'), 'utf-16le'],
  ['UTF-16 LE without', Buffer.from(TEXT, 'utf16le'), 'utf-16le'],
  ['UTF-16 BE with a mark', utf16be(`\uFEFF${TEXT}`), 'utf-16be'],
  ['UTF-16 BE without', utf16be(TEXT), 'utf-16be'],
  ['Windows-1252', Buffer.from(TEXT, 'latin1'), 'windows-1252'],
])('%s is told by its bytes and read', async (_name, bytes, encoding) => {
  writeFileSync(path, bytes);
  expect(await guessDialect(path)).toEqual({ encoding, delimiter: ';' });
  expect(await rowsOf(bytes)).toEqual([
    ['Näme', 'Tiefe'],
    ['Üfer', '1,5'],
  ]);
});

test.each([
  ['a,b\n1,2', ','],
  ['a;b\n1,5;2,5\n3,5;4', ';'],
  ['a\tb, c\n1\t2, 3', '\t'],
  ['a|b|c\n1|2|3', '|'],
  ['"a,b,c";d\n"1,2,3";4', ';'],
  ['one column\n1\n2', ','],
])('the delimiter of %j is %j', (text, delimiter) => {
  expect(guessDelimiter(text)).toBe(delimiter);
});

test.each([
  [
    'line feeds',
    'a,b\n1,2\n',
    [
      ['a', 'b'],
      ['1', '2'],
    ],
  ],
  [
    'returns',
    'a,b\r1,2\r',
    [
      ['a', 'b'],
      ['1', '2'],
    ],
  ],
  [
    'both, mixed',
    'a,b\r\n1,2\n3,4',
    [
      ['a', 'b'],
      ['1', '2'],
      ['3', '4'],
    ],
  ],
  [
    'quotes in bare cells',
    'a,6" pipe\n1,2',
    [
      ['a', '6" pipe'],
      ['1', '2'],
    ],
  ],
  ['blank rows, kept for their numbers', 'a\n\n1\n', [['a'], [''], ['1']]],
])('reads %s', async (_name, content, expected) => {
  expect(await rowsOf(content, COMMA)).toEqual(expected);
});

test('a quote left open is reported with its line and what to do', async () => {
  await expect(rowsOf('a,b\n1,"open\n2,3\n', COMMA)).rejects.toThrow(CsvFileError);
  await expect(rowsOf('a,b\n1,"open\n2,3\n', COMMA)).rejects.toThrow(
    /never closed.*line \d.*Close the quote/,
  );
});

const KINDS_OUT: KindId[] = [
  'text',
  'number',
  'wholeNumber',
  'date',
  'time',
  'moment',
  'yesNo',
  'oneChoice',
];
const columns = KINDS_OUT.map((kind): Column => ({
  id: kind,
  heading: `A ${kind}`,
  kind,
  settings: {},
}));
const planOut = (guarded: boolean): ArrivalPlan => ({
  headingRow: 1,
  headingRows: 1,
  keepTotals: true,
  guarded,
  columns: columns.map(({ heading, kind }, index) => ({
    index,
    heading,
    kind,
    decimal: '.',
    dateOrder: 'dmy',
  })),
});

const tricky = fc.constantFrom(
  '=1+1',
  '+1',
  '-5',
  '@x',
  '\t=2',
  '\r=3',
  "'",
  "'=1",
  "''",
  '"',
  'a"b',
  'a,b',
  'x\ny',
  'x\r\ny',
  '\n',
  ' a ',
  '0042',
  'true',
  '1e5',
  '2026-01-01',
  'שלום',
  '👩‍🔬',
);
const textValue = fc
  .oneof(tricky, fc.string({ unit: 'grapheme' }))
  .filter((text) => text.trim() !== '');
const second = fc.integer({ min: 0, max: 86_399 });
const record: fc.Arbitrary<CellValue[]> = fc.tuple(
  fc.option(textValue),
  fc.option(fc.double({ noNaN: true, noDefaultInfinity: true }).map((x) => (x === 0 ? 0 : x))),
  fc.option(fc.integer()),
  fc.option(fc.integer({ min: -690_000, max: 2_950_000 })),
  fc.option(second.map((n) => n / 86_400)),
  fc.option(
    fc.tuple(fc.integer({ min: 0, max: 80_000 }), second).map(([day, n]) => day + n / 86_400),
  ),
  fc.option(fc.boolean()),
  fc.option(textValue),
);

test.each([true, false])('out and in is the identity, guard on: %s', async (guarded) => {
  const hasValue = (cells: CellValue[]): boolean => cells.some((cell) => cell !== null);
  await fc.assert(
    fc.asyncProperty(
      fc.array(record.filter(hasValue), { minLength: 1, maxLength: 8 }),
      async (records) => {
        const content = csvHeading(columns, { guarded }) + csvRows(columns, records, { guarded });
        writeFileSync(path, content);
        const back: CellValue[][] = [];
        await csv.read(
          { path, dialect: COMMA, plan: planOut(guarded), locale: 'de-DE', now: 0 },
          (batch) => Promise.resolve(void back.push(...batch)),
        );
        expect(back.map((row) => row.map(told))).toEqual(records.map((row) => row.map(told)));
      },
    ),
    { numRuns: 150 },
  );
});

/** Moments are kept to the second: compare them as the file writes them. */
function told(value: CellValue, index: number): CellValue {
  return KINDS_OUT[index] === 'moment' && typeof value === 'number'
    ? Math.round(value * 86_400)
    : value;
}

test('guarded, no cell leaves that another program would run; numbers are never guarded', () => {
  const cells: CellValue[] = [
    '=1+1',
    -5,
    -5,
    readIsoDate('2026-01-01'),
    0.5,
    readIsoMoment('2026-01-01T10:00'),
    true,
    '@x',
  ];
  expect(csvRows(columns, [cells], { guarded: true })).toBe(
    "'=1+1,-5,-5,2026-01-01,12:00,2026-01-01T10:00,yes,'@x\r\n",
  );
  expect(csvRows(columns, [cells], { guarded: false })).toBe(
    '=1+1,-5,-5,2026-01-01,12:00,2026-01-01T10:00,yes,@x\r\n',
  );
  expect(
    csvHeading([{ id: 'a', heading: '=cmd', kind: 'text', settings: {} }], { guarded: true }),
  ).toBe("'=cmd\r\n");
});

test('a file is scouted and taken in by its own guesses, in batches', async () => {
  const lines = Array.from({ length: 4500 }, (_, n) => `${n};Ford ${n};${n % 7},5`);
  writeFileSync(path, `Nr;Name;Tiefe\n${lines.join('\n')}\n`);
  const { dialect, preview } = await lookThroughFile('csv', path, {
    dialect: {},
    keepTotals: false,
    guarded: true,
    locale: 'de-DE',
  });
  expect(preview.plan.columns.map(({ kind }) => KINDS[kind].label)).toEqual([
    'Whole number',
    'Text',
    'Number',
  ]);
  const sizes: number[] = [];
  const counts = await readFileInto(
    'csv',
    { path, dialect, plan: preview.plan, locale: localeFacts('de-DE').tag, now: 0 },
    (batch) => Promise.resolve(void sizes.push(batch.length)),
  );
  expect(sizes).toEqual([2000, 2000, 500]);
  expect(counts).toEqual({
    topMatter: [],
    rows: 4501,
    records: 4500,
    blankRows: 0,
    totalsRows: 0,
    keptAsText: 0,
  });
});

test.each([
  ['line ends without end', '\n'.repeat(3_000_000), /More than 100,000 rows .* are blank/],
  ['rows of separators without end', ',, \r\n'.repeat(1_000_000), /are blank/],
  ['separators without end', ','.repeat(4_000_000), /line 1 has more than 1,000 columns/],
  ['too many columns', `a,b\n${'1,'.repeat(1000)}1\n`, /line 2 has more than 1,000 columns/],
])('%s are told of before anything is made of them', async (_what, text, message) => {
  writeFileSync(path, text);
  const reading = readCsv(path, { encoding: 'utf-8', delimiter: ',' }, () => undefined);
  await expect(reading).rejects.toThrow(message);
});

test.each([
  ['separators past the last column', `a,b${','.repeat(4000)}\n1,2\n`, 2],
  ['separators and line ends within quotes', `"${',\n'.repeat(200_000)}",b\n1,"5"" wide"\n`, 2],
  ['a quote within a bare cell', `a,b\n${'5" pipe,x\n'.repeat(2000)}`, 2001],
  ['many columns', `${'a,'.repeat(999)}a\n`, 1],
])('%s are no fault', async (_what, text, rows) => {
  writeFileSync(path, text);
  let count = 0;
  await readCsv(path, { encoding: 'utf-8', delimiter: ',' }, () => {
    count += 1;
  });
  expect(count).toBe(rows);
});

test.each([
  [1, 2, 'Row 2'],
  [3, 1, '3'],
  [9_999, 5, '9999 10000'],
  [10_001, 5, ''],
])('from row %d on, up to %d rows are given as they are: %j', async (from, count, expected) => {
  const lines = Array.from({ length: 9999 }, (_, n) => `${n + 2},"a\nb"`);
  writeFileSync(path, ['Row,Text', ...lines].join('\n'));
  const rows = await rowsOfFile('csv', { path, dialect: COMMA, from, count });
  expect(rows.map(([first]) => first).join(' ')).toBe(expected);
});

// What stands before a place has one, two, three or four bytes a character in UTF-8.
const DEEP = Array.from({ length: 3500 }, (_, n) => [`${n + 1}`, 'ü€\nz'.repeat(n % 7), 'ends']);
const written = (end: string) =>
  DEEP.map(([n = '', text = '', last = '']) => `${n},"${text}",${last}`).join(end);

test.each([
  ['UTF-8', 'utf-8', Buffer.from(`${written('\r\n')}𝄞`), 3],
  ['UTF-8 with a mark', 'utf-8', Buffer.from(`\uFEFF𝄞${written('\n')}`), 3],
  ['UTF-16 LE', 'utf-16le', Buffer.from(`𝄞${written('\r')}`, 'utf16le'), 3],
  ['UTF-16 BE with a mark', 'utf-16be', utf16be(`\uFEFF${written('\r\n')}`), 3],
  ['Windows-1252', 'windows-1252', Buffer.from(written('\n').replaceAll('€', '\x80'), 'latin1'), 3],
  // A byte that is none of UTF-8: behind it no place is sure.
  ['not quite UTF-8', 'utf-8', Buffer.from(written('\n').replaceAll('€', '\x80'), 'latin1'), 0],
] as const)(
  'from where a look through marked them, rows of a file in %s are those of a whole reading',
  async (_name, encoding, bytes, marked) => {
    const dialect: Dialect = { encoding, delimiter: ',' };
    const rows = await rowsOf(bytes, dialect);
    const choices = { dialect, keepTotals: false, guarded: true, locale: 'en-GB' };
    const { marks } = await csv.lookThrough(path, choices);
    expect(marks.map(({ row }) => row)).toEqual(
      Array.from({ length: marked }, (_, n) => 1000 * (n + 1) + 1),
    );
    for (const start of marks) {
      const order = { path, dialect, from: start.row + 3, count: 5, start };
      expect(await csv.rows(order)).toEqual(rows.slice(start.row + 2, start.row + 7));
    }
  },
);
