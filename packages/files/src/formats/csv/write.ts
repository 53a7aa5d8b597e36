import { guardText, isErrorValue, toWire, type CellValue, type Column } from '@varn/core';
import { stringify } from 'csv-stringify/sync';

/**
 * Writes rows of stored values as CSV (RFC 4180): numbers and ISO 8601 plain, whatever the
 * locale, so that any program reads them back. With the guard on, no text is left that another
 * program would run as a formula; numbers are never guarded.
 */
export function csvRows(
  columns: readonly Column[],
  rows: readonly (readonly CellValue[])[],
  guarded: boolean,
): string {
  return csvLines(
    rows.map((row) => columns.map((column, index) => csvCell(row[index] ?? null, column, guarded))),
  );
}

/** The heading line; headings are text like any other, and guarded like it. */
export function csvHeading(columns: readonly Column[], guarded: boolean): string {
  return csvLines([columns.map(({ heading }) => (guarded ? guardText(heading) : heading))]);
}

function csvLines(rows: string[][]): string {
  // A lone return or line feed in a cell must be quoted too, or the round trip breaks.
  return stringify(rows, { record_delimiter: '\r\n', quoted_match: /[\r\n]/ });
}

function csvCell(value: CellValue, column: Column, guarded: boolean): string {
  const wire = toWire(value, column);
  if (wire === null) return '';
  if (typeof wire === 'boolean') return wire ? 'yes' : 'no';
  if (typeof wire === 'number') return String(wire);
  const text = isErrorValue(wire) ? wire.error : wire;
  return guarded && typeof value !== 'number' ? guardText(text) : text;
}
