import { kindOf } from '@varn/core';
import {
  useId,
  useLayoutEffect,
  useMemo,
  useRef,
  useState,
  type ClipboardEvent,
  type KeyboardEvent,
  type MouseEvent,
} from 'react';
import { useRecent } from '../../api/recent';
import { columnsBetween } from '../columnWidths';
import { rowKey } from '../cells/plan';
import { layoutColumns, measured } from '../columnLayout';
import type { FormulaHelp } from '../formula/useFormulaHelp';
import { outlinesOf, type Outline } from '../formula/ranges';
import { lineAt, lineCount } from '../lines';
import { ROW_PX, rowHeight, rowsInView, rowsKept } from '../scroll';
import { activeOf, boxesOf, chosenOn, type Spot } from '../selection';
import { showTotal, widenForTotals } from '../totals';
import type { SheetGrid } from '../useSheetGrid';
import { useFreeRows, useRecords, type FreeWindow, type RecordWindow } from '../useRows';
import type { Mark } from '../useCells';
import { CellEditor } from './CellEditor';
import {
  geometryOf,
  HEADING_PX,
  LETTERS_PX,
  lineTop,
  scrollToLine,
  type Geometry,
  type Seen,
} from './geometry';
import './grid.css';
import { Headings } from './Headings';
import { gridKey } from './keys';
import { cellId, DraftLine, FreeRow, Letters, RecordRow, TotalsRow, type RowProps } from './rows';

/** Rows kept ready beyond those in view, so that a quick scroll meets no gap. */
const SPARE_ROWS = 8;
/** How many of the first records column widths are measured by. */
const MEASURED = 100;

/**
 * A sheet as a grid (ARIA's grid pattern, the active cell by `aria-activedescendant`). Only what
 * is in view is on the page; rows are placed by plain arithmetic.
 */
export function Grid({ grid }: { grid: SheetGrid }) {
  const { sheet, locale, lines, view, selection, cells, draft, editing } = grid;
  const scroller = useRef<HTMLDivElement>(null);
  const ids = useId();
  const [seen, setSeen] = useState<Seen>({ top: 0, left: 0, height: 600, width: 1000 });
  const [help, setHelp] = useState<FormulaHelp | null>(null);
  const recent = useRecent();
  useFrameScroll(scroller, setSeen);

  const rowPx = rowHeight(sheet.look.rowLines ?? 1);
  const hasTotals = sheet.hasRecords && Object.keys(sheet.look.totals ?? {}).length > 0;
  const geometry = geometryOf(lines, seen, rowPx, hasTotals ? ROW_PX : 0);
  const { body, bodyRows, scrolled, viewport, freePx } = geometry;
  const [firstBody, endBody] = rowsInView(body, scrolled, viewport, bodyRows, SPARE_ROWS);
  const records = useRecords(sheet.id, firstBody, grid.viewParameter);
  const firstFree = Math.max(0, Math.floor(seen.top / rowPx) - SPARE_ROWS);
  const endFree = Math.min(
    lines.freeRows,
    Math.ceil((seen.top + seen.height) / rowPx) + SPARE_ROWS,
  );
  const free = useFreeRows(sheet.id, firstFree);
  const { show, takesFocus } = grid;
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
  const active = activeOf(selection);
  const moving = selection.last.to;
  const boxes = boxesOf(selection);
  const marks = useMarksByRow(cells.marks);

  // The cell that moves is kept in view, whoever moved it.
  useLayoutEffect(() => {
    const element = scroller.current;
    if (!element || selection.still) return;
    const top = scrollToLine(geometry, lines, moving.line, element.scrollTop);
    if (top !== null) element.scrollTop = top;
    const left = layout.offsets[moving.column] ?? 0;
    const right = layout.offsets[moving.column + 1] ?? left;
    const stays = moving.column < layout.frozen;
    if (!stays && left - layout.frozenPx < element.scrollLeft) {
      element.scrollLeft = left - layout.frozenPx;
    } else if (!stays && right + layout.numberPx > element.scrollLeft + element.clientWidth) {
      element.scrollLeft = right + layout.numberPx - element.clientWidth;
    }
    // Not when only the scroll position changed: one may look elsewhere.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [moving.line, moving.column, selection, seen.height, seen.width]);

  useLayoutEffect(() => {
    if (takesFocus()) scroller.current?.focus({ preventScroll: true });
  });

  const page = Math.max(1, Math.floor(viewport / rowPx) - 1);
  const onKeyDown = (event: KeyboardEvent): void => {
    // A key on its way to the menu, before that has the focus, is none of the grid's.
    if (event.target !== scroller.current || grid.menu !== null) return;
    if (gridKey(event, grid, page)) event.preventDefault();
  };

  const common = (line: number, top: number, gridRow: number): RowProps => ({
    ids,
    line,
    gridRow,
    top,
    height: rowPx,
    layout,
    firstColumn,
    endColumn,
    locale,
    activeColumn: active.line === line ? active.column : -1,
    chosen: chosenOn(boxes, line),
  });

  // A row that leaves the view lends its elements to the one that enters: as many keys as rows.
  const kept = rowsKept(seen.height, SPARE_ROWS, rowPx) + 1;
  const freeRows = [];
  for (let line = firstFree; line < endFree; line += 1) {
    freeRows.push(
      <FreeRow
        key={line % kept}
        {...common(line, line * rowPx, line + 1)}
        row={free.at(line + 1)}
        columns={sheet.columns}
        marks={marks.get(rowKey(free.at(line + 1), line + 1))}
      />,
    );
  }
  const bodyLines = [];
  for (let position = firstBody; position < endBody; position += 1) {
    const line = lines.freeRows + 1 + position;
    const top = lineTop(geometry, lines, line);
    if (position >= lines.records) {
      bodyLines.push(
        <DraftLine
          key="draft"
          {...common(line, top, sheet.headingRow + 1 + position)}
          columns={sheet.columns}
          answers={draft.draft.answers}
          verdicts={draft.draft.verdicts}
          begun={draft.begun}
        />,
      );
      continue;
    }
    const record = records.at(position);
    const gridRow = records.gridRowAt(position) ?? sheet.headingRow + 1 + position;
    bodyLines.push(
      <RecordRow
        key={position % kept}
        {...common(line, top, gridRow)}
        record={record}
        marks={record && marks.get(record.id)}
        columns={sheet.columns}
        recent={record !== undefined && recent.has(record.id)}
      />,
    );
  }

  const outlines = editing && help ? outlinesOf(help.references, sheet, lines) : [];
  const headingLine = lines.freeRows;

  const computing = records.computing || free.computing;
  return (
    <div className={computing ? 'grid-place computing' : 'grid-place'}>
      <div
        ref={scroller}
        className="grid"
        role="grid"
        aria-label={`Sheet ${sheet.name}`}
        aria-rowcount={lineCount(lines)}
        aria-colcount={layout.count}
        aria-multiselectable
        aria-readonly={!grid.mayEditRecords || undefined}
        aria-activedescendant={cellId(ids, active.line, active.column)}
        tabIndex={0}
        onKeyDown={onKeyDown}
        onMouseDown={(event) => grid.mouseDown(event, spotAt(event))}
        onMouseMove={(event) => {
          if (event.buttons !== 1) return;
          const spot = spotAt(event);
          if (spot) grid.drawTo(spot);
        }}
        onMouseUp={() => grid.mouseUp()}
        onDoubleClick={(event) => {
          const spot = spotAt(event);
          if (spot && spot.line >= 0 && spot.column >= 0) grid.edit(spot);
        }}
        onContextMenu={(event) => {
          event.preventDefault();
          const spot = spotAt(event);
          grid.openMenu(
            pointOf(event, document.getElementById(cellId(ids, active.line, active.column))),
            spot,
          );
        }}
        onCopy={(event) => copying(event, grid)}
        onCut={(event) => copying(event, grid)}
        onPaste={(event) => {
          // It is aimed at wherever the browser's own selection is, which may be in any cell.
          event.preventDefault();
          const { clipboardData } = event;
          grid.paste(clipboardData.getData('text/html'), clipboardData.getData('text/plain'));
        }}
      >
        <Letters
          layout={layout}
          firstColumn={firstColumn}
          endColumn={endColumn}
          onResize={grid.mayShape ? (index, width) => grid.resize(index, width) : undefined}
        />
        {(freePx > 0 || !sheet.hasRecords) && (
          <div
            className={sheet.hasRecords ? 'grid-top' : 'grid-body'}
            role="rowgroup"
            style={{ width: layout.width, height: freePx }}
          >
            {freeRows}
            <Outlines
              outlines={outlines}
              grid={grid}
              geometry={geometry}
              layout={layout}
              part="free"
            />
            {editing && lineAt(lines, editing.spot.line).is === 'free' && (
              <Editor
                grid={grid}
                geometry={geometry}
                seen={seen}
                layout={layout}
                onHelp={setHelp}
              />
            )}
          </div>
        )}
        {sheet.hasRecords && (
          <Headings
            ids={ids}
            sheet={sheet}
            line={headingLine}
            layout={layout}
            firstColumn={firstColumn}
            endColumn={endColumn}
            activeColumn={active.line === headingLine ? active.column : -1}
            chosen={chosenOn(boxes, headingLine)}
            view={view}
          />
        )}
        {sheet.hasRecords && (
          <div
            className="grid-body"
            role="rowgroup"
            style={{
              height: body.height,
              width: layout.width,
              minHeight: Math.max(
                0,
                seen.height - freePx - LETTERS_PX - HEADING_PX - (hasTotals ? ROW_PX : 0),
              ),
            }}
          >
            {bodyLines}
            <Outlines
              outlines={outlines}
              grid={grid}
              geometry={geometry}
              layout={layout}
              part="records"
            />
            {editing && lineAt(lines, editing.spot.line).is !== 'free' && (
              <Editor
                grid={grid}
                geometry={geometry}
                seen={seen}
                layout={layout}
                onHelp={setHelp}
              />
            )}
          </div>
        )}
        {hasTotals && (
          <TotalsRow
            layout={layout}
            firstColumn={firstColumn}
            endColumn={endColumn}
            label={
              grid.viewParameter === ''
                ? 'Totals over all records'
                : 'Totals over the records found'
            }
            totals={totals}
          />
        )}
      </div>
      <div className="grid-computing" role="status">
        {computing && 'Computing…'}
      </div>
    </div>
  );
}

/** Marks by the row they are in, and in it by column. */
function useMarksByRow(
  marks: ReadonlyMap<string, Mark>,
): ReadonlyMap<string, ReadonlyMap<string, Mark>> {
  return useMemo(() => {
    const byRow = new Map<string, Map<string, Mark>>();
    for (const [key, mark] of marks) {
      const [row = '', column = ''] = key.split('|');
      const inRow = byRow.get(row) ?? new Map<string, Mark>();
      byRow.set(row, inRow.set(column, mark));
    }
    return byRow;
  }, [marks]);
}

/** Column widths from the first rows that came; they stay as they were when more come. */
function useWidths(
  { sheet, locale }: SheetGrid,
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

type Layout = ReturnType<typeof layoutColumns>;

function Editor({
  grid,
  geometry,
  seen,
  layout,
  onHelp,
}: {
  grid: SheetGrid;
  geometry: Geometry;
  seen: Seen;
  layout: Layout;
  onHelp: (help: FormulaHelp | null) => void;
}) {
  const { editing, sheet, lines, locale } = grid;
  if (!editing) return null;
  const { spot, text, caret, placed } = editing;
  const left = layout.offsets[spot.column] ?? 0;
  const isFree = lineAt(lines, spot.line).is === 'free';
  const column = isFree ? undefined : sheet.columns[spot.column];
  return (
    <CellEditor
      key={`${spot.line}:${spot.column}`}
      sheetId={sheet.id}
      locale={locale}
      label={`${column?.heading ?? 'Cell'} ${grid.addressOf(spot)}`}
      place={{
        left: layout.numberPx + left,
        top: lineTop(geometry, lines, spot.line),
        width: (layout.offsets[spot.column + 1] ?? left) - left,
        height: geometry.rowPx,
      }}
      text={text}
      caret={caret}
      placed={placed}
      onType={grid.type}
      column={column && kindOf(column).filledBy === 'people' ? column : undefined}
      isFree={isFree}
      above={isLow(grid, geometry, seen)}
      onHelp={onHelp}
      onDone={grid.done}
      onCancel={grid.cancel}
    />
  );
}

/** Whether the cell that is typed into stands so low that help is better above it. */
function isLow({ editing, lines }: SheetGrid, geometry: Geometry, seen: Seen): boolean {
  if (!editing) return false;
  const { line } = editing.spot;
  const top = lineTop(geometry, lines, line);
  const inBody = line > lines.freeRows ? geometry.freePx + HEADING_PX : 0;
  return top + inBody - seen.top > seen.height * 0.55;
}

/** The ranges of the formula that is being typed, each by an outline and its letter. */
function Outlines({
  outlines,
  grid: { lines },
  geometry,
  layout,
  part,
}: {
  outlines: readonly Outline[];
  grid: SheetGrid;
  geometry: Geometry;
  layout: Layout;
  part: 'free' | 'records';
}) {
  const [first, last] =
    part === 'free' ? [0, lines.freeRows - 1] : [lines.freeRows + 1, lineCount(lines) - 1];
  return outlines.map(({ box, letter, tone }) => {
    const top = Math.max(box.top, first);
    const bottom = Math.min(box.bottom, last);
    if (top > bottom || box.left >= layout.count) return null;
    const left = layout.offsets[box.left] ?? 0;
    const right = layout.offsets[Math.min(box.right, layout.count - 1) + 1] ?? left;
    const upper = lineTop(geometry, lines, top);
    return (
      <div
        key={letter}
        className={`grid-outline tone-${tone}`}
        aria-hidden
        style={{
          left: layout.numberPx + left,
          width: right - left,
          top: upper,
          height: lineTop(geometry, lines, bottom) + geometry.rowPx - upper,
        }}
      >
        <span className={`range-letter tone-${tone}`}>{letter}</span>
      </div>
    );
  });
}

/** The cell, row number (column -1) or column letter (line -1) under the pointer. */
function spotAt(event: MouseEvent): Spot | null {
  const target = event.target as HTMLElement;
  const cell = target.closest<HTMLElement>('[data-line]');
  if (cell) return { line: Number(cell.dataset['line']), column: Number(cell.dataset['column']) };
  const number = target.closest<HTMLElement>('[data-row-number]');
  if (number) return { line: Number(number.dataset['rowNumber']), column: -1 };
  const letter = target.closest<HTMLElement>('[data-letter]');
  return letter ? { line: -1, column: Number(letter.dataset['letter']) } : null;
}

/** Where a menu opens: at the pointer, or by keyboard under the active cell. */
function pointOf(event: MouseEvent, cell: HTMLElement | null): { x: number; y: number } {
  // A key has no pointer: the browser tells the place of the whole grid then.
  const byKey = event.nativeEvent instanceof PointerEvent && event.nativeEvent.pointerType === '';
  if (!byKey && event.button === 2) return { x: event.clientX, y: event.clientY };
  const { left = event.clientX, bottom = event.clientY } = cell?.getBoundingClientRect() ?? {};
  return { x: left, y: bottom };
}

function copying(event: ClipboardEvent, grid: SheetGrid): void {
  if (event.target instanceof HTMLTextAreaElement) return;
  event.preventDefault();
  grid.copy(event.clipboardData);
  if (event.type === 'cut') grid.clear();
}

/** Follows scrolling and size, once per frame; the state changes only when they do. */
function useFrameScroll(
  scroller: React.RefObject<HTMLDivElement | null>,
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
