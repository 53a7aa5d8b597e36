import type { SheetLook } from '@varn/contract';
import type { StoredColumn } from '@varn/core';
import type { SheetFacts } from './catalog';
import type { LostColumnEntry } from './entities';

/** What of a sheet can be changed and taken back as one. */
export interface SheetShape {
  readonly name: string;
  readonly place: number;
  readonly columns: readonly StoredColumn[];
  readonly looseColumns: readonly string[];
  readonly lostColumns: readonly LostColumnEntry[];
  readonly look: SheetLook;
  readonly removed: boolean;
}

export function shapeOf(sheet: SheetFacts): SheetShape {
  const { name, place, columns, looseColumns, lostColumns, look, removed } = sheet;
  return { name, place, columns, looseColumns, lostColumns, look, removed };
}
