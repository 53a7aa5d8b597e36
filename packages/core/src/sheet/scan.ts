/**
 * Looks through some records, by their slots: marks in `found` those of `wanted` that pass, and
 * leaves alone what is marked already. All but `slots` are counted from the first of them.
 *
 * @param slots the slots of all records, in their order
 * @param from the position of the first record that is looked at
 * @param count how many are
 */
export type Scan = (
  slots: Int32Array,
  from: number,
  count: number,
  wanted: Uint8Array,
  found: Uint8Array,
) => void;

/**
 * Tells of some records how many of a row of tests their value passes before it fails one: writes it
 * into `grades` for those of `wanted`, and leaves the others alone. Counted as for a scan.
 */
export type Grading = (
  slots: Int32Array,
  from: number,
  count: number,
  wanted: Uint8Array,
  grades: Uint16Array,
) => void;

/** Numbers of which a test's answer is sure without it; between these bounds it is asked. */
export interface Sure {
  readonly noUnder: number;
  readonly noOver: number;
  readonly yesOver: number;
  readonly yesUnder: number;
}

export const NEVER_SURE: Sure = {
  noUnder: -Infinity,
  noOver: Infinity,
  yesOver: Infinity,
  yesUnder: -Infinity,
};

/** What is known of numbers without testing each. */
export interface KnownOfNumbers {
  readonly sure?: Sure | undefined;
  readonly told?: ToldNumbers;
}

/** Numbers from 0 up to this are told of by index. */
const FIRST_INDEX = 1 << 10;
const MOST_INDEX = 1 << 20;
/** More numbers than this that are no such index are not remembered: they take more than they save. */
const MOST_OTHERS = 50_000;
/** Numbers of two decimals have an index of their own. */
const CENTS = 100;

/** What is told of a value that was tested. */
export const Told = { notYet: 0, no: 1, yes: 2 } as const;

/** Tests each different number once, as far as there are not too many. */
export class ToldNumbers {
  private whole = new Uint8Array(FIRST_INDEX);
  private cents = new Uint8Array(FIRST_INDEX);
  private readonly others = new Map<number, number>();

  constructor(private readonly test: (value: number) => boolean) {}

  tell(value: number): number {
    let index = value | 0;
    let by: Uint8Array = this.whole;
    if (index !== value) {
      index = Math.round(value * CENTS);
      if (index / CENTS !== value) index = -1;
      by = this.cents;
    }
    if (index < 0 || index >= MOST_INDEX) return this.tellOther(value);
    const told = by[index];
    if (told !== undefined && told !== Told.notYet) return told;
    if (told === undefined) by = this.grow(by, index);
    return (by[index] = this.test(value) ? Told.yes : Told.no);
  }

  private grow(by: Uint8Array, index: number): Uint8Array {
    const grown = new Uint8Array(Math.min(MOST_INDEX, 2 * (index + 1)));
    grown.set(by);
    if (by === this.whole) this.whole = grown;
    else this.cents = grown;
    return grown;
  }

  private tellOther(value: number): number {
    const known = this.others.get(value);
    if (known !== undefined) return known;
    const now = this.test(value) ? Told.yes : Told.no;
    if (this.others.size < MOST_OTHERS) this.others.set(value, now);
    return now;
  }
}
