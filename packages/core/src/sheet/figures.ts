import type { CellValue } from '../values';

/**
 * Figures of a column, kept by pieces: after a change only the piece it fell into is added up
 * again. Sums are compensated (Neumaier 1974), in a fixed order of slots.
 */
export interface ColumnFigures {
  /** Cells that hold anything. */
  readonly filled: number;
  /** Cells that hold a number. */
  readonly numbers: number;
  readonly sum: number;
  /** Of the numbers; infinite where there is none. */
  readonly least: number;
  readonly most: number;
  /** Whether any cell holds an error. */
  readonly errors: number;
}

/** Adds up cells one by one. */
export class FigureSum implements ColumnFigures {
  filled = 0;
  numbers = 0;
  errors = 0;
  least = Infinity;
  most = -Infinity;
  private total = 0;
  private lost = 0;

  get sum(): number {
    return this.total + (Number.isFinite(this.lost) ? this.lost : 0);
  }

  add(value: CellValue): void {
    if (value === null) return;
    if (typeof value === 'number') this.addNumber(value);
    else {
      this.filled += 1;
      if (typeof value === 'object') this.errors += 1;
    }
  }

  addNumber(value: number): void {
    this.filled += 1;
    this.numbers += 1;
    if (value < this.least) this.least = value;
    if (value > this.most) this.most = value;
    this.addToSum(value);
  }

  /** Adds what another sum has come to. */
  join(other: ColumnFigures): void {
    this.filled += other.filled;
    this.numbers += other.numbers;
    this.errors += other.errors;
    if (other.least < this.least) this.least = other.least;
    if (other.most > this.most) this.most = other.most;
    this.addToSum(other instanceof FigureSum ? other.total : other.sum);
    if (other instanceof FigureSum) this.addToSum(other.lost);
  }

  private addToSum(value: number): void {
    const sum = this.total + value;
    this.lost +=
      Math.abs(this.total) >= Math.abs(value) ? this.total - sum + value : value - sum + this.total;
    this.total = sum;
  }
}
