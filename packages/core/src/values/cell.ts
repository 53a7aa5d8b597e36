/** An error value, held where a formula could not give a result. */
export interface ErrorValue {
  readonly error: string;
  /** Why, where more can be told than the error itself says; `words/errors.ts` has the sentences. */
  readonly why?: ErrorReason;
}

/** What made a formula fail: data, not words. */
export type ErrorReason =
  /** An array has no room: this cell is in its way. */
  | { readonly code: 'blocked'; readonly by: string }
  /** An array would reach below the sheet's end or into the records. */
  | { readonly code: 'noRoom' }
  /** The formula depends on itself, along these cells and columns. */
  | { readonly code: 'circle'; readonly path: readonly string[] }
  /** A column, sheet, row or name it reads was deleted. */
  | { readonly code: 'gone'; readonly what: string }
  /** A record's cell holds one value, and the formula gives several. */
  | { readonly code: 'several'; readonly count: number }
  /** It would take more time or room than one formula may. */
  | { readonly code: 'tooLong' }
  | { readonly code: 'tooLongTogether' }
  /** A list that would take so many seconds over so many rows, each time it is read anew. */
  | { readonly code: 'slowList'; readonly seconds: number; readonly rows: number }
  /** It would make a text of more characters than a cell can hold. */
  | { readonly code: 'longText'; readonly most: number }
  /** The formula could not be read. */
  | { readonly code: 'unread'; readonly message: string };

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
