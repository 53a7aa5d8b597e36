import type { CellBox, FiguresView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { useEffect, useState } from 'react';
import { request } from '../api/client';
import type { Lines } from './lines';
import { boxesOf, isOneCell, type Box, type Selection } from './selection';
import type { GridState } from './useSheetGrid';

/** How long a selection rests before its figures are asked for. */
const REST_MS = 120;

/** Count, sum, mean and extremes of the chosen cells; `null` where one cell is chosen. */
export function useFigures({
  sheet,
  lines,
  selection,
  viewParameter,
}: GridState): FiguresView | null {
  const boxes = isOneCell(selection) ? '' : JSON.stringify(cellBoxes(selection, lines));
  const asked = boxes === '' ? '' : `${sheet.id}|${viewParameter}|${boxes}`;
  const [held, setHeld] = useState<{ of: string; figures: FiguresView } | null>(null);
  useEffect(() => {
    if (asked === '') return;
    const asks = new AbortController();
    const { signal } = asks;
    const rest = setTimeout(() => {
      const body = {
        boxes: JSON.parse(boxes) as CellBox[],
        ...(viewParameter !== '' && { view: viewParameter }),
      };
      request<FiguresView>('POST', paths.figures(sheet.id), body, { signal }).then(
        (figures) => signal.aborted || setHeld({ of: asked, figures }),
        // Figures come again with the next selection; nothing was to be written.
        () => undefined,
      );
    }, REST_MS);
    return () => {
      asks.abort();
      clearTimeout(rest);
    };
  }, [asked, boxes, sheet.id, viewParameter]);
  return asked !== '' && held?.of === asked ? held.figures : null;
}

/** The chosen cells as the API takes them: rows outside of the records apart from records. */
export function cellBoxes(
  selection: Selection,
  { freeRows, hasRecords, records }: Lines,
): CellBox[] {
  return boxesOf(selection).flatMap(({ top, bottom, left, right }: Box): CellBox[] => {
    const columns = { left, right: right + 1 };
    const free = { part: 'free', from: top + 1, to: Math.min(bottom + 1, freeRows) + 1 } as const;
    const from = Math.max(0, top - freeRows - 1);
    const to = Math.min(records, bottom - freeRows);
    const held = { part: 'records', from, to } as const;
    return [
      ...(free.to > free.from ? [{ ...free, ...columns }] : []),
      ...(hasRecords && held.to > held.from ? [{ ...held, ...columns }] : []),
    ];
  });
}
