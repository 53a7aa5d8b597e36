/** The height of one row of the grid, in pixels. */
export const ROW_PX = 28;

/** Browsers cap how tall an element can be; past this the scrollbar is scaled. */
const TALLEST_PX = 15_000_000;

/** How a scroll position, in pixels, stands for rows of a sheet of any length. */
export interface Scroll {
  /** The height of the scrolled content. */
  readonly height: number;
  /** How many rows' pixels one pixel of scrolling stands for. */
  readonly scale: number;
}

/** @param viewport the height in which rows are seen */
export function scrollOf(rows: number, viewport: number): Scroll {
  const full = rows * ROW_PX;
  const height = Math.min(full, TALLEST_PX);
  const room = Math.max(1, height - viewport);
  return { height, scale: height === full ? 1 : (full - viewport) / room };
}

/** The rows in view, from and to (exclusive), with `spare` rows each side. */
export function rowsInView(
  { scale }: Scroll,
  top: number,
  viewport: number,
  rows: number,
  spare: number,
): [number, number] {
  const first = Math.floor((top * scale) / ROW_PX);
  const from = first - spare;
  return [Math.max(0, from), Math.min(rows, from + rowsKept(viewport, spare))];
}

/** The most rows that are ever in view at once, spare ones included. */
export function rowsKept(viewport: number, spare: number): number {
  return Math.ceil(viewport / ROW_PX) + 1 + 2 * spare;
}

/** Where a row's upper edge stands in the scrolled content, while it is scrolled to `top`. */
export function rowTop({ scale }: Scroll, row: number, top: number): number {
  return row * ROW_PX - top * scale + top;
}

/** The scroll position that brings a row into view, or `null` when it is there. */
export function scrollToRow(
  { scale }: Scroll,
  row: number,
  top: number,
  viewport: number,
): number | null {
  const upper = row * ROW_PX;
  const seen = top * scale;
  if (upper < seen) return upper / scale;
  if (upper + ROW_PX > seen + viewport) return (upper + ROW_PX - viewport) / scale;
  return null;
}
