import * as fc from 'fast-check';
import type { Column, Condition, KindId, Rule } from '../kinds';
import { ORDER_GAP, SheetModel } from '../sheet';
import { localeFacts, serialOfDate, type CellValue } from '../values';
import { brokenRules, contradictionsIn, examplesOf, sayCondition, suggestIn } from '.';

const locale = localeFacts('en-GB');
const TODAY = serialOfDate({ year: 2026, month: 3, day: 28 });
const ground = { locale, now: TODAY + 0.5 };
const column = (kind: KindId, settings: Column['settings'] = {}, id = 'a'): Column => ({
  id,
  heading: id,
  kind,
  settings,
});

test.each<[KindId, Condition, passing: string[], failing: string[]]>([
  // Exactly eight characters are not eight digits.
  [
    'text',
    { is: 'length', from: 8, to: 8 },
    ['abcdefgh', '12345678'],
    ['abcdefg', '1234567', 'abcdefghi'],
  ],
  ['number', { is: 'between', from: 0, to: 14 }, ['7', '0', '14'], ['-0.1', '14.1']],
  ['number', { is: 'between', to: 0.25 }, ['0.25'], ['0.26']],
  ['wholeNumber', { is: 'between', from: 3 }, ['3'], ['2']],
  [
    'time',
    { is: 'between', from: 0.25, to: 0.75 },
    ['12:00', '06:00', '18:00'],
    ['05:59', '18:01'],
  ],
  ['date', { is: 'future', not: true }, ['27/03/2026', '28/03/2026'], ['29/03/2026']],
  ['text', { is: 'picture', picture: "'RW-'99" }, ['RW-12'], ['RW-1', 'RW-120', 'RW-x2']],
  ['text', { is: 'picture', picture: 'A9' }, ['K1', 'f1'], ['K', 'K10', 'Kx']],
  ['text', { is: 'oneOf', values: ['Low', 'High'] }, ['Low', 'High'], ['Lowx', 'Another']],
  [
    'text',
    { is: 'contains', text: 'weir', not: true },
    ['River'],
    ['weir', 'weir 7', 'River weir'],
  ],
  ['number', { is: 'multiple', of: 0.5 }, ['0.5', '1.5'], ['0.75', '0.25']],
  [
    'number',
    {
      is: 'any',
      of: [
        { is: 'between', to: 3 },
        { is: 'between', from: 9 },
      ],
    },
    ['3', '9'],
    ['3.1', '8.9'],
  ],
])('made-up values for %s %j', (kind, must, passing, failing) => {
  expect(examplesOf({ must }, column(kind), ground)).toEqual({ passing, failing });
});

describe('rules that leave nothing to pass', () => {
  const between = (from?: number, to?: number): Condition => ({ is: 'between', from, to });
  test.each<[Column, Condition[], found: [number[], (string | null)[]][]]>([
    [
      column('number'),
      [between(0, 14), between(15)],
      [
        [
          [0, 1],
          ['7', '15'],
        ],
      ],
    ],
    [column('number'), [between(0, 14), between(14)], []],
    [
      column('number'),
      [between(3.2, 3.8), { is: 'whole' }],
      [
        [
          [0, 1],
          ['3.5', '3'],
        ],
      ],
    ],
    [column('wholeNumber'), [between(3.2, 3.8)], [[[0], [null, null]]]],
    [
      column('number'),
      [{ is: 'multiple', of: 0.25 }, between(0.3, 0.4)],
      [
        [
          [0, 1],
          ['0.25', '0.3'],
        ],
      ],
    ],
    [column('number'), [{ is: 'madeOf', of: ['letters'] }], [[[0], [null, null]]]],
    [
      column('date'),
      [{ is: 'past' }, { is: 'future' }],
      [
        [
          [0, 1],
          ['27/03/2026', '29/03/2026'],
        ],
      ],
    ],
    [
      column('date'),
      [{ is: 'within', days: 3 }, between(TODAY + 9)],
      [
        [
          [0, 1],
          ['28/03/2026', '06/04/2026'],
        ],
      ],
    ],
    [
      column('text'),
      [
        { is: 'picture', picture: 'A99' },
        { is: 'length', from: 4 },
      ],
      [
        [
          [0, 1],
          ['K12', 'abcd'],
        ],
      ],
    ],
    [
      column('text'),
      [
        { is: 'madeOf', of: ['letters'] },
        { is: 'begins', text: 'RW-' },
      ],
      [
        [
          [0, 1],
          ['aa', 'RW-'],
        ],
      ],
    ],
    [
      column('text'),
      [
        { is: 'oneOf', values: ['a', 'b'] },
        { is: 'length', from: 2 },
      ],
      [
        [
          [0, 1],
          ['a', 'ab'],
        ],
      ],
    ],
    [
      column('oneChoice', { choices: ['Low', 'High'] }),
      [{ is: 'begins', text: 'x' }],
      [[[0], [null, null]]],
    ],
    [
      column('text'),
      [
        { is: 'contains', text: 'x' },
        { is: 'contains', text: 'x', not: true },
      ],
      [],
    ],
  ])('%j %j', (of, musts, found) => {
    const rules = musts.map((must): Rule => ({ must }));
    const told = contradictionsIn(rules, of, ground).map((each) => [each.rules, each.shown]);
    expect(told).toEqual(found);
  });

  test('none is told of where a value passes', () => {
    const word = fc.string({
      unit: fc.constantFrom('a', 'B', '1', '-', ' '),
      minLength: 1,
      maxLength: 4,
    });
    const small = fc.nat(5);
    const text = fc.oneof<fc.Arbitrary<Condition>[]>(
      fc.record({ is: fc.constantFrom('contains', 'begins', 'ends'), text: word }),
      fc.record({ is: fc.constant('length'), from: small }),
      fc.record({ is: fc.constant('length'), to: small }),
      fc.record({ is: fc.constant('picture'), picture: fc.constantFrom('A9', "'1'X", '99') }),
      fc.record({
        is: fc.constant('madeOf'),
        of: fc.constantFrom(['figures'], ['letters'], ['capitals']),
        also: word,
      }),
      fc.record({
        is: fc.constant('oneOf'),
        values: fc.array(word, { minLength: 1, maxLength: 3 }),
      }),
    );
    const number = fc.oneof<fc.Arbitrary<Condition>[]>(
      fc.record({ is: fc.constant('between'), from: small }),
      fc.record({ is: fc.constant('between'), to: small }),
      fc.record({ is: fc.constant('multiple'), of: fc.constantFrom(0.5, 2, 3) }),
      fc.constant({ is: 'whole' }),
      fc.record({ is: fc.constant('length'), from: small }),
    );
    const sort = fc.oneof(
      fc.record({
        kind: fc.constant('text' as const),
        musts: fc.array(text, { maxLength: 3 }),
        value: word.map((each) => each.trim()),
      }),
      fc.record({
        kind: fc.constant('number' as const),
        musts: fc.array(number, { maxLength: 3 }),
        value: fc.constantFrom(0, 0.5, 1, 1.5, 2, 3, 4, 6),
      }),
    );
    fc.assert(
      fc.property(sort, ({ kind, musts, value }) => {
        const rules = musts.map((must): Rule => ({ must }));
        const ruled = column(kind, { rules });
        const broken = new Set(brokenRules(value, ruled, ground));
        for (const { rules: clashing } of contradictionsIn(rules, ruled, ground)) {
          expect(clashing.some((at) => broken.has(rules[at] as Rule))).toBe(true);
        }
      }),
      { numRuns: 1000 },
    );
  });
});

describe('rules that stored values follow', () => {
  const SHAPED = Array.from({ length: 200 }, (_, n) => `RW-${String(n).padStart(4, '0')}`);
  const suggested = (
    of: Column,
    values: readonly CellValue[],
    others: CellValue[] = [],
  ): string[] => {
    const model = new SheetModel();
    values.forEach((value, n) =>
      model.add({
        id: `r${n}`,
        orderKey: (n + 1) * ORDER_GAP,
        revision: 1,
        cells: { a: value, b: others[n] ?? null },
      }),
    );
    const steps = suggestIn(model, of, [column(of.kind, of.settings, 'b')], ground);
    let step = steps.next();
    while (!step.done) step = steps.next();
    const words = { column: of, locale, headingOf: () => 'Out' };
    return step.value.map(
      ({ rule, exceptions }) => `${sayCondition(rule.must, words)}: ${exceptions}`,
    );
  };
  const repeated = (times: number, ...values: CellValue[]): CellValue[] =>
    Array.from({ length: times }, (_, n) => values[n % values.length] ?? null);

  test.each<[string, Column, CellValue[], CellValue[], string[]]>([
    [
      'shapes and no doubles',
      column('text'),
      [...SHAPED, 'oops'],
      [],
      ["be written like ‘'RW-'9999’: 1", 'be unique: 0'],
    ],
    [
      'a set',
      column('text'),
      [...repeated(199, 'Low', 'High'), 'Hgih'],
      [],
      ['be ‘Low’ or ‘High’: 1'],
    ],
    [
      'a length',
      column('text'),
      repeated(
        60,
        'ab12',
        '1abc',
        'x-yz',
        '12 3',
        'abcd',
        'b2b2',
        'c3c3',
        'd4d4',
        'e5e5',
        'f6f6',
        'g7g7',
        'h8h8',
        'i9i9',
      ),
      [],
      ['have exactly 4 characters: 0'],
    ],
    [
      'a range without the slip',
      column('number'),
      [...repeated(300, 6.8, 7.1, 7.4, 7.9, 8.2), 72],
      [],
      ['be from 6.8 to 8.2: 1'],
    ],
    [
      'whole',
      column('number'),
      repeated(100, 1, 2, 3, 9),
      [],
      ['be from 1 to 9: 0', 'be a whole number: 0'],
    ],
    [
      'an order',
      column('date'),
      repeated(40, TODAY - 3, TODAY - 1),
      repeated(40, TODAY - 9, TODAY - 1),
      ['be before today: 0', 'be from Monday to Friday: 0', 'be on or after Out: 0'],
    ],
    ['nothing of few', column('text'), repeated(10, 'a'), [], []],
    [
      'nothing of notes',
      column('text'),
      repeated(60, 'Foam', 'Two herons there', 'Meter slow', 'Cattle', 'x'),
      [],
      ['be ‘Foam’, ‘Two herons there’, ‘Meter slow’, ‘Cattle’ or ‘x’: 0'],
    ],
    [
      'not what it has',
      column('date', { rules: [{ must: { is: 'past' } }, { must: { is: 'weekday' } }] }),
      repeated(40, TODAY - 1),
      [],
      ['not be after today: 0'],
    ],
  ])('%s', (_what, of, values, others, expected) => {
    expect(suggested(of, values, others)).toEqual(expected);
  });
});
