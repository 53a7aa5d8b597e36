/** Of so many who are taken, one is of those who wait behind the others, where there are any. */
const LATE_EVERY = 8;

/** Lines of one kind, by who waits in them, in the order of whose turn comes next. */
type Lines<T> = Map<string, T[]>;

/**
 * Lines of those who wait, one for each who asks; whose turn it is goes round. Those who are late
 * stand in lines of their own, and are taken where nobody else waits, or now and then.
 */
export class FairLines<T> {
  private readonly prompt: Lines<T> = new Map();
  private readonly late: Lines<T> = new Map();
  private count = 0;
  private taken = 0;

  get size(): number {
    return this.count;
  }

  sizeOf(who: string): number {
    return (this.prompt.get(who)?.length ?? 0) + (this.late.get(who)?.length ?? 0);
  }

  add(who: string, item: T, isLate = false): void {
    const lines = isLate ? this.late : this.prompt;
    const line = lines.get(who);
    if (line) line.push(item);
    else lines.set(who, [item]);
    this.count += 1;
  }

  /** The next one, of whoever’s turn it is; they come again when all others had theirs. */
  take(): T | undefined {
    this.taken += 1;
    const isOfLate = this.late.size > 0 && this.taken % LATE_EVERY === 0;
    const lines = isOfLate || this.prompt.size === 0 ? this.late : this.prompt;
    for (const [who, line] of lines) {
      const item = line.shift();
      lines.delete(who);
      if (line.length > 0) lines.set(who, line);
      this.count -= 1;
      return item;
    }
    return undefined;
  }

  *[Symbol.iterator](): Generator<T> {
    for (const lines of [this.prompt, this.late]) {
      for (const line of lines.values()) yield* line;
    }
  }
}
