import { typedValue, type Column, type ReadingContext } from '../kinds';
import type { WeighedCheck } from '../records';
import { sayCondition } from '../rules';
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
    /** What is allowed follows ‘must be’: `from 0 to 14`. */
    outOfLimits: { readonly text: string; readonly allowed: string };
    tooShort: { readonly length: number; readonly least: number };
    tooLong: { readonly length: number; readonly most: number };
  }
}

export const LIMIT_SENTENCES: Sentences<'outOfLimits' | 'tooShort' | 'tooLong'> = {
  outOfLimits: ({ text, allowed }) => `${quote(text)} must be ${allowed}.`,
  tooShort: ({ length, least }) =>
    `${sayCountOf(length, 'character')} of at least ${sayCount(least)}. Write more.`,
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
  if ((from === undefined || value >= from) && (to === undefined || value <= to)) return null;
  const span = { ...(from !== undefined && { from }), ...(to !== undefined && { to }) };
  const words = { column, locale, headingOf: () => '' };
  const allowed = sayCondition({ is: 'between', ...span }, words).replace(/^be /, '');
  return { code: 'outOfLimits', text: typedValue(value, column, locale), allowed };
}
