import { isErrorValue, sameNumber, type CellValue, type ErrorValue } from '../../values';
import { eachValue, isArea, type Area, type Figures } from './area';
import { spend } from './budget';
import { ERRORS, toNumber } from './convert';
import {
  area,
  define,
  defineList,
  eachNumber,
  eachNumberIn,
  number,
  numbersOf,
  optional,
  whole,
  type Argument,
  type FunctionDefinition,
  type Moment,
} from './define';
import { countBelow, countUpTo } from './lineIndex';
import { isLine, lineOf } from './lines';
import { spreadOfNumbers, Sum } from './sum';

const standard = { standing: 'standard', group: 'statistics' } as const;

/** Defines a function of all numbers given, from a list of them. */
function overNumbers(
  about: string,
  run: (numbers: readonly number[]) => CellValue,
  fromFigures?: (figures: Figures) => CellValue,
): FunctionDefinition {
  return defineList({ ...standard, about }, [], ['Numbers'], (moment, _fixed, args) => {
    const ready = fromFigures && figuresOf(args);
    if (ready) return isErrorValue(ready.error) ? ready.error : fromFigures(ready);
    const numbers = numbersOf(args, moment);
    return isNumbers(numbers) ? run(numbers) : numbers;
  });
}

const isNumbers = (found: readonly number[] | ErrorValue): found is readonly number[] =>
  Array.isArray(found);

/** The ready figures of a call on one whole column. */
function figuresOf(args: readonly Argument[]): Figures | undefined {
  if (args.length !== 1) return undefined;
  const value = args[0]?.value() ?? null;
  return isArea(value) ? value.figures?.() : undefined;
}

/** What it takes to put a number in its order among many, in steps. */
const SORTED_STEPS = 4;

function sorted(numbers: readonly number[]): Float64Array {
  spend(numbers.length * SORTED_STEPS);
  return Float64Array.from(numbers).sort();
}

function meanOf(numbers: readonly number[]): number | ErrorValue {
  if (numbers.length === 0) return ERRORS.divided;
  const sum = new Sum();
  for (const value of numbers) sum.add(value);
  return sum.total / numbers.length;
}

const leastOf = (numbers: readonly number[]): number =>
  numbers.reduce((least, value) => Math.min(least, value), numbers[0] ?? 0);
const mostOf = (numbers: readonly number[]): number =>
  numbers.reduce((most, value) => Math.max(most, value), numbers[0] ?? 0);

function variance(numbers: readonly number[], less: 0 | 1): number | ErrorValue {
  const count = numbers.length - less;
  return count <= 0 ? ERRORS.divided : spreadOfNumbers(numbers).squares / count;
}

function deviation(numbers: readonly number[], less: 0 | 1): number | ErrorValue {
  const found = variance(numbers, less);
  return typeof found === 'number' ? Math.sqrt(found) : found;
}

function median(order: Float64Array): number | ErrorValue {
  const middle = order.length >> 1;
  const upper = order[middle];
  if (upper === undefined) return ERRORS.number;
  return order.length % 2 === 1 ? upper : ((order[middle - 1] ?? 0) + upper) / 2;
}

/** The most frequent number; of several the smallest; #N/A where none comes twice. */
function mode(numbers: readonly number[]): number | ErrorValue {
  const inOrder = sorted(numbers);
  let found: number | null = null;
  let most = 1;
  let count = 0;
  let first = NaN;
  for (const value of inOrder) {
    // Those that count as one are told by the smallest of them.
    if (sameNumber(first, value)) count += 1;
    else [first, count] = [value, 1];
    if (count <= most) continue;
    [found, most] = [first, count];
  }
  if (found === null) return ERRORS.notAvailable;
  const mostFrequent = found;
  // As it stands where it comes first.
  return numbers.find((value) => sameNumber(value, mostFrequent)) ?? mostFrequent;
}

/** The nth of the numbers of an area in an order. */
function nth(from: Area, place: number, fromTop: boolean): number | ErrorValue {
  const order = numbersInOrder(from);
  if ('error' in order) return order;
  const at = fromTop ? order.length - place : place - 1;
  return place < 1 ? ERRORS.number : (order[at] ?? ERRORS.number);
}

/** The numbers of an area, the smallest first; of a line as its index has them. */
function numbersInOrder(from: Area): Float64Array | ErrorValue {
  const index = isLine(from) ? lineOf(from).index?.() : undefined;
  if (index) return index.firstError() ?? index.numbers();
  const numbers: number[] = [];
  const failure = eachNumberIn(from, (value) => numbers.push(value));
  return failure ?? sorted(numbers);
}

/** All numbers of arguments, the smallest first. */
function allInOrder(args: readonly Argument[], moment: Moment): Float64Array | ErrorValue {
  const value = args.length === 1 ? (args[0]?.value() ?? null) : null;
  if (isArea(value)) return numbersInOrder(value);
  const numbers = numbersOf(args, moment);
  return isNumbers(numbers) ? sorted(numbers) : numbers;
}

function countIn(from: Area, counts: (value: CellValue) => boolean): number {
  let count = 0;
  eachValue(from, (value) => {
    if (counts(value)) count += 1;
    return null;
  });
  return count;
}

function countFilled(args: readonly Argument[]): number {
  let count = 0;
  for (const given of args) {
    const value = given.value();
    if (!isArea(value)) count += value === null && given.isReference ? 0 : 1;
    else {
      const figures = value.figures?.();
      if (figures) count += figures.filled;
      else count += countIn(value, (each) => each !== null);
    }
  }
  return count;
}

/** Numbers, and written values that stand for one; texts and errors are not counted. */
function countNumbers(args: readonly Argument[], { locale }: Moment): number {
  let count = 0;
  for (const given of args) {
    const value = given.value();
    if (isArea(value)) {
      const figures = value.figures?.();
      if (figures) count += figures.numbers;
      else count += countIn(value, (each) => typeof each === 'number');
    } else if (given.isReference) count += typeof value === 'number' ? 1 : 0;
    else if (!isErrorValue(value)) count += typeof toNumber(value, locale) === 'number' ? 1 : 0;
  }
  return count;
}

/** What the first argument of `SUBTOTAL` stands for; 101 to 111 are the same (ODF 1.3 part 4). */
const SUBTOTALS: readonly ((numbers: readonly number[], filled: number) => CellValue)[] = [
  meanOf,
  (numbers) => numbers.length,
  (_numbers, filled) => filled,
  mostOf,
  leastOf,
  (numbers) => (numbers.length === 0 ? 0 : numbers.reduce((product, value) => product * value, 1)),
  (numbers) => deviation(numbers, 1),
  (numbers) => deviation(numbers, 0),
  (numbers) => {
    const sum = new Sum();
    for (const value of numbers) sum.add(value);
    return sum.total;
  },
  (numbers) => variance(numbers, 1),
  (numbers) => variance(numbers, 0),
];

export const statistics = {
  AVERAGE: overNumbers('The mean of all numbers.', meanOf, ({ sum, numbers }) =>
    numbers === 0 ? ERRORS.divided : sum / numbers,
  ),
  MIN: overNumbers('The smallest number.', leastOf, ({ least, numbers }) =>
    numbers === 0 ? 0 : least,
  ),
  MAX: overNumbers('The largest number.', mostOf, ({ most, numbers }) =>
    numbers === 0 ? 0 : most,
  ),
  COUNT: defineList(
    { ...standard, about: 'How many numbers there are.' },
    [],
    ['Values'],
    (moment, _fixed, args) => countNumbers(args, moment),
  ),
  COUNTA: defineList(
    { ...standard, about: 'How many values there are, blanks left out.' },
    [],
    ['Values'],
    (_moment, _fixed, args) => countFilled(args),
  ),
  COUNTBLANK: define(
    { ...standard, about: 'How many cells of a range are blank.' },
    [area('Range')],
    (_moment, range) => {
      const figures = range.figures?.();
      if (figures) return range.rows * range.columns - figures.filled;
      return countIn(range, (each) => each === null || each === '');
    },
  ),
  MEDIAN: defineList(
    { ...standard, about: 'The middle number.' },
    [],
    ['Numbers'],
    (moment, _fixed, args) => {
      const order = allInOrder(args, moment);
      return 'error' in order ? order : median(order);
    },
  ),
  MODE: overNumbers('The most frequent number.', mode),
  STDEV: overNumbers('The standard deviation of a sample.', (numbers) => deviation(numbers, 1)),
  VAR: overNumbers('The variance of a sample.', (numbers) => variance(numbers, 1)),
  LARGE: define(
    { ...standard, about: 'The nth largest number of a range.' },
    [area('Range'), whole('Place')],
    (_moment, range, place) => nth(range, place, true),
  ),
  SMALL: define(
    { ...standard, about: 'The nth smallest number of a range.' },
    [area('Range'), whole('Place')],
    (_moment, range, place) => nth(range, place, false),
  ),
  RANK: define(
    { ...standard, about: 'The place of a number among others, the largest first.' },
    [number('Number'), area('Range'), optional(number('Ascending'), 0)],
    (_moment, value, range, ascending) => {
      const order = numbersInOrder(range);
      if ('error' in order) return order;
      const below = countBelow(order, value);
      const upTo = countUpTo(order, value);
      if (below === upTo) return ERRORS.notAvailable;
      return 1 + (ascending === 0 ? order.length - upTo : below);
    },
  ),
  SUBTOTAL: defineList(
    { ...standard, about: 'A total of a range that leaves other subtotals out.' },
    [whole('Kind')],
    ['Range'],
    (moment, [kind], args) => {
      const total = SUBTOTALS[(kind > 100 ? kind - 100 : kind) - 1];
      if (!total) return ERRORS.value;
      const numbers: number[] = [];
      let filled = 0;
      for (const given of args) {
        const value = given.value();
        if (!isArea(value)) {
          const failure = eachNumber([given], moment, (each) => numbers.push(each));
          if (failure) return failure;
          filled += value === null ? 0 : 1;
          continue;
        }
        const failure = eachValue(value, (each, row, column) => {
          if (value.isSubtotal?.(row, column) === true) return null;
          if (isErrorValue(each) && total !== SUBTOTALS[1] && total !== SUBTOTALS[2]) return each;
          if (each !== null) filled += 1;
          if (typeof each === 'number') numbers.push(each);
          return null;
        });
        if (failure) return failure;
      }
      return total(numbers, filled);
    },
  ),
} satisfies Record<string, FunctionDefinition>;
