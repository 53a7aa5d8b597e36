import type { KeyboardEvent } from 'react';
import { lineCount } from '../lines';
import {
  activeOf,
  alsoFrom,
  at,
  clampSpot,
  drawTo,
  isOneCell,
  whole,
  type Spot,
} from '../selection';
import type { GridReading, GridWriting } from '../useSheetGrid';

/** The keys of the grid, as the place tells them. */
export const GRID_KEYS = [
  { keys: 'Arrows', does: 'Move from cell to cell; with Shift choose a range' },
  { keys: 'PageUp / PageDown', does: 'Move by a screen' },
  { keys: 'Home / End', does: 'First and last column; with Ctrl first and last row' },
  { keys: 'Enter, F2 or typing', does: 'Type into the cell, or rename a heading; Enter saves it' },
  { keys: 'Delete', does: 'Clear the selected cells' },
  { keys: 'Ctrl+Space / Shift+Space', does: 'Choose the whole column or row' },
  { keys: 'Ctrl+Enter', does: 'Keep the range and begin another one' },
  { keys: 'Ctrl+C / Ctrl+V', does: 'Copy and paste, also from and to other programs' },
  { keys: 'Ctrl+Z / Ctrl+Shift+Z', does: 'Undo and redo your last change' },
  { keys: 'Shift+F10', does: 'All that can be done with what is chosen' },
  { keys: 'Escape', does: 'Go to the bar' },
];

/**
 * Carries out a key by which one moves and chooses.
 *
 * @param page how many lines a screen has
 * @returns whether the key meant something
 */
export function readingKey(event: KeyboardEvent, grid: GridReading, page: number): boolean {
  const { selection, lines, columns } = grid;
  const { key, shiftKey } = event;
  const far = event.ctrlKey || event.metaKey;
  const last = { line: lineCount(lines) - 1, column: columns - 1 };
  const here = shiftKey ? selection.last.to : activeOf(selection);
  const { line, column } = here;
  const spots: Record<string, Spot> = {
    ArrowDown: { line: far ? last.line : line + 1, column },
    ArrowUp: { line: far ? 0 : line - 1, column },
    ArrowRight: { line, column: far ? last.column : column + 1 },
    ArrowLeft: { line, column: far ? 0 : column - 1 },
    PageDown: { line: line + page, column },
    PageUp: { line: line - page, column },
    Home: { line: far ? 0 : line, column: 0 },
    End: { line: far ? last.line : line, column: last.column },
  };
  const spot = event.altKey ? undefined : spots[key];
  if (spot) {
    const to = clampSpot(spot, last.line + 1, last.column + 1);
    // The heading stays in sight wherever one is: only here it stands for the top.
    const top = far && key === 'Home' && { top: true };
    grid.select({ ...(shiftKey ? drawTo(selection, to) : at(to)), ...top });
    return true;
  }
  if (far) return choosesFar(key.toLowerCase(), grid, last);
  if (event.altKey) return false;
  if (key === ' ' && shiftKey) {
    const { from, to } = selection.last;
    grid.select(whole({ ...from, column: 0 }, { line: to.line, column: last.column }));
    return true;
  }
  if (key === 'Escape' && !isOneCell(selection)) {
    grid.select(at(activeOf(selection)));
    return true;
  }
  return false;
}

function choosesFar(key: string, grid: GridReading, last: Spot): boolean {
  const { selection } = grid;
  const { from, to } = selection.last;
  switch (key) {
    case 'a':
      grid.select(whole({ line: 0, column: 0 }, last));
      return true;
    case ' ':
      grid.select(whole({ ...from, line: 0 }, { line: last.line, column: to.column }));
      return true;
    case 'enter':
      grid.select(alsoFrom(selection, to));
      return true;
    default:
      return false;
  }
}

/** Carries out a key by which cells are written. @returns whether the key meant something */
export function writingKey(
  event: KeyboardEvent,
  { selection }: GridReading,
  writing: GridWriting,
): boolean {
  const { key, shiftKey } = event;
  if (event.ctrlKey || event.metaKey) {
    const isUndo = key.toLowerCase() === 'z';
    if (!isUndo && key.toLowerCase() !== 'y') return false;
    writing.takeBack(!isUndo || shiftKey);
    return true;
  }
  if (event.altKey) return false;
  if (key === 'Enter' || key === 'F2') {
    writing.edit(activeOf(selection));
    return true;
  }
  if (key === 'Delete' || key === 'Backspace') {
    writing.clear();
    return true;
  }
  if (key.length !== 1) return false;
  writing.edit(activeOf(selection), key);
  return true;
}
