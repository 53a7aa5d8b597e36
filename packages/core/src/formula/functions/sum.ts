/** A compensated sum (Neumaier 1974): as if added with twice the digits. */
export class Sum {
  private sum = 0;
  private lost = 0;

  add(value: number): void {
    const sum = this.sum + value;
    this.lost +=
      Math.abs(this.sum) >= Math.abs(value) ? this.sum - sum + value : value - sum + this.sum;
    this.sum = sum;
  }

  get total(): number {
    return this.sum + (Number.isFinite(this.lost) ? this.lost : 0);
  }
}

/** Mean and sum of squared differences from it, in two passes over compensated sums. */
export function spreadOfNumbers(numbers: readonly number[]): { mean: number; squares: number } {
  const sum = new Sum();
  for (const value of numbers) sum.add(value);
  const mean = sum.total / numbers.length;
  const squares = new Sum();
  const rest = new Sum();
  for (const value of numbers) {
    squares.add((value - mean) ** 2);
    rest.add(value - mean);
  }
  // The second term takes out what the mean itself was rounded by (Chan, Golub, LeVeque 1983).
  return { mean, squares: squares.total - rest.total ** 2 / numbers.length };
}
