import type { RecordView, SheetView } from '@varn/contract';
import {
  columnLetters,
  fromWire,
  isOfKind,
  kindOf,
  rowOfPosition,
  showValue,
  type Column,
  type LocaleFacts,
} from '@varn/core';
import { memo, useLayoutEffect, useMemo, useRef, useState, type KeyboardEvent } from 'react';
import { useRecent } from '../api/recent';
import { KindGlyph } from '../ui/KindGlyph';
import { columnsBetween, columnWidths, fitText, offsetsOf } from './columnWidths';
import './grid.css';
import { ROW_PX, rowsInView, rowsKept, rowTop, scrollOf, scrollToRow } from './scroll';
import { useRows } from './useRows';

/** Rows kept ready beyond those in view, so that a quick scroll meets no gap. */
const SPARE_ROWS = 8;
/** The sticky head: column letters and headings. */
const HEAD_PX = 48;

/** A cell cut to its column is read out whole, but not for ever. */
const LONGEST_READ = 1000;

interface GridProps {
  readonly sheet: SheetView;
  readonly locale: LocaleFacts;
  readonly active: ActiveCell;
  readonly onActive: (active: ActiveCell) => void;
}

/** The active cell: its record's position and its column's, from 0. */
export interface ActiveCell {
  readonly row: number;
  readonly column: number;
}

interface View {
  readonly top: number;
  readonly left: number;
  readonly height: number;
  readonly width: number;
}

/**
 * A sheet as a grid (ARIA's grid pattern, the active cell by `aria-activedescendant`). Only what
 * is in view is on the page; rows are placed by plain arithmetic.
 */
export function Grid({ sheet, locale, active, onActive }: GridProps) {
  const scroller = useRef<HTMLDivElement>(null);
  const [view, setView] = useState<View>({ top: 0, left: 0, height: 600, width: 1000 });
  const recent = useRecent();

  useFrameScroll(scroller, setView);

  const topRows = sheet.topMatter.length;
  const bodyTop = HEAD_PX + topRows * ROW_PX;
  const viewport = Math.max(ROW_PX, view.height - HEAD_PX);
  const scroll = scrollOf(sheet.count, viewport);
  const scrolled = Math.max(0, view.top - topRows * ROW_PX);
  const [firstRow, endRow] = rowsInView(scroll, scrolled, viewport, sheet.count, SPARE_ROWS);
  const recordAt = useRows(sheet.id, firstRow);

  const numberWidth = 26 + String(rowOfPosition(sheet, sheet.count)).length * 8;
  const widths = useWidths(sheet, locale, recordAt);
  const offsets = useMemo(() => offsetsOf(widths), [widths]);
  const [firstColumn, endColumn] = columnsBetween(offsets, view.left, view.left + view.width);
  const width = numberWidth + (offsets.at(-1) ?? 0);

  const moveTo = (row: number, column: number): void => {
    const next = {
      row: Math.min(Math.max(0, row), Math.max(0, sheet.count - 1)),
      column: Math.min(Math.max(0, column), sheet.columns.length - 1),
    };
    onActive(next);
    const element = scroller.current;
    if (!element) return;
    const to = scrollToRow(scroll, next.row, scrolled, viewport);
    if (to !== null) element.scrollTop = to + (to > 0 ? topRows * ROW_PX : 0);
    const left = offsets[next.column] ?? 0;
    const right = offsets[next.column + 1] ?? left;
    if (left < element.scrollLeft) element.scrollLeft = left;
    else if (right + numberWidth > element.scrollLeft + view.width) {
      element.scrollLeft = right + numberWidth - view.width;
    }
  };

  const onKeyDown = (event: KeyboardEvent): void => {
    const page = Math.max(1, Math.floor(viewport / ROW_PX) - 1);
    const { row, column } = active;
    const far = event.ctrlKey || event.metaKey;
    const moves: Record<string, () => void> = {
      ArrowDown: () => moveTo(row + 1, column),
      ArrowUp: () => moveTo(row - 1, column),
      ArrowRight: () => moveTo(row, column + 1),
      ArrowLeft: () => moveTo(row, column - 1),
      PageDown: () => moveTo(row + page, column),
      PageUp: () => moveTo(row - page, column),
      Home: () => moveTo(far ? 0 : row, 0),
      End: () => moveTo(far ? sheet.count - 1 : row, sheet.columns.length - 1),
    };
    const move = moves[event.key];
    if (!move) return;
    event.preventDefault();
    move();
  };

  // A row that leaves the view lends its elements to the one that enters: as many keys as rows.
  const kept = rowsKept(viewport, SPARE_ROWS);
  const rows = [];
  for (let row = firstRow; row < endRow; row += 1) {
    const record = recordAt(row);
    rows.push(
      <Row
        key={row % kept}
        top={rowTop(scroll, row, scrolled)}
        width={width}
        numberWidth={numberWidth}
        row={row}
        gridRow={rowOfPosition(sheet, row)}
        record={record}
        columns={sheet.columns}
        offsets={offsets}
        firstColumn={firstColumn}
        endColumn={endColumn}
        locale={locale}
        activeColumn={active.row === row ? active.column : -1}
        recent={record !== undefined && recent.has(record.id)}
      />,
    );
  }

  return (
    <div
      ref={scroller}
      className="grid"
      role="grid"
      aria-label={`Sheet ${sheet.name}`}
      aria-rowcount={rowOfPosition(sheet, sheet.count - 1)}
      aria-colcount={sheet.columns.length}
      aria-readonly
      aria-activedescendant={sheet.count > 0 ? cellId(active.row, active.column) : undefined}
      tabIndex={0}
      onKeyDown={onKeyDown}
      onMouseDown={(event) => {
        const cell = (event.target as HTMLElement).closest<HTMLElement>('[data-row]');
        if (cell)
          onActive({ row: Number(cell.dataset['row']), column: Number(cell.dataset['column']) });
      }}
    >
      <div className="grid-letters" style={{ width }} aria-hidden>
        {range(firstColumn, endColumn).map((index) => (
          <div
            key={index}
            className={`grid-cell ${alignOf(sheet.columns[index])}`}
            style={span(offsets, index, numberWidth)}
          >
            {columnLetters(index)}
          </div>
        ))}
      </div>
      {topRows > 0 && (
        <TopMatter sheet={sheet} width={width} numberWidth={numberWidth} offsets={offsets} />
      )}
      <Headings
        sheet={sheet}
        width={width}
        numberWidth={numberWidth}
        offsets={offsets}
        firstColumn={firstColumn}
        endColumn={endColumn}
      />
      <div
        className="grid-body"
        role="rowgroup"
        style={{ height: scroll.height, width, minHeight: Math.max(0, view.height - bodyTop) }}
      >
        {rows}
      </div>
    </div>
  );
}

/** Follows scrolling and size, once per frame; the state changes only when they do. */
function useFrameScroll(
  scroller: React.RefObject<HTMLDivElement | null>,
  setView: (view: View) => void,
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
      setView({ top, left, height, width });
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
  }, [scroller, setView]);
}

/** How many of the first records column widths are measured by. */
const MEASURED = 100;

/** Column widths from the first records that came; they stay as they were when more come. */
function useWidths(
  sheet: SheetView,
  locale: LocaleFacts,
  recordAt: (position: number) => RecordView | undefined,
): number[] {
  const { columns, count } = sheet;
  const [measured, setMeasured] = useState<{ columns: readonly Column[]; widths: number[] } | null>(
    null,
  );
  const unmeasured = useMemo(() => columnWidths(columns, [], locale), [columns, locale]);
  if (measured?.columns === columns) return measured.widths;
  if (recordAt(0) || count === 0) {
    const rows = Array.from({ length: MEASURED }, (_, n) => recordAt(n)?.cells ?? []);
    setMeasured({ columns, widths: columnWidths(columns, rows, locale) });
  }
  return unmeasured;
}

const alignOf = (column: Column | undefined): string => (column ? kindOf(column).align : '');

const cellId = (row: number, column: number): string => `cell-${row}-${column}`;

interface Strip {
  readonly width: number;
  readonly numberWidth: number;
  readonly offsets: readonly number[];
}

const span = (offsets: readonly number[], column: number, numberWidth: number) => ({
  left: numberWidth + (offsets[column] ?? 0),
  width: (offsets[column + 1] ?? 0) - (offsets[column] ?? 0),
});

const range = (from: number, to: number): number[] =>
  Array.from({ length: Math.max(0, to - from) }, (_, n) => from + n);

function Headings({
  sheet,
  width,
  numberWidth,
  offsets,
  firstColumn,
  endColumn,
}: Strip & { sheet: SheetView; firstColumn: number; endColumn: number }) {
  return (
    <div className="grid-headings" role="rowgroup" style={{ width }}>
      <div role="row" aria-rowindex={sheet.headingRow}>
        <div className="grid-number" style={{ width: numberWidth }} aria-hidden>
          {sheet.headingRow}
        </div>
        {range(firstColumn, endColumn).map((index) => {
          const column = sheet.columns[index];
          if (!column) return null;
          return (
            <div
              key={column.id}
              className={`grid-cell ${kindOf(column).align}`}
              role="columnheader"
              aria-colindex={index + 1}
              title={`${column.heading}: ${kindOf(column).label.toLowerCase()}`}
              style={span(offsets, index, numberWidth)}
            >
              <KindGlyph kind={column.kind} />
              <span>{column.heading}</span>
            </div>
          );
        })}
      </div>
    </div>
  );
}

function TopMatter({ sheet, width, numberWidth, offsets }: Strip & { sheet: SheetView }) {
  return (
    <div className="grid-top" role="rowgroup" style={{ width }}>
      {sheet.topMatter.map((cells, index) => (
        <div
          key={index}
          className="grid-row"
          role="row"
          aria-rowindex={index + 1}
          style={{ width }}
        >
          <div className="grid-number" style={{ width: numberWidth }} aria-hidden>
            {index + 1}
          </div>
          {cells.map((cell, column) => (
            <div
              key={column}
              className="grid-cell"
              role="gridcell"
              aria-colindex={column + 1}
              style={{ left: numberWidth + (offsets[column] ?? 0) }}
            >
              {cell}
            </div>
          ))}
        </div>
      ))}
    </div>
  );
}

interface RowProps extends Strip {
  readonly top: number;
  readonly row: number;
  readonly gridRow: number;
  readonly record: RecordView | undefined;
  readonly columns: readonly Column[];
  readonly firstColumn: number;
  readonly endColumn: number;
  readonly locale: LocaleFacts;
  /** The column of the active cell, -1 when it is in another row. */
  readonly activeColumn: number;
  readonly recent: boolean;
}

const Row = memo(function Row(props: RowProps) {
  const {
    top,
    row,
    gridRow,
    record,
    columns,
    offsets,
    firstColumn,
    endColumn,
    locale,
    width,
    numberWidth,
    activeColumn,
    recent,
  } = props;
  return (
    <div
      className={recent ? 'grid-row recent' : 'grid-row'}
      role="row"
      aria-rowindex={gridRow}
      style={{ transform: `translateY(${top}px)`, width }}
    >
      <div className="grid-number" style={{ width: numberWidth }} aria-hidden>
        {gridRow}
      </div>
      {range(firstColumn, endColumn).map((index) => {
        const column = columns[index];
        if (!column) return null;
        const value = fromWire(record?.cells[index] ?? null, column);
        const kept = !isOfKind(value, column);
        const place = span(offsets, index, numberWidth);
        const whole = showValue(value, column, locale);
        const { text, clipped } = fitText(whole, place.width);
        const names = [
          'grid-cell',
          typeof value === 'string' ? 'start' : kindOf(column).align,
          ...(kept ? ['kept'] : []),
          ...(clipped ? ['clipped'] : []),
          ...(activeColumn === index ? ['active'] : []),
        ];
        return (
          <div
            key={column.id}
            id={cellId(row, index)}
            data-row={row}
            data-column={index}
            className={names.join(' ')}
            role="gridcell"
            aria-colindex={index + 1}
            aria-label={text === whole ? undefined : whole.slice(0, LONGEST_READ)}
            title={
              kept
                ? `Kept as text: not of the kind ${kindOf(column).label.toLowerCase()}`
                : undefined
            }
            style={place}
          >
            {text}
          </div>
        );
      })}
    </div>
  );
});
