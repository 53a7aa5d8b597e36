import { createReadStream } from 'node:fs';
import { pipeline } from 'node:stream/promises';
import { Transform } from 'node:stream';
import { CsvError, parse, type Info } from 'csv-parse';
import { CsvFileError } from './csvFileError';
import type { RowMark } from '../format';
import type { Dialect } from './dialect';
import { MOST_COLUMNS, RowGuard } from './rowGuard';
import { TextPlaces } from './textPlaces';

/** The longest row that is read, in bytes: a quote left open must not swallow a whole file. */
const LONGEST_ROW = 16 * 1024 * 1024;
/** Rows between two marks: so many are read in a moment. */
const ROWS_A_MARK = 1000;

interface ReadingWays {
  /** Where reading begins; the beginning otherwise. */
  readonly start?: RowMark;
  /** Told where every thousandth row begins. */
  readonly onMark?: (mark: RowMark) => void;
}

/**
 * Reads a CSV file row by row (RFC 4180, and the variants in use: any of the delimiters, CRLF,
 * LF or CR, quotes inside bare cells, rows of any length). Rows with nothing in them are given
 * too, so that row numbers are the file's.
 *
 * @param onRow takes the next row; the rest is not read once it says `false`
 * @param ways where to begin, as a reading before told; who is told of such places
 * @throws CsvFileError where a quote is left open, a row is too long, or blank rows are without end
 */
export async function readCsv(
  path: string,
  { encoding, delimiter }: Dialect,
  onRow: (row: string[]) => unknown,
  { start = { row: 1, byte: 0 }, onMark }: ReadingWays = {},
): Promise<void> {
  const places = new TextPlaces(encoding, start.byte);
  const parser = parse({
    bom: start.byte === 0,
    delimiter,
    relax_quotes: true,
    relax_column_count: true,
    record_delimiter: ['\r\n', '\n', '\r'],
    max_record_size: LONGEST_ROW,
    ...(onMark && { on_record: marker(places, start.row, onMark) }),
  });
  const guard = new RowGuard(delimiter);
  const enough = new AbortController();
  try {
    await pipeline(
      createReadStream(path, { start: start.byte }),
      decoder(encoding, start.byte > 0, (chunk, text) => {
        guard.watch(text);
        if (onMark) places.add(chunk, text);
      }),
      parser,
      async (rows) => {
        for await (const row of rows) {
          // A spreadsheet program may write commas far past the last column.
          const taken = onRow((row as string[]).slice(0, MOST_COLUMNS));
          if ((taken instanceof Promise ? await taken : taken) === false) {
            enough.abort();
            return;
          }
        }
      },
    );
  } catch (error) {
    // Left before its end, the stream is aborted.
    if (enough.signal.aborted) return;
    throw error instanceof CsvError ? sayCsvError(error) : error;
  }
}

/** Tells where every thousandth row begins, while rows are found one by one. */
function marker(
  places: TextPlaces,
  first: number,
  onMark: (mark: RowMark) => void,
): (row: string[], info: Info) => string[] {
  let row = first;
  return (cells, { bytes }) => {
    row += 1;
    // At each row, as a file may be of few and long ones.
    places.passTo(bytes);
    const byte = (row - 1) % ROWS_A_MARK === 0 ? places.byteAfter(bytes) : null;
    if (byte !== null) onMark({ row, byte });
    return cells;
  };
}

function decoder(
  encoding: Dialect['encoding'],
  ignoreBOM: boolean,
  watch: (chunk: Buffer, text: string) => void,
): Transform {
  const text = new TextDecoder(encoding, { ignoreBOM });
  return new Transform({
    transform(chunk: Buffer, _encoding, done) {
      const read = text.decode(chunk, { stream: true });
      try {
        watch(chunk, read);
      } catch (error) {
        done(error as CsvFileError);
        return;
      }
      done(null, read);
    },
    flush(done) {
      done(null, text.decode());
    },
  });
}

function sayCsvError(error: CsvError): CsvFileError {
  const line = typeof error['lines'] === 'number' ? error['lines'] : 0;
  switch (error.code) {
    case 'CSV_QUOTE_NOT_CLOSED':
      return new CsvFileError(
        `A quoted cell is never closed; the file ends in it, at line ${line}. Close the quote and bring the file in again.`,
        line,
      );
    case 'CSV_MAX_RECORD_SIZE':
      return new CsvFileError(
        `The row at line ${line} is over 16 MB, which looks like a quote that is never closed. Check that line.`,
        line,
      );
    default:
      return new CsvFileError(
        `The file can't be read as CSV at line ${line}. Check that line.`,
        line,
      );
  }
}
