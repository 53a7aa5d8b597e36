import { kindOf, type Column } from '../kinds';
import { isTyped, type FormField } from './definition';

/** A page row has twelve parts; a field takes one of these many. */
export type Span = 2 | 3 | 4 | 6 | 12;

/** The most characters of typed text that each span shows at once, at the desk's width. */
const SPANS: readonly (readonly [characters: number, span: Span])[] = [
  [10, 2],
  [20, 3],
  [32, 4],
  [56, 6],
];

/**
 * How wide a field stands: by its kind and by the 95th percentile of the lengths stored so far
 * (0 for none). A dropdown also shows its opener.
 */
export function fieldSpan(field: FormField, column: Column, storedLength: number): Span {
  if (field.several === true) return 6;
  const kind = kindOf(column);
  const longestChoice = Math.max(0, ...(column.settings.choices ?? []).map((each) => each.length));
  const wanted =
    Math.max(storedLength, kind.control === 'choice' ? longestChoice : 0) || kind.usualLength;
  const control = { choice: 4, yesNo: 6 }[kind.control as string] ?? (column.settings.unit?.length ?? 0);
  const characters = wanted + (isTyped(column) ? control : 0);
  return SPANS.find(([most]) => characters <= most)?.[1] ?? 12;
}
