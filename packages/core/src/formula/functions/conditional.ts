import { FigureSum, type ColumnCondition, type ColumnFigures, type TotalsMet } from '../../sheet';
import { isErrorValue, type CellValue, type ErrorValue } from '../../values';
import { isArea, type Area, type Value } from './area';
import { ERRORS } from './convert';
import { spend } from './budget';
import { criterionOf, type Criterion } from './criterion';
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
import type { LineIndex } from './lineIndex';
import { isLine, lineOf } from './lines';

const standard = { standing: 'standard', group: 'statistics' } as const;
const common = { standing: 'common practice', group: 'statistics' } as const;

interface Condition extends Criterion {
  readonly range: Area;
}

/**
 * Visits the places of a shape at which all conditions hold, row by row, until the visitor gives
 * an error. Where an index knows the places of one condition, only those are looked at.
 */
function eachMet(
  shape: { rows: number; columns: number },
  conditions: readonly Condition[],
  visit: (row: number, column: number) => ErrorValue | null,
): ErrorValue | null {
  const { rows, columns } = shape;
  const meets = (row: number, column: number): boolean =>
    conditions.every(({ range, test }) => test(range.at(row, column)));
  const known = knownPlaces(shape, conditions);
  // Columns of records are quicker to read than arrays that formulas made.
  const each = conditions.every(({ range }) => range.recordColumn) ? 1 : 2;
  spend((known?.length ?? rows * columns) * conditions.length * each);
  if (known) {
    for (const place of known) {
      const [row, column] = columns === 1 ? [place, 0] : [0, place];
      const failure = meets(row, column) ? visit(row, column) : null;
      if (failure) return failure;
    }
    return null;
  }
  for (let row = 0; row < rows; row += 1) {
    for (let column = 0; column < columns; column += 1) {
      const failure = meets(row, column) ? visit(row, column) : null;
      if (failure) return failure;
    }
  }
  return null;
}

/** The fewest places to which an index narrows a line down; `null` where none does. */
function knownPlaces(
  shape: { rows: number; columns: number },
  conditions: readonly Condition[],
): readonly number[] | null {
  if (shape.rows !== 1 && shape.columns !== 1) return null;
  let best: { index: LineIndex; equals: string | number | boolean; count: number } | null = null;
  for (const { range, equals } of conditions) {
    const index = equals === undefined ? undefined : lineOf(range).index?.();
    if (equals === undefined || !index?.isWorthIt()) continue;
    const count = index.count(equals);
    if (count < (best?.count ?? Infinity)) best = { index, equals, count };
  }
  return best && best.index.places(best.equals);
}

/** How many places of a shape meet all conditions. */
function countMet(shape: Area, conditions: readonly Condition[]): CellValue {
  const [first] = conditions;
  if (!first) return 0;
  const kept = keptTotals(conditions, null);
  if (kept) return kept.count;
  if (conditions.length === 1 && isLine(shape)) {
    const index = lineOf(shape).index?.();
    if (index && (first.equals !== undefined || first.order) && index.isWorthIt()) {
      return countByIndex(index, first);
    }
  }
  return remembered('count', conditions, null, () => {
    let count = 0;
    eachMet(shape, conditions, () => {
      count += 1;
      return null;
    });
    return count;
  });
}

function countByIndex(index: LineIndex, { equals, order }: Criterion): number {
  if (equals !== undefined) return index.count(equals);
  if (!order) return 0;
  const { sign, than } = order;
  const below = sign === '<' || sign === '>=' ? index.below(than) : index.upTo(than);
  return sign === '<' || sign === '<=' ? below : index.numbers().length - below;
}

/** Totals that are kept, where all that they read are columns of the records of one sheet. */
function keptTotals(conditions: readonly Condition[], values: Area | null): TotalsMet | null {
  const [first] = conditions;
  const totals = first?.range.recordColumn?.totals;
  const valuesId = values?.recordColumn?.columnId ?? null;
  if (!totals || (values && values.recordColumn?.totals !== totals)) return null;
  const tested: ColumnCondition[] = [];
  for (const { range, key, test } of conditions) {
    const { recordColumn } = range;
    if (recordColumn?.totals !== totals) return null;
    const counted = (value: CellValue): boolean => {
      spend(1);
      return test(value);
    };
    tested.push({ columnId: recordColumn.columnId, key, test: counted });
  }
  spend(20 * conditions.length);
  return totals.met(tested, valuesId, () => {
    const positions: number[] = [];
    eachMet(first.range, conditions, (row) => {
      positions.push(row);
      return null;
    });
    return positions;
  });
}

/** An answer over ranges, worked out once for the same criteria while none of these changes. */
function remembered(
  name: string,
  conditions: readonly Condition[],
  values: Area | null,
  answer: () => CellValue,
): CellValue {
  spend(100);
  const areas = [...conditions.map(({ range }) => range), ...(values ? [values] : [])];
  if (!areas.every(isLine)) return answer();
  const indexes = areas.flatMap((each) => lineOf(each).index?.() ?? []);
  const [first] = indexes;
  if (!first || indexes.length < areas.length) return answer();
  const key = [name, ...indexes.map(({ id }) => id), ...conditions.map((each) => each.key)];
  return first.remember(key.join('\u0000'), answer);
}

/** What a function gives of the numbers that stand where all conditions hold. */
function overNumbersMet(
  name: string,
  values: Area,
  conditions: readonly Condition[],
  run: Run,
): CellValue {
  const kept = keptTotals(conditions, values);
  if (kept) return kept.figures.errors > 0 ? kept.firstError() : run(kept.figures);
  return remembered(name, conditions, values, () => {
    const figures = new FigureSum();
    const failure = eachMet(conditions[0]?.range ?? values, conditions, (row, column) => {
      // What is beyond the values that were given is not looked at, as no one watches it.
      const isGiven = row < values.rows && column < values.columns;
      const value = isGiven ? values.at(row, column) : null;
      figures.add(value);
      return isErrorValue(value) ? value : null;
    });
    return failure ?? run(figures);
  });
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
    const single = isArea(criterion) ? criterion.at(0, 0) : criterion;
    conditions.push({ range, ...criterionOf(single, locale) });
  }
  return conditions;
}

/** What a function gives of the figures of the values that count. */
type Run = (figures: ColumnFigures) => CellValue;

const sum: Run = ({ sum: total }) => total;
const mean: Run = ({ sum: total, numbers }) => (numbers === 0 ? ERRORS.divided : total / numbers);
const least: Run = ({ least: value, numbers }) => (numbers === 0 ? 0 : value);
const most: Run = ({ most: value, numbers }) => (numbers === 0 ? 0 : value);

function overMet(
  description: typeof standard | typeof common,
  about: string,
  run: Run,
): FunctionDefinition {
  return defineList(
    { ...description, about },
    [area('Values')],
    ['Range', 'Criterion'],
    (moment, [values], args): Value => {
      const conditions = conditionsOf(args, values, moment);
      if ('error' in conditions) return conditions;
      return overNumbersMet(about, values, conditions, run);
    },
  );
}

/**
 * `SUMIF` and `AVERAGEIF`: the values stand in the range itself when no other is given. A range
 * of values takes the shape of the first, wherever it ends (ODF 1.3 part 4, SUMIF): see
 * `calculation/shapes.ts`.
 */
function overOne(about: string, run: Run): FunctionDefinition {
  return define(
    { ...standard, about },
    [area('Range'), scalar('Criterion'), maybe(area('Values'))],
    ({ locale }, range, criterion, values) => {
      const conditions = [{ range, ...criterionOf(criterion, locale) }];
      return overNumbersMet(about, values ?? range, conditions, run);
    },
  );
}

export const conditional = {
  COUNTIF: define(
    { ...standard, about: 'How many cells of a range meet a criterion.' },
    [area('Range'), scalar('Criterion')],
    ({ locale }, range, criterion) =>
      countMet(range, [{ range, ...criterionOf(criterion, locale) }]),
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
  AVERAGEIF: overOne('The mean of the values where a criterion is met.', mean),
  AVERAGEIFS: overMet(standard, 'The mean of the values where all criteria are met.', mean),
  MINIFS: overMet(common, 'The smallest of the values where all criteria are met.', least),
  MAXIFS: overMet(common, 'The largest of the values where all criteria are met.', most),
} satisfies Record<string, FunctionDefinition>;
