import { isRecordChange, type ChangeKind } from '@varn/core';
import type { Line, LineStory, NewLine } from './line';

/** A line of the log as the database holds it. */
export interface ChangeRow {
  readonly id: number;
  readonly workbook_id: string;
  readonly kind: ChangeKind;
  readonly sheet_id: string;
  /** Of a row outside of the records, the row's id. */
  readonly record_id: string | null;
  readonly revision: number | null;
  readonly write_id: string;
  readonly batch: string | null;
  readonly undoes: string | null;
  readonly digest: string;
  readonly account_id: string;
  readonly door: string;
  readonly at: number;
  readonly before: string | null;
  readonly after: string | null;
  readonly grid_row: number | null;
  readonly counted: number | null;
  readonly answer: string | null;
}

const json = (value: unknown): string | null => (value === null ? null : JSON.stringify(value));
const parsed = (text: string | null): unknown => (text === null ? null : JSON.parse(text));

/** The line of a row. What a kind has before and after is as this file's `valuesOf` wrote it. */
export function lineOf(row: ChangeRow): Line {
  return {
    seq: row.id,
    at: row.at,
    workbookId: row.workbook_id,
    sheetId: row.sheet_id,
    writeId: row.write_id,
    batch: row.batch ?? row.write_id,
    undoes: row.undoes,
    digest: row.digest,
    accountId: row.account_id,
    door: row.door,
    answer: parsed(row.answer),
    ...storyOf(row),
  };
}

function storyOf(row: ChangeRow): LineStory {
  const { kind, record_id: id, revision, grid_row: gridRow, counted } = row;
  const told = { kind, before: parsed(row.before), after: parsed(row.after) };
  if (isRecordChange(kind))
    return { ...told, recordId: id, revision, gridRow, counted } as LineStory;
  return (id === null ? told : { ...told, rowId: id, revision }) as LineStory;
}

/** The columns of a line, but for its sequence number. */
export const LINE_COLUMNS = [
  'workbook_id',
  'kind',
  'sheet_id',
  'record_id',
  'revision',
  'write_id',
  'batch',
  'undoes',
  'digest',
  'account_id',
  'door',
  'at',
  'before',
  'after',
  'grid_row',
  'counted',
  'answer',
] as const;

/** What is stored of a line, in the order of `LINE_COLUMNS`. */
export function valuesOf(line: NewLine, at: number): (string | number | null)[] {
  const facts = 'recordId' in line ? line : null;
  const [id, revision] =
    'rowId' in line ? [line.rowId, line.revision] : [facts?.recordId, facts?.revision];
  return [
    line.workbookId,
    line.kind,
    line.sheetId,
    id ?? null,
    revision ?? null,
    line.writeId,
    line.batch,
    line.undoes,
    line.digest,
    line.accountId,
    line.door,
    at,
    json(line.before),
    json(line.after),
    facts?.gridRow ?? null,
    facts?.counted ?? null,
    json(line.answer),
  ];
}
