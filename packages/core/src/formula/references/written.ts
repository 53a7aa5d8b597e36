import { columnIndex, columnLetters } from '../../address';

/** One corner of a range as written: `$` marks what stays when a formula is copied elsewhere. */
export interface WrittenCell {
  /** Counted from 0. */
  readonly column: number;
  /** Counted from 1; `null` for a whole column, or for a range that goes on down. */
  readonly row: number | null;
  readonly fixedColumn: boolean;
  readonly fixedRow: boolean;
}

/**
 * A reference as people write it.
 * - `cell`: `B3`, `$B$3`, `'Kit loans'!B3`
 * - `range`: `B3:D9`, `B:D`, `B3..` and `B3..D` (from row 3 on down)
 * - `heading`: `'Price'`, the current record's; `Samples!'pH'`, the whole column
 * - `name`: a named range
 */
export type WrittenReference =
  | { readonly kind: 'cell'; readonly sheet: string | null; readonly cell: WrittenCell }
  | {
      readonly kind: 'range';
      readonly sheet: string | null;
      readonly from: WrittenCell;
      readonly to: WrittenCell;
    }
  | { readonly kind: 'heading'; readonly sheet: string | null; readonly heading: string }
  | { readonly kind: 'name'; readonly name: string };

/** The last row and column that can be written: seven figures, four letters. */
const LAST_ROW = 9_999_999;
const LAST_COLUMN = columnIndex('ZZZZ') ?? 0;

const CELL = /^(\$?)([A-Za-z]{1,4})(?:(\$?)([1-9]\d{0,6}))?$/;

/** Reads one corner: `B3`, `$B3`, `B`. The lexer has made sure that it is one. */
export function readCorner(text: string): WrittenCell {
  const [, fixedColumn, letters = '', fixedRow, row] = CELL.exec(text) ?? [];
  return {
    column: columnIndex(letters) ?? 0,
    row: row === undefined ? null : Number(row),
    fixedColumn: fixedColumn === '$',
    fixedRow: fixedRow === '$',
  };
}

export function printCorner({ column, row, fixedColumn, fixedRow }: WrittenCell): string {
  const letters = `${fixedColumn ? '$' : ''}${columnLetters(column)}`;
  return row === null ? letters : `${letters}${fixedRow ? '$' : ''}${row}`;
}

const PLAIN_SHEET = /^[\p{L}_][\p{L}\p{N}_]*$/u;
/** What would be read as the address of a cell, or as a column of one. */
const LIKE_A_CELL = /^[A-Za-z]{1,4}\d*$/;

const quote = (text: string): string => `'${text.replaceAll("'", "''")}'`;

/** A sheet's name before `!`: quoted unless it is a plain word that is no cell's address. */
export function printSheetName(name: string): string {
  return PLAIN_SHEET.test(name) && !LIKE_A_CELL.test(name) ? name : quote(name);
}

function printRange(from: WrittenCell, to: WrittenCell): string {
  if (from.row === null || to.row !== null) return `${printCorner(from)}:${printCorner(to)}`;
  const isOneColumn = from.column === to.column && from.fixedColumn === to.fixedColumn;
  return `${printCorner(from)}..${isOneColumn ? '' : printCorner(to)}`;
}

export function printReference(reference: WrittenReference): string {
  if (reference.kind === 'name') return reference.name;
  const sheet = reference.sheet === null ? '' : `${printSheetName(reference.sheet)}!`;
  switch (reference.kind) {
    case 'cell':
      return sheet + printCorner(reference.cell);
    case 'range':
      return sheet + printRange(reference.from, reference.to);
    case 'heading':
      return sheet + quote(reference.heading);
  }
}

/**
 * A reference as it reads when its formula is copied `down` rows and `across` columns: what `$`
 * does not hold moves along. `null` where it would leave the sheet.
 */
export function moveReference(
  reference: WrittenReference,
  down: number,
  across: number,
): WrittenReference | null {
  const move = (cell: WrittenCell): WrittenCell | null => {
    const column = cell.fixedColumn ? cell.column : cell.column + across;
    const row = cell.row === null || cell.fixedRow ? cell.row : cell.row + down;
    const isThere = column >= 0 && column <= LAST_COLUMN && (row ?? 1) >= 1;
    return isThere && (row ?? 1) <= LAST_ROW ? { ...cell, column, row } : null;
  };
  if (reference.kind === 'cell') {
    const cell = move(reference.cell);
    return cell && { ...reference, cell };
  }
  if (reference.kind === 'range') {
    const from = move(reference.from);
    const to = move(reference.to);
    return from && to && { ...reference, from, to };
  }
  return reference;
}
