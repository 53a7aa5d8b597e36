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

/** The largest index that is remembered in an array. */
const MOST_INDEX = 1 << 20;
/** More numbers than this that are no such index are not remembered: they take more than they save. */
const MOST_OTHERS = 50_000;
/** Numbers of two decimals have an index of their own. */
const CENTS = 100;

/** Whether a number is an index that an array may have. */
const isIndex = (index: number): boolean =>
  Number.isInteger(index) && index >= 0 && index < MOST_INDEX;

/** What is told of numbers by small whole numbers: 0 for not known yet, 1 for no, 2 for yes. */
class ToldByIndex {
  private told = new Uint8Array(1024);

  get(index: number): number {
    return this.told[index] ?? 0;
  }

  set(index: number, isSo: boolean): void {
    if (index >= this.told.length) {
      const more = new Uint8Array(Math.max(2 * this.told.length, index + 1));
      more.set(this.told);
      this.told = more;
    }
    this.told[index] = isSo ? 2 : 1;
  }
}

/** Tests each different number once, as far as there are not too many. */
export function rememberingNumbers(test: (value: number) => boolean): (value: number) => boolean {
  const whole = new ToldByIndex();
  const cents = new ToldByIndex();
  const others = new Map<number, boolean>();
  return (value) => {
    const byCents = Math.round(value * CENTS);
    const index = Number.isInteger(value) ? value : byCents / CENTS === value ? byCents : -1;
    if (isIndex(index)) {
      const told = index === value ? whole : cents;
      const known = told.get(index);
      if (known > 0) return known === 2;
      const isSo = test(value);
      told.set(index, isSo);
      return isSo;
    }
    const known = others.get(value);
    if (known !== undefined) return known;
    const isSo = test(value);
    if (others.size < MOST_OTHERS) others.set(value, isSo);
    return isSo;
  };
}
