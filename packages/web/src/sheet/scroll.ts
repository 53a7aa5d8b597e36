import { MOST_LINES } from '@varn/contract/limits';

/** The height of a row of one line of text, in pixels. */
export const ROW_PX = 28;
/** What each further line of text adds. */
const LINE_PX = 18;

/** The height of a row that shows some lines of text. */
export const rowHeight = (lines: number): number =>
  ROW_PX + (Math.min(MOST_LINES, Math.max(1, lines)) - 1) * LINE_PX;

/** Browsers cap how tall an element can be; past this the scrollbar is scaled. */
const TALLEST_PX = 15_000_000;

/** How a scroll position, in pixels, stands for rows of a sheet of any length. */
export interface Scroll {
  /** The height of the scrolled content. */
  readonly height: number;
  /** How many rows' pixels one pixel of scrolling stands for. */
  readonly scale: number;
  /** The height of a row. */
  readonly rowPx: number;
}

/** @param viewport the height in which rows are seen */
export function scrollOf(rows: number, viewport: number, rowPx = ROW_PX): Scroll {
  const full = rows * rowPx;
  const height = Math.min(full, TALLEST_PX);
  const room = Math.max(1, height - viewport);
  return { height, scale: height === full ? 1 : (full - viewport) / room, rowPx };
}

/** The rows in view, from and to (exclusive), with `spare` rows each side. */
export function rowsInView(
  { scale, rowPx }: Scroll,
  top: number,
  viewport: number,
  rows: number,
  spare: number,
): [number, number] {
  const first = Math.floor((top * scale) / rowPx);
  const from = first - spare;
  return [Math.max(0, from), Math.min(rows, from + rowsKept(viewport, spare, rowPx))];
}

/** The most rows that are ever in view at once, spare ones included. */
export function rowsKept(viewport: number, spare: number, rowPx = ROW_PX): number {
  return Math.ceil(viewport / rowPx) + 1 + 2 * spare;
}

/** Where a row's upper edge stands in the scrolled content, while it is scrolled to `top`. */
export function rowTop({ scale, rowPx }: Scroll, row: number, top: number): number {
  return row * rowPx - top * scale + top;
}
