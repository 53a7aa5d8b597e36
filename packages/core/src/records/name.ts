import { showValue, type Column } from '../kinds';
import { keyColumnsOf } from '../sheet';
import type { Cells, LocaleFacts } from '../values';

/** Cells by which a record is known where it has no key. */
const KNOWN_BY = 3;
const LONGEST = 60;

/** What people know a record by: its key, or its number, or the first of its cells with something in it. */
export function nameOfRecord(
  cells: Cells,
  columns: readonly Column[],
  locale: LocaleFacts,
): string {
  const shown = (of: readonly Column[]): string[] =>
    of
      .map((column) => showValue(cells[column.id] ?? null, column, locale))
      .filter((text) => text !== '')
      .map((text) => text.slice(0, LONGEST));
  const key = shown(keyColumnsOf(columns));
  if (key.length > 0) return key.join(', ');
  const number = shown(columns.filter(({ kind }) => kind === 'runningNumber'));
  return (number.length > 0 ? number : shown(columns).slice(0, KNOWN_BY)).join(', ');
}
