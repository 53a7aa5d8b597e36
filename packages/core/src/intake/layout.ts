import { columnLetters } from '../address';
import { looksTyped } from './textShape';

/** Where the headings of an arriving table stand. */
export interface Layout {
  /** The row of the headings, from 1; `null` when the table has none. */
  readonly headingRow: number | null;
  /** Two when groups of columns have a heading of their own above. */
  readonly headingRows: 1 | 2;
}

/** How far down a heading is looked for, and how many rows are looked at to tell. */
const DEEPEST_HEADING = 30;
export const LAYOUT_ROWS = 200;
/** A heading row names at least this share of the columns that rows below it fill. */
const NAMED_SHARE = 0.6;

const filledCells = (row: readonly string[]): string[] => row.filter((cell) => cell.trim() !== '');
const isAllText = (row: readonly string[]): boolean => !filledCells(row).some(looksTyped);

/** Finds the heading in the first rows of a table: the first row of words as wide as the data. */
export function guessLayout(rows: readonly (readonly string[])[]): Layout {
  const widths = rows.map((row) => filledCells(row).length).sort((a, b) => a - b);
  const width = widths[Math.floor(widths.length * 0.9)] ?? 0;
  const wanted = Math.max(1, Math.ceil(width * NAMED_SHARE));
  const at = rows
    .slice(0, DEEPEST_HEADING)
    .findIndex((row) => filledCells(row).length >= wanted && isAllText(row));
  if (at < 0) return { headingRow: null, headingRows: 1 };
  const above = rows[at - 1];
  if (above && filledCells(above).length >= 2 && isAllText(above)) {
    return { headingRow: at, headingRows: 2 };
  }
  return { headingRow: at + 1, headingRows: continues(rows, at) ? 2 : 1 };
}

/** Whether the row under a heading is a heading too: words where the data below has figures. */
function continues(rows: readonly (readonly string[])[], at: number): boolean {
  const second = rows[at + 1];
  const below = rows.slice(at + 2).find((row) => filledCells(row).length > 1);
  if (!second || !below || filledCells(second).length < 2 || !isAllText(second)) return false;
  const typedBelow = below.flatMap((cell, index) => (looksTyped(cell) ? [index] : []));
  const named = typedBelow.filter((index) => (second[index] ?? '').trim() !== '');
  return named.length >= 2;
}

export interface FoundHeading {
  readonly heading: string;
  /** Whether the file gave it so, or Varn had to: it was blank, or another column's too. */
  readonly origin: 'given' | 'blank' | 'alike';
}

/** The headings of `width` columns: joined from two rows, told apart, blanks named by letter. */
export function headingsOf(
  rows: readonly (readonly string[])[],
  { headingRow, headingRows }: Layout,
  width: number,
): FoundHeading[] {
  const rowAt = (row: number): readonly string[] =>
    headingRow === null ? [] : (rows[row - 1] ?? []);
  const first = rowAt(headingRow ?? 0);
  const second = headingRows === 2 ? rowAt((headingRow ?? 0) + 1) : null;
  let group = '';
  const taken = new Set<string>();
  return Array.from({ length: width }, (_, index): FoundHeading => {
    const own = tidy(first[index] ?? '');
    const under = second ? tidy(second[index] ?? '') : '';
    if (own !== '') group = own;
    const given =
      second && under !== '' && under !== group ? tidy(`${group} ${under}`) : own || under;
    const wanted = given === '' ? `Column ${columnLetters(index)}` : given;
    let heading = wanted;
    for (let n = 0; taken.has(heading); n += 1) {
      heading = `${wanted} (${columnLetters(index)}${n === 0 ? '' : n})`;
    }
    taken.add(heading);
    return { heading, origin: given === '' ? 'blank' : heading === wanted ? 'given' : 'alike' };
  });
}

function tidy(heading: string): string {
  return heading.replace(/\s+/g, ' ').trim();
}
