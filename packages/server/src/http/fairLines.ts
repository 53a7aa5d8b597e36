/** Lines of those who wait, one for each who asks; whose turn it is goes round. */
export class FairLines<T> {
  /** In the order of whose turn comes next. */
  private readonly lines = new Map<string, T[]>();
  private count = 0;

  get size(): number {
    return this.count;
  }

  sizeOf(who: string): number {
    return this.lines.get(who)?.length ?? 0;
  }

  add(who: string, item: T): void {
    const line = this.lines.get(who);
    if (line) line.push(item);
    else this.lines.set(who, [item]);
    this.count += 1;
  }

  /** The next one, of whoever’s turn it is; they come again when all others had theirs. */
  take(): T | undefined {
    for (const [who, line] of this.lines) {
      const item = line.shift();
      this.lines.delete(who);
      if (line.length > 0) this.lines.set(who, line);
      this.count -= 1;
      return item;
    }
    return undefined;
  }

  *[Symbol.iterator](): Generator<T> {
    for (const line of this.lines.values()) yield* line;
  }
}
