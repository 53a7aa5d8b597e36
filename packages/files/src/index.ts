export { guessDelimiter, guessDialect } from './csv/dialect';
export type { IntakeReport } from './csv/intake';
export { CsvFileError } from './csv/csvFileError';
export { readCsv } from './csv/read';
export { csvHeading, csvRows } from './csv/write';
export { scoutFile, takeInFile } from './desk';
