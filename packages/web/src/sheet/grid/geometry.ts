import { lineAt, type Lines } from '../lines';
import { rowTop, scrollOf, type Scroll } from '../scroll';

/** Column letters. */
export const LETTERS_PX = 18;
export const HEADING_PX = 30;

/** Scrolled positions of long sheets are scaled: less than this out of view is in view. */
const ROUNDING_PX = 0.5;

/** What of a grid is seen: scroll position and size, in pixels. */
export interface Seen {
  readonly top: number;
  readonly left: number;
  readonly height: number;
  readonly width: number;
}

/** Where the parts of a grid stand, from the top: letters, free rows, heading, records. */
export interface Geometry {
  readonly rowPx: number;
  /** The height of the rows above the heading. */
  readonly freePx: number;
  /** Records and the line below them. */
  readonly bodyRows: number;
  readonly body: Scroll;
  /** How far the records are scrolled. */
  readonly scrolled: number;
  /** The height in which records are seen. */
  readonly viewport: number;
}

export function geometryOf(lines: Lines, seen: Seen, rowPx: number, totalsPx: number): Geometry {
  const { freeRows, hasRecords, records, draft } = lines;
  const freePx = freeRows * rowPx;
  const head = LETTERS_PX + (hasRecords ? HEADING_PX : 0);
  const viewport = Math.max(rowPx, seen.height - head - totalsPx);
  const bodyRows = hasRecords ? records + (draft ? 1 : 0) : 0;
  return {
    rowPx,
    freePx,
    bodyRows,
    body: scrollOf(bodyRows, viewport, rowPx),
    scrolled: Math.max(0, seen.top - freePx),
    viewport,
  };
}

/** Where a line's upper edge stands in its part: among the free rows, or among the records. */
export function lineTop(geometry: Geometry, lines: Lines, line: number): number {
  const { rowPx, body, scrolled } = geometry;
  const { freeRows } = lines;
  return line <= freeRows ? line * rowPx : rowTop(body, line - freeRows - 1, scrolled);
}

/** The scroll position that brings a line into view, or `null` where it is seen. */
export function scrollToLine(
  { rowPx, freePx, body, scrolled, viewport }: Geometry,
  lines: Lines,
  line: number,
  top: number,
): number | null {
  const what = lineAt(lines, line);
  if (what.is === 'heading') return null;
  if (what.is === 'free') {
    const upper = line * rowPx;
    if (upper < top) return upper;
    const lower = upper + rowPx - viewport;
    return lower > top ? lower : null;
  }
  const position = line - lines.freeRows - 1;
  const upper = position * rowPx;
  const seen = scrolled * body.scale;
  // Records are seen from under the heading on, which stands below the free rows still in view.
  const room = viewport - Math.max(0, freePx - top);
  if (upper < seen - ROUNDING_PX) return upper / body.scale + (position > 0 ? freePx : 0);
  if (upper + rowPx > seen + Math.max(rowPx, room) + ROUNDING_PX) {
    return (upper + rowPx - viewport) / body.scale + freePx;
  }
  return null;
}
