/**
 * The lines of a grid from the top, counted from 0: the rows above the heading, the heading, the
 * records of the view, and the line on which a new record is begun. A sheet without records has
 * free rows only, with blank ones to type into below.
 */
export interface Lines {
  readonly freeRows: number;
  readonly hasRecords: boolean;
  /** Records of the view. */
  readonly records: number;
  /** Whether a record can be begun under the others. */
  readonly draft: boolean;
}

export type Line =
  | { readonly is: 'free'; readonly row: number }
  | { readonly is: 'heading' }
  | { readonly is: 'record'; readonly position: number }
  | { readonly is: 'draft' };

export function lineCount({ freeRows, hasRecords, records, draft }: Lines): number {
  return hasRecords ? freeRows + 1 + records + (draft ? 1 : 0) : freeRows;
}

/** What stands on a line. A line past the end counts as the last one. */
export function lineAt(lines: Lines, line: number): Line {
  const { freeRows, hasRecords, records } = lines;
  if (line < freeRows || !hasRecords) return { is: 'free', row: line + 1 };
  if (line === freeRows) return { is: 'heading' };
  const position = line - freeRows - 1;
  return position < records ? { is: 'record', position } : { is: 'draft' };
}

export function lineOf(lines: Lines, what: Line): number {
  switch (what.is) {
    case 'free':
      return what.row - 1;
    case 'heading':
      return lines.freeRows;
    case 'record':
      return lines.freeRows + 1 + what.position;
    case 'draft':
      return lines.freeRows + 1 + lines.records;
  }
}
