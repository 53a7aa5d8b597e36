/** A cell by its line and its column, both from 0. */
export interface Spot {
  readonly line: number;
  readonly column: number;
}

/** A rectangle of cells between the one it was begun at and the one it was drawn to. */
export interface Span {
  readonly from: Spot;
  readonly to: Spot;
}

/** The last span is the one that moves; the cell it was begun at is the active one. */
export interface Selection {
  readonly kept: readonly Span[];
  readonly last: Span;
  /** Whether the grid stays where it is scrolled: whole rows and columns reach out of sight. */
  readonly still?: boolean;
  /** Whether the grid is scrolled to its top. */
  readonly top?: boolean;
}

/** A rectangle, its edges included. */
export interface Box {
  readonly top: number;
  readonly bottom: number;
  readonly left: number;
  readonly right: number;
}

export const at = (spot: Spot): Selection => ({ kept: [], last: { from: spot, to: spot } });

export const activeOf = ({ last }: Selection): Spot => last.from;

export function boxOf({ from, to }: Span): Box {
  return {
    top: Math.min(from.line, to.line),
    bottom: Math.max(from.line, to.line),
    left: Math.min(from.column, to.column),
    right: Math.max(from.column, to.column),
  };
}

export const boxesOf = ({ kept, last }: Selection): Box[] => [...kept, last].map(boxOf);

/** Draws the moving span to another cell. */
export const drawTo = ({ kept, last }: Selection, to: Spot): Selection => ({
  kept,
  last: { from: last.from, to },
});

/** Keeps the spans there are and begins another one. */
export const alsoFrom = ({ kept, last }: Selection, from: Spot, to = from): Selection => ({
  kept: [...kept, last],
  last: { from, to },
});

/** A span of whole rows or columns; the grid stays where it is. */
export const whole = (from: Spot, to: Spot): Selection => ({
  kept: [],
  last: { from, to },
  still: true,
});

export function isOneCell(selection: Selection): boolean {
  const { top, bottom, left, right } = boxOf(selection.last);
  return selection.kept.length === 0 && top === bottom && left === right;
}

/** The stretches of columns chosen on a line, from and to (included), as one text per line. */
export function chosenOn(boxes: readonly Box[], line: number): string {
  return boxes
    .filter(({ top, bottom }) => line >= top && line <= bottom)
    .map(({ left, right }) => `${left}-${right}`)
    .join(' ');
}

/** Whether a column is among stretches as `chosenOn` writes them. */
export function isChosen(stretches: string, column: number): boolean {
  if (stretches === '') return false;
  return stretches.split(' ').some((stretch) => {
    const [left = 0, right = 0] = stretch.split('-').map(Number);
    return column >= left && column <= right;
  });
}

export function clampSpot({ line, column }: Spot, lines: number, columns: number): Spot {
  return {
    line: Math.min(Math.max(0, line), Math.max(0, lines - 1)),
    column: Math.min(Math.max(0, column), Math.max(0, columns - 1)),
  };
}
