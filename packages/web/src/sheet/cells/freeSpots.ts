import type { Lines } from '../lines';
import type { Box } from '../selection';

/** The most cells whose look is changed at once. */
export const MOST_STYLED = 5000;

/** Cells of one row outside of the records, by their columns from 0. */
export interface FreeSpots {
  /** The grid's row, from 1. */
  readonly row: number;
  readonly columns: readonly number[];
}

/** The cells outside of the records among those chosen, by row, each once; `null` for too many. */
export function freeSpotsIn(
  boxes: readonly Box[],
  { hasRecords, freeRows }: Lines,
): FreeSpots[] | null {
  const free = boxes.map((box) => ({
    ...box,
    bottom: hasRecords ? Math.min(box.bottom, freeRows - 1) : box.bottom,
  }));
  const cells = free.reduce(
    (sum, { top, bottom, left, right }) => sum + Math.max(0, bottom - top + 1) * (right - left + 1),
    0,
  );
  if (cells > MOST_STYLED) return null;
  const byRow = new Map<number, Set<number>>();
  for (const { top, bottom, left, right } of free) {
    for (let line = top; line <= bottom; line += 1) {
      const columns = byRow.get(line + 1) ?? new Set<number>();
      for (let column = left; column <= right; column += 1) columns.add(column);
      byRow.set(line + 1, columns);
    }
  }
  return [...byRow].map(([row, columns]) => ({ row, columns: [...columns] }));
}
