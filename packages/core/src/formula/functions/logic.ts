import { isErrorValue, type CellValue, type ErrorValue } from '../../values';
import { areaOf, eachValue, isArea, type Value } from './area';
import { compareValues, ERRORS, toLogical, toNumber } from './convert';
import {
  argument,
  cellOf,
  define,
  defineList,
  orBlank,
  type Argument,
  type FunctionDefinition,
} from './define';

const standard = { standing: 'standard', group: 'logic' } as const;
const common = { standing: 'common practice', group: 'logic' } as const;

/** A choice between values that are evaluated only when they are wanted. */
function choose(condition: Value, then: () => Value, otherwise: () => Value): Value {
  if (!isArea(condition)) {
    const taken = toLogical(condition);
    if (isErrorValue(taken)) return taken;
    return taken ? then() : otherwise();
  }
  const whenTrue = then();
  const whenFalse = otherwise();
  return areaOf(condition.rows, condition.columns, (row, column) => {
    const taken = toLogical(condition.at(row, column));
    if (isErrorValue(taken)) return taken;
    return cellOf(taken ? whenTrue : whenFalse, row, column);
  });
}

/** The first argument where no error is, value by value, else what the second gives. */
function instead(value: Value, unwanted: (value: CellValue) => boolean, other: () => Value): Value {
  if (!isArea(value)) return unwanted(value) ? other() : value;
  let found: Value | undefined;
  return areaOf(value.rows, value.columns, (row, column) => {
    const each = value.at(row, column);
    return unwanted(each) ? cellOf((found ??= other()), row, column) : each;
  });
}

/** The truths among arguments; texts in ranges are left out, written ones must say it. */
function truths(args: readonly Argument[]): boolean[] | ErrorValue {
  const found: boolean[] = [];
  for (const given of args) {
    const value = given.value();
    if (isArea(value)) {
      const failure = eachValue(value, (each) => {
        if (typeof each === 'boolean' || typeof each === 'number') found.push(Boolean(each));
        return isErrorValue(each) ? each : null;
      });
      if (failure) return failure;
    } else if (!given.isReference || (value !== null && typeof value !== 'string')) {
      const taken = toLogical(value);
      if (isErrorValue(taken)) return taken;
      found.push(taken);
    }
  }
  return found.length > 0 ? found : ERRORS.value;
}

function overTruths(
  about: string,
  run: (truths: readonly boolean[]) => boolean,
): FunctionDefinition {
  return defineList({ ...standard, about }, [], ['Condition'], (_moment, _fixed, args) => {
    const found = truths(args);
    return 'error' in found ? found : run(found);
  });
}

export const logic = {
  IF: define(
    { ...standard, about: 'One of two values, by a condition.' },
    [argument('Condition'), orBlank(argument('Then')), orBlank(argument('Otherwise'))],
    (_moment, condition, then, otherwise) =>
      choose(
        condition.value(),
        () => then?.value() ?? (then ? 0 : true),
        () => otherwise?.value() ?? (otherwise ? 0 : false),
      ),
  ),
  IFS: defineList(
    { ...common, about: 'The value after the first condition that holds.' },
    [],
    ['Condition', 'Value'],
    (_moment, _fixed, args) => {
      if (args.length % 2 === 1) return ERRORS.value;
      const from = (index: number): Value => {
        const condition = args[index];
        if (!condition) return ERRORS.notAvailable;
        return choose(
          condition.value(),
          () => args[index + 1]?.value() ?? 0,
          () => from(index + 2),
        );
      };
      return from(0);
    },
  ),
  SWITCH: defineList(
    { ...common, about: 'The value that stands after the case equal to the first argument.' },
    [argument('Of')],
    ['Case', 'Value'],
    (_moment, [of], args) => {
      const wanted = of.value();
      const single = isArea(wanted) ? wanted.at(0, 0) : wanted;
      if (isErrorValue(single)) return single;
      for (let index = 0; index + 1 < args.length; index += 2) {
        const each = args[index]?.value() ?? null;
        const value = isArea(each) ? each.at(0, 0) : each;
        if (isErrorValue(value)) return value;
        const sameType = value === null || single === null || typeof value === typeof single;
        if (sameType && compareValues(value, single) === 0) return args[index + 1]?.value() ?? 0;
      }
      return args.length % 2 === 1 ? (args.at(-1)?.value() ?? 0) : ERRORS.notAvailable;
    },
  ),
  CHOOSE: defineList(
    { ...standard, about: 'The value at a place of the list that follows.' },
    [argument('Place')],
    ['Value'],
    ({ locale }, [place], args) => {
      const value = place.value();
      const taken = toNumber(isArea(value) ? value.at(0, 0) : value, locale);
      if (isErrorValue(taken)) return taken;
      const chosen = args[Math.trunc(taken) - 1];
      return taken < 1 || !chosen ? ERRORS.value : (chosen.value() ?? 0);
    },
  ),
  AND: overTruths('TRUE when all conditions hold.', (all) => all.every(Boolean)),
  OR: overTruths('TRUE when at least one condition holds.', (all) => all.some(Boolean)),
  XOR: overTruths(
    'TRUE when an odd number of conditions hold.',
    (all) => all.filter(Boolean).length % 2 === 1,
  ),
  NOT: define(
    { ...standard, about: 'TRUE when the condition does not hold.' },
    [argument('Condition')],
    (_moment, condition) =>
      choose(
        condition.value(),
        () => false,
        () => true,
      ),
  ),
  IFERROR: define(
    { ...standard, about: 'A value, or another one where it is an error.' },
    [argument('Value'), argument('Instead')],
    (_moment, value, other) => instead(value.value(), isErrorValue, () => other.value() ?? 0) ?? 0,
  ),
  IFNA: define(
    { ...standard, about: 'A value, or another one where it is #N/A.' },
    [argument('Value'), argument('Instead')],
    (_moment, value, other) =>
      instead(
        value.value(),
        (each) => isErrorValue(each) && each.error === '#N/A',
        () => other.value() ?? 0,
      ) ?? 0,
  ),
  TRUE: define({ ...standard, about: 'TRUE.' }, [], () => true),
  FALSE: define({ ...standard, about: 'FALSE.' }, [], () => false),
} satisfies Record<string, FunctionDefinition>;
