import { guardText, isErrorValue, toWire, type CellValue, type Column } from '@varn/core';
import { stringify } from 'csv-stringify/sync';

/** How a file is written. */
export interface CsvWays {
  /** Whether no text is left that another program would run as a formula; numbers never are. */
  readonly guarded: boolean;
  /** What stands between cells; a comma where it says nothing. */
  readonly separator?: string;
  /** The sign before decimals; a point where it says nothing. */
  readonly decimalSign?: string;
}

/** A value, and the column or kind by which it is written. */
export interface CsvCell {
  readonly value: CellValue;
  readonly column: Column;
}

/**
 * Writes rows of stored values as CSV (RFC 4180): numbers plain and days by ISO 8601, whatever the
 * locale, so that any program reads them back.
 */
export const csvRows = (
  columns: readonly Column[],
  rows: readonly (readonly CellValue[])[],
  ways: CsvWays,
): string =>
  csvLines(
    rows.map((row) => columns.map((column, n) => csvCell(row[n] ?? null, column, ways))),
    ways,
  );

/** The heading line; headings are text like any other, and guarded like it. */
export const csvHeading = (columns: readonly Column[], ways: CsvWays): string =>
  csvLines([columns.map(({ heading }) => (ways.guarded ? guardText(heading) : heading))], ways);

/** Rows whose cells are each of a kind of their own, as those above a heading are. */
export const csvCells = (rows: readonly (readonly CsvCell[])[], ways: CsvWays): string =>
  csvLines(
    rows.map((row) => row.map(({ value, column }) => csvCell(value, column, ways))),
    ways,
  );

function csvLines(rows: string[][], { separator = ',' }: CsvWays): string {
  // A lone return or line feed in a cell must be quoted too, or the round trip breaks.
  return stringify(rows, {
    delimiter: separator,
    record_delimiter: '\r\n',
    quoted_match: /[\r\n]/,
  });
}

function csvCell(
  value: CellValue,
  column: Column,
  { guarded, decimalSign = '.' }: CsvWays,
): string {
  const wire = toWire(value, column);
  if (wire === null) return '';
  if (typeof wire === 'boolean') return wire ? 'yes' : 'no';
  if (typeof wire === 'number') {
    const text = String(wire);
    return decimalSign === '.' ? text : text.replace('.', decimalSign);
  }
  const text = isErrorValue(wire) ? wire.error : wire;
  return guarded && typeof value !== 'number' ? guardText(text) : text;
}
