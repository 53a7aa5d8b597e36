import type { OwnStore } from './ownStore';
import { ownClaims, type Claims } from './claims';

/**
 * Work that was begun somewhere and is not written yet. Its id is the write id it will be written
 * with: in however many windows it comes up, it is written once.
 */
export interface BegunWork<T> {
  readonly id: string;
  /** When it was begun, in milliseconds since 1970 UTC. */
  readonly at: number;
  readonly work: T;
}

/** The begun work of one place, of all windows of the browser. */
export class BegunPlace<T> {
  private readonly start: string;

  constructor(
    private readonly own: OwnStore,
    place: string,
    private readonly claims: Claims = ownClaims(),
  ) {
    this.start = `begun.${place}.`;
  }

  /** Takes up what was begun and left, the oldest first; `most` of it at most. */
  async takeUp(
    most: number,
    except = '',
    isWanted: (work: T) => boolean = () => true,
  ): Promise<BegunWork<T>[]> {
    const taken: BegunWork<T>[] = [];
    for (const each of this.all()) {
      if (taken.length >= most) break;
      if (each.id === except || !isWanted(each.work)) continue;
      if (await this.claims.claim(each.id)) taken.push(each);
    }
    return taken;
  }

  /** How much was begun that no window works on. */
  async waiting(): Promise<number> {
    return (await this.claims.unclaimed(this.all().map(({ id }) => id))).length;
  }

  /** All that was begun here and is not written, the oldest first. */
  kept(): BegunWork<T>[] {
    return this.all();
  }

  /** Says that this window works on something new. */
  begin(id: string): void {
    void this.claims.claim(id);
  }

  read(id: string): BegunWork<T> | null {
    return this.own.read(this.start + id) as BegunWork<T> | null;
  }

  keep(id: string, work: T): void {
    const at = this.read(id)?.at ?? Date.now();
    this.own.store(this.start + id, { id, at, work } satisfies BegunWork<T>);
  }

  /** Nothing is left to be kept: it was written, or cleared. */
  drop(id: string): void {
    this.own.store(this.start + id, null);
  }

  /** Leaves it to whoever comes next. */
  release(id: string): void {
    this.claims.release(id);
  }

  private all(): BegunWork<T>[] {
    return this.own
      .names(this.start)
      .flatMap((name) => (this.own.read(name) as BegunWork<T> | null) ?? [])
      .sort((a, b) => a.at - b.at);
  }
}
