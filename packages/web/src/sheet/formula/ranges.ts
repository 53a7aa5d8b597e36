import type { SheetView } from '@varn/contract';
import {
  columnLetters,
  printReference,
  printSheetName,
  type ReferenceSpan,
  type WrittenReference,
} from '@varn/core';
import { lineAt, lineCount, type Lines } from '../lines';
import type { Box } from '../selection';

/** The letter by which a range is told in a formula and in the grid: a, b, … z, a again. */
export const rangeLetter = (index: number): string => String.fromCharCode(97 + (index % 26));

/** A range of a formula as it stands in the grid. */
export interface Outline {
  readonly box: Box;
  readonly letter: string;
  readonly tone: number;
}

/** The ranges of a formula that stand in this sheet, to be drawn in the grid. */
export function outlinesOf(
  references: readonly ReferenceSpan[],
  sheet: SheetView,
  lines: Lines,
): Outline[] {
  return references.flatMap(({ reference }, index) => {
    const box = boxOfReference(reference, sheet, lines);
    return box ? [{ box, letter: rangeLetter(index), tone: index % 4 }] : [];
  });
}

function boxOfReference(
  reference: WrittenReference,
  { name, columns }: SheetView,
  lines: Lines,
): Box | null {
  if (reference.kind === 'name') return null;
  if (reference.sheet !== null && reference.sheet.toLowerCase() !== name.toLowerCase()) return null;
  const last = lineCount(lines) - 1;
  if (reference.kind === 'heading') {
    const wanted = reference.heading.trim().toLowerCase();
    const column = columns.findIndex((each) => each.heading.trim().toLowerCase() === wanted);
    if (column < 0 || !lines.hasRecords) return null;
    return { top: lines.freeRows + 1, bottom: last, left: column, right: column };
  }
  const [from, to] =
    reference.kind === 'cell' ? [reference.cell, reference.cell] : [reference.from, reference.to];
  const [top, bottom] = [(from.row ?? 1) - 1, (to.row ?? last + 1) - 1];
  return {
    top: Math.min(top, bottom),
    bottom: Math.max(top, bottom),
    left: Math.min(from.column, to.column),
    right: Math.max(from.column, to.column),
  };
}

/**
 * A chosen box of the grid as a formula names it: `B4:B9`; a column of the records by its heading,
 * in a formula of theirs or as a whole; without the sheet where it is the formula's own.
 */
export function referenceFor(
  box: Box,
  sheet: Pick<SheetView, 'name' | 'columns'>,
  lines: Lines,
  { ownSheet, inRecord }: { ownSheet: boolean; inRecord: boolean },
): string {
  const { top, bottom, left, right } = box;
  const heading = sheet.columns[left]?.heading;
  const inRecords = lines.hasRecords && top >= lines.freeRows;
  if (left === right && heading !== undefined && inRecords) {
    const isWhole = bottom >= lines.freeRows + lines.records && top <= lines.freeRows + 1;
    if (isWhole || lineAt(lines, top).is === 'heading') {
      return printReference({ kind: 'heading', sheet: sheet.name, heading });
    }
    if (inRecord && ownSheet && top === bottom) {
      return printReference({ kind: 'heading', sheet: null, heading });
    }
  }
  const prefix = ownSheet ? '' : `${printSheetName(sheet.name)}!`;
  const corner = (column: number, line: number): string => `${columnLetters(column)}${line + 1}`;
  if (top === bottom && left === right) return prefix + corner(left, top);
  const isColumn = top === 0 && bottom >= lineCount(lines) - 1;
  if (isColumn) return `${prefix}${columnLetters(left)}:${columnLetters(right)}`;
  // A range drawn to the very end goes on down.
  const goesOn = !lines.hasRecords && bottom >= lineCount(lines) - 1;
  const across = left === right ? '' : columnLetters(right);
  const end = goesOn ? `..${across}` : `:${corner(right, bottom)}`;
  return `${prefix}${corner(left, top)}${end}`;
}
