import { CsvFileError } from './csvFileError';
import type { Delimiter } from './dialect';

/** The most columns a sheet holds; cells past them must be blank. */
export const MOST_COLUMNS = 1000;
/** The most cells in a row, blank ones at its end included. */
const MOST_CELLS = 5000;
/** The most rows with nothing in them. */
const MOST_BLANK_ROWS = 100_000;

/**
 * Watches a file's text as it is read, so that rows of far too many cells, and blank rows without
 * end, are told of before anything is made of them.
 */
export class RowGuard {
  private line = 1;
  private cells = 1;
  /** Cells up to the last that holds anything. */
  private filled = 0;
  private blankRows = 0;
  /** Where in a cell one is: a quote opens at its start only, and two in a row stand for one. */
  private at: 'start' | 'bare' | 'quoted' | 'afterQuote' = 'start';
  private isAfterReturn = false;

  constructor(private readonly delimiter: Delimiter) {}

  /** @throws CsvFileError that names the line */
  watch(text: string): void {
    for (let at = 0; at < text.length; at += 1) this.take(text.charAt(at));
  }

  private take(character: string): void {
    const isSecondOfTwo = character === '\n' && this.isAfterReturn;
    this.isAfterReturn = character === '\r';
    const endsLine = character === '\n' || character === '\r';
    if (endsLine && !isSecondOfTwo) this.line += 1;
    if (this.at === 'quoted') {
      if (character === '"') this.at = 'afterQuote';
      else this.fill();
    } else if (endsLine) {
      if (!isSecondOfTwo) this.endRow();
    } else if (character === this.delimiter) this.addCell();
    else if (character === '"' && this.at !== 'bare') this.at = 'quoted';
    else {
      this.at = 'bare';
      if (character !== ' ') this.fill();
    }
  }

  private addCell(): void {
    this.at = 'start';
    this.cells += 1;
    if (this.cells > MOST_CELLS) this.refuseWidth();
  }

  private fill(): void {
    this.filled = this.cells;
    if (this.filled > MOST_COLUMNS) this.refuseWidth();
  }

  private endRow(): void {
    this.at = 'start';
    if (this.filled === 0) this.blankRows += 1;
    this.cells = 1;
    this.filled = 0;
    if (this.blankRows <= MOST_BLANK_ROWS) return;
    throw new CsvFileError(
      `More than ${MOST_BLANK_ROWS.toLocaleString('en-GB')} rows up to line ${this.line} are blank. Delete them and bring the file in again.`,
      this.line,
    );
  }

  private refuseWidth(): never {
    throw new CsvFileError(
      `The row at line ${this.line} has more than ${MOST_COLUMNS.toLocaleString('en-GB')} columns, the most a sheet holds. Check the separator, or leave columns out.`,
      this.line,
    );
  }
}
