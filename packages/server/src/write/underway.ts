import { Injectable } from '@nestjs/common';
import { Refused } from '../http/refused';

/** One write of many records, while it is decided and carried out. */
export class LargeWrite {
  private reached = 0;
  private isCancelled = false;
  private isFinal = false;

  constructor(readonly personId: string) {}

  /** How much of it is done, from 0 to 1. */
  get share(): number {
    return this.reached;
  }

  /** Notes how far it has come. @throws Refused 409 where it was cancelled */
  reach(share = this.reached): void {
    if (this.isCancelled) throw Refused.conflict('cancelled', 'Stopped. Nothing was changed.');
    this.reached = Math.max(this.reached, share);
  }

  /** From now on it is carried out, and no longer cancelled. @throws Refused 409 where it was */
  finish(): void {
    this.reach(1);
    this.isFinal = true;
  }

  /** @returns whether nothing of it will be stored */
  cancel(): boolean {
    this.isCancelled = !this.isFinal;
    return this.isCancelled;
  }
}

/** The large writes that are under way, by write id: whoever asked is told how far, and may cancel. */
@Injectable()
export class Underway {
  private readonly writes = new Map<string, LargeWrite>();

  /** Carries one out that may be large. */
  async follow<T>(writeId: string, personId: string, work: () => Promise<T>): Promise<T> {
    // Asked twice at once, it is one write all the same.
    if (this.writes.has(writeId)) return work();
    this.writes.set(writeId, new LargeWrite(personId));
    try {
      return await work();
    } finally {
      this.writes.delete(writeId);
    }
  }

  of(writeId: string): LargeWrite | undefined {
    return this.writes.get(writeId);
  }
}
