import type { DraftView } from '@varn/contract';
import { isSame } from '@varn/core';
import type { Layout } from './edits';

/** Columns planned in both layouts that differ, a sentence each. */
export function sayColumnDifferences(mine: Layout, theirs: Pick<DraftView, 'columns'>): string[] {
  const others = new Map(theirs.columns.map((column) => [column.id, column]));
  return mine.columns.flatMap((column) => {
    const { id, heading } = column;
    const other = others.get(id);
    return !other || isSame(column, other)
      ? []
      : [`The kind or formula of the new column ‘${heading}’ differs.`];
  });
}
