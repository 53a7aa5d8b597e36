/** An error value, held where a formula could not give a result. */
export interface ErrorValue {
  readonly error: string;
}

/**
 * What one cell holds. Dates, times and moments are numbers (serials, see `serial.ts`); the
 * column's kind says so. A blank cell is `null`: no cell holds text of white space alone.
 */
export type CellValue = null | string | number | boolean | ErrorValue;

/** The cells of one record, keyed by permanent column id. A column that is absent is blank. */
export type Cells = Readonly<Record<string, CellValue>>;

export function isErrorValue(value: CellValue): value is ErrorValue {
  return typeof value === 'object' && value !== null;
}
