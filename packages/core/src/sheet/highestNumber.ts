import { firstNumberOf, formatRunningNumber, runningNumberIn } from '../kinds';
import { isErrorValue, type Cells, type CellValue } from '../values';
import { isTrial } from './trial';

/** A number as it is written, and the pattern it is written by. */
interface Numbered {
  readonly number: number;
  readonly pattern: string;
}

/** A value's number: a whole number itself, of a text its last figures. */
function numbered(value: CellValue): Numbered | null {
  if (isErrorValue(value) || value === null || typeof value === 'boolean') return null;
  if (typeof value === 'string') return runningNumberIn(value);
  return Number.isSafeInteger(value) && value >= 0 ? { number: value, pattern: '0' } : null;
}

/** The highest number among a column's values: compared as numbers, not as texts. */
export class HighestNumber {
  readonly columnIds: readonly string[];
  /** How many records hold each number, with how it is written. */
  private readonly held = new Map<number, { count: number; pattern: string }>();
  private highest: number | null = 0;

  constructor(private readonly columnId: string) {
    this.columnIds = [columnId];
  }

  put(_id: string, cells: Cells): void {
    const found = isTrial(cells) ? null : numbered(cells[this.columnId] ?? null);
    if (!found) return;
    const { number, pattern } = found;
    const entry = this.held.get(number);
    if (entry) entry.count += 1;
    else this.held.set(number, { count: 1, pattern });
    if (this.highest !== null && number > this.highest) this.highest = number;
  }

  remove(_id: string, cells: Cells): void {
    const found = isTrial(cells) ? null : numbered(cells[this.columnId] ?? null);
    const entry = found && this.held.get(found.number);
    if (!entry) return;
    entry.count -= 1;
    if (entry.count > 0) return;
    this.held.delete(found.number);
    if (found.number === this.highest) this.highest = null;
  }

  /** The next number as it would be written: by a pattern, or as the highest is. */
  next(pattern?: string): string {
    this.highest ??= [...this.held.keys()].reduce((most, each) => Math.max(most, each), 0);
    const as = pattern ?? this.held.get(this.highest)?.pattern ?? '0';
    const first = pattern === undefined ? 1 : firstNumberOf(pattern);
    return formatRunningNumber(as, Math.max(this.highest + 1, first));
  }
}
