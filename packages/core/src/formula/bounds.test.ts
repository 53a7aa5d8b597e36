import * as fc from 'fast-check';
import { isErrorValue, sameNumber, type CellValue } from '../values';
import { Budget, MOST_STEPS, stepsTaken } from './functions/budget';
import { compareValues } from './functions/convert';
import { GrowingIndex } from './functions/lineIndex';
import { findPattern, textTest } from './functions/wildcards';
import { Book } from './testing/book';
import { evaluate, plain } from './testing/engines';

/** The steps an evaluation took. */
function stepsOf(work: () => void): number {
  const before = stepsTaken();
  work();
  return stepsTaken() - before;
}

describe('a formula that would take too long ends with a sentence, within its budget', () => {
  const HOSTILE = [
    'SUM(SEQUENCE(100000)*TRANSPOSE(SEQUENCE(100000)))',
    'SEQUENCE(10000)*TRANSPOSE(SEQUENCE(10000))',
    'SEQUENCE(1E9)',
    'SEQUENCE(1E300;1E300)',
    'UNIQUE(SEQUENCE(1000000))',
    // Each held the server for seconds while it counted what it read alone.
    'MODE(SEQUENCE(1000000))',
    'MODE(SEQUENCE(400000))',
    'STDEV(SEQUENCE(1000000))',
    'SUM(IF(SEQUENCE(500000)>5;1;0))',
    'COUNTIF(SEQUENCE(900000);">5")',
    'SORT(SEQUENCE(900000);1;-1)',
    'SUM(COUNTIF(SEQUENCE(100000);"*"&SEQUENCE(100000)&"*"))',
    'SUM(COUNTIF(SEQUENCE(5000;2);SEQUENCE(5000)))',
    'SUM(MATCH("b"&SEQUENCE(50000)&"?";"a"&SEQUENCE(50000);0))',
    'SUM(XLOOKUP("k"&SEQUENCE(20000);"k"&SEQUENCE(20000)&"x";SEQUENCE(20000);0;1))',
    'SUM(WORKDAY(SEQUENCE(10000);2000000))',
    'SUM(NETWORKDAYS(SEQUENCE(100000);SEQUENCE(100000);SEQUENCE(1000)))',
    'SUM(LEN(SUBSTITUTE(REPT("a";1000)&SEQUENCE(100000);"a";"b")))',
    'LEN(MID(REPT("é😀";100000);SEQUENCE(100000);1))',
    'SUM(SEARCH("?b";REPT("a";900000)&SEQUENCE(10)))',
    'SEARCH(REPT("?a";1000)&"b";REPT("a";1000000))',
    'LEN(TEXTJOIN(REPT("a";1000000);TRUE;SEQUENCE(2)))&LEN(REPT(REPT("a";1000);SEQUENCE(100000)))',
    'SUMPRODUCT(SEQUENCE(900000);SEQUENCE(900000))',
  ];
  test.each(HOSTILE)('%s', (formula) => {
    const steps = stepsOf(() => {
      expect(evaluate(formula, [])).toEqual({ error: '#NUM!', why: { code: 'tooLong' } });
    });
    // What would go over is not begun.
    expect(steps).toBeLessThanOrEqual(MOST_STEPS);
  });

  test.each([
    ['IFERROR(SEQUENCE(1E9);1)', '#NUM!'],
    ['NETWORKDAYS(1;1E300)', '#NUM!'],
    ['WORKDAY(1E300;5)', '#NUM!'],
    ['EDATE(1E300;1)', '#NUM!'],
    ['DATEDIF(1;1E300;"m")', '#NUM!'],
    ['EOMONTH(1;1E300)', '#NUM!'],
    ['SUBSTITUTE(REPT("a";1000000);"a";REPT("b";1000000))', '#VALUE!'],
    ['LEN(REPT("a";1000000)&"b")', '#VALUE!'],
    ['CONCAT(REPT("a";600000);REPT("a";600000))', '#VALUE!'],
    ['REPT("a";1E300)', '#VALUE!'],
  ])('%s gives %s', (formula, error) => expect(plain(evaluate(formula, []))).toBe(error));

  test.each([
    ['SEARCH("*b";REPT("a";900000)&"b")', 1],
    ['SEARCH(REPT("a";100000)&"b";REPT("a";900000)&"b")', 800_001],
    ['SUM(COUNTIF(SEQUENCE(30000);SEQUENCE(30000)))', 30_000],
    ['SUM(MATCH(SEQUENCE(20000);SEQUENCE(20000);0))', 200_010_000],
    ['SUM(XLOOKUP(SEQUENCE(20000)-0.5;SEQUENCE(20000);SEQUENCE(20000);0;1))', 200_010_000],
    ['SUM(RANK(SEQUENCE(20000);SEQUENCE(20000)))', 200_010_000],
    ['SUM(LARGE(SEQUENCE(20000);SEQUENCE(20000)))', 200_010_000],
    ['SUM(SMALL(SEQUENCE(20000);SEQUENCE(20000)))', 200_010_000],
    ['SUM(SUMIF(SEQUENCE(9000);SEQUENCE(9000);SEQUENCE(9000)))', 40_504_500],
    ['SUM(VLOOKUP(SEQUENCE(20000);SEQUENCE(20000);1;FALSE))', 200_010_000],
    ['ROWS(UNIQUE(SEQUENCE(100000)))', 100_000],
  ])('%s is done by an index, in %d', (formula, value) => {
    expect(evaluate(formula, [])).toBe(value);
  });

  test('work grows with the records, not with their square', () => {
    const stepsWith = (count: number): number => {
      const records = Array.from({ length: count }, (_, n) => [
        `code ${(n * 7919) % count}`,
        n % 50,
        `River ${n % 20}`,
        null,
        null,
        null,
        null,
        null,
      ]);
      const headings = ['Code', 'Amount', 'River', 'Found', 'Times', 'Sum', 'Place', 'Above'];
      return stepsOf(() => {
        const book = new Book([{ name: 'Loans', headings, records }], {
          'Loans!Found': "=XLOOKUP('Code';Loans!'Code';Loans!'Amount')",
          'Loans!Times': "=COUNTIF(Loans!'Code';'Code')",
          'Loans!Sum':
            "=SUMIFS(Loans!'Amount';Loans!'River';'River';Loans!'Amount';\">\"&'Amount')",
          'Loans!Place': "=RANK('Amount';Loans!'Amount')+MATCH('Amount'+0.5;Loans!'Amount';-1)",
          // What is the same for all of them is computed once.
          'Loans!Above': "='Amount'>MEDIAN(Loans!'Amount'*2)-SUM(Loans!'Amount'*0)",
        });
        expect(book.value(0, 2, 7)).toBe(false);
        expect(book.value(0, count + 1, 4)).toBe(1);
      });
    };
    const [small, large] = [stepsWith(1000), stepsWith(4000)];
    expect(large / small).toBeLessThan(8);
  });
});

test('an index finds what looking at each value finds', () => {
  const value: fc.Arbitrary<CellValue> = fc.oneof(
    fc.integer({ min: -3, max: 3 }),
    fc.constantFrom(0.1 + 0.2, 0.3, 1e15, 1e15 + 1, -0.3),
    fc.constantFrom('Ash', 'ASH', 'ash ', '', '1'),
    fc.boolean(),
    fc.constant(null),
    fc.constant({ error: '#N/A' }),
  );
  fc.assert(
    fc.property(
      fc.array(value, { maxLength: 40 }),
      value,
      fc.nat(40),
      fc.boolean(),
      (values, wanted, from, isWarm) => {
        const begun = Math.min(from, values.length);
        if (wanted === null || isErrorValue(wanted)) return;
        const line = { length: begun, at: (at: number) => values[at] ?? null };
        const index = new GrowingIndex(line);
        // What was made before the rest came goes on with it.
        if (isWarm) [index.places(wanted), index.numbers()].forEach(Boolean);
        values.slice(begun).forEach((value) => index.append(value));
        const same = (held: CellValue): boolean =>
          typeof held === typeof wanted && compareValues(held, wanted) === 0;
        const places = values.flatMap((held, at) => (same(held) ? [at] : []));
        expect(index.places(wanted)).toEqual(places);
        expect(index.first(wanted)).toBe(places[0]);
        expect(index.last(wanted)).toBe(places.at(-1));
        expect(index.count(wanted)).toBe(places.length);
        expect(index.firstError()).toEqual(values.find(isErrorValue) ?? null);
        if (typeof wanted !== 'number') return;
        const numbers = values.filter((held) => typeof held === 'number');
        const below = numbers.filter((held) => held < wanted && !sameNumber(held, wanted));
        expect(index.below(wanted)).toBe(below.length);
        expect(index.upTo(wanted) - index.below(wanted)).toBe(places.length);
      },
    ),
  );
});

test('patterns match as a backtracking matcher has them', () => {
  const text = fc
    .array(fc.constantFrom('a', 'b', 'B', 'É', '😀', '*', '?', 'İ'), { maxLength: 12 })
    .map((parts) => parts.join(''));
  const pattern = fc
    .array(fc.constantFrom('a', 'b', '*', '?', '~*', '~?', 'é', '😀'), { maxLength: 7 })
    .map((parts) => parts.join(''));
  const slow = (
    characters: readonly string[],
    parts: readonly string[],
    whole: boolean,
  ): boolean => {
    const [part, ...rest] = parts;
    if (part === undefined) return !whole || characters.length === 0;
    if (part === '*') {
      return Array.from({ length: characters.length + 1 }, (_, n) => n).some((n) =>
        slow(characters.slice(n), rest, whole),
      );
    }
    const [first, ...others] = characters;
    if (first === undefined) return false;
    const same = part === '?' || first === part.replace('~', '').toLowerCase();
    return same && slow(others, rest, whole);
  };
  fc.assert(
    fc.property(text, pattern, fc.nat(3), (held, wanted, from) => {
      const characters = Array.from(held, (each) => each.toLowerCase());
      const parts = Array.from(wanted.matchAll(/~[*?]|./gu), ([part]) => part);
      expect(textTest(wanted)(held)).toBe(slow(characters, parts, true));
      const places = characters.map((_, at) => at).concat(characters.length);
      const at = places.find((n) => n >= from && slow(characters.slice(n), parts, false));
      expect(findPattern(held, wanted, from)).toBe(at ?? null);
    }),
  );
});

describe('circles of computed columns', () => {
  const records = [
    [1, 2],
    [3, 4],
  ];
  test.each([
    ['itself', { 'R!One': "='One'+1" }, ["R!'One'", "R!'One'"]],
    ['each other', { 'R!One': "='Two'+1", 'R!Two': "='One'" }, ["R!'One'", "R!'Two'", "R!'One'"]],
    ['its own sum', { 'R!Two': "='One'/SUM(R!'Two')" }, ["R!'Two'", "R!'Two'"]],
    ['a look-up in it', { 'R!Two': "=XLOOKUP('One';R!'Two';R!'One')" }, ["R!'Two'", "R!'Two'"]],
  ] as const)('a column that reads %s', (_what, formulas, path) => {
    const book = new Book([{ name: 'R', headings: ['One', 'Two'], records }], formulas);
    const column = 'R!One' in formulas ? 0 : 1;
    expect(book.why(0, 2, column)).toEqual({ code: 'circle', path });
    // It is left again, and what others read meanwhile is right.
    book.add(0, [5, 6]);
    expect(book.calculation.isSettled).toBe(true);
    for (const at of Object.keys(formulas)) book.compute(at, '=1', true);
    expect(book.value(0, 4, column)).toBe(1);
  });

  test('is told before the column has the formula', () => {
    const book = new Book([{ name: 'R', headings: ['One', 'Two'], records }], {
      'R!Two': "='One'",
    });
    const sheet = book.sheet(0);
    const one = sheet.columns[0]?.id ?? '';
    const path = ["R!'One'", "R!'Two'", "R!'One'"];
    const formula = book.bind(0, "='Two'+1", true);
    expect(book.calculation.circleWith(sheet.id, one, formula)).toEqual(path);
    expect(book.calculation.circleWith(sheet.id, one, book.bind(0, '=1', true))).toBeNull();
  });
});

test('records that go while a pass goes on end nothing', () => {
  const records = Array.from({ length: 5000 }, (_, n) => [n % 50, null]);
  const book = new Book([{ name: 'R', headings: ['One', 'Two'], records }]);
  book.compute('R!Two', "=COUNTIF(R!'One';'One')", true);
  const steps = book.rebuilt().run();
  steps.next();
  const { records: model } = book.sheet(0);
  while (model.count > 10) model.remove(model.at(0).id);
  expect(() => {
    while (steps.next().done !== true);
  }).not.toThrow();
});

test('a column of records hands over within itself, and gives up as a whole', () => {
  const records = Array.from({ length: 40 }, (_, n) => [n, null]);
  const book = new Book([{ name: 'R', headings: ['One', 'Two'], records }]);
  const formula = '=SUM(COUNTIF(SEQUENCE(3000);"*"&SEQUENCE(20)&\'One\'))';
  book.compute('R!Two', formula, true);
  const steps = book.rebuilt().run();
  let turns = 0;
  let most = 0;
  for (;;) {
    const before = stepsTaken();
    const { done } = steps.next();
    most = Math.max(most, stepsTaken() - before);
    turns += 1;
    if (done === true) break;
  }
  expect(turns).toBeGreaterThan(40);
  expect(most).toBeLessThan(MOST_STEPS / 4);
});

describe('formulas of one piece of work', () => {
  const long = (thousands: number): string => `SUM(SEQUENCE(${thousands * 1000}))`;
  const TOGETHER = { error: '#NUM!', why: { code: 'tooLongTogether' } };

  test('take no more together than is let, and what came before that stands', () => {
    const some = fc.array(fc.integer({ min: 1, max: 300 }), { minLength: 1, maxLength: 16 });
    fc.assert(
      fc.property(some, fc.integer({ min: 1, max: 3 }), (lengths, evaluations) => {
        const budget = new Budget(evaluations);
        const values: CellValue[] = [];
        const steps = stepsOf(() => {
          for (const each of lengths) {
            values.push(budget.run(() => evaluate(long(each), [])) as CellValue);
          }
        });
        expect(steps).toBeLessThanOrEqual(evaluations * MOST_STEPS);
        const ended = values.findIndex(isErrorValue);
        const before = ended < 0 ? values : values.slice(0, ended);
        expect(before).toEqual(
          lengths.slice(0, before.length).map((each) => evaluate(long(each), [])),
        );
        expect(budget.isSpent).toBe(ended >= 0);
        for (const each of values.slice(before.length)) expect(each).toEqual(TOGETHER);
      }),
      { numRuns: 12 },
    );
  });

  test('one that is too long by itself is told so, and leaves the rest to others', () => {
    const budget = new Budget(3);
    const of = (formula: string) => budget.run(() => evaluate(formula, []));
    expect(of('SEQUENCE(1E9)')).toMatchObject({ why: { code: 'tooLong' } });
    expect([of('1+1'), budget.isSpent]).toEqual([2, false]);
    // Work within work takes of the same.
    const inner = budget.run(() =>
      Array.from({ length: 20 }, () => new Budget().run(() => evaluate(long(300), []))),
    );
    expect([inner.at(-1), budget.isSpent]).toEqual([TOGETHER, true]);
    expect(evaluate('1+1', [])).toBe(2);
  });
});
