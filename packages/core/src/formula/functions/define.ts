import { isErrorValue, type CellValue, type ErrorValue, type LocaleFacts } from '../../values';
import { areaOf, ArrayArea, eachValue, isArea, type Area, type Value } from './area';
import { spend } from './budget';
import { ERRORS, settle, toLogical, toNumber, toText } from './convert';

/** What a function may know besides its arguments. */
export interface Moment {
  readonly locale: LocaleFacts;
  /** The serial of now in the workbook's zone. */
  now(): number;
}

/** An argument as the evaluator hands it over. */
export interface Argument {
  /** Evaluates it; never twice. */
  value(): Value;
  /** Whether it was written as a reference: texts and yes/no in ranges are no numbers. */
  readonly isReference: boolean;
  /** Where the reference begins, for `ROW` and `COLUMN`; `null` for computed values. */
  place(): { row: number; column: number } | null;
}

/** Where a function's meaning is from. */
export type Standing = 'standard' | 'common practice';

export interface ParameterInfo {
  readonly name: string;
  readonly optional: boolean;
  /** Whether it, and those after it, may be given again and again. */
  readonly repeats: boolean;
  /** Whether nothing between two separators is a blank value, and not the same as no argument. */
  readonly blankCounts?: boolean;
}

export interface FunctionDefinition {
  readonly standing: Standing;
  readonly group: FunctionGroup;
  /** What it gives, in a sentence. */
  readonly about: string;
  readonly parameters: readonly ParameterInfo[];
  /** The fewest and the most arguments; `null` where any number goes. */
  readonly least: number;
  readonly most: number | null;
  /** Whether it may give another value although nothing it reads has changed. */
  readonly volatile: boolean;
  /** @param args one per parameter given; `undefined` where an optional one was left out */
  call(args: readonly (Argument | undefined)[], moment: Moment): Value;
}

export type FunctionGroup =
  'logic' | 'mathematics' | 'statistics' | 'text' | 'dates' | 'lookup' | 'information';

/** How a parameter takes what is given for it. */
export interface Parameter<T> {
  readonly name: string;
  readonly optional: boolean;
  readonly repeats: boolean;
  /** Whether an area given for it makes the function run once per value of that area. */
  readonly single: boolean;
  readonly blankCounts?: boolean;
  take(argument: Argument, moment: Moment): T | ErrorValue;
  takeValue(value: CellValue, moment: Moment): T | ErrorValue;
  readonly missing?: T;
}

type Taken<P> = { [K in keyof P]: P[K] extends Parameter<infer T> ? T : never };

function single<T>(
  name: string,
  takeValue: (value: CellValue, moment: Moment) => T | ErrorValue,
): Parameter<T> {
  return {
    name,
    optional: false,
    repeats: false,
    single: true,
    takeValue,
    take: (argument, moment) => {
      const value = argument.value();
      return takeValue(isArea(value) ? value.at(0, 0) : value, moment);
    },
  };
}

export const number = (name: string): Parameter<number> =>
  single(name, (value, { locale }) => toNumber(value, locale));

/** A number cut to a whole one, as counts and places are taken. */
export const whole = (name: string): Parameter<number> =>
  single(name, (value, { locale }) => {
    const taken = toNumber(value, locale);
    return typeof taken === 'number' ? Math.trunc(taken) : taken;
  });

export const text = (name: string): Parameter<string> =>
  single(name, (value, { locale }) => toText(value, locale));

export const logical = (name: string): Parameter<boolean> => single(name, toLogical);

/** Any one value; an error is passed on. */
export const scalar = (name: string): Parameter<CellValue> => single(name, (value) => value);

/** Any one value, errors too: for functions that ask about errors. */
export const anything = (name: string): Parameter<{ value: CellValue }> =>
  single(name, (value) => ({ value }));

/** A whole area; one value is an area of one. */
export const area = (name: string): Parameter<Area> => ({
  name,
  optional: false,
  repeats: false,
  single: false,
  takeValue: (value) => new ArrayArea([[value]]),
  take: (argument) => {
    const value = argument.value();
    if (isArea(value)) return value;
    // A range that is gone is no cell that holds an error: it fails whatever asks for it.
    const isGone = isErrorValue(value) && value.why?.code === 'gone';
    return isGone ? value : new ArrayArea([[value]]);
  },
});

/** The argument itself, for functions that choose what to evaluate. */
export const argument = (name: string): Parameter<Argument> => ({
  name,
  optional: false,
  repeats: false,
  single: false,
  takeValue: () => ERRORS.value,
  take: (given) => given,
});

export function optional<T>(parameter: Parameter<T>, missing: T): Parameter<T> {
  return { ...parameter, optional: true, missing };
}

/** An optional parameter for which nothing between two separators is a blank value. */
export function orBlank<T>(parameter: Parameter<T>): Parameter<T | undefined> {
  return { ...parameter, optional: true, blankCounts: true };
}

/** An optional parameter whose absence means something of its own. */
export function maybe<T>(parameter: Parameter<T>): Parameter<T | undefined> {
  return { ...parameter, optional: true };
}

interface Description {
  readonly standing: Standing;
  readonly group: FunctionGroup;
  readonly about: string;
  readonly volatile?: boolean;
  /** How many times as long it takes as a usual one; measured over arrays. */
  readonly effort?: number;
}

/**
 * Defines a function of a fixed list of parameters. Where an area is given for a single
 * parameter, the function runs once for each of its values and gives an area.
 */
export function define<const P extends readonly Parameter<unknown>[]>(
  description: Description,
  parameters: P,
  run: (moment: Moment, ...args: Taken<P>) => Value,
): FunctionDefinition {
  const runOn = (taken: readonly unknown[], moment: Moment): Value => {
    const value = run(moment, ...(taken as Taken<P>));
    return isArea(value) ? value : settle(value);
  };
  return {
    ...described(description, parameters),
    most: parameters.length,
    call(args, moment) {
      const shape = spreadOf(args, parameters);
      if (shape) {
        spend(shape.rows * shape.columns * STEPS_A_CALL * (description.effort ?? 1));
        return spread(args, parameters, moment, shape, runOn);
      }
      const taken: unknown[] = [];
      for (const [index, parameter] of parameters.entries()) {
        const given = args[index];
        const value = given ? parameter.take(given, moment) : parameter.missing;
        if (isFailure(value)) return value;
        taken.push(value);
      }
      return runOn(taken, moment);
    },
  };
}

/** Defines a function whose last parameters repeat: the first ones fixed, the rest as given. */
export function defineList<const P extends readonly Parameter<unknown>[]>(
  description: Description,
  fixed: P,
  rest: readonly string[],
  run: (moment: Moment, fixed: Taken<P>, rest: readonly Argument[]) => Value,
  { leastRest = rest.length, mostRest = null as number | null } = {},
): FunctionDefinition {
  const repeated = rest.map((name) => ({ ...argument(name), repeats: true }));
  return {
    ...described(description, [...fixed, ...repeated]),
    least: fixed.length + leastRest,
    most: mostRest === null ? null : fixed.length + mostRest,
    call(args, moment) {
      const taken: unknown[] = [];
      for (const [index, parameter] of fixed.entries()) {
        const given = args[index];
        const value = given ? parameter.take(given, moment) : parameter.missing;
        if (isFailure(value)) return value;
        taken.push(value);
      }
      const rest = args.slice(fixed.length).filter((each) => each !== undefined);
      const value = run(moment, taken as Taken<P>, rest);
      return isArea(value) ? value : settle(value);
    },
  };
}

function described(
  { standing, group, about, volatile = false }: Description,
  parameters: readonly Parameter<unknown>[],
): Omit<FunctionDefinition, 'call' | 'most'> {
  return {
    standing,
    group,
    about,
    volatile,
    parameters: parameters.map(({ name, optional, repeats, blankCounts = false }) => ({
      name,
      optional,
      repeats,
      blankCounts,
    })),
    least: parameters.filter((each) => !each.optional).length,
  };
}

function isFailure(value: unknown): value is ErrorValue {
  return typeof value === 'object' && value !== null && 'error' in value;
}

interface Shape {
  readonly rows: number;
  readonly columns: number;
}

/** The shape a call is spread over, or `null` when every single parameter got a single value. */
function spreadOf(
  args: readonly (Argument | undefined)[],
  parameters: readonly Parameter<unknown>[],
): Shape | null {
  let rows = 0;
  let columns = 0;
  for (const [index, given] of args.entries()) {
    if (!given || parameters[index]?.single !== true) continue;
    const value = given.value();
    if (!isArea(value) || (value.rows === 1 && value.columns === 1)) continue;
    rows = Math.max(rows, value.rows);
    columns = Math.max(columns, value.columns);
  }
  return rows === 0 ? null : { rows, columns };
}

/** What a call of a usual function takes, in steps. */
const STEPS_A_CALL = 25;

type Spread =
  | { readonly fixed: unknown; readonly parameter?: undefined }
  | { readonly each: Value; readonly parameter: Parameter<unknown> };

function spread(
  args: readonly (Argument | undefined)[],
  parameters: readonly Parameter<unknown>[],
  moment: Moment,
  { rows, columns }: Shape,
  runOn: (taken: readonly unknown[], moment: Moment) => Value,
): Value {
  const whole = parameters.map((parameter, index): Spread => {
    const given = args[index];
    if (!given) return { fixed: parameter.missing };
    return parameter.single
      ? { each: given.value(), parameter }
      : { fixed: parameter.take(given, moment) };
  });
  return areaOf(rows, columns, (row, column) => {
    const taken: unknown[] = [];
    for (const each of whole) {
      const value = each.parameter
        ? each.parameter.takeValue(cellOf(each.each, row, column), moment)
        : each.fixed;
      if (isFailure(value)) return value;
      taken.push(value);
    }
    const value = runOn(taken, moment);
    return isArea(value) ? value.at(0, 0) : value;
  });
}

/** A value of an area spread over a larger one: one row or column is repeated, else `#N/A`. */
export function cellOf(value: Value, row: number, column: number): CellValue {
  if (!isArea(value)) return value;
  if ((row >= value.rows && value.rows > 1) || (column >= value.columns && value.columns > 1)) {
    return ERRORS.notAvailable;
  }
  return value.at(value.rows === 1 ? 0 : row, value.columns === 1 ? 0 : column);
}

/** Runs an operation on each value of two areas, or on two values. */
export function broadcast(
  left: Value,
  right: Value,
  run: (left: CellValue, right: CellValue) => CellValue,
): Value {
  if (!isArea(left) && !isArea(right)) return run(left, right);
  const rows = Math.max(isArea(left) ? left.rows : 1, isArea(right) ? right.rows : 1);
  const columns = Math.max(isArea(left) ? left.columns : 1, isArea(right) ? right.columns : 1);
  // Reading both and what is done with them, besides making the value.
  spend(rows * columns * 2);
  return areaOf(rows, columns, (row, column) =>
    run(cellOf(left, row, column), cellOf(right, row, column)),
  );
}

/**
 * The numbers of arguments, as sums and means take them: of ranges only what is a number; of
 * values written in the formula also what stands for one (ODF 1.3 part 4, 6.3.7).
 *
 * @returns the first error met, else nothing
 */
export function eachNumber(
  args: readonly Argument[],
  { locale }: Moment,
  visit: (value: number) => void,
): ErrorValue | null {
  for (const given of args) {
    const value = given.value();
    if (isArea(value)) {
      const failure = eachNumberIn(value, visit);
      if (failure) return failure;
    } else if (given.isReference) {
      if (isErrorValue(value)) return value;
      if (typeof value === 'number') visit(value);
    } else if (value !== null) {
      const taken = toNumber(value, locale);
      if (typeof taken !== 'number') return taken;
      visit(taken);
    }
  }
  return null;
}

/** The numbers of an area, and nothing else of it. */
export function eachNumberIn(from: Area, visit: (value: number) => void): ErrorValue | null {
  return eachValue(from, (value) => {
    if (typeof value === 'number') visit(value);
    return isErrorValue(value) ? value : null;
  });
}

/** All numbers of arguments as a list, or the first error. */
export function numbersOf(args: readonly Argument[], moment: Moment): number[] | ErrorValue {
  const numbers: number[] = [];
  return eachNumber(args, moment, (value) => numbers.push(value)) ?? numbers;
}
