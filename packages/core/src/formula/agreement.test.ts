import * as fc from 'fast-check';
import { localeFacts, sameNumber, type CellValue } from '../values';
import { Book } from './testing/book';
import { evaluate, plain } from './testing/engines';

/*
 * Where two parts of the language speak of one thing, they agree: what `&` writes is read again,
 * places are counted as `LEN` counts, what `=` takes as the same is found, what is read is watched.
 */

const LOCALES = ['en-GB', 'en-US', 'de-DE', 'de-CH', 'fr-FR', 'nb-NO', 'pt-BR', 'hi-IN', 'ar-EG'];
const german = localeFacts('de-DE');
const column = (...values: CellValue[]): CellValue[][] => values.map((value) => [value]);
const given = (
  formula: string,
  sheet: CellValue[][] = [],
  locale = localeFacts('en-GB'),
): unknown => plain(evaluate(formula, sheet, locale));

test.each<[formula: string, sheet: CellValue[][], expected: unknown]>([
  ['COUNTIF(A1:A4;">="&A1)', column(1.5, 2.5, 3.5, 0.5), 3],
  ['SUMIF(A1:A4;"<"&2,5)', column(1.75, 2.5, 3.5, 0), 1.75],
  ['AVERAGEIFS(A1:A4;A1:A4;">"&0,5)', column(1.5, 2.5, 0.5, 0), 2],
  ['"1,5"+1', [], 2.5],
  ['-"1,5"', [], -1.5],
  ['SUM("1,5";2)', [], 3.5],
  ['ROUND("2,25";1)', [], 2.3],
  ['"50%"*2', [], 1],
  ['"1,5E3"+0', [], 1500],
  // A point is no decimal sign here, and groups thousands in what VALUE takes.
  ['"1.5"+1', [], '#VALUE!'],
  ['COUNTIF(A1:A2;">1.5")', column(2, 1), 0],
  ['VALUE("1.234,5")', [], 1234.5],
  ['"2026-01-05"+0', [], 46_027],
])('with a decimal comma, %s over %j gives %j', (formula, sheet, expected) => {
  expect(given(formula, sheet, german)).toEqual(expected);
});

test('in every locale a number that was made a text is the same number again', () => {
  fc.assert(
    fc.property(
      fc.constantFrom(...LOCALES),
      fc.double({ noNaN: true, min: -1e12, max: 1e12 }).map((n) => Number(n.toPrecision(15))),
      (tag, number) => {
        const locale = localeFacts(tag);
        expect(given('(A1&"")+0', [[number]], locale)).toBe(number === 0 ? 0 : number);
        expect(given('COUNTIF(A1:A1;""&A1)', [[number]], locale)).toBe(1);
        expect(given('COUNTIF(A1:A1;"<="&A1)', [[number]], locale)).toBe(1);
      },
    ),
  );
});

test.each<[formula: string, sheet: CellValue[][], expected: unknown]>([
  ['FIND("b";"😀b")', [], 2],
  ['FIND("b";"😀b😀b";3)', [], 4],
  ['SEARCH("x";"İx")', [], 2],
  ['SEARCH("?x";"a😀x")', [], 2],
  ['SEARCH("b";"😀B";2)', [], 2],
  ['SEARCH("b";"😀B";4)', [], '#VALUE!'],
  ['COUNTIF(A1:A2;"?x")', column('😀x', 'abx'), 1],
  ['MATCH("a?c";A1:A2;0)', column('abbc', 'a𝒳c'), 2],
])('a character is one character: %s', (formula, sheet, expected) => {
  expect(given(formula, sheet)).toEqual(expected);
});

test('FIND and SEARCH count as LEN, LEFT and MID do, whatever the characters', () => {
  const text = fc.string({
    unit: fc.constantFrom('a', 'B', 'İ', 'ß', '😀', '𝒳', 'é', ' '),
    maxLength: 8,
  });
  fc.assert(
    fc.property(
      text,
      text.filter((each) => each !== ''),
      text,
      (before, part, after) => {
        const sheet = [[before + part + after, part]];
        const at = given('FIND(B1;A1)', sheet);
        expect(given(`MID(A1;${String(at)};LEN(B1))`, sheet)).toBe(part);
        expect(given('SEARCH(B1;A1)', sheet)).toBeLessThanOrEqual(Number(at));
        expect(given('LEN(LEFT(A1;SEARCH(B1;A1)-1))', sheet)).toBe(
          Number(given('SEARCH(B1;A1)', sheet)) - 1,
        );
      },
    ),
  );
});

test.each<[formula: string, expected: unknown]>([
  ['TEXT(1.005;"0.00")', '1.01'],
  ['TEXT(-1.005;"0.00;(0.00)")', '(1.01)'],
  ['TEXT(0.285;"0%")', '29%'],
  ['TEXT(2.675;"#,##0.00")', '2.68'],
  ['TEXT(46027.75;"yyyy-mm-dd")', '2026-01-05'],
  ['INT(123456789012345.9)', 123456789012345],
  ['INT(-123456789012345.1)', -123456789012346],
  ['INT(4.35*100)', 435],
  ['INT(0.1*3*10)', 3],
  ['INT(2.9999999999)', 2],
  ['INT(2^53)', 2 ** 53],
  ['INT(-(2^53))', -(2 ** 53)],
  ['INT(9007199254740991)', 2 ** 53 - 1],
  ['ROUND(2^53;0)', 2 ** 53],
  ['ROUND(9007199254740991;-1)', 9007199254740990],
  ['ROUND(2^53;2)', 2 ** 53],
  ['MOD(1e16;3)', 1],
  ['MOD(-1e16;3)', 2],
  ['MOD(1e16;-3)', -2],
  ['MOD(0.3;0.1)', 0],
  ['MOD(5.5;2)', 1.5],
  // Shorter months end on their last day (common practice).
  ['DATEDIF(DATE(2026;1;31);DATE(2026;3;1);"md")', 1],
  ['DATEDIF(DATE(2024;1;31);DATE(2024;3;1);"md")', 1],
  ['DATEDIF(DATE(2026;1;15);DATE(2026;3;20);"md")', 5],
])('%s gives %j', (formula, expected) => {
  expect(given(formula)).toBe(expected);
});

test('what is shown with two decimals is what ROUND gives; no month is less than nothing', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: -1e9, max: 1e9 }),
      fc.integer({ min: 0, max: 4 }),
      (n, digits) => {
        const value = n / 1000;
        const format = `0.${'0'.repeat(digits)}`.replace(/\.$/, '');
        const shown = given(`TEXT(A1;"${format}")`, [[value]]);
        expect(Number(shown)).toBeCloseTo(Number(given(`ROUND(A1;${digits})`, [[value]])), 9);
      },
    ),
  );
  fc.assert(
    fc.property(
      fc.integer({ min: 0, max: 60_000 }),
      fc.integer({ min: 0, max: 800 }),
      (from, days) => {
        expect(given(`DATEDIF(${from};${from + days};"md")`)).toBeGreaterThanOrEqual(0);
      },
    ),
  );
});

/** A sheet of records under a heading, and free cells in another that read it. */
function book(values: readonly CellValue[], ...formulas: string[]): Book {
  return new Book([
    { name: 'R', headings: ['K', 'V'], records: values.map((value, n) => [value, n]) },
    { name: 'F', loose: 3, rows: [formulas, [null, null, null], [null], [null], [null]] },
  ]);
}

test('what = takes as the same number is found, in ranges and in columns of records', () => {
  const near = 0.1 + 0.2;
  const column = book([1, near, 0.3], "=MATCH(0.3;R!'K';0)", "=XLOOKUP(0.3;R!'K';R!'V')");
  expect([column.value(1, 1, 0), column.value(1, 1, 1)]).toEqual([2, 1]);
  expect(given('ROWS(UNIQUE(A1:A2))', [[near], [0.3]])).toBe(1);
  expect(given('MODE(A1:A3)', [[1], [near], [0.3]])).toBe(near);
  expect(given('RANK(0.3;A1:A2)', [[near], [1]])).toBe(2);
  const numbers = fc.array(fc.constantFrom(0, 0.3, near, 1e-300, 2.5, 1 / 3, 4 - 2 / 3 - 3), {
    maxLength: 6,
  });
  fc.assert(
    fc.property(numbers, fc.constantFrom(0, 0.3, near, 1 / 3, 2.5, 7), (held, wanted) => {
      const found = book(held, `=IFERROR(MATCH(${wanted};R!'K';0);0)`).value(1, 1, 0);
      expect(found).toBe(held.findIndex((each) => sameNumber(each, wanted)) + 1);
    }),
  );
});

test('whole numbers of up to 15 digits and more are told apart wherever = tells them apart', () => {
  // IEEE 754: whole numbers below 2⁵³ are exact in a double.
  const whole = fc.integer({ min: 1e14, max: Number.MAX_SAFE_INTEGER - 1 });
  const near = fc.constantFrom(-3, -2, -1, 1, 2, 3);
  fc.assert(
    fc.property(whole, near, (wanted, by) => {
      const other = wanted + by;
      fc.pre(Number.isSafeInteger(other));
      const held = column(other, wanted);
      expect(sameNumber(wanted, other)).toBe(false);
      expect(given('A1=A2', held)).toBe(false);
      expect(given('A1<A2', held)).toBe(other < wanted);
      expect(given('COUNTIF(A1:A2;A2)', held)).toBe(1);
      expect(given('MATCH(A2;A1:A2;0)', held)).toBe(2);
      expect(given('XLOOKUP(A2;A1:A2;A1:A2)', held)).toBe(wanted);
      expect(given('ROWS(UNIQUE(A1:A2))', held)).toBe(2);
      expect(given('RANK(A2;A1:A2)', held)).toBe(other > wanted ? 2 : 1);
      const found = book(
        [other, wanted],
        `=MATCH(${wanted};R!'K';0)`,
        `=SUMIF(R!'K';${wanted};R!'V')`,
      );
      expect([found.value(1, 1, 0), found.value(1, 1, 1)]).toEqual([2, 1]);
    }),
  );
});

test('SUMIF takes the shape of its first range, and follows all it reads', () => {
  const sheets = [
    {
      name: 'F',
      loose: 3,
      rows: [
        [1, 10, '=SUMIF(A1:A4;">1";B1)'],
        [2, 20, '=SUMIF(A1:A4;">0";B1:B2)'],
        [3, 30, '=AVERAGEIF(A1:A4;">1";B1)'],
        [4, 40, null],
      ],
    },
  ];
  const book = new Book(sheets);
  expect([1, 2, 3].map((row) => book.value(0, row, 2))).toEqual([90, 100, 30]);
  book.put(0, 4, 1, 400);
  expect([1, 2, 3].map((row) => book.value(0, row, 2))).toEqual([450, 460, 150]);
  // As from nothing: no result is older than what it reads.
  book.put(0, 4, 0, 0);
  const followed = [1, 2, 3].map((row) => book.value(0, row, 2));
  book.rebuild();
  expect([1, 2, 3].map((row) => book.value(0, row, 2))).toEqual(followed);
});

test('a column computed for each record holds one value, and says so where it gets several', () => {
  const book = new Book([{ name: 'R', headings: ['K', 'V'], records: [[1], [2]] }], {
    'R!V': "=R!'K'",
  });
  expect(book.sheet(0).records.cellAt(0, book.sheet(0).columns[1]?.id ?? '')).toMatchObject({
    error: '#REF!',
    why: { code: 'several', count: 2 },
  });
});

test('MOD is what INT leaves (as OpenFormula 1.3 defines it), whatever the decimals and signs', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: -99_999, max: 99_999 }),
      fc.integer({ min: -999, max: 999 }).filter((each) => each !== 0),
      fc.integer({ min: 0, max: 4 }),
      (one, other, decimals) => {
        const [value, divisor] = [one / 10 ** decimals, other / 10 ** decimals];
        const left = Number(given(`MOD(${value};${divisor})`, []));
        const byInt = Number(given(`${value}-${divisor}*INT(${value}/${divisor})`, []));
        expect(Math.abs(left - byInt)).toBeLessThan(1e-9 * Math.max(1, Math.abs(value)));
      },
    ),
  );
});
