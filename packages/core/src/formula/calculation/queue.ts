import { ALL_RECORDS, type Node, type Slots } from './nodes';

interface Waiting {
  readonly node: Node;
  slots: Set<number> | typeof ALL_RECORDS;
}

/** Slots that wait alone; with more of them the whole column is computed. */
const MOST_SLOTS = 10_000;

/** What waits to be computed, the lowest rank first: a binary heap. */
export class Queue {
  private heap: Waiting[] = [];
  private readonly waiting = new Map<Node, Waiting>();

  get isEmpty(): boolean {
    return this.waiting.size === 0;
  }

  /** Adds a node, or a record to those for which it waits already. */
  add(node: Node, slot: Slots): void {
    const isWhole = node.kind === 'cell' || slot === ALL_RECORDS;
    const held = this.waiting.get(node);
    if (held) {
      if (held.slots === ALL_RECORDS) return;
      if (isWhole || held.slots.size >= MOST_SLOTS) held.slots = ALL_RECORDS;
      else held.slots.add(slot);
      return;
    }
    const entry: Waiting = { node, slots: isWhole ? ALL_RECORDS : new Set([slot]) };
    this.waiting.set(node, entry);
    this.heap.push(entry);
    this.rise(this.heap.length - 1);
  }

  take(): Waiting | undefined {
    for (;;) {
      const first = this.heap[0];
      const last = this.heap.pop();
      if (!first || !last) return undefined;
      if (first !== last) {
        this.heap[0] = last;
        this.sink(0);
      }
      // One that was removed stands in the heap until its turn comes.
      if (this.waiting.get(first.node) !== first) continue;
      this.waiting.delete(first.node);
      return first;
    }
  }

  remove(node: Node): void {
    this.waiting.delete(node);
  }

  /** After ranks have changed. */
  reorder(): void {
    this.heap.sort((a, b) => a.node.rank - b.node.rank);
  }

  private rankAt(index: number): number {
    return this.heap[index]?.node.rank ?? Infinity;
  }

  private swap(a: number, b: number): void {
    const [first, second] = [this.heap[a], this.heap[b]];
    if (first && second) {
      this.heap[a] = second;
      this.heap[b] = first;
    }
  }

  private rise(index: number): void {
    for (let at = index; at > 0;) {
      const parent = (at - 1) >> 1;
      if (this.rankAt(parent) <= this.rankAt(at)) return;
      this.swap(at, parent);
      at = parent;
    }
  }

  private sink(index: number): void {
    for (let at = index; ;) {
      const left = 2 * at + 1;
      const least = this.rankAt(left + 1) < this.rankAt(left) ? left + 1 : left;
      if (this.rankAt(least) >= this.rankAt(at)) return;
      this.swap(at, least);
      at = least;
    }
  }
}
