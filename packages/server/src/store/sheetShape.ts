import type { SheetFacts } from './catalog';

/** What of a sheet can be changed and taken back as one. */
export type SheetShape = Pick<
  SheetFacts,
  'name' | 'place' | 'columns' | 'looseColumns' | 'lostColumns' | 'look' | 'removed'
>;

export function shapeOf(sheet: SheetFacts): SheetShape {
  const { name, place, columns, looseColumns, lostColumns, look, removed } = sheet;
  return { name, place, columns, looseColumns, lostColumns, look, removed };
}
