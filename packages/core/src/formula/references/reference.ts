import type { Column } from '../../kinds';
import type { FreeCell, FreeCells, FreeRow, FreeRows } from '../../sheet';

/** A column by its permanent id, or one that is not there yet by its index, from 0. */
export type ColumnPlace = { readonly id: string } | { readonly index: number };

/**
 * A row by what it is, not by its number, so that rows can come and go around it.
 * - `row`: a row of its own above the block, or a record; by its id and its order key
 * - `heading`: the heading of the block
 * - `first`, `last`: the first and the last record, whichever they are
 * - `start`, `end`: the first row of the sheet, and as far as it goes down
 * - `number`: a row that is not there yet, by its number, from 1; `below` the heading, counted from
 *   there, where the sheet has records
 */
export type RowPlace =
  | {
      readonly at: 'row';
      readonly part: 'top' | 'block';
      readonly id: string;
      readonly key: number;
    }
  | { readonly at: 'heading' | 'first' | 'last' | 'start' | 'end' }
  | { readonly at: 'number'; readonly row: number; readonly below?: true };

/** One corner of a range, or a cell. */
export interface CellPlace {
  readonly column: ColumnPlace;
  readonly row: RowPlace;
  /** Whether it was written with `$`, and so stays when the formula is copied. */
  readonly fixedColumn?: true;
  readonly fixedRow?: true;
}

/**
 * A reference as it is stored: by identity. Inserting, moving and renaming change nothing in it;
 * what was deleted is still told by its id.
 */
export type Reference =
  | {
      readonly kind: 'cell';
      readonly sheet: string;
      readonly named?: true;
      readonly cell: CellPlace;
    }
  | {
      readonly kind: 'range';
      readonly sheet: string;
      /** Whether the sheet was written although it is the formula's own. */
      readonly named?: true;
      readonly from: CellPlace;
      readonly to: CellPlace;
      /** Written without a last row: `B:B`, `B3..`. */
      readonly open?: 'columns' | 'down';
      /** While it is computed: the reference whose shape it takes, from its own first cell on. */
      readonly like?: Reference;
    }
  /** A heading in quotes alone: the current record's value. */
  | { readonly kind: 'field'; readonly sheet: string; readonly column: string }
  /** A heading with its sheet: the whole column, without heading and top matter. */
  | { readonly kind: 'column'; readonly sheet: string; readonly column: string }
  /** A named range, by its id. */
  | { readonly kind: 'name'; readonly id: string };

/** A formula as it is stored: its text with `⟨n⟩` where references stand, and the references. */
export interface StoredFormula {
  readonly text: string;
  readonly references: readonly Reference[];
}

/** A column and cells as they are stored, their formulas by identity. */
export type StoredColumn = Column<StoredFormula>;
export type StoredFreeCell = FreeCell<StoredFormula>;
export type StoredFreeCells = FreeCells<StoredFormula>;
export type StoredFreeRow = FreeRow<StoredFormula>;
export type StoredFreeRows = FreeRows<StoredFormula>;
