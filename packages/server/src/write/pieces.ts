import { stepsTaken } from '@varn/core';

/** Cells that are gone through before it is asked whether others wait. */
const FEW_CELLS = 500;
/** Steps of formulas that take as long as a cell. */
const STEPS_A_CELL = 100;
/** What a record counts besides its cells. */
const LEAST = 10;
/** From so many records, or cells of them, on a write is a large one. */
const MANY_RECORDS = 500;
const MANY_CELLS = 5000;

/**
 * Parts work over records into pieces of about the same length, however wide the records are and
 * whatever is computed for them.
 */
export class Pieces {
  private gone = 0;
  private steps = stepsTaken();

  /** @param most how many cells make a piece */
  constructor(private readonly most = FEW_CELLS) {}

  /** Counts a record that was gone through. @returns whether that ends a piece */
  isOver(...cells: readonly (object | null | undefined)[]): boolean {
    const steps = stepsTaken();
    this.gone += LEAST + cellsOf(cells) + (steps - this.steps) / STEPS_A_CELL;
    this.steps = steps;
    if (this.gone < this.most) return false;
    this.gone = 0;
    return true;
  }
}

/**
 * Whether a write of some records is large: decided ahead, and carried out in pieces.
 *
 * @param cells how many all of them have together
 */
export const isLarge = (records: number, cells: number): boolean =>
  records >= MANY_RECORDS || cells >= MANY_CELLS;

/** How many cells some records have together. */
export const cellsOf = (records: readonly (object | null | undefined)[]): number =>
  records.reduce((sum, cells) => sum + Object.keys(cells ?? {}).length, 0);
