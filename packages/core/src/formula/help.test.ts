import * as fc from 'fast-check';
import {
  checkLimits,
  helpAt,
  limitsFormula,
  moveFormula,
  readLimits,
  referencesIn,
  type LimitClass,
} from '.';
import { anyExpression } from './testing/anyExpression';
import { evaluate } from './testing/engines';
import { printFormula } from './testing/printFormula';
import { parseWritten } from './grammar/parser';
import { printReference } from './references/written';

const POINT = { decimal: '.' };
const COMMA = { decimal: ',' };

test.each<[written: string, shown: string[], inCall: [string, number] | null, offers: string[]]>([
  ['SUM(B4:B9', ['B4:B9'], ['SUM', 0], []],
  ["IF('pH'>7;B2;", ["'pH'", 'B2'], ['IF', 2], []],
  ["IF(SUM('Kit loans'!'Total';3);", ["'Kit loans'!'Total'"], ['IF', 1], []],
  ['ROUND(SUM(B:B)/2,', ['B:B'], ['ROUND', 1], []],
  ['MEDI', [], null, ['MEDIAN']],
  ['1+(AVER', [], null, ['AVERAGE', 'AVERAGEIF', 'AVERAGEIFS']],
  ['LEN("SU', [], ['LEN', 0], []],
  ['(((', [], null, []],
  ['', [], null, []],
])('help while ‘%s’ is being typed', (written, shown, inCall, offers) => {
  expect(referencesIn(written, POINT).map((each) => printReference(each.reference))).toEqual(shown);
  const help = helpAt(written, written.length, POINT);
  expect(help.call && [help.call.name, help.call.argument]).toEqual(inCall);
  expect(help.offers.map(({ name }) => name)).toEqual(offers);
  if (offers.length === 0) expect(help.from).toBe(written.length);
});

test.each<[written: string, offers: string[], from: number]>([
  ['Pri', ['Price'], 0],
  ['2*pri', ['Price'], 2],
  ['2*water', ['Water temp'], 2],
  ['2*Water t', ['Water temp'], 2],
  ["2*'Wat", ['Water temp'], 2],
  ['SUM(s', ['Sum', 'Sort by', 'SUM', 'SORT'], 4],
  ['IF(a;"pri', [], 9],
  ["'Price", ['Price'], 0],
  ["'Price'", [], 7],
  ["Kit!'Pri", [], 8],
  ['xpri', [], 4],
])('columns are offered while ‘%s’ is typed', (written, offers, from) => {
  const headings = ['Price', 'Water temp', 'Sum', 'Sort by'];
  const help = helpAt(written, written.length, POINT, headings);
  expect(help.offers.map(({ name }) => name).slice(0, offers.length || 9)).toEqual(offers);
  expect(help.from).toBe(from);
});

test.each([
  ['A1+$B$2*C$3', 1, 1, 'A1+$B$2*C$3', 'B2+$B$2*D$3'],
  ["SUM(B4..)&'pH'", 2, 0, '', "SUM(B6..)&'pH'"],
  ["'Kit loans'!A1", 0, 3, '', "'Kit loans'!D1"],
  ['A1+"A1"', 1, 0, '', 'A2+"A1"'],
  ['A1', -1, 0, '', '#REF!'],
  ['nothing( like', 1, 1, '', 'nothing( like'],
])('%s copied %i down and %i across', (written, down, across, _same, expected) => {
  expect(moveFormula(written, down, across, POINT)).toBe(expected);
});

test('a formula copied there and back is what it was, and copied nowhere too', () => {
  fc.assert(
    fc.property(anyExpression, fc.nat(50), fc.nat(20), (expression, down, across) => {
      const written = printFormula(expression, printReference, POINT);
      expect(moveFormula(written, 0, 0, POINT)).toBe(written);
      const moved = moveFormula(written, down, across, POINT);
      const left = (text: string): number => text.split('#REF!').length;
      fc.pre(left(moved) === left(written));
      expect(moveFormula(moved, -down, -across, POINT)).toBe(written);
      expect(() => parseWritten(moved, POINT)).not.toThrow();
    }),
  );
});

const HEADING = { kind: 'heading', sheet: null, heading: "Owner's pH" } as const;

test.each<[string, LimitClass[], ReturnType<typeof checkLimits>]>([
  ['one class', [{ from: null, label: 'All' }], { code: 'tooFewClasses' }],
  [
    'no limit',
    [
      { from: null, label: 'Low' },
      { from: null, label: 'High' },
    ],
    { code: 'limitMissing', at: 1 },
  ],
  [
    'the same limit twice',
    [
      { from: null, label: 'a' },
      { from: 7, label: 'b' },
      { from: 7, label: 'c' },
    ],
    { code: 'limitNotRising', at: 2 },
  ],
  [
    'no label',
    [
      { from: null, label: ' ' },
      { from: 7, label: 'b' },
    ],
    { code: 'labelMissing', at: 0 },
  ],
])('a table of limits with %s is pointed out', (_what, classes, problem) => {
  expect(checkLimits(classes)).toEqual(problem);
});

test('every number falls into one class of a table of limits, and the table can be read back', () => {
  const limits = fc.uniqueArray(
    fc.double({ min: -1000, max: 1000, noNaN: true }).map((limit) => Number(limit.toFixed(3)) + 0),
    { minLength: 1, maxLength: 6 },
  );
  const cell = (value: number) => ({ kind: 'cell', sheet: null, cell: at(value) }) as const;
  const at = (row: number) => ({ column: 0, row, fixedColumn: false, fixedRow: false });
  fc.assert(
    fc.property(limits, fc.double({ min: -1100, max: 1100, noNaN: true }), (found, value) => {
      const rising = [...found].sort((a, b) => a - b);
      const classes = [null, ...rising].map((from, n) => ({ from, label: `class "${n}"; ${n}` }));
      expect(checkLimits(classes)).toBeNull();
      for (const notation of [POINT, COMMA]) {
        const formula = limitsFormula(HEADING, classes, notation);
        expect(readLimits(formula, HEADING, notation)).toEqual(classes);
        // As the server writes it back, it is still known for a table.
        const back = printFormula(parseWritten(formula, notation), printReference, notation);
        expect(back).toBe(formula);
      }
      for (const tried of [value, ...rising]) {
        const formula = limitsFormula(cell(1), classes, POINT).replaceAll('A1', `(${tried})`);
        const expected = rising.filter((limit) => tried >= limit).length;
        expect(evaluate(formula, [])).toBe(`class "${expected}"; ${expected}`);
      }
    }),
  );
});
