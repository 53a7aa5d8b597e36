import type { FreeRowView, SheetView } from '@varn/contract';
import type { CellValue, LocaleFacts } from '@varn/core';
import { freeFace } from './cells/faces';
import { columnWidths, offsetsOf, widthOf } from './columnWidths';

/** Columns without a heading, to type into beside what there is in a sheet without records. */
const BLANK_COLUMNS = 6;
const LEAST_FREE_COLUMNS = 12;
export const FREE_COLUMN_PX = 104;

/** Where the columns of a grid stand. */
export interface ColumnLayout {
  readonly count: number;
  readonly offsets: readonly number[];
  /** Columns that stay while the others scroll, and the width they take. */
  readonly frozen: number;
  readonly frozenPx: number;
  /** The width of the row numbers. */
  readonly numberPx: number;
  /** Of everything. */
  readonly width: number;
}

export function columnCount({ columns, looseColumns, hasRecords }: SheetView): number {
  const held = columns.length + looseColumns.length;
  return hasRecords ? held : Math.max(LEAST_FREE_COLUMNS, held + BLANK_COLUMNS);
}

/**
 * @param rows values of records, to measure columns by
 * @param lastRow the highest row number to be shown
 * @param viewPx how wide the grid is seen: frozen columns never take more than half of it
 */
export function layoutColumns(
  sheet: SheetView,
  widths: readonly number[],
  lastRow: number,
  viewPx: number,
): ColumnLayout {
  const { columns, look } = sheet;
  const count = columnCount(sheet);
  const all = Array.from({ length: count }, (_, index) => {
    const id = columns[index]?.id ?? sheet.looseColumns[index - columns.length];
    return (id === undefined ? undefined : look.widths?.[id]) ?? widths[index] ?? FREE_COLUMN_PX;
  });
  const offsets = offsetsOf(all);
  const numberPx = 26 + String(lastRow).length * 8;
  let frozen = Math.min(look.frozenColumns ?? 0, count);
  while (frozen > 0 && numberPx + (offsets[frozen] ?? 0) > viewPx / 2) frozen -= 1;
  return {
    count,
    offsets,
    frozen,
    frozenPx: offsets[frozen] ?? 0,
    numberPx,
    width: numberPx + (offsets[count] ?? 0),
  };
}

/** How wide columns stand: by the values of records, and by texts outside of them that can't run on. */
export function measured(
  sheet: SheetView,
  records: readonly (readonly CellValue[])[],
  rows: readonly FreeRowView[],
  locale: LocaleFacts,
): number[] {
  const held = columnWidths(sheet.columns, records, locale);
  const places = [...sheet.columns.map(({ id }) => id), ...sheet.looseColumns];
  return places.map((_, index) => {
    const lengths = rows.map(({ cells }) => {
      const cell = cells[index] ?? null;
      const runsOn = typeof cell?.value === 'string' && !cells[index + 1];
      return runsOn ? 0 : freeFace(cell, locale).text.length;
    });
    return widthOf(Math.max(0, ...lengths), held[index] ?? FREE_COLUMN_PX);
  });
}
