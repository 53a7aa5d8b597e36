import type { Cells } from '@varn/core';
import type { ChangeLog } from './changeLog';
import { isRecordLine, type Line } from './line';

/** A record that came with its sheet, as with a file: the write it came by, and its cells then. */
export interface Arrival {
  readonly line: Line;
  readonly cells: Cells;
}

/**
 * How a record came with its sheet. Such a record has no line of its own in the log: what it came
 * with is what its first change found, or what is stored still.
 *
 * @param stored its cells as they are stored; nothing where it is not in the sheet
 * @returns `null` where it was entered into a sheet that was there
 */
export async function arrivalOf(
  log: ChangeLog,
  { sheetId, recordId }: { readonly sheetId: string; readonly recordId: string },
  stored: Cells | undefined,
): Promise<Arrival | null> {
  const [first, line] = await Promise.all([log.firstOfRecord(recordId), log.sheetAdded(sheetId)]);
  if (!line || (first && (first.sheetId !== sheetId || !isRecordLine(first)))) return null;
  if (!first) return stored ? { line, cells: stored } : null;
  const { before, kind } = first;
  return kind === 'recordMoved' || before === null ? null : { line, cells: before };
}
