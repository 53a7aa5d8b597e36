import type { FormView } from '@varn/contract';
import {
  fromWire,
  isTyped,
  typedValue,
  type Answers,
  type CellValue,
  type Filling,
} from '@varn/core';
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

/** The last record of the form's sheet. */
export function lastRecord({ sheet, last }: FormView): OpenRecord | null {
  const record = last.records.at(-1);
  if (!record) return null;
  const cells = Object.fromEntries(
    sheet.columns.map((column, n) => [column.id, fromWire(record.cells[n] ?? null, column)]),
  );
  const row = sheet.headingRow + last.from + last.records.length;
  return { id: record.id, revision: record.revision, row, cells };
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
