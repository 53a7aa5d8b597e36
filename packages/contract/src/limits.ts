/** The longest text one cell may hold, in UTF-16 units. */
export const LONGEST_CELL = 1_000_000;
/** The most cells one write may touch: the largest paste. */
export const MOST_CELLS = 250_000;
/** The most rows one write may touch. */
export const MOST_WRITTEN_ROWS = 100_000;
/** The last row a cell outside of records may stand in. */
export const LAST_FREE_ROW = 100_000;

/** How narrow and how wide a column can be made, in pixels. */
export const LEAST_WIDTH = 32;
export const MOST_WIDTH = 1200;
/** The most lines of text a row shows. */
export const MOST_LINES = 6;

/** What totals a pinned row can show. */
export const TOTALS = ['SUM', 'AVERAGE', 'COUNT', 'MIN', 'MAX'] as const;
export type Total = (typeof TOTALS)[number];

/** The longest condition on a column: so many values as can be ticked. */
export const LONGEST_CONDITION = 2000;
/** The most marks of one column. */
export const MOST_MARKS = 8;
