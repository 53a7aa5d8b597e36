import { DetailedCellError, HyperFormula } from 'hyperformula';
import * as fc from 'fast-check';
import { BY_THE_MOMENT, CALLS, DIFFERS, EXPRESSIONS, SHEET } from './testing/cases';
import { anyExpression } from './testing/anyExpression';
import { evaluate, MOMENT, plain } from './testing/engines';
import {
  callProblem,
  DEEPEST,
  FormulaError,
  FUNCTIONS,
  moveReference,
  parseWritten,
  printReference,
  type Expression,
  type FormulaProblem,
  type WrittenReference,
} from '.';
import { printFormula } from './testing/printFormula';

const NOTATION = { decimal: '.' };

const cases = [
  ...Object.entries(CALLS).flatMap(([name, calls]) =>
    calls.map(([args, expected]) => [`${name}(${args})`, expected] as const),
  ),
  ...EXPRESSIONS,
];

/** Numbers to 13 digits, so that engines that add in another order agree. */
function rounded(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(rounded);
  return typeof value === 'number' ? Number(value.toPrecision(13)) : value;
}

test.each(cases)('%s', (formula, expected) => {
  expect(rounded(plain(evaluate(formula, SHEET)))).toEqual(rounded(expected));
});

test('every function has five cases or more, and the moment is the workbook’s', () => {
  const few = [...FUNCTIONS.keys()].filter(
    (name) =>
      !BY_THE_MOMENT.includes(name) &&
      (FUNCTIONS.get(name)?.parameters.length ?? 0) > 0 &&
      (CALLS[name]?.length ?? 0) < 5,
  );
  expect(few).toEqual([]);
  expect(evaluate('NOW()', SHEET)).toBe(MOMENT.now());
  expect(evaluate('TODAY()', SHEET)).toBe(46_027);
});

describe('a second engine (hyperformula, for development only)', () => {
  const other = HyperFormula.buildFromSheets(
    { T: SHEET.map((row) => row.map(forTheOther)), R: [[]] },
    {
      licenseKey: 'gpl-v3',
      functionArgSeparator: ';',
      arrayColumnSeparator: ';',
      arrayRowSeparator: '|',
      useArrayArithmetic: true,
      useWildcards: true,
      leapYear1900: false,
      precisionRounding: 14,
      dateFormats: ['YYYY-MM-DD'],
    },
  );

  function forTheOther(value: (typeof SHEET)[number][number]): string | number | boolean | null {
    if (typeof value === 'object' && value !== null) return '=NA()';
    return typeof value === 'string' && /^\d/.test(value) ? `'${value}` : value;
  }

  function answer(formula: string): unknown {
    const there = formula
      .replace(/(?<![A-Z"])([A-E][1-8])(?!")/g, 'T!$1')
      .replace(/:T!/g, ':')
      .replace(/\b(TRUE|FALSE)\b(?!\()/g, '$1()');
    const shown = (value: unknown): unknown =>
      value instanceof DetailedCellError ? value.value : value;
    try {
      const found: unknown = other.calculateFormula(`=${there}`, 1);
      return Array.isArray(found)
        ? found.map((row: unknown) => (Array.isArray(row) ? row.map(shown) : shown(row)))
        : shown(found);
    } catch (error) {
      return error instanceof Error ? error.message : error;
    }
  }

  test('gives the same, but where it has no such function or a reason is written down', () => {
    const answered = cases
      .map(([formula, expected]) => ({ formula, expected, found: answer(formula) }))
      // It says so of a function it does not have; none of our cases expects this error.
      .filter(({ found }) => found !== '#NAME?');
    const otherwise = answered.filter(
      ({ expected, found }) => JSON.stringify(rounded(found)) !== JSON.stringify(rounded(expected)),
    );
    expect(otherwise.filter(({ formula }) => !(formula in DIFFERS))).toEqual([]);
    expect(
      Object.keys(DIFFERS).filter((key) => !otherwise.some(({ formula }) => formula === key)),
    ).toEqual([]);
    expect(answered.length).toBeGreaterThan(450);
  });
});

/** A tree without places, and without the parentheses' traces in them. */
function bare<R>(expression: Expression<R>): unknown {
  return JSON.parse(
    JSON.stringify(expression, (key, value: unknown) =>
      key === 'from' || key === 'to' ? (typeof value === 'number' ? undefined : value) : value,
    ),
  );
}

test('what is printed reads back as the same formula, in either notation', () => {
  fc.assert(
    fc.property(anyExpression, fc.constantFrom('.', ','), (expression, decimal) => {
      const text = printFormula(expression, printReference, { decimal });
      expect(bare(parseWritten(text, { decimal }))).toEqual(bare(expression));
    }),
    { numRuns: 1000 },
  );
});

describe('references as written', () => {
  const cell = (text: string): unknown => ({
    column: text.charCodeAt(0) - 65,
    row: Number(text.slice(1)),
    fixedColumn: false,
    fixedRow: false,
  });
  test.each<[string, object]>([
    [`'Kit loans'!A1`, { kind: 'cell', sheet: 'Kit loans', cell: cell('A1') }],
    [`'Kit loans'!'Item'`, { kind: 'heading', sheet: 'Kit loans', heading: 'Item' }],
    [`Samples!'pH'`, { kind: 'heading', sheet: 'Samples', heading: 'pH' }],
    [`'Samples'`, { kind: 'heading', sheet: null, heading: 'Samples' }],
    [`Samples!'Samples'`, { kind: 'heading', sheet: 'Samples', heading: 'Samples' }],
    [`'It''s'`, { kind: 'heading', sheet: null, heading: `It's` }],
    [`'It''s'!'O''clock'`, { kind: 'heading', sheet: `It's`, heading: `O'clock` }],
    [`prices`, { kind: 'name', name: 'prices' }],
    [`'prices'`, { kind: 'heading', sheet: null, heading: 'prices' }],
    [`B2B`, { kind: 'name', name: 'B2B' }],
    [`A1`, { kind: 'cell', sheet: null, cell: cell('A1') }],
    [`'A1'!A1`, { kind: 'cell', sheet: 'A1', cell: cell('A1') }],
    [`'A1'`, { kind: 'heading', sheet: null, heading: 'A1' }],
    [`'a!b'!A1`, { kind: 'cell', sheet: 'a!b', cell: cell('A1') }],
  ])('%s', (text, reference) => {
    const expression = parseWritten(text, NOTATION);
    expect(expression).toMatchObject({ type: 'reference', reference });
    expect(printFormula(expression, printReference, NOTATION)).toBe(text);
  });

  test.each([
    ['A1', 1, 1, 'B2'],
    ['$A$1', 5, 5, '$A$1'],
    ['$A1', 2, 2, '$A3'],
    ['A$1', 2, 2, 'C$1'],
    ['A1:B2', 1, 0, 'A2:B3'],
    ['B:B', 3, 1, 'C:C'],
    ['B3..', 1, 0, 'B4..'],
    ['$B3..D', 1, 1, '$B4..E'],
    [`'Price'`, 1, 1, `'Price'`],
    ['A1', -1, 0, null],
    ['A1', 0, -1, null],
  ])('%s moved %i down and %i across is %s', (text, down, across, expected) => {
    const expression = parseWritten(text, NOTATION) as Extract<
      Expression<WrittenReference>,
      { type: 'reference' }
    >;
    const moved = moveReference(expression.reference, down, across);
    expect(moved && printReference(moved)).toBe(expected);
  });

  test('with a decimal comma arguments are parted by semicolons alone', () => {
    const german = { decimal: ',' };
    const expression = parseWritten('ROUND(1,25;1)', german);
    expect(printFormula(expression, printReference, NOTATION)).toBe('ROUND(1.25;1)');
    expect(printFormula(parseWritten('ROUND(1.25,1)', NOTATION), printReference, german)).toBe(
      'ROUND(1,25;1)',
    );
  });
});

test.each<[string, Partial<FormulaProblem>]>([
  ['', { code: 'empty' }],
  ['1+', { code: 'valueWanted', from: 2 }],
  ['1 2', { code: 'operatorWanted', from: 2, found: '2' }],
  ['(1', { code: 'unclosedParenthesis', from: 0 }],
  ['SUM(1;2', { code: 'unclosedParenthesis', name: 'SUM', from: 0 }],
  ['"abc', { code: 'unclosedText', from: 0 }],
  [`1+'abc`, { code: 'unclosedQuote', from: 2 }],
  ['1+§', { code: 'strayCharacter', character: '§', from: 2 }],
  ['SUM(B4:B)', { code: 'openColon', instead: 'B4..', from: 4, to: 8 }],
  ["1+'A b'!$B4:$d", { code: 'openColon', instead: '$B4..$D' }],
  ['B4:b+1', { code: 'openColon', instead: 'B4..' }],
  ['{1;2|3}', { code: 'unevenArray', first: 2, here: 1 }],
  ['{1;A1}', { code: 'valueWanted', from: 3 }],
  ['1e400', { code: 'numberTooLarge', text: '1e400' }],
  [`${'('.repeat(4990)}1${')'.repeat(4990)}`, { code: 'tooDeep', most: DEEPEST }],
  [`${'('.repeat(5000)}1${')'.repeat(5000)}`, { code: 'tooLong', length: 10_001 }],
  [`${'-'.repeat(5000)}1`, { code: 'tooDeep', most: DEEPEST }],
  [`1${'%'.repeat(5000)}`, { code: 'tooDeep', most: DEEPEST }],
  [`1${'^1'.repeat(1000)}`, {}],
  [`1${'+1'.repeat(4990)}`, { code: 'tooManyOperators', most: 1000, from: 2001 }],
  [`SUM(${'1*2;'.repeat(1001)}1)`, { code: 'tooManyOperators' }],
  ['1'.repeat(10_001), { code: 'tooLong', length: 10_001 }],
  ['SUMM(1)', { code: 'unknownFunction', name: 'SUMM', near: 'SUM', from: 0, to: 4 }],
  ['1+FOO_(1)', { code: 'unknownFunction', near: null, from: 2 }],
  ['ROUND()', { code: 'argumentCount', name: 'ROUND', given: 0, least: 1, most: 2 }],
  ['ABS(1;2)', { code: 'argumentCount', given: 2, most: 1 }],
  ['IF(1;ROUND(1;2;3))', { code: 'argumentCount', name: 'ROUND', from: 5 }],
  ['Sheet!', { code: 'valueWanted' }],
])('%# says what is wrong, and where', (text, problem) => {
  const found = (): FormulaProblem | null => {
    try {
      return callProblem(parseWritten(text, NOTATION));
    } catch (error) {
      if (error instanceof FormulaError) return error.problem;
      throw error;
    }
  };
  expect(found() ?? {}).toMatchObject(problem);
});
