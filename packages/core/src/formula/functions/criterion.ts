import { isErrorValue, type CellValue } from '../../values';
import { spend } from './budget';
import { compareValues, numberInText, type NumberSign } from './convert';
import { isPattern, textTest } from './wildcards';

/** Whether a value meets a condition. */
export type Test = (value: CellValue) => boolean;

const COMPARISON = /^(<=|>=|<>|<|>|=)?([\s\S]*)$/;

/** A criterion made ready. */
export interface Criterion {
  readonly test: Test;
  /** The one value that meets it, where it is plain equality: found by an index. */
  readonly equals?: string | number | boolean;
  /** The number that what meets it is compared with, where it is a comparison of numbers. */
  readonly order?: { readonly sign: keyof typeof ORDER; readonly than: number };
  /** The same text for criteria that mean the same. */
  readonly key: string;
}

/**
 * The condition a criterion stands for, as `COUNTIF` and its kin take it: a value to be equal to,
 * or a text of a comparison and a value, `>=7`, `<>closed`; in texts `*` stands for any
 * characters, `?` for one, and `~` takes either as it is. (ODF 1.3 part 4, 4.11.8; wildcards as
 * the host may allow.)
 */
export function criterionOf(criterion: CellValue, locale: NumberSign): Criterion {
  const key =
    typeof criterion === 'string' ? `"${locale.decimal}${criterion}` : JSON.stringify(criterion);
  if (typeof criterion !== 'string') return { key, ...equality(criterion ?? 0) };
  spend(criterion.length >> 4);
  const [, sign = '=', rest = ''] = COMPARISON.exec(criterion) ?? [];
  const typed = numberInText(rest, locale) ?? logicalIn(rest) ?? rest;
  if (rest === '') return { key, test: testOfNothing(criterion, sign) };
  if (sign === '=') return { key, ...equality(typed) };
  if (sign === '<>') {
    const equal = equalTo(typed);
    return { key, test: (value) => !equal(value) };
  }
  const comparison = sign as keyof typeof ORDER;
  const holds = ORDER[comparison];
  return {
    key,
    ...(typeof typed === 'number' && { order: { sign: comparison, than: typed } }),
    test: (value) =>
      value !== null &&
      !isErrorValue(value) &&
      typeof value === typeof typed &&
      holds(compareValues(value, typed)),
  };
}

function equality(wanted: CellValue): Pick<Criterion, 'test' | 'equals'> {
  const test = equalTo(wanted);
  const isPlain =
    wanted !== null && !isErrorValue(wanted) && (typeof wanted !== 'string' || !isPattern(wanted));
  return isPlain ? { test, equals: wanted } : { test };
}

const ORDER = {
  '<': (order: number) => order < 0,
  '<=': (order: number) => order <= 0,
  '>': (order: number) => order > 0,
  '>=': (order: number) => order >= 0,
} as const;

function testOfNothing(criterion: string, sign: string): Test {
  if (criterion === '') return (value) => value === null || value === '';
  if (sign === '=') return (value) => value === null;
  if (sign === '<>') return (value) => value !== null;
  return () => false;
}

function logicalIn(text: string): boolean | null {
  const word = text.toUpperCase();
  return word === 'TRUE' ? true : word === 'FALSE' ? false : null;
}

function equalTo(wanted: CellValue): Test {
  if (typeof wanted === 'number') {
    return (value) => typeof value === 'number' && compareValues(value, wanted) === 0;
  }
  if (typeof wanted === 'string') {
    const matches = textTest(wanted);
    return (value) => typeof value === 'string' && matches(value);
  }
  if (isErrorValue(wanted)) return (value) => isErrorValue(value) && value.error === wanted.error;
  return (value) => value === wanted;
}
