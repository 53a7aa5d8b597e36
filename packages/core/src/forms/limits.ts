import { typedValue, type Column, type ReadingContext } from '../kinds';
import type { WeighedCheck } from '../records';
import {
  quote,
  sayCount,
  sayCountOf,
  type CellValue,
  type Problem,
  type Sentences,
} from '../values';
import type { Control, ControlDetails } from './controls';
import type { Limits } from './definition';

declare module '../values/problem' {
  interface Problems {
    tooLow: { readonly text: string; readonly least: string };
    tooHigh: { readonly text: string; readonly most: string };
    tooShort: { readonly length: number; readonly least: number };
    tooLong: { readonly length: number; readonly most: number };
  }
}

export const LIMIT_SENTENCES: Sentences<'tooLow' | 'tooHigh' | 'tooShort' | 'tooLong'> = {
  tooLow: ({ text, least }) => `${quote(text)} is under ${least}. Check it.`,
  tooHigh: ({ text, most }) => `${quote(text)} is over ${most}. Check it.`,
  tooShort: ({ length, least }) =>
    `${sayCountOf(length, 'character')} of at least ${sayCount(least)}. Write some more.`,
  tooLong: ({ length, most }) =>
    `${sayCount(length)} of ${sayCountOf(most, 'character')}. Shorten it.`,
};

const NONE: readonly WeighedCheck[] = [];

/** What an answer in a field is held against besides its column's kind: the control, the limits. */
export function checksOf(
  control: Control,
  { details = {}, limits }: { readonly details?: ControlDetails; readonly limits?: Limits },
): readonly WeighedCheck[] {
  if (!control.check && !limits) return NONE;
  return [
    {
      strictness: 'refuse',
      check: (value, column, context) =>
        control.check?.(value, details, column) ?? limitProblem(value, limits, column, context),
    },
  ];
}

/** What keeps a value from being within a field's limits. A text is measured in characters. */
function limitProblem(
  value: Exclude<CellValue, null>,
  { from, to }: Limits = {},
  column: Column,
  { locale }: ReadingContext,
): Problem | null {
  if (typeof value === 'string') {
    const length = [...value].length;
    if (from !== undefined && length < from) return { code: 'tooShort', length, least: from };
    return to !== undefined && length > to ? { code: 'tooLong', length, most: to } : null;
  }
  if (typeof value !== 'number') return null;
  const written = (limit: number): string => typedValue(limit, column, locale);
  const text = written(value);
  if (from !== undefined && value < from) return { code: 'tooLow', text, least: written(from) };
  return to !== undefined && value > to ? { code: 'tooHigh', text, most: written(to) } : null;
}
