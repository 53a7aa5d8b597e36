import type { MouseEvent } from 'react';
import type { Spot } from '../selection';

/** The cell, row number (column -1) or column letter (line -1) under the pointer. */
export function spotAt(event: MouseEvent): Spot | null {
  const target = event.target as HTMLElement;
  const cell = target.closest<HTMLElement>('[data-line]');
  if (cell) return { line: Number(cell.dataset['line']), column: Number(cell.dataset['column']) };
  const number = target.closest<HTMLElement>('[data-row-number]');
  if (number) return { line: Number(number.dataset['rowNumber']), column: -1 };
  const letter = target.closest<HTMLElement>('[data-letter]');
  return letter ? { line: -1, column: Number(letter.dataset['letter']) } : null;
}

/** Where a menu opens: at the pointer, or by keyboard under the active cell. */
export function pointOf(event: MouseEvent, cell: HTMLElement | null): { x: number; y: number } {
  // A key has no pointer: the browser tells the place of the whole grid then.
  const byKey = event.nativeEvent instanceof PointerEvent && event.nativeEvent.pointerType === '';
  if (!byKey && event.button === 2) return { x: event.clientX, y: event.clientY };
  const { left = event.clientX, bottom = event.clientY } = cell?.getBoundingClientRect() ?? {};
  return { x: left, y: bottom };
}
