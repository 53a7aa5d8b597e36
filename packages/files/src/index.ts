export { guessDelimiter, guessDialect, guessEncoding, type Dialect } from './csv/dialect';
export type { IntakeReport, IntakeOrder, ScoutChoices } from './csv/intake';
export { CsvFileError, readCsv } from './csv/read';
export { csvHeading, csvRows } from './csv/write';
export { scoutFile, takeInFile } from './desk';
