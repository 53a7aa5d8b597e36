import {
  isOfKind,
  kindOf,
  rewrittenChoices,
  typedValue,
  type Column,
  type ReadingContext,
} from '../kinds';
import type { CellValue } from '../values';
import { judgeCell, type JudgedCell } from './judge';

/** A stored value under another kind of its column; what can't be is kept as text, and noted. */
export function convertCell(
  value: CellValue,
  before: Column,
  after: Column,
  context: ReadingContext,
): JudgedCell {
  const kind = kindOf(after);
  const staysAsItIs =
    value === null ||
    kind.filledBy !== 'people' ||
    kind.typing === 'none' ||
    // What is fed is stored as its source holds it.
    (after.settings.list !== undefined && typeof value !== 'string') ||
    (typeof value === 'number' && isOfKind(value, after) && sameMeasure(before, after));
  if (staysAsItIs) return { value, doubts: [] };
  const typed = rewrittenChoices(typedValue(value, before, context.locale), before, after);
  const written = { ...context, asWritten: true };
  const { value: converted, doubts } = judgeCell({ typed }, after, {
    context: written,
    keepsUnread: true,
  });
  // What is only asked about when typed is what was stored before.
  return { value: converted, doubts: doubts.filter(({ strictness }) => strictness === 'note') };
}

/** Whether numbers of one kind are numbers of the other as they are: 3 and 3, not 3 and 2 January. */
function sameMeasure(before: Column, after: Column): boolean {
  return kindOf(before).iso === kindOf(after).iso && after.kind !== 'wholeNumber';
}
