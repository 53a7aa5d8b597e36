import type { CellValue } from '../../values';
import type { Area } from '../functions/area';
import type { Code } from '../compile';
import type { Expression } from '../grammar/expression';
import type { Reference } from '../references/reference';

interface Computed {
  readonly sheet: string;
  readonly column: string;
  readonly expression: Expression<Reference>;
  readonly references: readonly Reference[];
  readonly code: Code;
  readonly volatile: boolean;
  /** Whether it is a subtotal, which another one leaves out. */
  readonly subtotal: boolean;
  /** Whether it asks for the row it stands in. */
  readonly positional: boolean;
  /** It is computed after all of a lower rank. */
  rank: number;
  /** The cells and columns along which it depends on itself. */
  circle: readonly string[] | null;
}

/** The formula of one free cell. */
export interface CellNode extends Computed {
  readonly kind: 'cell';
  readonly row: string;
  value: CellValue;
  /** The area its result covers, when it gives several values and they have room. */
  array: Area | null;
}

/** The formula of a column, for every record. */
export interface ColumnNode extends Computed {
  readonly kind: 'column';
  /** Whether its values follow from others at once; else they are computed when a record is written. */
  readonly follows: boolean;
}

export type Node = CellNode | ColumnNode;

/** A change of values that formulas may depend on. */
export type Touch =
  /** A cell of a record, or the whole column. */
  | {
      readonly kind: 'record';
      readonly sheet: string;
      readonly column: string;
      readonly slot: Slots;
    }
  /** A free cell. */
  | { readonly kind: 'free'; readonly sheet: string; readonly column: string; readonly row: string }
  /** Cells by their place in the grid, as an array result covers them. Rows from 1. */
  | {
      readonly kind: 'place';
      readonly sheet: string;
      readonly column: number;
      readonly from: number;
      readonly to: number;
    }
  /** Records came or went: whoever counts or lists them. */
  | { readonly kind: 'records'; readonly sheet: string };

/** Every record of a sheet, where others are told by their slot. */
export const ALL_RECORDS = 'all';

/** One record by its slot, or all of them. */
export type Slots = number | typeof ALL_RECORDS;

export const cellKey = (sheet: string, row: string, column: string): string =>
  `${sheet}\u0000${row}\u0000${column}`;
export const columnKey = (sheet: string, column: string): string => `${sheet}\u0000${column}`;
