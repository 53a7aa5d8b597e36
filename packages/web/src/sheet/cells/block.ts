import type { FreeRowView, RecordView, SheetView } from '@varn/contract';
import type { LocaleFacts } from '@varn/core';
import { lineAt, type Lines } from '../lines';
import type { Box } from '../selection';
import type { CopiedCell } from './clipboard';
import { freeValueText, recordText } from './faces';
import type { Looked } from './plan';

/** The cells of a box as they are copied; `null` where some are not at hand. */
export function blockOf(
  box: Box,
  lines: Lines,
  sheet: Pick<SheetView, 'columns'>,
  held: Looked<RecordView, FreeRowView>,
  locale: LocaleFacts,
  freeCount: number,
): CopiedCell[][] | null {
  const block: CopiedCell[][] = [];
  for (let line = box.top; line <= box.bottom; line += 1) {
    const what = lineAt(lines, line);
    const cells: CopiedCell[] = [];
    const record = what.is === 'record' ? held.record(what.position) : undefined;
    const row = what.is === 'free' ? held.row(what.row) : undefined;
    if (what.is === 'record' && !record) return null;
    if (what.is === 'free' && !row && what.row <= freeCount) return null;
    for (let index = box.left; index <= box.right; index += 1) {
      const column = sheet.columns[index];
      if (what.is === 'free') {
        const cell = row?.cells[index] ?? null;
        const formula = cell?.formula;
        cells.push({ text: freeValueText(cell, locale), ...(formula && { formula }) });
      } else if (what.is === 'heading') cells.push({ text: column?.heading ?? '' });
      else if (!record || !column) cells.push({ text: '' });
      else cells.push({ text: recordText(record.cells[index] ?? null, column, locale) });
    }
    block.push(cells);
  }
  return block;
}
