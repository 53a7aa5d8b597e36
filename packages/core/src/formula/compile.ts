import { isErrorValue, type CellValue, type ErrorValue } from '../values';
import { ArrayArea, isArea, type Value } from './functions/area';
import { spendText } from './functions/budget';
import { compareValues, ERRORS, settle, toNumber, toText } from './functions/convert';
import { broadcast, type Argument, type Moment } from './functions/define';
import { power } from './functions/mathematics';
import { heldValue } from './functions/pass';
import { FUNCTIONS } from './functions/table';
import type { BinaryOperator, Expression } from './grammar/expression';

/** The slot of no record: a formula runs outside of any. */
export const NO_RECORD = -1;

/** A formula made ready to run. `record` is the slot of the current record, or `NO_RECORD`. */
export type Code = (record: number) => Value;

/** Where a compiled formula gets the values of its references from. */
export interface Sources<R> {
  /** Made once per reference; what it gives is read each time the formula runs. */
  read(reference: R): Code;
  /** Whether a reference stands for something else in each record; taken to be where this is not said. */
  readonly variesByRecord?: (reference: R) => boolean;
  /** Where a reference begins in the grid, from 1; of `null`, where the formula itself stands. */
  place(reference: R | null, record: number): { row: number; column: number } | null;
}

/**
 * Turns a formula into nested functions, so that running it for each of many records touches no
 * tree. The formula must have been checked: functions known, arguments counted.
 */
export function compile<R>(expression: Expression<R>, sources: Sources<R>, moment: Moment): Code {
  switch (expression.type) {
    case 'constant': {
      const { value } = expression;
      return () => value;
    }
    case 'omitted':
      return () => null;
    case 'reference':
      return sources.read(expression.reference);
    case 'array': {
      const area = new ArrayArea(expression.rows);
      return () => area;
    }
    case 'unary': {
      const operand = compile(expression.operand, sources, moment);
      const { operator } = expression;
      const run = (value: CellValue): CellValue => unary(operator, value, moment);
      return (record) => {
        const value = operand(record);
        return isArea(value) ? broadcast(value, null, run) : run(value);
      };
    }
    case 'binary': {
      const left = compile(expression.left, sources, moment);
      const right = compile(expression.right, sources, moment);
      const run = binary(expression.operator, moment);
      return (record) => {
        const a = left(record);
        const b = right(record);
        return isArea(a) || isArea(b) ? broadcast(a, b, run) : run(a, b);
      };
    }
    case 'call':
      return call(expression, sources, moment);
  }
}

function unary(operator: '+' | '-' | '%', value: CellValue, { locale }: Moment): CellValue {
  if (operator === '+') return value;
  const number = toNumber(value, locale);
  if (typeof number !== 'number') return number;
  return settle(operator === '-' ? -number : number / 100);
}

type Run = (left: CellValue, right: CellValue) => CellValue;

const ARITHMETIC: Partial<Record<BinaryOperator, (a: number, b: number) => number | ErrorValue>> = {
  '+': (a, b) => a + b,
  '-': (a, b) => a - b,
  '*': (a, b) => a * b,
  '/': (a, b) => (b === 0 ? ERRORS.divided : a / b),
  '^': power,
};

const COMPARISON: Partial<Record<BinaryOperator, (order: number) => boolean>> = {
  '=': (order) => order === 0,
  '<>': (order) => order !== 0,
  '<': (order) => order < 0,
  '<=': (order) => order <= 0,
  '>': (order) => order > 0,
  '>=': (order) => order >= 0,
};

function binary(operator: BinaryOperator, { locale }: Moment): Run {
  const arithmetic = ARITHMETIC[operator];
  if (arithmetic) {
    return (left, right) => {
      const a = typeof left === 'number' ? left : toNumber(left, locale);
      if (typeof a !== 'number') return a;
      const b = typeof right === 'number' ? right : toNumber(right, locale);
      return typeof b === 'number' ? settle(arithmetic(a, b)) : b;
    };
  }
  const holds = COMPARISON[operator];
  return (left, right) => {
    if (isErrorValue(left)) return left;
    if (isErrorValue(right)) return right;
    if (holds) return holds(compareValues(left, right));
    const before = toText(left, locale) as string;
    const after = toText(right, locale) as string;
    return spendText(before.length + after.length) ?? before + after;
  };
}

function call<R>(
  { name, args }: Extract<Expression<R>, { type: 'call' }>,
  sources: Sources<R>,
  moment: Moment,
): Code {
  const definition = FUNCTIONS.get(name);
  if (!definition) return () => ({ error: '#NAME?' });
  if (args.length === 0 && (name === 'ROW' || name === 'COLUMN')) {
    return (record) => sources.place(null, record)?.[name === 'ROW' ? 'row' : 'column'] ?? null;
  }
  const { parameters } = definition;
  const made = args.map((each, index) => {
    const { optional = false, blankCounts = false } = parameters[index] ?? {};
    if (each.type === 'omitted' && optional && !blankCounts) return null;
    const reference = each.type === 'reference' ? each.reference : null;
    return { code: compile(each, sources, moment), reference };
  });
  const run: Code = (record) =>
    definition.call(
      made.map((each) =>
        each === null ? undefined : new Lazy(each.code, record, each.reference, sources),
      ),
      moment,
    );
  const isSteady = args.every((each) => isSameForAll(each, sources));
  return isSteady ? (record) => heldValue(made, () => run(record)) : run;
}

/** Whether a part of a formula gives the same for every record, whichever it is asked of. */
function isSameForAll<R>(part: Expression<R>, sources: Sources<R>): boolean {
  switch (part.type) {
    case 'constant':
    case 'omitted':
    case 'array':
      return true;
    case 'reference':
      return sources.variesByRecord?.(part.reference) === false;
    case 'unary':
      return isSameForAll(part.operand, sources);
    case 'binary':
      return isSameForAll(part.left, sources) && isSameForAll(part.right, sources);
    case 'call':
      // Without arguments these two are of the formula's own place.
      if (part.args.length === 0) return part.name !== 'ROW' && part.name !== 'COLUMN';
      return part.args.every((each) => isSameForAll(each, sources));
  }
}

/** An argument that is evaluated when a function asks for it, and once. */
class Lazy<R> implements Argument {
  private held: Value | undefined;

  constructor(
    private readonly code: Code,
    private readonly record: number,
    private readonly reference: R | null,
    private readonly sources: Sources<R>,
  ) {}

  get isReference(): boolean {
    return this.reference !== null;
  }

  value(): Value {
    this.held ??= this.code(this.record);
    return this.held;
  }

  place(): { row: number; column: number } | null {
    return this.reference === null ? null : this.sources.place(this.reference, this.record);
  }
}
