import {
  fromWire,
  kindOf,
  showValue,
  type CellValue,
  type Column,
  type LocaleFacts,
} from '@varn/core';

/** One character of the grid's mono face at 13 px. */
const CHARACTER_PX = 8.2;
const PADDING_PX = 26;
/** What stands around a value in its cell. */
const WHOLE_PADDING_PX = 22;
const GLYPH_PX = 20;
const LEAST_PX = 56;
const MOST_PX = 320;
const SAMPLE = 200;

/** How wide a column stands for texts of a length, within bounds. */
export const widthOf = (length: number, least = LEAST_PX): number =>
  Math.round(Math.min(MOST_PX, Math.max(least, length * CHARACTER_PX + PADDING_PX)));

/** The widest a column is made by what it shows. */
const MOST_FITTED_PX = 640;

/** How wide a column stands so that none of its texts is cut. */
export function fittedWidth(heading: string, texts: readonly string[]): number {
  const headingPx = heading === '' ? 0 : heading.length * CHARACTER_PX + PADDING_PX + GLYPH_PX;
  const lengths = texts.map((text) => [...text].length);
  const longest = lengths.reduce((most, length) => Math.max(most, length), 0);
  const wide = Math.ceil(Math.max(headingPx, longest * CHARACTER_PX + PADDING_PX));
  return Math.min(MOST_FITTED_PX, Math.max(LEAST_PX, wide));
}

/** How wide each column of a grid stands: its heading, and 95 % of the values at hand, in view. */
export function columnWidths(
  columns: readonly Column[],
  rows: readonly (readonly CellValue[])[],
  locale: LocaleFacts,
): number[] {
  return columns.map((column, index) => {
    const lengths = rows
      .slice(0, SAMPLE)
      .map((cells) => showValue(fromWire(cells[index] ?? null, column), column, locale).length)
      .filter((length) => length > 0)
      .sort((a, b) => a - b);
    const length = lengths[Math.ceil(lengths.length * 0.95) - 1] ?? kindOf(column).usualLength;
    const heading = column.heading.length * CHARACTER_PX + PADDING_PX + GLYPH_PX;
    return widthOf(length, Math.min(MOST_PX, Math.max(LEAST_PX, Math.round(heading))));
  });
}

/** Text that the mono face sets one width per character. */
const EVEN_WIDTH = /^[\x20-\x7E\u00A0-\u017F\u2010-\u2026°µ€]*$/;

/** A cell's text, cut to a column's width; `clipped` when only the browser can tell where. */
export function fitText(text: string, width: number): { text: string; clipped: boolean } {
  const room = Math.floor((width - PADDING_PX) / CHARACTER_PX) + 1;
  const start = text.slice(0, room + 1);
  if (!EVEN_WIDTH.test(start)) return { text: text.slice(0, 2 * room), clipped: true };
  return { text: text.length > room ? `${text.slice(0, room - 1)}…` : text, clipped: false };
}

/** What stands where a number does not fit: a number that is cut is another number. */
export const NOT_FITTING = '…';

/** A number, date or time in a column: whole, or shown as not fitting. */
export function fitWhole(text: string, width: number): string {
  const room = Math.floor((width - WHOLE_PADDING_PX) / CHARACTER_PX);
  return [...text].length > room ? NOT_FITTING : text;
}

/** Running sums: `offsets[i]` is where column i begins, the last where all end. */
export function offsetsOf(widths: readonly number[]): number[] {
  const offsets = [0];
  for (const width of widths) offsets.push((offsets.at(-1) ?? 0) + width);
  return offsets;
}

/** The columns that touch a stretch of the grid, from and to (exclusive), with one spare each side. */
export function columnsBetween(
  offsets: readonly number[],
  left: number,
  right: number,
): [number, number] {
  const last = offsets.length - 1;
  let from = 0;
  while (from < last && (offsets[from + 1] ?? 0) <= left) from += 1;
  let to = from;
  while (to < last && (offsets[to] ?? 0) < right) to += 1;
  return [Math.max(0, from - 1), Math.min(last, to + 1)];
}
