import { compareValues } from '../formula';
import { isErrorValue, type CellValue } from '../values';
import type { SheetModel } from '../sheet';
import type { Test } from './condition';

/** The order of a view: by one column, blanks and errors last whichever way. */
export interface ViewOrder {
  readonly columnId: string;
  readonly falling: boolean;
}

const rank = (value: CellValue): number => (value === null ? 2 : isErrorValue(value) ? 1 : 0);

/**
 * The positions of the records for which all tests hold, in an order of one's own or as they
 * stand. Records that are the same in that order stay as they stand.
 */
export function positionsOf(
  model: SheetModel,
  tests: readonly { readonly columnId: string; readonly test: Test }[],
  order: ViewOrder | null,
): Int32Array {
  const slots = model.slots();
  const readers = tests.map(({ columnId, test }) => ({ read: model.readerOf(columnId), test }));
  const found = new Int32Array(slots.length);
  let count = 0;
  for (let position = 0; position < slots.length; position += 1) {
    const slot = slots[position] ?? 0;
    if (readers.every(({ read, test }) => test(read(slot)))) {
      found[count] = position;
      count += 1;
    }
  }
  const positions = found.subarray(0, count);
  if (!order) return positions;
  const read = model.readerOf(order.columnId);
  const values = new Map<number, CellValue>();
  for (const position of positions) values.set(position, read(slots[position] ?? 0));
  return positions.sort((a, b) => {
    const left = values.get(a) ?? null;
    const right = values.get(b) ?? null;
    if (rank(left) !== 0 || rank(right) !== 0) return rank(left) - rank(right) || a - b;
    const compared = compareValues(left, right);
    return (order.falling ? -compared : compared) || a - b;
  });
}
