import type { CellValue, ErrorValue } from '../../values';
import type { Code, Sources } from '../compile';
import type { Directory } from '../references/bind';
import type { CellPlace, Reference } from '../references/reference';
import type { Area } from '../functions/area';
import { wholeColumnArea } from './areas';
import { boundsOf } from './shapes';
import type { Bounds, SheetGrid } from './sheetGrid';

/** The slot that stands for a record that is being written and is in no sheet yet. */
export const DRAFT = -2;

/** What references are read from. */
export interface SourceBook extends Directory {
  sheet: (id: string) => SheetGrid | undefined;
  /** The value at a row, from 1, and a column, from 0. */
  valueAt: (grid: SheetGrid, row: number, column: number) => CellValue;
  /** The cells of a range as they stand. */
  area: (grid: SheetGrid, bounds: Bounds) => Area;
  /** The value a record that is being written has in a column. */
  draftCell: (column: string) => CellValue;
}

/** A place in the grid. Rows and columns from 1. */
interface Place {
  readonly row: number;
  readonly column: number;
}

type FreeCellId = { readonly row: string; readonly column: string };

/**
 * Where a formula's references find their values.
 *
 * @param cell the free cell the formula stands in; absent for the formula of a column
 */
export function sourcesFor(
  book: SourceBook,
  home: SheetGrid,
  cell?: FreeCellId,
): Sources<Reference> {
  return {
    read: (reference) => reader(book, reference),
    variesByRecord: (reference) => reference.kind === 'field',
    place: (reference, record) =>
      reference === null ? ownPlace(home, cell, record) : placeOf(book, reference, record),
  };
}

function reader(book: SourceBook, reference: Reference): Code {
  if (reference.kind === 'name') {
    const name = book.name(reference.id);
    return name ? reader(book, name.reference) : gone(book.lostName(reference.id) ?? '');
  }
  const grid = book.sheet(reference.sheet);
  if (!grid) return gone(book.lostName(reference.sheet) ?? '');
  switch (reference.kind) {
    case 'field': {
      const { column } = reference;
      if (!grid.column(column)) return gone(book.lostName(column) ?? '');
      const read = grid.sheet.records.readerOf(column);
      return (record) => (record === DRAFT ? book.draftCell(column) : read(record));
    }
    case 'column': {
      const { column } = reference;
      if (!grid.column(column)) return gone(book.lostName(column) ?? '');
      return () => wholeColumnArea(grid, column);
    }
    case 'cell':
      return cellReader(book, reference.cell, grid);
    case 'range':
      return () => {
        const bounds = boundsOf(reference, grid, book);
        return bounds ? book.area(grid, bounds) : goneValue(lostOf(book, reference.from, grid));
      };
  }
}

function cellReader(book: SourceBook, cell: CellPlace, grid: SheetGrid): Code {
  return () => {
    const column = grid.indexOf(cell.column);
    const row = grid.rowOf(cell.row);
    if (column === null || row === null) return goneValue(lostOf(book, cell, grid));
    return book.valueAt(grid, row, column);
  };
}

/** What a cell was that is no longer there, as people called it. */
function lostOf(book: SourceBook, { column }: CellPlace, grid: SheetGrid): string {
  const heading = 'id' in column ? book.lostName(column.id) : undefined;
  return heading ?? `a row of ${grid.sheet.name}`;
}

function placeOf(book: SourceBook, reference: Reference, record: number): Place | null {
  if (reference.kind === 'name') {
    const named = book.name(reference.id)?.reference;
    return named ? placeOf(book, named, record) : null;
  }
  const grid = book.sheet(reference.sheet);
  if (!grid) return null;
  if (reference.kind === 'field' || reference.kind === 'column') {
    const column = grid.columnIndex(reference.column);
    const own = ownPlace(grid, undefined, record);
    const row = reference.kind === 'field' ? own?.row : grid.rowOfRecord(0);
    return column === undefined || row === undefined ? null : { row, column: column + 1 };
  }
  const corner = reference.kind === 'cell' ? reference.cell : reference.from;
  const row = grid.rowOf(corner.row);
  const column = grid.indexOf(corner.column);
  return row === null || column === null ? null : { row, column: column + 1 };
}

/** Where a formula itself stands. */
function ownPlace(grid: SheetGrid, cell: FreeCellId | undefined, record: number): Place | null {
  const { rows, records } = grid.sheet;
  if (!cell) {
    return record < 0 ? null : { row: grid.rowOfRecord(records.positionOfSlot(record)), column: 1 };
  }
  const position = rows.positionOf(cell.row);
  const column = grid.columnIndex(cell.column);
  return position === null || column === undefined
    ? null
    : { row: position + 1, column: column + 1 };
}

const goneValue = (what: string): ErrorValue => ({ error: '#REF!', why: { code: 'gone', what } });

function gone(what: string): Code {
  const value = goneValue(what);
  return () => value;
}
