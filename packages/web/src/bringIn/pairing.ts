import type { SheetView, UploadView } from '@varn/contract';
import { isTyped } from '@varn/core';

/** The column of the sheet that each column of the file goes into; absent or blank, it is left out. */
export type Pairs = Readonly<Record<number, string>>;

const folded = (heading: string): string =>
  heading
    .normalize('NFKD')
    .replace(/[^\p{L}\p{N}]+/gu, '')
    .toLowerCase();

/** Pairs columns that are called alike, whatever their case, accents and signs; each once. */
export function pairedByHeading(
  { columns }: Pick<UploadView, 'columns'>,
  sheet: Pick<SheetView, 'columns'>,
): Pairs {
  const free = new Map(
    sheet.columns
      .filter((column) => isTyped(column) && column.kind !== 'file')
      .map(({ id, heading }) => [folded(heading), id]),
  );
  const pairs: Record<number, string> = {};
  for (const { index, heading } of columns) {
    const name = folded(heading);
    const id = free.get(name);
    if (id === undefined) continue;
    pairs[index] = id;
    free.delete(name);
  }
  return pairs;
}
