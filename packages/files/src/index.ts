export { guessDelimiter, guessDialect } from './formats/csv/dialect';
export type { IntakeReport } from './formats/format';
export { CsvFileError } from './formats/csv/csvFileError';
export { readCsv } from './formats/csv/read';
export { csvHeading, csvRows } from './formats/csv/write';
export { lookThroughFile, readFileInto } from './thread';
