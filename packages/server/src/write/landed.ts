import type { ChangeKind, Landed, RecordChangeKind } from '@varn/contract';
import { isTrial, toWire, type Cells, type CellValue } from '@varn/core';
import type { SheetFacts } from '../store/catalog';
import type { PastChange } from './recordStore';

/** How each kind of change moves the count of a sheet's records. */
const COUNT_CHANGE: Readonly<Record<RecordChangeKind, number>> = {
  recordAdded: 1,
  recordPutBack: 1,
  recordChanged: 0,
  recordMoved: 0,
  recordRemoved: -1,
};

export function isRecordKind(kind: ChangeKind): kind is RecordChangeKind {
  return kind in COUNT_CHANGE;
}

/** A line of the log as it is told to whoever wrote, and to everyone who looks on. */
export function landedOf(change: PastChange, sheet: SheetFacts): Landed | null {
  const { batch, seq, kind, sheetId, recordId, revision, gridRow, counted, before, after } = change;
  if (!isRecordKind(kind) || recordId === null || revision === null || counted === null)
    return null;
  const cells = kind === 'recordMoved' ? {} : ((after ?? before ?? {}) as Cells);
  return {
    writeId: batch,
    seq,
    kind,
    sheetId,
    recordId,
    revision,
    row: gridRow ?? 0,
    before: counted,
    after: counted + COUNT_CHANGE[kind],
    cells: wireCells(cells, sheet),
    ...(isTrial(cells) && { trial: true }),
  };
}

/** Values by column id as the API tells them; what is of no column is left out. */
export function wireCells(cells: Cells, { columnsById }: SheetFacts): Record<string, CellValue> {
  const wire: Record<string, CellValue> = {};
  for (const id of Object.keys(cells)) {
    const column = columnsById.get(id);
    if (column) wire[id] = toWire(cells[id] ?? null, column);
  }
  return wire;
}
