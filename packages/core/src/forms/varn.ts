import { formatRunningNumber, PLAIN_PATTERN, type Column } from '../kinds';
import type { CellValue } from '../values';

/** What Varn fills in when the record is written. */
export interface WrittenFacts {
  readonly by: string;
  /** The serial of now in the workbook's zone. */
  readonly at: number;
  /** The form's name, or what else it comes through. */
  readonly door: string;
  /** Gives the next running number of a column; `null` for a trial record, which uses none up. */
  readonly nextNumber: ((columnId: string) => number) | null;
}

/** The cells of a new record that no one types: running numbers, written at, written by. */
export function filledByVarn(
  columns: Iterable<Column>,
  facts: WrittenFacts,
): Record<string, CellValue> {
  const cells: Record<string, CellValue> = {};
  for (const column of columns) {
    if (column.kind === 'writtenAt') cells[column.id] = facts.at;
    else if (column.kind === 'writtenBy') cells[column.id] = facts.by;
    else if (column.kind === 'door') cells[column.id] = facts.door;
    else if (column.kind === 'runningNumber' && facts.nextNumber) {
      const pattern = column.settings.pattern ?? PLAIN_PATTERN;
      cells[column.id] = formatRunningNumber(pattern, facts.nextNumber(column.id));
    }
  }
  return cells;
}
