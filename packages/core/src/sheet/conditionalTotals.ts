import type { CellValue } from '../values';
import { FigureSum, type ColumnFigures } from './figures';
import type { TouchedSlots } from './touchedSlots';

/** Slots whose values are added up together. */
const PIECE = 1024;
/** How many totals are kept of a sheet, and how many places they may note in all. */
const MOST_KEPT = 512;
const MOST_PLACES = 64 * 1024 * 1024;
/** Totals asked for that are remembered, before any of them is kept. */
const MOST_ASKED = 2000;
/** Touched slots that are noted; a total that is further behind is made anew. */
const MOST_NOTED = 20_000;

/** A test of a column's values. */
export interface ColumnCondition {
  readonly columnId: string;
  /** The same for conditions that test the same. */
  readonly key: string;
  readonly test: (value: CellValue) => boolean;
}

/** Totals over the records that meet conditions. */
export interface TotalsMet {
  /** Records that meet them. */
  readonly count: number;
  /** What their values come to in the column that was asked for. */
  readonly figures: ColumnFigures;
  /** The first error among these values, in the order of the records. */
  firstError(): CellValue;
}

/** The records that totals are kept of. */
interface Records {
  readonly slotCount: number;
  isTaken(slot: number): boolean;
  cellOfSlot(slot: number, columnId: string): CellValue;
  slots(): Int32Array;
  watchSlots(): TouchedSlots;
}

/**
 * Totals over the records of a sheet that meet conditions, kept while records come, change and go:
 * what a change costs is to hold the records it touched against the conditions. A total is kept once
 * it is asked for again after a change; who asks only once looks through the records.
 */
export class ConditionalTotals {
  /** The one that was asked for longest ago first. */
  private readonly kept = new Map<string, Total>();
  /** At which state of the records totals were asked for that are not kept. */
  private readonly asked = new Map<string, number>();
  private readonly touched: TouchedSlots;
  /** Slots touched one after the other, from `begin` on, counted since all were touched last. */
  private noted: number[] = [];
  private begin = 0;
  /** Rises whenever records were found to be touched. */
  private state = 0;

  constructor(private readonly records: Records) {
    this.touched = records.watchSlots();
  }

  /**
   * Totals of the records that meet all conditions.
   *
   * @param valuesId the column whose values are added up; `null` where records are only counted
   * @param find looks through the records for the positions of those that meet them
   * @returns `null` where they are not kept, and whoever asks is to look for themselves
   */
  met(
    conditions: readonly ColumnCondition[],
    valuesId: string | null,
    find: () => Iterable<number>,
  ): TotalsMet | null {
    this.catchUp();
    const key = [valuesId, ...conditions.flatMap((each) => [each.columnId, each.key])].join(
      '\u0000',
    );
    let total = this.kept.get(key);
    this.kept.delete(key);
    if (!total || total.upTo < this.begin) {
      if (!total && !this.isWorthIt(key)) return null;
      const positions = find();
      total = new Total(this.records, conditions, valuesId);
      total.fill(positions);
    } else total.goOn(this.noted, this.begin);
    total.upTo = this.begin + this.noted.length;
    total.askedAt = this.state;
    this.kept.set(key, total);
    return total;
  }

  /** Notes what was touched since. */
  private catchUp(): void {
    const touched = this.touched.take();
    if (touched !== 'all' && touched.size === 0) return;
    this.state += 1;
    if (touched !== 'all' && this.noted.length + touched.size <= MOST_NOTED) {
      this.noted.push(...touched);
      return;
    }
    // Whatever is kept is behind what is noted from here on.
    this.begin += this.noted.length + 1;
    this.noted = touched === 'all' ? [] : [...touched];
  }

  /** Whether a total was asked for before, at another state of the records, and there is room. */
  private isWorthIt(key: string): boolean {
    const before = this.asked.get(key);
    if (before === this.state) return false;
    if (before === undefined) {
      if (this.asked.size >= MOST_ASKED) this.asked.clear();
      this.asked.set(key, this.state);
      return false;
    }
    const most = Math.min(MOST_KEPT, Math.ceil(MOST_PLACES / (this.records.slotCount + 1)));
    if (this.kept.size >= most) {
      const [oldest] = this.kept;
      // What is asked for each time is not put out by what is asked for as often.
      if (!oldest || oldest[1].askedAt >= this.state - 1) return false;
      this.kept.delete(oldest[0]);
    }
    this.asked.delete(key);
    return true;
  }
}

/** Which records meet conditions, and what their values come to, by pieces as figures are. */
class Total implements TotalsMet {
  count = 0;
  /** How far along what was touched it has looked. */
  upTo = 0;
  askedAt = 0;
  /** A bit for each slot. */
  private met: Uint32Array;
  private pieces: (FigureSum | undefined)[] = [];
  private summed: ColumnFigures | undefined;

  constructor(
    private readonly records: Records,
    private readonly conditions: readonly ColumnCondition[],
    private readonly valuesId: string | null,
  ) {
    this.met = new Uint32Array((records.slotCount >> 5) + 1);
  }

  get figures(): ColumnFigures {
    if (this.summed) return this.summed;
    const sum = new FigureSum();
    if (this.valuesId !== null) {
      for (let piece = 0; piece * PIECE < this.records.slotCount; piece += 1) {
        sum.join((this.pieces[piece] ??= this.sumPiece(piece, this.valuesId)));
      }
    }
    this.summed = sum;
    return sum;
  }

  firstError(): CellValue {
    const { valuesId, records } = this;
    if (valuesId === null) return null;
    for (const slot of records.slots()) {
      if (!this.isMet(slot)) continue;
      const value = records.cellOfSlot(slot, valuesId);
      if (typeof value === 'object' && value !== null) return value;
    }
    return null;
  }

  /** Notes the records at some positions, which meet the conditions. */
  fill(positions: Iterable<number>): void {
    const slots = this.records.slots();
    for (const position of positions) this.mark(slots[position] ?? 0);
  }

  /** Holds what was touched meanwhile against the conditions. */
  goOn(noted: readonly number[], begin: number): void {
    for (let at = this.upTo - begin; at < noted.length; at += 1) this.look(noted[at] ?? 0);
  }

  private look(slot: number): void {
    const { records, conditions } = this;
    const isMet =
      records.isTaken(slot) &&
      conditions.every(({ columnId, test }) => test(records.cellOfSlot(slot, columnId)));
    const wasMet = this.isMet(slot);
    if (isMet && !wasMet) this.mark(slot);
    else if (wasMet) {
      // Its value may be another, or another record's.
      this.summed = undefined;
      this.pieces[Math.floor(slot / PIECE)] = undefined;
      if (isMet) return;
      this.met[slot >> 5] = (this.met[slot >> 5] ?? 0) & ~(1 << (slot & 31));
      this.count -= 1;
    }
  }

  private isMet(slot: number): boolean {
    return ((this.met[slot >> 5] ?? 0) & (1 << (slot & 31))) !== 0;
  }

  private mark(slot: number): void {
    if (slot >> 5 >= this.met.length) {
      const grown = new Uint32Array((slot >> 4) + 64);
      grown.set(this.met);
      this.met = grown;
    }
    this.met[slot >> 5] = (this.met[slot >> 5] ?? 0) | (1 << (slot & 31));
    this.count += 1;
    this.summed = undefined;
    this.pieces[Math.floor(slot / PIECE)] = undefined;
  }

  private sumPiece(piece: number, valuesId: string): FigureSum {
    const sum = new FigureSum();
    const words = this.met;
    for (let word = piece * (PIECE / 32); word < (piece + 1) * (PIECE / 32); word += 1) {
      const bits = words[word] ?? 0;
      for (let bit = 0; bits !== 0 && bit < 32; bit += 1) {
        if ((bits & (1 << bit)) !== 0) sum.add(this.records.cellOfSlot(word * 32 + bit, valuesId));
      }
    }
    return sum;
  }
}
