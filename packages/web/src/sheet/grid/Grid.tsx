import {
  useId,
  useLayoutEffect,
  useState,
  type ClipboardEvent,
  type KeyboardEvent,
  type MouseEvent,
} from 'react';
import type { FormulaHelp } from '../formula/useFormulaHelp';
import { outlinesOf } from '../formula/ranges';
import { lineAt, lineCount } from '../lines';
import { ROW_PX } from '../scroll';
import { activeOf, boxesOf, chosenOn } from '../selection';
import type { GridReading, GridWriting } from '../useSheetGrid';
import { Editor } from './Editor';
import { HEADING_PX, LETTERS_PX } from './geometry';
import './grid.css';
import { Headings } from './Headings';
import { readingKey, writingKey } from './keys';
import { BodyLines, FreeLines } from './Lines';
import { Outlines } from './Outlines';
import { pointOf, spotAt } from './pointer';
import { cellId, Letters, TotalsRow } from './rows';
import { useGridView, type GridView } from './useGridView';

interface GridProps {
  readonly grid: GridReading;
  /** What the grid is written with; `null` where one only chooses in it. */
  readonly writing: GridWriting | null;
}

/**
 * A sheet as a grid (ARIA's grid pattern, the active cell by `aria-activedescendant`). Only what
 * is in view is on the page; rows are placed by plain arithmetic.
 */
export function Grid({ grid, writing }: GridProps) {
  const { sheet, lines, selection } = grid;
  const ids = useId();
  const view = useGridView(grid);
  const { scroller, layout, geometry } = view;
  const active = activeOf(selection);
  const activeId = cellId(ids, active.line, active.column);
  const { takesFocus } = grid;
  useLayoutEffect(() => {
    if (takesFocus()) scroller.current?.focus({ preventScroll: true });
  });

  const page = Math.max(1, Math.floor(geometry.viewport / view.rowPx) - 1);
  const onKeyDown = (event: KeyboardEvent): void => {
    // A key on its way to the menu, before that has the focus, is none of the grid's.
    if (event.target !== scroller.current || grid.menu !== null) return;
    const isMeant = readingKey(event, grid, page) || (writing && writingKey(event, grid, writing));
    if (isMeant) event.preventDefault();
  };
  const computing = view.records.computing || view.free.computing;
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
        aria-readonly={!writing || !grid.mayEditRecords || undefined}
        aria-activedescendant={activeId}
        tabIndex={0}
        onKeyDown={onKeyDown}
        {...pointing(grid, writing, activeId)}
        {...(writing && copying(writing))}
      >
        <Parts {...{ ids, grid, writing, view }} />
      </div>
      <div className="grid-computing" role="status">
        {computing && 'Computing…'}
      </div>
    </div>
  );
}

/** What the pointer does in the grid. */
function pointing(grid: GridReading, writing: GridWriting | null, activeId: string) {
  return {
    onMouseDown: (event: MouseEvent) => grid.mouseDown(event, spotAt(event)),
    onMouseMove: (event: MouseEvent) => {
      if (event.buttons !== 1) return;
      const spot = spotAt(event);
      if (spot) grid.drawTo(spot);
    },
    onMouseUp: () => grid.mouseUp(),
    onDoubleClick: (event: MouseEvent) => {
      const spot = spotAt(event);
      if (spot && spot.line >= 0 && spot.column >= 0) writing?.edit(spot);
    },
    onContextMenu: (event: MouseEvent) => {
      event.preventDefault();
      if (!writing) return;
      grid.openMenu(pointOf(event, document.getElementById(activeId)), spotAt(event));
    },
  };
}

/** What the clipboard does with what is chosen. */
function copying(writing: GridWriting) {
  const copy = (event: ClipboardEvent): void => {
    if (event.target instanceof HTMLTextAreaElement) return;
    event.preventDefault();
    writing.copy(event.clipboardData);
    if (event.type === 'cut') writing.clear();
  };
  return {
    onCopy: copy,
    onCut: copy,
    onPaste: (event: ClipboardEvent) => {
      // It is aimed at wherever the browser's own selection is, which may be in any cell.
      event.preventDefault();
      const { clipboardData } = event;
      writing.paste(clipboardData.getData('text/html'), clipboardData.getData('text/plain'));
    },
  };
}

interface PartsProps extends GridProps {
  readonly ids: string;
  readonly view: GridView;
}

/** The parts of the grid from above: letters, free rows, headings, records, totals. */
function Parts({ ids, grid, writing, view }: PartsProps) {
  const { sheet, lines, selection } = grid;
  const { geometry, layout, firstColumn, endColumn, hasTotals } = view;
  const { freePx } = geometry;
  const [help, setHelp] = useState<FormulaHelp | null>(null);
  const typed = { ids, grid, writing, view, help, onHelp: setHelp };
  const active = activeOf(selection);
  const headingLine = lines.freeRows;
  return (
    <>
      <Letters
        layout={layout}
        firstColumn={firstColumn}
        endColumn={endColumn}
        resizing={grid.mayShape ? writing : null}
      />
      {(freePx > 0 || !sheet.hasRecords) && (
        <div
          className={sheet.hasRecords ? 'grid-top' : 'grid-body'}
          role="rowgroup"
          style={{ width: layout.width, height: freePx }}
        >
          <FreeLines {...{ ids, grid, writing, view }} />
          <Typed {...typed} part="free" />
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
          chosen={chosenOn(boxesOf(selection), headingLine)}
          view={grid.view}
        >
          <Typed {...typed} part="heading" />
        </Headings>
      )}
      {sheet.hasRecords && (
        <div
          className="grid-body"
          role="rowgroup"
          style={{
            height: geometry.body.height,
            width: layout.width,
            minHeight: Math.max(
              0,
              view.seen.height - freePx - LETTERS_PX - HEADING_PX - (hasTotals ? ROW_PX : 0),
            ),
          }}
        >
          <BodyLines {...{ ids, grid, writing, view }} />
          <Typed {...typed} part="records" />
        </div>
      )}
      {hasTotals && (
        <TotalsRow
          layout={layout}
          firstColumn={firstColumn}
          endColumn={endColumn}
          label={
            grid.viewParameter === '' ? 'Totals over all records' : 'Totals over the records found'
          }
          totals={view.totals}
        />
      )}
    </>
  );
}

interface TypedProps extends PartsProps {
  readonly part: 'free' | 'heading' | 'records';
  /** Of the formula that is typed, in whichever part. */
  readonly help: FormulaHelp | null;
  readonly onHelp: (help: FormulaHelp | null) => void;
}

/** What is typed into a cell of a part, over its rows, and the ranges that its formula reads. */
function Typed({ grid, writing, view, part, help, onHelp }: TypedProps) {
  const { sheet, lines } = grid;
  const { geometry, layout, seen } = view;
  const editing = writing?.editing;
  if (!writing || !editing) return null;
  const { is } = lineAt(lines, editing.spot.line);
  const isHere = (is === 'free' || is === 'heading' ? is : 'records') === part;
  const outlines = help ? outlinesOf(help.references, sheet, lines) : [];
  return (
    <>
      {part !== 'heading' && <Outlines {...{ outlines, lines, geometry, layout, part }} />}
      {isHere && <Editor {...{ grid, writing, editing, geometry, seen, layout, onHelp }} />}
    </>
  );
}
