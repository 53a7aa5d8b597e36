import { useLayoutEffect, useMemo, useRef, useState, type RefObject } from 'react';
import { layoutColumns, measured } from '../columnLayout';
import { columnsBetween } from '../columnWidths';
import { ROW_PX, rowHeight, rowsInView } from '../scroll';
import { showTotal, widenForTotals } from '../totals';
import type { GridReading } from '../useSheetGrid';
import { useFreeRows, useRecords, type FreeWindow, type RecordWindow } from '../useRows';
import { geometryOf, scrollToLine, type Geometry, type Seen } from './geometry';

/** Rows kept ready beyond those in view, so that a quick scroll meets no gap. */
export const SPARE_ROWS = 8;
/** How many of the first records column widths are measured by. */
const MEASURED = 100;

export type Layout = ReturnType<typeof layoutColumns>;

/** The part of a sheet that is in view: which rows and columns, where they stand, what they hold. */
export interface GridView {
  readonly scroller: RefObject<HTMLDivElement | null>;
  readonly seen: Seen;
  readonly rowPx: number;
  readonly geometry: Geometry;
  /** The rows to be drawn, from the first to before the last. */
  readonly freeLines: readonly [number, number];
  readonly bodyLines: readonly [number, number];
  readonly records: RecordWindow;
  readonly free: FreeWindow;
  readonly layout: Layout;
  readonly firstColumn: number;
  readonly endColumn: number;
  readonly totals: readonly (ReturnType<typeof showTotal> | null)[];
  readonly hasTotals: boolean;
}

export function useGridView(grid: GridReading): GridView {
  const { sheet, locale, lines } = grid;
  const scroller = useRef<HTMLDivElement>(null);
  const [seen, setSeen] = useState<Seen>({ top: 0, left: 0, height: 600, width: 1000 });
  useFrameScroll(scroller, setSeen);
  const rowPx = rowHeight(sheet.look.rowLines ?? 1);
  const hasTotals = sheet.hasRecords && Object.keys(sheet.look.totals ?? {}).length > 0;
  const geometry = geometryOf(lines, seen, rowPx, hasTotals ? ROW_PX : 0);
  const { body, bodyRows, scrolled, viewport } = geometry;
  const [firstBody, endBody] = rowsInView(body, scrolled, viewport, bodyRows, SPARE_ROWS);
  const records = useRecords(sheet.id, firstBody, grid.viewParameter);
  const firstFree = Math.max(0, Math.floor(seen.top / rowPx) - SPARE_ROWS);
  const endFree = Math.min(
    lines.freeRows,
    Math.ceil((seen.top + seen.height) / rowPx) + SPARE_ROWS,
  );
  const free = useFreeRows(sheet.id, firstFree);
  const { show } = grid;
  useLayoutEffect(() => show({ records, free }));

  const totals = useMemo(
    () =>
      sheet.columns.map((column) => {
        const total = sheet.look.totals?.[column.id];
        return total ? showTotal(records.totals?.[column.id] ?? null, total, column, locale) : null;
      }),
    [sheet, records.totals, locale],
  );
  const widths = useWidths(grid, records, free);
  const lastRow = Math.max(sheet.headingRow + sheet.count, lines.freeRows, 99);
  const layout = useMemo(
    () => layoutColumns(sheet, widenForTotals(widths, totals), lastRow, seen.width),
    [sheet, widths, totals, lastRow, seen.width],
  );
  const [firstColumn, endColumn] = columnsBetween(
    layout.offsets,
    seen.left + layout.frozenPx,
    seen.left + seen.width,
  );

  // The cell that moves is kept in view, whoever moved it.
  const { selection } = grid;
  const moving = selection.last.to;
  useLayoutEffect(() => {
    const element = scroller.current;
    if (!element || selection.still) return;
    const { scrollTop, scrollLeft, clientWidth } = element;
    const top = scrollToLine(geometry, lines, moving.line, scrollTop);
    if (selection.top) element.scrollTop = 0;
    else if (top !== null) element.scrollTop = top;
    const now = { ...seen, left: scrollLeft, width: clientWidth };
    const left = scrollToColumn(moving.column, layout, now);
    if (left !== null) element.scrollLeft = left;
    // Not when only the scroll position changed: one may look elsewhere.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [moving.line, moving.column, selection, seen.height, seen.width]);
  // Sorted or narrowed anew, it is shown from its top.
  const { viewParameter } = grid;
  const shownView = useRef(viewParameter);
  useLayoutEffect(() => {
    if (shownView.current === viewParameter) return;
    shownView.current = viewParameter;
    if (scroller.current) scroller.current.scrollTop = 0;
  }, [viewParameter, scroller]);
  return {
    scroller,
    seen,
    rowPx,
    geometry,
    freeLines: [firstFree, endFree],
    bodyLines: [firstBody, endBody],
    records,
    free,
    layout,
    firstColumn,
    endColumn,
    totals,
    hasTotals,
  };
}

/** How far the columns are scrolled to have one of them in view; `null` where it is. */
function scrollToColumn(column: number, layout: Layout, { left, width }: Seen): number | null {
  const { offsets, frozen, frozenPx, numberPx } = layout;
  const start = offsets[column] ?? 0;
  const end = offsets[column + 1] ?? start;
  if (column < frozen) return null;
  if (start - frozenPx < left) return start - frozenPx;
  return end + numberPx > left + width ? end + numberPx - width : null;
}

/** Column widths from the first rows that came; they stay as they were when more come. */
function useWidths(
  { sheet, locale }: GridReading,
  records: RecordWindow,
  free: FreeWindow,
): readonly number[] {
  const { columns, looseColumns, hasRecords, count } = sheet;
  const of = hasRecords ? columns : looseColumns.length;
  const [held, setHeld] = useState<{ of: unknown; widths: number[] } | null>(null);
  const unmeasured = useMemo(() => measured(sheet, [], [], locale), [sheet, locale]);
  if (held?.of === of) return held.widths;
  const isRead = (hasRecords ? (records.at(0) ?? count === 0) : true) && free.count !== undefined;
  // What is being computed may become longer.
  const isWhole = !records.computing && !free.computing;
  if (isRead && isWhole) {
    const places = Array.from({ length: MEASURED }, (_, n) => n);
    const cells = places.map((n) => records.at(n)?.cells ?? []);
    const rows = places.flatMap((n) => free.at(n + 1) ?? []);
    setHeld({ of, widths: measured(sheet, cells, rows, locale) });
  }
  return held?.widths ?? unmeasured;
}

/** Follows scrolling and size, once per frame; the state changes only when they do. */
function useFrameScroll(
  scroller: RefObject<HTMLDivElement | null>,
  setSeen: (seen: Seen) => void,
): void {
  useLayoutEffect(() => {
    const element = scroller.current;
    if (!element) return;
    let frame = 0;
    const read = (): void => {
      frame = 0;
      const {
        scrollTop: top,
        scrollLeft: left,
        clientHeight: height,
        clientWidth: width,
      } = element;
      setSeen({ top, left, height, width });
    };
    const ask = (): void => {
      frame ||= requestAnimationFrame(read);
    };
    read();
    element.addEventListener('scroll', ask, { passive: true });
    const observer = new ResizeObserver(ask);
    observer.observe(element);
    return () => {
      element.removeEventListener('scroll', ask);
      observer.disconnect();
      cancelAnimationFrame(frame);
    };
  }, [scroller, setSeen]);
}
