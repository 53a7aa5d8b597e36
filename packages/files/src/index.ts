export { guessDelimiter, guessDialect } from './formats/csv/dialect';
export type { IntakeReport, RowMark } from './formats/format';
export { CsvFileError } from './formats/csv/csvFileError';
export { readCsv } from './formats/csv/read';
export { csvCells, csvHeading, csvRows, type CsvCell, type CsvWays } from './formats/csv/write';
export { lookThroughFile, readFileInto, rowsOfFile } from './thread';
