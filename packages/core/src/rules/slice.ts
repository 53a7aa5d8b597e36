import type { CellValue } from '../values';

/** Work between two turns of others, counted in signs that are looked at. */
const MOST = 50_000;
/** What a value costs that is no text. */
const USUAL = 10;

/** Tells when others are to have their turn, by how much was looked at: long texts take longer. */
export class Slice {
  private spent = 0;

  isOver(value: CellValue): boolean {
    this.spent += USUAL + (typeof value === 'string' ? value.length : 0);
    if (this.spent < MOST) return false;
    this.spent = 0;
    return true;
  }
}
