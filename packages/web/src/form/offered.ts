import {
  narrowedBy,
  narrowedItems,
  type Cells,
  type Column,
  type ListItem,
  type ReadingContext,
} from '@varn/core';
import { offeredIn, type ListsByColumn } from '../api/lists';

/** What was narrowed before, by its list and what narrowed it: the same while both are. */
const narrowed = new WeakMap<readonly ListItem[], Map<string, readonly ListItem[]>>();
/** Narrowings of one list that are kept. */
const MOST_KEPT = 50;

/** What a field offers while a record holds these cells. */
export function offeredFor(
  column: Column,
  cells: Cells,
  columns: ReadonlyMap<string, Column>,
  lists: ListsByColumn,
  context: Pick<ReadingContext, 'locale'>,
): readonly ListItem[] {
  const items = offeredIn(column, lists);
  if (!column.settings.list?.narrowed) return items;
  const texts = narrowedBy(column, cells, columns, context);
  const key = texts.join('\n');
  const held = narrowed.get(items) ?? new Map<string, readonly ListItem[]>();
  narrowed.set(items, held);
  let found = held.get(key);
  if (!found) {
    found = narrowedItems(items, texts);
    if (held.size >= MOST_KEPT) held.clear();
    held.set(key, found);
  }
  return found;
}
