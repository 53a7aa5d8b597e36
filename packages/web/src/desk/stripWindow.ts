/** How many columns of a wide sheet stand in the strip at once. */
const MOST_IN_STRIP = 80;
/** The strip moves on by this many, so that it does not shift at every field. */
const STEP = 40;

/**
 * The columns of a sheet that stand in the strip, from and to (exclusive): all of them, or of a wide
 * sheet those around the column that is typed into.
 */
export function stripWindow(columns: number, focused: number): [number, number] {
  if (columns <= MOST_IN_STRIP) return [0, columns];
  const from = Math.floor((Math.max(0, focused) - STEP / 2) / STEP) * STEP;
  const start = Math.min(Math.max(0, from), columns - MOST_IN_STRIP);
  return [start, start + MOST_IN_STRIP];
}
