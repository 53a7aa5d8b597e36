import type { CellPlace, Reference } from './reference';

/** Something that may be deleted: a sheet, a column of it, or a name. */
export type Deletable =
  | { readonly is: 'sheet'; readonly sheet: string }
  | {
      readonly is: 'column';
      readonly sheet: string;
      readonly column: string;
    }
  | { readonly is: 'name'; readonly id: string };

/** How a reference is about it: it is lost with it, or only becomes narrower. */
export type Use = 'lost' | 'narrower';

/**
 * How a reference is about something that is to be deleted, or `null`.
 *
 * @param placeOf the place of a column in a sheet, from 0
 */
export function useOf(
  reference: Reference,
  target: Deletable,
  placeOf: (sheet: string, column: string) => number | undefined,
): Use | null {
  if (reference.kind === 'name') {
    return target.is === 'name' && target.id === reference.id ? 'lost' : null;
  }
  if (target.is === 'name' || reference.sheet !== target.sheet) return null;
  if (target.is === 'sheet') return 'lost';
  switch (reference.kind) {
    case 'field':
    case 'column':
      return reference.column === target.column ? 'lost' : null;
    case 'cell':
      return isIn(reference.cell, target.column) ? 'lost' : null;
    case 'range': {
      const { from, to } = reference;
      if (isIn(from, target.column) && isIn(to, target.column)) return 'lost';
      const [left, right] = [from, to].map((corner) => indexOf(corner, target.sheet, placeOf));
      const at = placeOf(target.sheet, target.column);
      if (left === undefined || right === undefined || at === undefined) return null;
      return at >= Math.min(left, right) && at <= Math.max(left, right) ? 'narrower' : null;
    }
  }
}

const isIn = ({ column }: CellPlace, id: string): boolean => 'id' in column && column.id === id;

const indexOf = (
  { column }: CellPlace,
  sheet: string,
  placeOf: (sheet: string, column: string) => number | undefined,
): number | undefined => ('id' in column ? placeOf(sheet, column.id) : column.index);
