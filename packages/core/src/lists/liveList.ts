import type { ListItem } from '../kinds';
import { atOnce } from '../values';
import { ListIndex } from './listIndex';
import {
  isSameItem,
  itemOf,
  keyOf,
  MOST_ITEMS,
  type ListShape,
  type Skipped,
  type SourceRow,
} from './source';
import { sortedInSteps } from './sorting';
import type { Splice } from './splices';

/** What a list leaves out of its source, and what is odd about it. */
export interface ListCounts {
  /** Rows of the source. */
  rows: number;
  blanks: number;
  /** Rows whose value another row has. */
  doubles: number;
  errors: number;
  /** Values too long to be a choice. */
  long: number;
  /** Values over the most a list offers. */
  over: number;
}

interface Entry {
  readonly item: ListItem;
  /** Rows that have its value. */
  rows: number;
  /** Whether they say something else beside it. */
  isMixed: boolean;
  /** Its place in the source. */
  readonly place: number;
}

const COUNTED: Readonly<Record<Skipped, keyof ListCounts>> = {
  blank: 'blanks',
  error: 'errors',
  long: 'long',
};

/** Rows looked at before other work may go between. */
const SLICE = 1000;

/**
 * The items that a source gives, in the order they are offered. A row that changes changes its item
 * and nothing else; what can't be told from the row alone is told by building the list anew.
 */
export class LiveList {
  readonly index: ListIndex;
  private readonly ordered: ListItem[];
  private nextPlace: number;

  private constructor(
    private readonly entries: Map<string, Entry>,
    private readonly counted: ListCounts,
    items: ListItem[],
    private readonly shape: ListShape,
  ) {
    this.ordered = items;
    this.nextPlace = counted.rows;
    this.index = new ListIndex(items, shape.exact);
  }

  get items(): readonly ListItem[] {
    return this.ordered;
  }

  get counts(): Readonly<ListCounts> {
    return this.counted;
  }

  /** Values that rows say different things beside: two labels for one value. */
  mixed(most: number): ListItem[] {
    const found: ListItem[] = [];
    for (const { item, isMixed } of this.entries.values()) {
      if (isMixed && found.push(item) >= most) break;
    }
    return found;
  }

  /** Labels that several values have, each with those values. */
  sameLabels(most: number): ListItem[][] {
    const byLabel = new Map<string, ListItem[]>();
    for (const item of this.ordered) {
      const held = byLabel.get(item.label);
      if (!held) byLabel.set(item.label, [item]);
      else if (held.every(({ value }) => value !== item.value)) held.push(item);
    }
    return [...byLabel.values()].filter(({ length }) => length > 1).slice(0, most);
  }

  /**
   * Builds a list in steps between which other work can be done.
   *
   * @param rows the source's rows; `null` where one took long, or some were left out: others go first
   */
  static *build(rows: Iterable<SourceRow | null>, shape: ListShape): Generator<void, LiveList> {
    const counts: ListCounts = { rows: 0, blanks: 0, doubles: 0, errors: 0, long: 0, over: 0 };
    const entries = new Map<string, Entry>();
    for (const row of rows) {
      if (row === null) {
        yield;
        continue;
      }
      const place = counts.rows;
      counts.rows += 1;
      if (counts.rows % SLICE === 0) yield;
      const item = itemOf(row, shape);
      if (typeof item === 'string') {
        counts[COUNTED[item]] += 1;
        continue;
      }
      const key = keyOf(item, shape);
      const held = entries.get(key);
      if (held) {
        held.rows += 1;
        held.isMixed ||= !isSameItem(held.item, item);
        counts.doubles += 1;
      } else if (entries.size >= MOST_ITEMS) counts.over += 1;
      else entries.set(key, { item, rows: 1, isMixed: false, place });
    }
    const sorted = yield* sortedInSteps([...entries.values()], comparing(shape));
    const items = sorted.map(({ item }) => item);
    return new LiveList(entries, counts, items, shape);
  }

  /** The same at once. */
  static of(rows: Iterable<SourceRow>, shape: ListShape): LiveList {
    return atOnce(LiveList.build(rows, shape));
  }

  /**
   * Takes in that a row of the source changed, came (`before` is `null`) or went.
   *
   * @param isLast whether a row that came stands behind all others
   * @returns what changed of the items; `null` where the list is to be built anew
   */
  change(before: SourceRow | null, after: SourceRow | null, isLast: boolean): Splice[] | null {
    const was = before && itemOf(before, this.shape);
    const is = after && itemOf(after, this.shape);
    if (isItem(was) && isItem(is) && isSameItem(was, is)) return [];
    if (!this.canChange(was, is, isLast && before === null)) return null;
    const { counted } = this;
    counted.rows += (after ? 1 : 0) - (before ? 1 : 0);
    const gone = isItem(was) ? this.takeOut(was) : [];
    if (typeof was === 'string') counted[COUNTED[was]] -= 1;
    const come = isItem(is) ? this.putIn(is) : [];
    if (typeof is === 'string') counted[COUNTED[is]] += 1;
    return [...gone, ...come];
  }

  /** Whether a row alone tells what becomes of its item. */
  private canChange(
    was: ListItem | Skipped | null,
    is: ListItem | Skipped | null,
    isLast: boolean,
  ): boolean {
    if (this.counted.over > 0) return false;
    const { order, first } = this.shape;
    const isSorted = order === 'rising' || order === 'falling';
    if (isItem(was)) {
      const entry = this.entries.get(keyOf(was, this.shape));
      // Of rows that say different things the first counts, which may be this one.
      if (!entry || entry.isMixed || !isSameItem(entry.item, was)) return false;
      // The first of several gives the item its place.
      if (entry.rows > 1 && !isSorted) return false;
    }
    if (!isItem(is)) return true;
    const entry = this.entries.get(keyOf(is, this.shape));
    if (entry && !isSameItem(entry.item, is)) {
      return (
        isItem(was) &&
        entry.rows === 1 &&
        keyOf(was, this.shape) === keyOf(is, this.shape) &&
        isSorted
      );
    }
    if (entry) return isLast || isSorted;
    return isSorted || (isLast && !first?.includes(is.text) && order !== 'used');
  }

  private takeOut(item: ListItem): Splice[] {
    const key = keyOf(item, this.shape);
    const entry = this.entries.get(key);
    if (!entry) return [];
    if (entry.rows > 1) {
      entry.rows -= 1;
      this.counted.doubles -= 1;
      return [];
    }
    this.entries.delete(key);
    const at = this.placeOf(entry);
    this.ordered.splice(at, 1);
    this.index.remove(entry.item);
    return [{ at, remove: 1, items: [] }];
  }

  private putIn(item: ListItem): Splice[] {
    const key = keyOf(item, this.shape);
    const held = this.entries.get(key);
    if (held) {
      held.rows += 1;
      this.counted.doubles += 1;
      return [];
    }
    const entry: Entry = { item, rows: 1, isMixed: false, place: this.nextPlace };
    this.nextPlace += 1;
    if (this.entries.size >= MOST_ITEMS) {
      this.counted.over += 1;
      return [];
    }
    this.entries.set(key, entry);
    const at = this.placeFor(entry);
    this.ordered.splice(at, 0, item);
    this.index.add(item);
    return [{ at, remove: 0, items: [item] }];
  }

  /** Where an item stands. */
  private placeOf(entry: Entry): number {
    const { order } = this.shape;
    const at = order === 'rising' || order === 'falling' ? this.placeFor(entry) : -1;
    return this.ordered[at] === entry.item ? at : this.ordered.indexOf(entry.item);
  }

  /** Where an item is to stand, by halves. */
  private placeFor(entry: Entry): number {
    const compare = comparing(this.shape);
    let [low, high] = [0, this.ordered.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      const item = this.ordered[middle];
      const other = item && this.entries.get(keyOf(item, this.shape));
      if (other && compare(other, entry) < 0) low = middle + 1;
      else high = middle;
    }
    return low;
  }
}

const isItem = (item: ListItem | Skipped | null): item is ListItem =>
  item !== null && typeof item === 'object';

/** In which order items are offered: those that come first, then as the list says. */
function comparing({ order, first, compare, uses }: ListShape): (a: Entry, b: Entry) => number {
  const places = new Map(first?.map((text, n) => [text, n]));
  const placeOf = ({ item }: Entry): number => places.get(item.text) ?? Infinity;
  // Numbers by size and moments by date, before all texts.
  const rising = (a: ListItem, b: ListItem): number => {
    const [one = Infinity, other = Infinity] = [a.size, b.size];
    if (one !== other) return one < other ? -1 : 1;
    return compare(a.label, b.label) || compare(a.text, b.text);
  };
  const byOrder = (a: Entry, b: Entry): number => {
    switch (order) {
      case 'rising':
        return rising(a.item, b.item);
      case 'falling':
        return rising(b.item, a.item);
      case 'newest':
        return b.place - a.place;
      case 'used':
        return (uses?.(b.item.text) ?? 0) - (uses?.(a.item.text) ?? 0);
      case undefined:
        return 0;
    }
  };
  return (a, b) => {
    const [at, to] = places.size > 0 ? [placeOf(a), placeOf(b)] : [0, 0];
    return at === to ? byOrder(a, b) || a.place - b.place : at - to;
  };
}
