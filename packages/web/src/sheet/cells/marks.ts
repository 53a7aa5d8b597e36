import type { SheetLook } from '@varn/contract';
import {
  readCondition,
  type CellBack,
  type CellValue,
  type Column,
  type ReadingContext,
} from '@varn/core';

/** A mark that was read: what it is for, and how that is said. */
export interface ReadMark {
  readonly back: CellBack;
  /** `null` for values that break a rule. */
  readonly test: ((value: CellValue) => boolean) | null;
  readonly says: string;
}

/** The marks of a sheet by column; conditions that can't be read any more mark nothing. */
export function readMarks(
  held: SheetLook['marks'],
  columns: readonly Column[],
  context: ReadingContext,
): ReadonlyMap<string, readonly ReadMark[]> {
  const read = new Map<string, readonly ReadMark[]>();
  for (const column of columns) {
    const marks = (held?.[column.id] ?? []).flatMap(({ back, says }): ReadMark[] => {
      if (says === undefined) return [{ back, test: null, says: '' }];
      if (says.trim() === '') return [];
      const reading = readCondition(says, column, context);
      if (!reading.ok) return [];
      return [{ back, test: reading.test, says: `${column.heading} ${reading.says}.` }];
    });
    if (marks.length > 0) read.set(column.id, marks);
  }
  return read;
}
