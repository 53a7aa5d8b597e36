import { isErrorValue, roundAt, type ErrorValue } from '../../values';
import { isArea, ArrayArea, type Area } from './area';
import { spend } from './budget';
import { ERRORS } from './convert';
import {
  define,
  defineList,
  eachNumber,
  number,
  numbersOf,
  optional,
  whole,
  type Argument,
  type FunctionDefinition,
  type Moment,
} from './define';
import { Sum } from './sum';

const standard = { standing: 'standard', group: 'mathematics' } as const;

const DIGITS = optional(whole('Digits'), 0);

function toMultiple(round: (value: number) => number, away: (value: number) => number) {
  return (value: number, step: number | undefined, mode: number): number | ErrorValue => {
    const unit = step ?? (value < 0 ? -1 : 1);
    if (value === 0 || unit === 0) return 0;
    if (value > 0 && unit < 0) return ERRORS.number;
    const size = Math.abs(unit);
    const steps = Number((value / size).toPrecision(15));
    const rounded = value < 0 && mode !== 0 ? -away(-steps) : round(steps);
    return Number((rounded * size).toPrecision(15));
  };
}

const ceiling = toMultiple(Math.ceil, Math.ceil);
const floor = toMultiple(Math.floor, Math.floor);

/** The sum of arguments; a whole column of records has it ready. */
function sumOf(args: readonly Argument[], moment: Moment): number | ErrorValue {
  const sum = new Sum();
  for (const given of args) {
    const value = given.value();
    const figures = isArea(value) ? value.figures?.() : undefined;
    if (figures) {
      if (isErrorValue(figures.error)) return figures.error;
      sum.add(figures.sum);
      continue;
    }
    const failure = eachNumber([given], moment, (each) => sum.add(each));
    if (failure) return failure;
  }
  return sum.total;
}

/** How far below a whole number, for its size, a double may be and still be meant as that number. */
const ROUNDING = 2 ** -51;

/** The next whole number down; 2.9999999999999996, which 3 comes to by decimal fractions, is 3. */
function wholeBelow(value: number): number {
  const nearest = Math.round(value);
  return Math.abs(value - nearest) <= Math.abs(value) * ROUNDING ? nearest : Math.floor(value);
}

export const mathematics = {
  SUM: defineList(
    { ...standard, about: 'The sum of all numbers.' },
    [],
    ['Numbers'],
    (moment, _fixed, args) => sumOf(args, moment),
  ),
  PRODUCT: defineList(
    { ...standard, about: 'All numbers multiplied.' },
    [],
    ['Numbers'],
    (moment, _fixed, args) => {
      const numbers = numbersOf(args, moment);
      if ('error' in numbers) return numbers;
      return numbers.length === 0 ? 0 : numbers.reduce((product, each) => product * each, 1);
    },
  ),
  SUMPRODUCT: defineList(
    { ...standard, about: 'The sum of the products of values that stand at the same place.' },
    [],
    ['Array'],
    (_moment, _fixed, args) => {
      const areas = args.map((given): Area => {
        const value = given.value();
        return isArea(value) ? value : new ArrayArea([[value]]);
      });
      const [first] = areas;
      if (!first) return ERRORS.value;
      if (areas.some(({ rows, columns }) => rows !== first.rows || columns !== first.columns)) {
        return ERRORS.value;
      }
      spend(first.rows * first.columns * areas.length);
      const sum = new Sum();
      for (let row = 0; row < first.rows; row += 1) {
        for (let column = 0; column < first.columns; column += 1) {
          let product = 1;
          for (const each of areas) {
            const value = each.at(row, column);
            if (isErrorValue(value)) return value;
            product *= typeof value === 'number' ? value : 0;
          }
          sum.add(product);
        }
      }
      return sum.total;
    },
  ),
  ROUND: define(
    { ...standard, effort: 4, about: 'Rounded to a number of digits, halves away from zero.' },
    [number('Number'), DIGITS],
    (_moment, value, digits) => roundAt(value, digits),
  ),
  ROUNDUP: define(
    { ...standard, effort: 4, about: 'Rounded to a number of digits, away from zero.' },
    [number('Number'), DIGITS],
    (_moment, value, digits) => roundAt(value, digits, Math.ceil),
  ),
  ROUNDDOWN: define(
    { ...standard, effort: 4, about: 'Rounded to a number of digits, towards zero.' },
    [number('Number'), DIGITS],
    (_moment, value, digits) => roundAt(value, digits, Math.floor),
  ),
  INT: define(
    { ...standard, about: 'The next whole number down.' },
    [number('Number')],
    (_moment, value) => wholeBelow(value),
  ),
  MOD: define(
    { ...standard, about: 'What a division leaves; it has the sign of the divisor.' },
    [number('Number'), number('Divisor')],
    (_moment, value, divisor) => {
      if (divisor === 0) return ERRORS.divided;
      // The platform's remainder is exact; it has the sign of the number.
      const left = value % divisor;
      const rest = left !== 0 && left < 0 !== divisor < 0 ? left + divisor : left;
      if (Number.isInteger(value) && Number.isInteger(divisor)) return rest;
      // As INT counts: what is whole but for the last digit leaves nothing.
      const byWhole = value - divisor * wholeBelow(value / divisor);
      return Math.abs(byWhole - rest) < Math.abs(divisor) / 2 ? rest : 0;
    },
  ),
  ABS: define(
    { ...standard, about: 'The number without its sign.' },
    [number('Number')],
    (_moment, value) => Math.abs(value),
  ),
  SQRT: define({ ...standard, about: 'The square root.' }, [number('Number')], (_moment, value) =>
    Math.sqrt(value),
  ),
  POWER: define(
    { ...standard, about: 'A number raised to a power.' },
    [number('Base'), number('Exponent')],
    (_moment, base, exponent) => power(base, exponent),
  ),
  EXP: define(
    { ...standard, about: 'e raised to a power.' },
    [number('Exponent')],
    (_moment, value) => Math.exp(value),
  ),
  LN: define(
    { ...standard, about: 'The natural logarithm.' },
    [number('Number')],
    (_moment, value) => (value > 0 ? Math.log(value) : ERRORS.number),
  ),
  LOG10: define(
    { ...standard, about: 'The logarithm to base 10.' },
    [number('Number')],
    (_moment, value) => (value > 0 ? Math.log10(value) : ERRORS.number),
  ),
  CEILING: define(
    { ...standard, about: 'Rounded up to a multiple of a step.' },
    [
      number('Number'),
      optional<number | undefined>(number('Step'), undefined),
      optional(number('Mode'), 0),
    ],
    (_moment, value, step, mode) => ceiling(value, step, mode),
  ),
  FLOOR: define(
    { ...standard, about: 'Rounded down to a multiple of a step.' },
    [
      number('Number'),
      optional<number | undefined>(number('Step'), undefined),
      optional(number('Mode'), 0),
    ],
    (_moment, value, step, mode) => floor(value, step, mode),
  ),
} satisfies Record<string, FunctionDefinition>;

/** A power; 0^0 is 1 as OpenFormula allows, 0 to a negative power divides by zero. */
export function power(base: number, exponent: number): number | ErrorValue {
  if (base === 0 && exponent < 0) return ERRORS.divided;
  return base ** exponent;
}
