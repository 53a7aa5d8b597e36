/** A file that can't be read as CSV: says what is wrong, at which line, and what to do. */
export class CsvFileError extends Error {
  constructor(
    message: string,
    readonly line: number,
  ) {
    super(message);
    this.name = 'CsvFileError';
  }
}
