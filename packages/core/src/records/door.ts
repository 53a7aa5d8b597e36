/** The doors by which a record can come to be stored, or stored otherwise: every one asks the judge. */
export const DOORS = [
  /** A form filled in for a new record, for a correction, and to try it. */
  'submit',
  'update',
  'trial',
  /** Cells of one record, over the API. */
  'record',
  /** Cells typed, pasted and filled in the grid. */
  'grid',
  /** Rows of a file that become records of a sheet there is, and a file that becomes a sheet. */
  'file',
  'arrival',
  /** One column of all matches; values of a column, and a text in any, wherever they are stored. */
  'matches',
  'values',
  'replace',
  /** An older state of a record, what a write did before it was taken back, and what the bin holds. */
  'history',
  'undo',
  'bin',
  /** A column under another kind, or with another formula. */
  'columns',
] as const;

export type Door = (typeof DOORS)[number];
