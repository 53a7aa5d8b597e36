import {
  rowOfPosition,
  type Calculation,
  type CellValue,
  type SheetModel,
  type StoredFreeRows,
  type StoredRecord,
} from '@varn/core';
import type { LineStory } from '../log/line';
import type { Decision, RecordDecision, RowDecision, WriteSite } from './decision';

/** What the log tells of a decision. */
export function storyOf(
  decision: Decision,
  { model, rows }: Pick<WriteSite, 'model' | 'rows'>,
): LineStory {
  switch (decision.part) {
    case 'record': {
      const { part: _, record, ...change } = decision;
      const position = model.has(record.id)
        ? model.positionOf(record.id)
        : model.positionFor(record.orderKey);
      return {
        ...change,
        recordId: record.id,
        revision: record.revision,
        // Rows above may have come in the same write.
        gridRow: rowOfPosition({ headingRow: rows.count + 1 }, position),
        counted: model.count,
      };
    }
    case 'row': {
      const { part: _, row, ...change } = decision;
      return { ...change, rowId: row.id, revision: row.revision };
    }
    case 'sheet':
    case 'names': {
      const { kind, before, after } = decision;
      return { kind, before, after } as LineStory;
    }
  }
}

/** Brings a record into memory, and tells the formulas of it. */
export function applyRecord(
  decision: RecordDecision,
  model: SheetModel,
  calculation: Calculation | null,
  sheetId: string,
): void {
  const slot = putRecord(decision, model);
  const cameOrWent = decision.kind !== 'recordChanged';
  calculation?.touchRecord(sheetId, slot, changedColumns(decision), cameOrWent);
}

/** From so many records on that go, come back or move, their order is made anew once. */
const MANY = 20;

/** What became of a record, as memory needs to know it. */
export interface RecordPut {
  readonly kind: RecordDecision['kind'];
  readonly record: StoredRecord;
}

/** The same of some records of a large write. @param columns whose values any of them changes */
export function applyRecords(
  puts: readonly RecordPut[],
  columns: ReadonlySet<string>,
  model: SheetModel,
  calculation: Calculation | null,
  sheetId: string,
): void {
  const slots: number[] = [];
  const put = (): void => {
    for (const each of puts) slots.push(putRecord(each, model));
  };
  inFewOrders(puts, model, put);
  const cameOrWent = puts.some(({ kind }) => kind !== 'recordChanged');
  calculation?.touchRecords(sheetId, slots, columns, cameOrWent);
}

/** Records that go, come back or move each move all behind them: of many, the order is made once. */
export function inFewOrders(
  decisions: readonly { readonly kind: Decision['kind'] }[],
  model: SheetModel,
  work: () => void,
): void {
  if (decisions.filter(shiftsRecords).length < MANY) work();
  else model.inBatch(work);
}

/** The columns whose values a decision changes. */
export function changedColumns({ before, after, kind }: RecordDecision): string[] {
  if (kind === 'recordMoved') return Object.keys(before);
  const all = new Set([...Object.keys(before ?? {}), ...Object.keys(after ?? {})]);
  return [...all].filter((id) => !isSameValue(before?.[id], after?.[id]));
}

const isSameValue = (a: CellValue = null, b: CellValue = null): boolean =>
  a === b || (typeof a === 'object' && JSON.stringify(a) === JSON.stringify(b));

/** @returns the slot the record has, or had */
function putRecord({ kind, record }: RecordPut, model: SheetModel): number {
  const slotBefore = model.slotOf(record.id);
  if (kind === 'recordRemoved') model.remove(record.id);
  else if (kind === 'recordChanged') model.update(record);
  else if (kind === 'recordMoved') {
    model.remove(record.id);
    model.add(record);
  } else model.add(record);
  return model.slotOf(record.id) ?? slotBefore ?? -1;
}

export function applyRow(
  { kind, row, before }: RowDecision,
  rows: StoredFreeRows,
  calculation: Calculation | null,
  sheetId: string,
): void {
  if (kind === 'rowRemoved') rows.remove(row.id);
  else rows.put(row);
  if (kind !== 'rowChanged') return;
  const columns = new Set([...Object.keys(before), ...Object.keys(row.cells)]);
  calculation?.touchFreeRow(sheetId, row.id, columns);
}

const SHIFTING: ReadonlySet<Decision['kind']> = new Set([
  'recordRemoved',
  'recordPutBack',
  'recordMoved',
] as const);

const shiftsRecords = ({ kind }: { readonly kind: Decision['kind'] }): boolean =>
  SHIFTING.has(kind);

export function movesRows(decision: Decision): boolean {
  return decision.part === 'row' && decision.kind !== 'rowChanged';
}

/** Whether formulas are to be tied anew: cells stand elsewhere, or the first formula may be here. */
export function reshapes(decision: Decision, { calculation }: WriteSite): boolean {
  if (decision.part === 'sheet' || decision.part === 'names') return true;
  return decision.part === 'row' && (decision.kind !== 'rowChanged' || !calculation);
}
