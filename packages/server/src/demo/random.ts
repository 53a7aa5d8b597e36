/** A seeded generator of numbers (mulberry32), so that every start gives the same demo. */
export class Random {
  constructor(private state: number) {}

  /** From 0 to under 1. */
  next(): number {
    this.state = (this.state + 0x6d2b79f5) | 0;
    let t = Math.imul(this.state ^ (this.state >>> 15), 1 | this.state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296;
  }

  /** A whole number from `least` to `most`. */
  whole(least: number, most: number): number {
    return least + Math.floor(this.next() * (most - least + 1));
  }

  /** Around `mean`, seldom further than three times `spread` (sum of uniforms). */
  around(mean: number, spread: number): number {
    return mean + (this.next() + this.next() + this.next() + this.next() - 2) * 1.73 * spread;
  }

  chance(share: number): boolean {
    return this.next() < share;
  }

  pick<T>(from: readonly T[]): T {
    const picked = from[this.whole(0, from.length - 1)];
    if (picked === undefined) throw new RangeError('nothing to pick from');
    return picked;
  }
}

export function round(value: number, decimals: number): number {
  return Number(value.toFixed(decimals));
}
