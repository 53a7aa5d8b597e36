import type { FormView, RecordView, SheetView } from '@varn/contract';
import {
  fromWire,
  isTyped,
  rowOfPosition,
  typedValue,
  type Answers,
  type CellValue,
  type Filling,
} from '@varn/core';
import { landsOnTop } from '../api/applyEvent';
import type { FormFilling } from '../form/useFilling';

/** A record that is being corrected, as it is stored. */
export interface OpenRecord {
  readonly id: string;
  readonly revision: number;
  /** The grid's row, from 1. */
  readonly row: number;
  /** Values by column id. */
  readonly cells: Readonly<Record<string, CellValue>>;
}

/** A record as the API tells it, to be corrected. */
export function openRecord(
  { id, revision, cells }: RecordView,
  row: number,
  { columns }: Pick<SheetView, 'columns'>,
): OpenRecord {
  const values = columns.flatMap((column, n) => {
    const value = fromWire(cells[n] ?? null, column);
    return value === null ? [] : [[column.id, value] as const];
  });
  return { id, revision, row, cells: Object.fromEntries(values) };
}

/** The record that was written last through the form: the last of the sheet, or the first. */
export function lastRecord(form: FormView): OpenRecord | null {
  const { sheet, last } = form;
  const at = landsOnTop(form) ? 0 : last.records.length - 1;
  const record = last.records[at];
  return record ? openRecord(record, rowOfPosition(sheet, last.from + at), sheet) : null;
}

/** What stands in the fields of a stored record, as it would be typed. */
export function answersOf(
  { cells }: OpenRecord,
  { prepared, context }: Pick<FormFilling, 'prepared' | 'context'>,
): Answers {
  return Object.fromEntries(
    prepared.inputs.flatMap(({ id, column }) => {
      const value = cells[column.id] ?? null;
      if (!isTyped(column) || value === null) return [];
      return [[id, typedValue(value, column, context.locale)]];
    }),
  );
}

/** What stands stored where something else stands in the field now, as it is shown; by input id. */
export function storedOtherwise(
  record: OpenRecord,
  { prepared, context, answers }: FormFilling,
): ReadonlyMap<string, string> {
  const stored = answersOf(record, { prepared, context });
  const differing = prepared.inputs.filter(
    ({ id, column }) => isTyped(column) && (stored[id] ?? '') !== (answers[id] ?? ''),
  );
  return new Map(differing.map(({ id }) => [id, stored[id] ?? '']));
}

/** What a copy of a record begins with: all but what tells records apart, and days that start afresh. */
export function copiedAnswers(
  record: OpenRecord,
  { prepared, context }: Pick<FormFilling, 'prepared' | 'context'>,
): Answers {
  const stored = answersOf(record, { prepared, context });
  const afresh = prepared.inputs.filter(({ column, block: { start } }) => {
    return column.settings.key === true || ['today', 'now', 'next'].includes(start?.kind ?? '');
  });
  const out = new Set(afresh.map(({ id }) => id));
  return Object.fromEntries(Object.entries(stored).filter(([id]) => !out.has(id)));
}

/** Headings of columns whose stored value an update would erase, as their fields are hidden now. */
export function erasedBy(
  { cells }: OpenRecord,
  { prepared }: Pick<FormFilling, 'prepared'>,
  { shown }: Filling,
): string[] {
  return prepared.inputs
    .filter(({ block, column }) => {
      return isTyped(column) && !shown.has(block.id) && (cells[column.id] ?? null) !== null;
    })
    .map(({ column }) => column.heading);
}
