import type { EventStream } from './eventStream';

/** The most streams of one person: of each window that follows a workbook, one. */
const MOST_STREAMS = 20;

/** The streams that are open, by the person who reads them. */
export class OpenStreams {
  /** Each person's in the order they were opened. */
  private readonly ofPeople = new Map<string, Set<EventStream>>();

  /** Adds a stream; where a person has too many, their oldest is told so and ended. */
  add(personId: string, stream: EventStream): void {
    const own = this.ofPeople.get(personId) ?? new Set();
    this.ofPeople.set(personId, own.add(stream));
    const [oldest] = own;
    if (own.size > MOST_STREAMS && oldest) {
      own.delete(oldest);
      oldest.giveWay();
    }
  }

  remove(personId: string, stream: EventStream): void {
    const own = this.ofPeople.get(personId);
    own?.delete(stream);
    if (own?.size === 0) this.ofPeople.delete(personId);
  }

  endAll(): void {
    for (const own of this.ofPeople.values()) for (const stream of own) stream.end();
  }
}
