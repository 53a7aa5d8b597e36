import * as fc from 'fast-check';
import { localeFacts, readIsoDate, readIsoMoment, readIsoTime, type CellValue } from '../values';
import {
  arrivalReader,
  ArrivalScout,
  guardText,
  isTotalsRow,
  topMatterOf,
  unguardText,
  type ArrivalPreview,
} from '.';

const gb = localeFacts('en-GB');
const us = localeFacts('en-US');

function scout(rows: string[][], locale = gb): ArrivalPreview {
  const looking = new ArrivalScout(locale);
  rows.forEach((row) => looking.add(row));
  return looking.finish();
}

/** The records a file becomes by its own guesses. */
function arrive(rows: string[][], locale = gb): CellValue[][] {
  const read = arrivalReader(scout(rows, locale).plan, locale, readIsoDate('2026-11-25') ?? 0);
  return rows.flatMap((row, index) => {
    const arrived = read(row, index + 1);
    return arrived.is === 'record' ? [[...arrived.cells]] : [];
  });
}

const table = (text: string): string[][] =>
  text
    .trim()
    .split('\n')
    .map((line) => line.trim().split('|'));
const headings = ({ plan }: ArrivalPreview): string[] => plan.columns.map(({ heading }) => heading);
const kinds = ({ plan }: ArrivalPreview): string[] => plan.columns.map(({ kind }) => kind);

describe('kinds are guessed from the data', () => {
  test.each<[string, string[], string]>([
    ['whole numbers', ['1', '20', '-3'], 'wholeNumber'],
    ['numbers', ['1', '2.5', '7.10'], 'number'],
    ['decimal commas', ['1,5', '2,25', '1.234,5'], 'number'],
    ['grouped numbers', ['1,234', '12,345,678'], 'wholeOrNumber'],
    ['ids with leading zeros', ['0007', '0012', '0144'], 'text'],
    ['long digit strings', ['1234567890123456', '2234567890123456'], 'text'],
    ['phone numbers', ['+441632960001', '+441632960002'], 'text'],
    ['phone numbers with spaces', ['07700 900123', '07700 900456'], 'text'],
    ['dates', ['28/03/2026', '01/04/2026'], 'date'],
    ['ISO dates', ['2026-03-28', '2026-04-01'], 'date'],
    ['dates in words', ['28 Mar 2026', '1 April 2026'], 'date'],
    ['times', ['9:05', '14:30', '23:59:59'], 'time'],
    ['moments', ['2026-03-28 14:05', '2026-03-29T09:00'], 'moment'],
    ['yes and no', ['yes', 'No', 'Y'], 'yesNo'],
    ['words', ['low', 'high'], 'text'],
    ['a mixture', ['1', '2', 'three'], 'text'],
    ['versions', ['1.2.3', '1.2.4'], 'text'],
    ['nothing', ['', ''], 'text'],
    [
      '95 of 100 numbers',
      [...Array.from({ length: 95 }, (_, n) => `${n}.5`), ...Array<string>(5).fill('n/a')],
      'number',
    ],
    [
      '94 of 100 numbers',
      [...Array.from({ length: 94 }, (_, n) => `${n}.5`), ...Array<string>(6).fill('n/a')],
      'text',
    ],
  ])('%s', (_name, values, kind) => {
    const [, guessed] = kinds(scout([['Key', 'Value'], ...values.map((each) => ['k', each])]));
    expect(
      kind === 'wholeOrNumber' ? ['wholeNumber', 'number'].includes(guessed ?? '') : guessed,
    ).toBe(kind === 'wholeOrNumber' ? true : kind);
  });

  test.each([
    [['03/04/2026', '05/06/2026'], gb, 'dmy', true],
    [['03/04/2026', '05/06/2026'], us, 'mdy', true],
    [['03/04/2026', '25/06/2026'], us, 'dmy', false],
    [['03/04/2026', '06/25/2026'], gb, 'mdy', false],
    [['2026-04-03', '2026-06-05'], gb, 'dmy', false],
  ])('%j is %s first, asked about: %s', (values, locale, dateOrder, ambiguousDates) => {
    const [column] = scout([['When'], ...values.map((each) => [each])], locale).columns;
    expect(column).toMatchObject({ kind: 'date', dateOrder, ambiguousDates });
  });
});

describe('fixtures, each with its documented outcome (docs/bring-in.md)', () => {
  test('two alike and a blank heading: told apart by letter, named by letter', () => {
    const preview = scout(table('Id|Depth|Depth||Depth\nA|1|2|x|3'));
    expect(headings(preview)).toEqual(['Id', 'Depth', 'Depth (C)', 'Column D', 'Depth (E)']);
    expect(preview.columns.map(({ origin }) => origin)).toEqual([
      'given',
      'given',
      'alike',
      'blank',
      'alike',
    ]);
  });

  test('ragged rows: what is missing is blank, what is past the heading has a column', () => {
    const rows = table('Id|Name|Depth\nA|Ford|1.5\nB\nC|Weir|2.5|loose');
    expect(scout(rows)).toMatchObject({ shortRows: 1, longRows: 1, records: 3 });
    expect(arrive(rows)).toEqual([
      ['A', 'Ford', 1.5, null],
      ['B', null, null, null],
      ['C', 'Weir', 2.5, 'loose'],
    ]);
  });

  test('what is odd further down is shown, doubles of a key are told, and rows can be left out', () => {
    const long = Array.from({ length: 90 }, (_, n) => [`K-${n === 70 ? 3 : n}`, `${n}.25`]);
    const rows = [['Kit', 'Weight'], ...long.toSpliced(60, 0, ['', ''], ['Loose'])];
    const { later, doubles, plan, blankRows } = scout(rows);
    expect(later.map(({ row }) => row)).toEqual([
      62,
      63,
      ...Array.from({ length: 10 }, (_, n) => 84 + n),
    ]);
    expect([doubles, blankRows]).toEqual([[{ index: 0, values: ['K-3'] }], [62]]);
    expect(plan.columns.map(({ kind, decimals }) => [kind, decimals])).toEqual([
      ['text', undefined],
      ['number', 2],
    ]);
    const read = arrivalReader({ ...plan, without: [3, 93] }, gb, 0);
    const kept = rows.flatMap((row, n) => (read(row, n + 1).is === 'record' ? [row[0]] : []));
    expect([kept.length, kept.includes('K-1'), kept.at(-1)]).toEqual([89, false, 'K-88']);
  });

  test('an empty leading column and a gap column are left out', () => {
    const rows = table('|Id||Depth\n|A||1\n|B||2');
    expect(headings(scout(rows))).toEqual(['Id', 'Depth']);
    expect(scout(rows).columns.map(({ empty }) => empty)).toEqual([true, false, true, false]);
    expect(arrive(rows)).toEqual([
      ['A', 1],
      ['B', 2],
    ]);
  });

  test('two heading rows: groups above, or units below, are joined with theirs', () => {
    const groups = table(
      'Station||Water|\nCode|Name|Temp|pH\nAB-01|Ford|7.5|7\nAB-02|Weir|8.5|7.2',
    );
    expect(scout(groups).plan).toMatchObject({ headingRow: 1, headingRows: 2 });
    expect(headings(scout(groups))).toEqual([
      'Station Code',
      'Station Name',
      'Water Temp',
      'Water pH',
    ]);
    const units = table('Code|Temp|Oxygen\n|°C|mg/L\nAB-01|7.5|11\nAB-02|8|10.5');
    expect(headings(scout(units))).toEqual(['Code', 'Temp °C', 'Oxygen mg/L']);
    expect(arrive(units)).toHaveLength(2);
  });

  test('a title above, totals inside and below, blank rows', () => {
    const rows = table(
      'Kit returns\n||\nItem|Count|Price\nRope|2|1.5\nSubtotal|2|1.5\n||\nNet|1|8\nAsh Beck total|1|8\nTotal|3|9.5\nTotally wet|4|2\nTotal depth|deep|',
    );
    const preview = scout(rows);
    expect(preview).toMatchObject({ totalsRows: [5, 8, 9], blankRows: [6], records: 4 });
    expect(preview.plan.headingRow).toBe(3);
    expect(arrive(rows).map(([item]) => item)).toEqual([
      'Rope',
      'Net',
      'Totally wet',
      'Total depth',
    ]);
  });

  test('no heading at all: columns are named by their letters and nothing is lost', () => {
    const rows = table('1|2026-01-01\n2|2026-01-02');
    expect(scout(rows).plan.headingRow).toBeNull();
    expect(headings(scout(rows))).toEqual(['Column A', 'Column B']);
    expect(arrive(rows)).toHaveLength(2);
  });

  test('`03/04/2026` and decimal commas are read in the order and style of their column', () => {
    const rows = table('Day|Rate\n03/04/2026|1,5\n28/04/2026|1.234,25');
    expect(arrive(rows, us)).toEqual([
      [readIsoDate('2026-04-03'), 1.5],
      [readIsoDate('2026-04-28'), 1234.25],
    ]);
  });

  test('what can’t be read as its column’s kind is kept as text, ids among numbers too', () => {
    const values = Array.from({ length: 38 }, (_, n) => [`${n}.5`]);
    const read = arrivalReader(scout([['Depth'], ...values, ['n/a'], ['007']]).plan, gb, 0);
    expect(read(['n/a'], 40)).toEqual({ is: 'record', cells: ['n/a'], unread: 1 });
    expect(read(['007'], 41)).toEqual({ is: 'record', cells: ['007'], unread: 1 });
    expect(read(['1e3'], 42)).toEqual({ is: 'record', cells: [1000], unread: 0 });
  });

  test('times and moments arrive as what they say', () => {
    expect(arrive(table('Key|Clock|Moment\na|9:05|2026-03-28 14:05'))).toEqual([
      ['a', readIsoTime('09:05'), readIsoMoment('2026-03-28T14:05')],
    ]);
  });
});

test('what stands above the heading is kept, also over columns that are left out', () => {
  const plan = {
    columns: [1, 3].map((index) => ({ index })) as ArrivalPreview['plan']['columns'][number][],
  };
  expect(topMatterOf([['Title', '', '', ' By season '], [''], ['a', 'b', 'c', 'd']], plan)).toEqual(
    [['Title', 'By season'], [], ['b', 'd', 'a', 'c']],
  );
});

test.each([
  [['Total', '5'], true],
  [['', 'Grand total:', '5'], true],
  [['Summe', '1,5'], true],
  [['Totals'], false],
  [['Total', 'of the north'], false],
  [['Totally', '5'], false],
  [['Average', '2.5', '3'], true],
])('%j is a row of totals: %s', (row, expected) => {
  expect(isTotalsRow(row)).toBe(expected);
});

describe('the guard of formula-like text', () => {
  // The beginnings are OWASP's list for CSV injection (from memory).
  test.each(['=1+1', '+1', '-1', '@SUM(A1)', '\t=1', '\r=1', "'quoted", "''"])(
    '%j is guarded',
    (text) => {
      expect(guardText(text)).toBe(`'${text}`);
    },
  );
  test.each(['plain', '1-1', ' =1', 'it’s', ''])('%j is left as it is', (text) => {
    expect(guardText(text)).toBe(text);
  });
  test('comes off exactly, and nothing leaves that another program would run', () => {
    fc.assert(
      fc.property(fc.string({ unit: fc.constantFrom(...'=+-@\t\r\'"ab1,') }), (text) => {
        expect(unguardText(guardText(text))).toBe(text);
        expect(guardText(text)).not.toMatch(/^[=+\-@\t\r]/);
      }),
    );
  });
});
