/** How far apart, for their size, two doubles may be and still be one: under half a unit of the 15th digit. */
const SAME = 2 ** -50;

/**
 * Numbers that differ only by the rounding of decimal fractions are the same. Whole numbers below
 * 2⁵³ are exact (IEEE 754), so that they are the same only where they are equal.
 */
export function sameNumber(a: number, b: number): boolean {
  if (a === b) return true;
  const isNear = Math.abs(a - b) <= Math.max(Math.abs(a), Math.abs(b)) * SAME;
  return isNear && !(Number.isSafeInteger(a) && Number.isSafeInteger(b));
}

/** Doubles that follow each other in one bucket: many more than may be apart and the same. */
const BUCKET = 2 ** 12;
const REST = 2 ** 32 / BUCKET;
/** Doubles between two numbers that are the same are fewer. */
const NEAR = 32;
const NONE: readonly [number, number][] = [];
const double = new Float64Array(1);
const halves = new Uint32Array(double.buffer);

/** The bucket a number is in; what is the same number is in it, or in the one next to it. */
function bucketOf(value: number): number {
  double[0] = value === 0 ? 0 : value;
  return (halves[1] ?? 0) * REST + Math.floor((halves[0] ?? 0) / BUCKET);
}

/**
 * Places by number, for which numbers that are the same are one: 0.1 + 0.2 is found as 0.3. The
 * first place that is put stays.
 */
export class NumberPlaces {
  private readonly buckets = new Map<number, [value: number, place: number][]>();

  put(value: number, place: number): void {
    const key = bucketOf(value);
    const bucket = this.buckets.get(key);
    if (!bucket) this.buckets.set(key, [[value, place]]);
    else if (!bucket.some(([held]) => held === value)) bucket.push([value, place]);
  }

  /** The lowest place of a number that is the same. */
  find(value: number): number | undefined {
    const key = bucketOf(value);
    const within = (halves[0] ?? 0) % BUCKET;
    let found = this.lowestIn(key, value, undefined);
    // Only from near a bucket's end can what is the same be in the next one.
    if (within < NEAR) found = this.lowestIn(key - 1, value, found);
    if (within >= BUCKET - NEAR) found = this.lowestIn(key + 1, value, found);
    return found;
  }

  private lowestIn(key: number, value: number, below: number | undefined): number | undefined {
    let found = below;
    for (const [held, place] of this.buckets.get(key) ?? NONE) {
      if (sameNumber(held, value) && place < (found ?? Infinity)) found = place;
    }
    return found;
  }
}
