import type { Costs } from './costs';

/** Nobody waits for the answer any more. */
export class AskerGone extends Error {}

/** Someone who waits for an answer that may take long to find: what it costs is theirs. */
export class Asker {
  /**
   * @param who has asked: a person's id
   * @param isGone whether nobody waits for the answer any more
   */
  constructor(
    readonly who: string,
    private readonly costs: Costs,
    private readonly isGone: () => boolean,
  ) {}

  /** Whether others go first. */
  get isLate(): boolean {
    return this.costs.isMuch(this.who);
  }

  /** Counts milliseconds of work. */
  spend(ms: number): void {
    this.costs.add(this.who, ms);
  }

  /** @throws AskerGone */
  stillWaits(): void {
    if (this.isGone()) throw new AskerGone();
  }
}
