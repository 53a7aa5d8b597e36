import { isErrorValue, type CellValue, type ErrorValue } from '../../values';
import { isArea, type Area, type Value } from './area';
import { ERRORS } from './convert';
import { testOf, type Test } from './criterion';
import {
  area,
  define,
  defineList,
  maybe,
  scalar,
  type Argument,
  type FunctionDefinition,
  type Moment,
} from './define';
import { meanOf } from './statistics';
import { Sum } from './sum';

const standard = { standing: 'standard', group: 'statistics' } as const;
const common = { standing: 'common practice', group: 'statistics' } as const;

interface Condition {
  readonly range: Area;
  readonly test: Test;
}

/** Visits the places of a shape at which all conditions hold, until the visitor gives an error. */
function eachMet(
  { rows, columns }: { rows: number; columns: number },
  conditions: readonly Condition[],
  visit: (row: number, column: number) => ErrorValue | null,
): ErrorValue | null {
  for (let row = 0; row < rows; row += 1) {
    for (let column = 0; column < columns; column += 1) {
      if (!conditions.every(({ range, test }) => test(range.at(row, column)))) continue;
      const failure = visit(row, column);
      if (failure) return failure;
    }
  }
  return null;
}

/** How many places of a shape meet all conditions. */
function countMet(
  shape: { rows: number; columns: number },
  conditions: readonly Condition[],
): number {
  let count = 0;
  eachMet(shape, conditions, () => {
    count += 1;
    return null;
  });
  return count;
}

/** The numbers that stand where all conditions hold. */
function numbersMet(values: Area, conditions: readonly Condition[]): number[] | ErrorValue {
  const numbers: number[] = [];
  const failure = eachMet(conditions[0]?.range ?? values, conditions, (row, column) => {
    // What is beyond the values that were given is not looked at, as no one watches it.
    const isGiven = row < values.rows && column < values.columns;
    const value = isGiven ? values.at(row, column) : null;
    if (typeof value === 'number') numbers.push(value);
    return isErrorValue(value) ? value : null;
  });
  return failure ?? numbers;
}

/** Pairs of a range and a criterion, all of one shape. */
function conditionsOf(
  args: readonly Argument[],
  shape: Area | null,
  { locale }: Moment,
): Condition[] | ErrorValue {
  if (args.length % 2 === 1) return ERRORS.value;
  const conditions: Condition[] = [];
  let first = shape;
  for (let index = 0; index < args.length; index += 2) {
    const range = args[index]?.value() ?? null;
    const criterion = args[index + 1]?.value() ?? null;
    if (!isArea(range)) return ERRORS.value;
    first ??= range;
    if (range.rows !== first.rows || range.columns !== first.columns) return ERRORS.value;
    conditions.push({
      range,
      test: testOf(isArea(criterion) ? criterion.at(0, 0) : criterion, locale),
    });
  }
  return conditions;
}

const sum = (numbers: readonly number[]): CellValue => {
  const total = new Sum();
  for (const value of numbers) total.add(value);
  return total.total;
};
const least = (numbers: readonly number[]): CellValue =>
  numbers.reduce((a, b) => Math.min(a, b), numbers[0] ?? 0);
const most = (numbers: readonly number[]): CellValue =>
  numbers.reduce((a, b) => Math.max(a, b), numbers[0] ?? 0);

function overMet(
  description: typeof standard | typeof common,
  about: string,
  run: (numbers: readonly number[]) => CellValue,
): FunctionDefinition {
  return defineList(
    { ...description, about },
    [area('Values')],
    ['Range', 'Criterion'],
    (moment, [values], args): Value => {
      const conditions = conditionsOf(args, values, moment);
      if ('error' in conditions) return conditions;
      const numbers = numbersMet(values, conditions);
      return 'error' in numbers ? numbers : run(numbers);
    },
  );
}

/**
 * `SUMIF` and `AVERAGEIF`: the values stand in the range itself when no other is given. A range
 * of values takes the shape of the first, wherever it ends (ODF 1.3 part 4, SUMIF): see
 * `calculation/shapes.ts`.
 */
function overOne(
  about: string,
  run: (numbers: readonly number[]) => CellValue,
): FunctionDefinition {
  return define(
    { ...standard, about },
    [area('Range'), scalar('Criterion'), maybe(area('Values'))],
    ({ locale }, range, criterion, values) => {
      const conditions = [{ range, test: testOf(criterion, locale) }];
      const numbers = numbersMet(values ?? range, conditions);
      return 'error' in numbers ? numbers : run(numbers);
    },
  );
}

export const conditional = {
  COUNTIF: define(
    { ...standard, about: 'How many cells of a range meet a criterion.' },
    [area('Range'), scalar('Criterion')],
    ({ locale }, range, criterion) => countMet(range, [{ range, test: testOf(criterion, locale) }]),
  ),
  COUNTIFS: defineList(
    { ...standard, about: 'How many places meet all criteria, each in its range.' },
    [],
    ['Range', 'Criterion'],
    (moment, _fixed, args) => {
      const conditions = conditionsOf(args, null, moment);
      if ('error' in conditions) return conditions;
      const [first] = conditions;
      return first ? countMet(first.range, conditions) : 0;
    },
  ),
  SUMIF: overOne('The sum of the values where a criterion is met.', sum),
  SUMIFS: overMet(standard, 'The sum of the values where all criteria are met.', sum),
  AVERAGEIF: overOne('The mean of the values where a criterion is met.', meanOf),
  AVERAGEIFS: overMet(standard, 'The mean of the values where all criteria are met.', meanOf),
  MINIFS: overMet(common, 'The smallest of the values where all criteria are met.', least),
  MAXIFS: overMet(common, 'The largest of the values where all criteria are met.', most),
} satisfies Record<string, FunctionDefinition>;
