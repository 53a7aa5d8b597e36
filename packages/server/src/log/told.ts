import type { ChangeEvent, Landed } from '@varn/contract';
import { isTrial, toWire, type Cells, type CellValue, type RecordChangeKind } from '@varn/core';
import type { SheetFacts } from '../store/catalog';
import { isRecordLine, type Line, type RecordLine } from './line';

/** How each kind of change moves the count of a sheet's records. */
const COUNT_CHANGE: Readonly<Record<RecordChangeKind, number>> = {
  recordAdded: 1,
  recordPutBack: 1,
  recordChanged: 0,
  recordMoved: 0,
  recordRemoved: -1,
};

/** A record's line as it is told to whoever wrote; `null` for a line of anything else. */
export function landedOf(line: Line, sheet: SheetFacts): Landed | null {
  if (!isRecordLine(line)) return null;
  const { batch, seq, kind, sheetId, recordId, revision, gridRow, counted } = line;
  const cells = cellsOf(line);
  return {
    writeId: batch,
    seq,
    kind,
    sheetId,
    recordId,
    revision,
    row: gridRow,
    before: counted,
    after: counted + COUNT_CHANGE[kind],
    cells: wireCells(cells, sheet),
    ...(isTrial(cells) && { trial: true }),
  };
}

/** A line of the log as everyone who looks on is told of it. @param by the writer's name */
export function eventOf(line: Line, by: string, sheet: SheetFacts): ChangeEvent {
  const { seq, kind, sheetId, batch, accountId } = line;
  const landed = landedOf(line, sheet);
  return {
    seq,
    kind,
    sheetId,
    writeId: batch,
    by,
    personId: accountId,
    ...(landed && { landed }),
  };
}

/** A record's cells after the change, or those it had when it went; a move tells none. */
function cellsOf(line: RecordLine): Cells {
  if (line.kind === 'recordMoved') return {};
  return line.kind === 'recordRemoved' ? line.before : line.after;
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
