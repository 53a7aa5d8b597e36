import * as fc from 'fast-check';
import { ERROR_CODES, FUNCTIONS, type Expression, type WrittenReference } from '..';

const span = { from: 0, to: 0 };
type Written = Expression<WrittenReference>;

const corner = fc.record({
  column: fc.nat({ max: 701 }),
  row: fc.integer({ min: 1, max: 9_999_999 }),
  fixedColumn: fc.boolean(),
  fixedRow: fc.boolean(),
});
const wholeColumn = fc.record({
  column: fc.nat({ max: 701 }),
  row: fc.constant(null),
  fixedColumn: fc.boolean(),
  fixedRow: fc.constant(false),
});
/** Names of sheets and headings: any letters, also quotes, signs and what looks like a cell. */
const name = fc.oneof(
  fc.string({ minLength: 1, maxLength: 12, unit: 'grapheme' }),
  fc.constantFrom("It's", 'A1', 'Kit loans', 'Samples', 'a!b', '1st', "''", 'TRUE'),
);
const sheet = fc.option(name);
const reference: fc.Arbitrary<WrittenReference> = fc.oneof(
  fc.record({ kind: fc.constant('cell' as const), sheet, cell: corner }),
  fc.record({
    kind: fc.constant('range' as const),
    sheet,
    from: corner,
    to: fc.oneof(corner, wholeColumn),
  }),
  fc.record({ kind: fc.constant('range' as const), sheet, from: wholeColumn, to: wholeColumn }),
  fc.record({ kind: fc.constant('heading' as const), sheet, heading: name }),
  fc.record({
    kind: fc.constant('name' as const),
    name: fc.constantFrom('prices', 'B2B', 'größe_1'),
  }),
);

const constant = fc.oneof(
  fc.double({ min: 0, noNaN: true, noDefaultInfinity: true }).map((value) => value + 0),
  fc.string({ unit: 'grapheme' }),
  fc.boolean(),
  fc.constantFrom(...ERROR_CODES).map((error) => ({ error })),
);

/** Any formula that can be written. */
export const { expression: anyExpression } = fc.letrec<{ expression: Written }>((tie) => ({
  expression: fc.oneof(
    { maxDepth: 5, withCrossShrink: true },
    fc.record({ type: fc.constant('constant' as const), value: constant }).map(placed),
    fc.record({ type: fc.constant('reference' as const), reference }).map(placed),
    fc
      .tuple(fc.integer({ min: 1, max: 3 }), fc.integer({ min: 1, max: 3 }))
      .chain(([rows, columns]) =>
        fc.array(fc.array(constant, { minLength: columns, maxLength: columns }), {
          minLength: rows,
          maxLength: rows,
        }),
      )
      .map((rows) => placed({ type: 'array', rows })),
    fc
      .record({
        type: fc.constant('unary' as const),
        operator: fc.constantFrom('-' as const, '+' as const, '%' as const),
        operand: tie('expression'),
      })
      .map(placed),
    fc
      .record({
        type: fc.constant('binary' as const),
        operator: fc.constantFrom(
          '+',
          '-',
          '*',
          '/',
          '^',
          '&',
          '=',
          '<>',
          '<',
          '<=',
          '>',
          '>=' as const,
        ),
        left: tie('expression'),
        right: tie('expression'),
      })
      .map((each) => placed(each as Written)),
    fc
      .record({
        type: fc.constant('call' as const),
        name: fc.constantFrom(...FUNCTIONS.keys()),
        args: fc.array(tie('expression'), { maxLength: 3 }),
      })
      .map(placed),
  ),
}));

function placed(expression: object): Written {
  return { ...expression, ...('type' in expression && span) } as Written;
}
