import { Injectable } from '@nestjs/common';

/** What a person may have computed within about a minute before they wait behind others. */
const MOST_MS = 15_000;
/** What was spent so long ago counts half. */
const HALVED_AFTER_MS = 30_000;
/** People that are remembered; those who cost little go first. */
const MOST_KNOWN = 10_000;

interface Cost {
  readonly ms: number;
  readonly at: number;
}

/** What answering people has cost lately: time of the one thread that serves all. */
@Injectable()
export class Costs {
  private readonly costs = new Map<string, Cost>();

  /** Counts milliseconds. */
  add(who: string, ms: number): void {
    const at = performance.now();
    this.costs.set(who, { ms: this.of(who, at) + ms, at });
    if (this.costs.size > MOST_KNOWN) this.forgetSome(at);
  }

  /** Whether a person has cost so much that others go first. */
  isMuch(who: string): boolean {
    return this.of(who, performance.now()) > MOST_MS;
  }

  private of(who: string, now: number): number {
    const cost = this.costs.get(who);
    return cost ? cost.ms * 2 ** ((cost.at - now) / HALVED_AFTER_MS) : 0;
  }

  private forgetSome(now: number): void {
    for (const who of this.costs.keys()) if (this.of(who, now) < 1) this.costs.delete(who);
    for (const who of this.costs.keys()) {
      if (this.costs.size <= MOST_KNOWN) return;
      this.costs.delete(who);
    }
  }
}
