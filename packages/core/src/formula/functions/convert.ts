import {
  isErrorValue,
  readIsoDate,
  readIsoMoment,
  readIsoTime,
  sameNumber,
  type CellValue,
  type ErrorValue,
  type LocaleFacts,
} from '../../values';

import { spend } from './budget';

export const ERRORS = {
  divided: { error: '#DIV/0!' },
  value: { error: '#VALUE!' },
  reference: { error: '#REF!' },
  number: { error: '#NUM!' },
  notAvailable: { error: '#N/A' },
} as const satisfies Record<string, ErrorValue>;

/** How numbers stand in texts: with the decimal sign of the workbook's locale. */
export type NumberSign = Pick<LocaleFacts, 'decimal'>;

const PLAIN_NUMBER = /^[+-]?(?:\d+(?:\.\d*)?|\.\d+)(?:[eE][+-]?\d+)?(%?)$/;

/**
 * The number a text stands for: digits with the locale's decimal sign, an exponent or a percent
 * sign, or a date or time of ISO 8601; else `null`. So `&` writes numbers, and what it wrote is
 * read again (ODF 1.3 part 4, 6.3.5 leaves it to the evaluator).
 */
export function numberInText(text: string, { decimal }: NumberSign): number | null {
  const trimmed = text.trim();
  const isOther = decimal !== '.' && trimmed.includes('.');
  const digits = decimal === '.' ? trimmed : trimmed.replace(decimal, '.');
  const plain = isOther ? null : PLAIN_NUMBER.exec(digits);
  if (plain) {
    const value = Number(digits.replace('%', '')) / (plain[1] === '%' ? 100 : 1);
    return Number.isFinite(value) ? value : null;
  }
  return readIsoDate(trimmed) ?? readIsoMoment(trimmed) ?? readIsoTime(trimmed);
}

/** A value where a number is wanted: blank is 0, TRUE is 1, a text what it stands for. */
export function toNumber(value: CellValue, locale: NumberSign): number | ErrorValue {
  if (typeof value === 'number') return value;
  if (value === null) return 0;
  if (typeof value === 'boolean') return value ? 1 : 0;
  if (typeof value === 'string') {
    spend(value.length >> 4);
    return numberInText(value, locale) ?? ERRORS.value;
  }
  return value;
}

/** A value where a text is wanted; numbers with at most 15 digits, TRUE and FALSE as words. */
export function toText(value: CellValue, locale: NumberSign): string | ErrorValue {
  if (typeof value === 'string') {
    spend(value.length >> 4);
    return value;
  }
  if (value === null) return '';
  if (typeof value === 'number') {
    spend(25);
    return numberText(value).replace('.', locale.decimal);
  }
  if (typeof value === 'boolean') return value ? 'TRUE' : 'FALSE';
  return value;
}

/** A number with at most 15 significant digits, which every decimal number survives. */
export function numberText(value: number): string {
  return String(Number(value.toPrecision(15))).replace('e', 'E');
}

/** A value where yes or no is wanted: numbers but 0 are TRUE; a text must say it. */
export function toLogical(value: CellValue): boolean | ErrorValue {
  if (typeof value === 'boolean') return value;
  if (value === null) return false;
  if (typeof value === 'number') return value !== 0;
  if (typeof value === 'string') {
    const word = value.trim().toUpperCase();
    return word === 'TRUE' ? true : word === 'FALSE' ? false : ERRORS.value;
  }
  return value;
}

/** A result as it may stand in a cell: no infinity, no NaN, no negative zero. */
export function settle(value: CellValue): CellValue {
  if (typeof value !== 'number') return value;
  if (!Number.isFinite(value)) return ERRORS.number;
  return value === 0 ? 0 : value;
}

const RANK = { number: 0, string: 1, boolean: 2 } as const;

/**
 * Orders two values: numbers before texts before FALSE before TRUE; texts without regard to case
 * (ODF 1.3 part 4, 6.4.7 and 3.4). A blank takes the other's type. Errors are not compared.
 */
export function compareValues(a: CellValue, b: CellValue): number {
  const left = a ?? blankLike(b);
  const right = b ?? blankLike(a);
  if (typeof left === 'number' && typeof right === 'number') {
    return sameNumber(left, right) ? 0 : left - right;
  }
  if (typeof left === 'string' && typeof right === 'string') return compareTexts(left, right);
  if (isErrorValue(left) || isErrorValue(right)) return 0;
  const rank = RANK[typeof left as keyof typeof RANK] - RANK[typeof right as keyof typeof RANK];
  return rank === 0 ? Number(left) - Number(right) : rank;
}

const collator = new Intl.Collator('en', { sensitivity: 'accent' });

export function compareTexts(a: string, b: string): number {
  if (a === b) return 0;
  spend(10 + ((a.length + b.length) >> 4));
  return foldCase(a) === foldCase(b) ? 0 : collator.compare(a, b) || (a < b ? -1 : 1);
}

/** Texts as they are compared: without regard to case. */
export function foldCase(text: string): string {
  return text.toLowerCase();
}

function blankLike(other: CellValue): CellValue {
  if (typeof other === 'string') return '';
  if (typeof other === 'boolean') return false;
  return 0;
}
