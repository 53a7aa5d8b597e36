import { useCallback, useRef, useState, type MouseEvent } from 'react';
import { lineAt, lineCount, lineOf, type Lines } from './lines';
import {
  activeOf,
  alsoFrom,
  at,
  boxesOf,
  clampSpot,
  drawTo,
  whole,
  type Selection,
  type Spot,
} from './selection';

export interface MenuPlace {
  readonly x: number;
  readonly y: number;
}

/** What is chosen in a grid, by pointer and by keyboard, and whether the grid is to have the focus. */
export interface Selecting {
  readonly selection: Selection;
  readonly menu: MenuPlace | null;
  readonly select: (selection: Selection) => void;
  /** Goes to a cell, held within the sheet; a record that is begun stays begun. */
  readonly goTo: (spot: Spot) => void;
  readonly drawTo: (spot: Spot) => void;
  readonly mouseDown: (event: MouseEvent, spot: Spot | null) => void;
  readonly mouseUp: () => void;
  readonly openMenu: (place: MenuPlace, spot: Spot | null) => void;
  readonly closeMenu: () => void;
  /** Whether the grid is to take the focus now that it is drawn; asked once. */
  readonly takesFocus: () => boolean;
  /** Lets the grid take the focus when it is next drawn. */
  readonly wantFocus: () => void;
  /** Brings the focus back to the grid. */
  readonly refocus: () => void;
}

/** The record that is begun in the grid's last line, where there is one. */
interface Begun {
  readonly begun: boolean;
  readonly leave: () => void;
}

const NOTHING_BEGUN: Begun = { begun: false, leave: () => undefined };

export function useSelecting(
  lines: Lines,
  columns: number,
  { begun, leave }: Begun = NOTHING_BEGUN,
): Selecting {
  const [selection, setSelection] = useSelection(lines, columns, begun);
  const [menu, setMenu] = useState<MenuPlace | null>(null);
  const [, setRefocused] = useState(0);
  const dragging = useRef<'cells' | 'rows' | 'columns' | null>(null);
  const focusWanted = useRef(false);
  const last = { line: lineCount(lines) - 1, column: columns - 1 };
  const lastRecord = lines.hasRecords ? lines.freeRows + lines.records : last.line;

  const select = (next: Selection): void => {
    const wasOn = lineAt(lines, activeOf(selection).line).is === 'draft';
    if (wasOn && lineAt(lines, activeOf(next).line).is !== 'draft') leave();
    setSelection(next);
  };

  const mouseDown = (event: MouseEvent, spot: Spot | null): void => {
    if (!spot || event.button === 2) return;
    const also = event.ctrlKey || event.metaKey;
    const begin = (from: Spot, to: Spot): void => {
      if (event.shiftKey) select({ ...drawTo(selection, to), still: true });
      else if (also) select({ ...alsoFrom(selection, from, to), still: true });
      else select(from === to ? at(from) : whole(from, to));
    };
    if (spot.column < 0) {
      dragging.current = 'rows';
      begin({ line: spot.line, column: 0 }, { line: spot.line, column: last.column });
    } else if (spot.line < 0) {
      dragging.current = 'columns';
      begin({ line: 0, column: spot.column }, { line: last.line, column: spot.column });
    } else if (lineAt(lines, spot.line).is === 'heading') {
      dragging.current = 'columns';
      begin(spot, { line: lastRecord, column: spot.column });
    } else {
      dragging.current = 'cells';
      begin(spot, spot);
    }
  };

  const draw = (spot: Spot): void => {
    const { to } = selection.last;
    const extend = (far: Spot, still?: true): void => {
      if (far.line === to.line && far.column === to.column) return;
      setSelection({ ...drawTo(selection, far), ...(still && { still }) });
    };
    if (dragging.current === 'rows') {
      if (spot.line >= 0) extend({ line: spot.line, column: last.column }, true);
    } else if (dragging.current === 'columns') {
      if (spot.column >= 0) extend({ line: to.line, column: spot.column }, true);
    } else if (dragging.current === 'cells' && spot.line >= 0 && spot.column >= 0) {
      extend(spot);
    }
  };

  const openMenu = (place: MenuPlace, spot: Spot | null): void => {
    // A row's number stands for all of the row, a column's letter for all of the column.
    const isIn = ({ line, column }: Spot): boolean =>
      boxesOf(selection).some(
        ({ top, bottom, left, right }) =>
          (line < 0 ? top === 0 && bottom === last.line : line >= top && line <= bottom) &&
          (column < 0 ? left === 0 && right === last.column : column >= left && column <= right),
      );
    if (spot && !isIn(spot)) {
      if (spot.column < 0) {
        select(whole({ line: spot.line, column: 0 }, { line: spot.line, column: last.column }));
      } else if (spot.line < 0) {
        select(whole({ line: 0, column: spot.column }, { line: last.line, column: spot.column }));
      } else select(at(spot));
    }
    setMenu(place);
  };

  return {
    selection,
    menu,
    select,
    goTo: (spot) => setSelection(at(clampSpot(spot, lineCount(lines), columns))),
    drawTo: draw,
    mouseDown,
    mouseUp: () => {
      dragging.current = null;
    },
    openMenu,
    closeMenu: useCallback(() => setMenu(null), []),
    takesFocus: useCallback(() => {
      const wanted = focusWanted.current;
      focusWanted.current = false;
      return wanted;
    }, []),
    wantFocus: useCallback(() => {
      focusWanted.current = true;
    }, []),
    refocus: useCallback(() => {
      focusWanted.current = true;
      setRefocused((count) => count + 1);
    }, []),
  };
}

/** What is chosen, held within the sheet; on the draft's line it stays on it when records come. */
function useSelection(
  lines: Lines,
  columns: number,
  begun: boolean,
): [Selection, (selection: Selection) => void] {
  const [selection, setSelection] = useState<Selection>(() =>
    at({ line: lines.hasRecords && lines.records > 0 ? lines.freeRows + 1 : 0, column: 0 }),
  );
  const [seen, setSeen] = useState(lines);
  if (seen !== lines) {
    setSeen(lines);
    const active = activeOf(selection);
    const moved = lineCount(lines) - lineCount(seen);
    const wasDraft = seen.draft && lineAt(seen, active.line).is === 'draft';
    if (wasDraft && moved !== 0 && (begun || lines.draft)) {
      setSelection(at({ ...active, line: lineOf(lines, { is: 'draft' }) }));
    } else {
      const clamp = (spot: Spot): Spot => clampSpot(spot, lineCount(lines), columns);
      const { from, to } = selection.last;
      const held = { from: clamp(from), to: clamp(to) };
      if (held.from.line !== from.line || held.to.line !== to.line) {
        setSelection({ ...selection, last: held });
      }
    }
  }
  return [selection, setSelection];
}
