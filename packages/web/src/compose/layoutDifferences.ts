import type { DraftView } from '@varn/contract';
import { isSame } from '@varn/core';
import type { Layout } from './edits';

/** Planned columns and formulas that are otherwise in someone else's layout, a sentence each. */
export function sayColumnDifferences(
  mine: Layout,
  theirs: Pick<DraftView, 'columns' | 'formulas'>,
): string[] {
  const ours = new Map(mine.columns.map((column) => [column.id, column]));
  const others = new Map(theirs.columns.map((column) => [column.id, column]));
  return [...new Set([...ours.keys(), ...others.keys()])].flatMap((id) => {
    const [a, b] = [ours.get(id), others.get(id)];
    const heading = (a ?? b)?.heading ?? '';
    const isAlike = isSame(a, b) && mine.formulas[id] === theirs.formulas[id];
    return isAlike ? [] : [`What is planned of the column ‘${heading}’ differs.`];
  });
}
