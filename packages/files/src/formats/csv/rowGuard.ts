import { CsvFileError } from './csvFileError';
import type { Delimiter } from './dialect';

/** The most columns a sheet holds; cells past them must be blank. */
export const MOST_COLUMNS = 1000;
/** The most cells in a row, blank ones at its end included. */
const MOST_CELLS = 5000;
/** The most rows with nothing in them. */
const MOST_BLANK_ROWS = 100_000;

const [QUOTE, RETURN, FEED, SPACE] = [34, 13, 10, 32];

/** Where in a cell one is: a quote opens at its start only, and two in a row stand for one. */
const At = { start: 0, bare: 1, quoted: 2, afterQuote: 3 } as const;
type At = (typeof At)[keyof typeof At];

/**
 * Watches a file's text as it is read, so that rows of far too many cells, and blank rows without
 * end, are told of before anything is made of them. It looks at every character of a file, so it
 * takes them as numbers, in one loop.
 */
export class RowGuard {
  private line = 1;
  private cells = 1;
  /** Cells up to the last that holds anything. */
  private filled = 0;
  private blankRows = 0;
  private at: At = At.start;
  private isAfterReturn = false;
  private readonly delimiter: number;

  constructor(delimiter: Delimiter) {
    this.delimiter = delimiter.charCodeAt(0);
  }

  /** @throws CsvFileError that names the line */
  watch(text: string): void {
    const { delimiter } = this;
    for (let index = 0; index < text.length; index += 1) {
      const code = text.charCodeAt(index);
      if (code === FEED || code === RETURN) this.endLine(code);
      else if (code === QUOTE && this.at !== At.bare) {
        this.at = this.at === At.quoted ? At.afterQuote : At.quoted;
      } else if (code === delimiter && this.at !== At.quoted) this.addCell();
      else {
        if (this.at === At.start) this.at = At.bare;
        if (this.filled !== this.cells && code !== SPACE) this.fill();
      }
    }
  }

  private endLine(code: number): void {
    const isSecondOfTwo = code === FEED && this.isAfterReturn;
    this.isAfterReturn = code === RETURN;
    if (isSecondOfTwo) return;
    this.line += 1;
    if (this.at !== At.quoted) this.endRow();
  }

  private addCell(): void {
    this.at = At.start;
    this.isAfterReturn = false;
    this.cells += 1;
    if (this.cells > MOST_CELLS) this.refuseWidth();
  }

  private fill(): void {
    this.isAfterReturn = false;
    this.filled = this.cells;
    if (this.filled > MOST_COLUMNS) this.refuseWidth();
  }

  private endRow(): void {
    this.at = At.start;
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
