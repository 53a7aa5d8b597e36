import { columnIdsOf, flowBehind, readOutline, type Block, type OutlineProblem } from '@varn/core';
import { newId } from '../api/newId';
import { putIn, type Layout, type PagePlace } from './edits';
import type { Composing } from './useCompose';

/** What typed lines would add to a form. */
export interface AddedLines {
  readonly layout: Layout;
  readonly blocks: readonly Block[];
  readonly problems: readonly OutlineProblem[];
  /** The heading of a column that stands on the form already. */
  readonly twice: string | null;
}

/** Adds what is typed as lines of the outline, at a spot of the page. */
export function addLines(
  text: string,
  { layout, columns, inSheet }: Pick<Composing, 'layout' | 'columns' | 'inSheet'>,
  spot: PagePlace,
): AddedLines {
  const placed = new Set(layout.definition.blocks.flatMap(columnIdsOf));
  const reading = readOutline(text, {
    columns: columns.filter(({ id }) => inSheet.has(id)),
    planned: columns.filter(({ id }) => !inSheet.has(id)),
    newId,
  });
  const isThere = (block: Block): boolean => columnIdsOf(block).some((id) => placed.has(id));
  const blocks = reading.definition.blocks.filter((block) => !isThere(block));
  const double = reading.definition.blocks.find(isThere);
  const twice = double && columns.find(({ id }) => columnIdsOf(double).includes(id));
  const used = new Set(blocks.flatMap(columnIdsOf));
  const coming = reading.columns.filter(({ id }) => used.has(id));
  const replaced = new Set(coming.map(({ id }) => id));
  const isAtEnd = spot.blockId === null && layout.definition.look?.rows !== 'single';
  const byId = new Map([...columns, ...coming].map((column) => [column.id, column]));
  const flowed = isAtEnd ? flowBehind(layout.definition.blocks, blocks, byId) : blocks;
  const next = putIn(
    {
      ...layout,
      columns: [...layout.columns.filter(({ id }) => !replaced.has(id)), ...coming],
    },
    flowed,
    isAtEnd && flowed[0] && 'beside' in flowed[0] ? { ...spot, side: 'beside' } : spot,
  );
  return { layout: next, blocks, problems: reading.problems, twice: twice?.heading ?? null };
}

/** Where a problem stands in a text of several lines, from 0. */
export function placeOf(
  text: string,
  { line, column }: Pick<OutlineProblem, 'line' | 'column'>,
): number {
  const before = text.split('\n').slice(0, line - 1);
  return before.reduce((sum, each) => sum + each.length + 1, 0) + column - 1;
}

/**
 * What Enter makes of lines that list something, as statements are listed under their group: the
 * same with a next line begun. `null` where they list nothing, or an empty line ends the list.
 */
export function listedOn(text: string, problems: readonly OutlineProblem[]): string | null {
  const lines = text.split('\n');
  const last = lines.at(-1) ?? '';
  if (last.trim() === '') return null;
  const isListed = lines.length > 1 && /^\s/.test(last);
  const begins = problems.length === 1 && problems[0]?.code === 'membersWanted';
  return isListed || begins ? `${text.trimEnd()}\n  ` : null;
}
