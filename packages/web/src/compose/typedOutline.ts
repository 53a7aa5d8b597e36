import { flowBehind, isEntry, readOutline, sharing, type OutlineReading } from '@varn/core';
import { newId } from '../api/newId';
import type { Layout } from './edits';
import type { Composing } from './useCompose';

/** Lines as they were typed, and the layout they were read as. */
export interface TypedOutline {
  readonly text: string;
  readonly reading: OutlineReading;
  readonly layout: Layout;
  /** The form was blank when its lines were begun: its rows are made here, until a line says how. */
  readonly isFirst: boolean;
}

/**
 * Reads the text of a whole form. Lines put into a blank form stand side by side where they fit,
 * as those of the empty line do; as soon as one says `same row` they stand as they are written.
 *
 * @param before what was typed last, of which this is what comes next
 */
export function readTyped(
  text: string,
  { layout, columns, inSheet }: Pick<Composing, 'layout' | 'columns' | 'inSheet'>,
  before: TypedOutline | null,
): TypedOutline {
  const reading = readOutline(text, {
    columns: columns.filter(({ id }) => inSheet.has(id)),
    planned: layout.columns.filter(({ id }) => !inSheet.has(id)),
    previous: layout.definition,
    newId,
  });
  const { blocks, look } = reading.definition;
  const isFirst = before?.isFirst ?? !layout.definition.blocks.some(isEntry);
  const isLaidOut = look?.rows === 'single' || blocks.some((each) => isEntry(each) && each.beside);
  const byId = new Map([...columns, ...reading.columns].map((column) => [column.id, column]));
  const placed = isFirst && !isLaidOut ? flowBehind([], blocks, byId) : blocks;
  const definition = { ...reading.definition, blocks: sharing(layout.definition.blocks, placed) };
  const read: Layout = { definition, columns: sharing(layout.columns, reading.columns) };
  return { text, reading, layout: read, isFirst };
}
