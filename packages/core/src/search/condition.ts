import { compareValues, textTest } from '../formula';
import { isOfKind, kindOf, showValue, type Column, type ReadingContext } from '../kinds';
import type { CellValue, Problem } from '../values';

export type Test = (value: CellValue) => boolean;

/** What reading a condition gives: a test of a column's values, or why it is none. */
export type ConditionReading =
  { readonly ok: true; readonly test: Test } | { readonly ok: false; readonly problem: Problem };

const SIGNED = /^(<=|>=|<>|<|>|=)\s*(.+)$/s;
const STRETCH = /^(.+?)\s*\.\.\s*(.+)$/s;

const HOLDS: Readonly<Record<string, (order: number) => boolean>> = {
  '<': (order) => order < 0,
  '<=': (order) => order <= 0,
  '>': (order) => order > 0,
  '>=': (order) => order >= 0,
  '=': (order) => order === 0,
  '<>': (order) => order !== 0,
};

/** Reads a condition on a column's values: a value, a comparison, a stretch, a pattern, or blank. */
export function readCondition(
  text: string,
  column: Column,
  context: ReadingContext,
): ConditionReading {
  const typed = text.trim();
  const word = typed.toLowerCase();
  if (word === 'blank') return { ok: true, test: (value) => value === null };
  if (word === 'not blank') return { ok: true, test: (value) => value !== null };
  const signed = SIGNED.exec(typed);
  const stretch = STRETCH.exec(typed);
  if (signed) {
    const [, sign = '=', rest = ''] = signed;
    return compared(rest, column, context, HOLDS[sign] ?? (() => false), sign === '<>');
  }
  if (stretch) {
    const from = compared(stretch[1] ?? '', column, context, (order) => order >= 0, false);
    const to = compared(stretch[2] ?? '', column, context, (order) => order <= 0, false);
    if (!from.ok || !to.ok) return from.ok ? to : from;
    return { ok: true, test: (value) => from.test(value) && to.test(value) };
  }
  const isText = kindOf(column).holds === 'string' || column.kind === 'computed';
  if (!isText) return compared(typed, column, context, (order) => order === 0, false);
  const pattern = /[*?]/.test(typed) ? typed : `*${typed}*`;
  const matches = textTest(pattern);
  const { locale } = context;
  return {
    ok: true,
    test: (value) => value !== null && matches(showValue(value, column, locale)),
  };
}

function compared(
  text: string,
  column: Column,
  context: ReadingContext,
  holds: (order: number) => boolean,
  orBlank: boolean,
): ConditionReading {
  const kind = kindOf(column);
  const as = column.kind === 'computed' ? (column.settings.shownAs ?? 'number') : column.kind;
  const readAs: Column =
    kind.filledBy === 'people'
      ? column
      : { ...column, kind: kind.iso === undefined ? as : 'moment' };
  const reader = kindOf(readAs);
  // Filled-in kinds that hold texts are compared as the texts they are.
  const reading =
    reader.filledBy === 'people' && reader.typing !== 'none'
      ? reader.read(text, readAs, context)
      : ({ ok: true, value: text } as const);
  if (!reading.ok) return reading;
  const wanted = reading.value;
  return {
    ok: true,
    test: (value) => {
      if (value === null) return orBlank;
      return (isOfKind(value, column) || orBlank) && typeof value === typeof wanted
        ? holds(compareValues(value, wanted))
        : orBlank;
    },
  };
}
