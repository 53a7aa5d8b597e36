import type { Growing } from '../../sheet';
import { isErrorValue, sameNumber, type CellValue, type ErrorValue } from '../../values';
import { spend } from './budget';
import { foldCase } from './convert';

/** One row or one column of an area. */
export interface Line {
  readonly length: number;
  readonly at: (index: number) => CellValue;
  /** Finds its values; absent where it would not be kept. */
  index?(): LineIndex;
  /** All of its numbers in no order, where they are ready; `null` where an error stands among them. */
  readonly numbers?: () => Float64Array | null;
}

type Wanted = string | number | boolean;

/** Answers that are kept beside a line; more of them are not asked again often enough. */
const MOST_REMEMBERED = 10_000;

let made = 0;

/**
 * Finds values in a line that does not change: by equality from groups of equal values, by size
 * from its numbers in order. Numbers that differ by rounding only are equal, and so are texts that
 * differ by case. Each part is made when it is first needed, in about the time of looking at the
 * line a few times; so whoever asks only once looks at the line itself (`isWorthIt`).
 */
export class LineIndex {
  /** Tells this line, as it is, from all others. */
  id = (made += 1);
  private asked = 0;
  protected groups: Groups | undefined;
  protected ordered: Float64Array | undefined;
  protected error: ErrorValue | null | undefined;
  protected readonly remembered = new Map<string, CellValue>();

  constructor(protected line: Line) {}

  /** Whether the line was asked before, and so will be again. */
  isWorthIt(): boolean {
    this.asked += 1;
    return this.asked > 1;
  }

  /** Where a value stands first, and last; nothing where it stands nowhere. */
  first(value: Wanted): number | undefined {
    return least(this.groupsOf(value).map((group) => this.grouped().first[group] ?? 0));
  }

  last(value: Wanted): number | undefined {
    return this.groupsOf(value)
      .map((group) => this.grouped().last[group] ?? 0)
      .reduce<number | undefined>((most, each) => Math.max(most ?? each, each), undefined);
  }

  /** How often a value stands in the line. */
  count(value: Wanted): number {
    return this.groupsOf(value).reduce((sum, group) => sum + (this.grouped().count[group] ?? 0), 0);
  }

  /** All places of a value, in order. */
  places(value: Wanted): number[] {
    const { first, next } = this.grouped();
    const found: number[] = [];
    const groups = this.groupsOf(value);
    for (const group of groups) {
      for (let at = first[group] ?? -1; at >= 0; at = next[at] ?? -1) found.push(at);
    }
    spend(found.length);
    return groups.length > 1 ? found.sort((a, b) => a - b) : found;
  }

  /** How many numbers are below one, those equal to it left out. */
  below(value: number): number {
    return countBelow(this.numbers(), value);
  }

  /** How many numbers are below one or equal to it. */
  upTo(value: number): number {
    return countUpTo(this.numbers(), value);
  }

  /** The numbers of the line, the smallest first. */
  numbers(): Float64Array {
    if (!this.ordered) {
      const { line } = this;
      // Half of it for putting them in order.
      spend(line.length * 2);
      const given = line.numbers?.();
      if (given) {
        this.error = null;
        this.ordered = given.sort();
        return this.ordered;
      }
      const numbers = new Float64Array(line.length);
      let count = 0;
      let error: ErrorValue | null = null;
      for (let index = 0; index < line.length; index += 1) {
        const value = line.at(index);
        if (typeof value === 'number') {
          numbers[count] = value;
          count += 1;
        } else if (error === null && isErrorValue(value)) error = value;
      }
      this.error = error;
      this.ordered = numbers.slice(0, count).sort();
    }
    return this.ordered;
  }

  /** The first error in the line. */
  firstError(): ErrorValue | null {
    if (this.error === undefined) this.numbers();
    return this.error ?? null;
  }

  /** An answer about the line that is worked out once. */
  remember(key: string, answer: () => CellValue): CellValue {
    let known = this.remembered.get(key);
    if (known === undefined) {
      known = answer();
      if (this.remembered.size >= MOST_REMEMBERED) this.remembered.clear();
      this.remembered.set(key, known);
    }
    return known;
  }

  private groupsOf(value: Wanted): number[] {
    const { numbers, others } = this.grouped();
    spend(10);
    if (typeof value !== 'number') {
      const group = others.get(keyOf(value));
      return group === undefined ? [] : [group];
    }
    const ordered = this.numbers();
    const found: number[] = [];
    const end = this.upTo(value);
    for (let at = this.below(value); at < end;) {
      const each = ordered[at] ?? 0;
      const group = numbers.get(each);
      if (group !== undefined) found.push(group);
      at = upperBound(ordered, each, at);
    }
    return found;
  }

  private grouped(): Groups {
    this.groups ??= grouped(this.line);
    return this.groups;
  }
}

/** The index of a line to whose end values are put. */
export class GrowingIndex extends LineIndex implements Growing {
  append(value: CellValue): void {
    const { length, at } = this.line;
    this.line = { length: length + 1, at };
    this.id = made += 1;
    this.remembered.clear();
    this.groups?.put(value, length);
    if (isErrorValue(value)) this.error ??= value;
    if (!this.ordered || typeof value !== 'number') return;
    const place = upperBound(this.ordered, value);
    const ordered = new Float64Array(this.ordered.length + 1);
    ordered.set(this.ordered.subarray(0, place));
    ordered[place] = value;
    ordered.set(this.ordered.subarray(place), place + 1);
    this.ordered = ordered;
  }
}

/** Equal values of a line, each group a chain of its places. */
class Groups {
  readonly numbers = new Map<number, number>();
  readonly others = new Map<string | boolean, number>();
  readonly first: number[] = [];
  readonly last: number[] = [];
  readonly count: number[] = [];
  /** By place: the next place of the same value; -1 at the last. */
  next: Int32Array;

  constructor(length: number) {
    this.next = new Int32Array(length).fill(-1);
  }

  /** Puts values in one after the other, by their places. */
  put(value: CellValue, at: number): void {
    if (value === null || isErrorValue(value)) return;
    if (at >= this.next.length) this.grow();
    if (typeof value === 'number') this.chain(this.numbers, value, at);
    else this.chain(this.others, keyOf(value), at);
  }

  private chain<K>(groups: Map<K, number>, key: K, at: number): void {
    const group = groups.get(key);
    if (group === undefined) {
      groups.set(key, this.first.length);
      this.first.push(at);
      this.last.push(at);
      this.count.push(1);
      return;
    }
    this.next[this.last[group] ?? 0] = at;
    this.last[group] = at;
    this.count[group] = (this.count[group] ?? 0) + 1;
  }

  private grow(): void {
    const next = new Int32Array(Math.ceil(this.next.length * 1.5) + 64).fill(-1);
    next.set(this.next);
    this.next = next;
  }
}

function grouped(line: Line): Groups {
  const { length } = line;
  spend(length * 3);
  const groups = new Groups(length);
  for (let at = 0; at < length; at += 1) groups.put(line.at(at), at);
  return groups;
}

function keyOf(value: string | boolean): string | boolean {
  if (typeof value === 'boolean') return value;
  spend(value.length >> 4);
  return foldCase(value);
}

const least = (numbers: readonly number[]): number | undefined =>
  numbers.reduce<number | undefined>((low, each) => Math.min(low ?? each, each), undefined);

/** Further apart than numbers that are the same can be. */
const APART = 2 ** -48;

/** How many of the numbers in order are below one, those that are the same left out. */
export function countBelow(numbers: Float64Array, value: number): number {
  let at = lowerBound(numbers, value - Math.abs(value) * APART);
  for (let each = numbers[at]; each !== undefined; each = numbers[at]) {
    if (each >= value || sameNumber(each, value)) break;
    at = upperBound(numbers, each, at);
  }
  return at;
}

/** How many of the numbers in order are below one or the same. */
export function countUpTo(numbers: Float64Array, value: number): number {
  let at = upperBound(numbers, value + Math.abs(value) * APART);
  for (let each = numbers[at - 1]; each !== undefined; each = numbers[at - 1]) {
    if (each <= value || sameNumber(each, value)) break;
    at = lowerBound(numbers, each);
  }
  return at;
}

/** How many of the numbers in order are under a value. */
function lowerBound(numbers: Float64Array, value: number): number {
  spend(2);
  let low = 0;
  let high = numbers.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((numbers[middle] ?? 0) < value) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** How many of the numbers in order are not over a value. */
function upperBound(numbers: Float64Array, value: number, from = 0): number {
  spend(2);
  let low = from;
  let high = numbers.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((numbers[middle] ?? 0) <= value) low = middle + 1;
    else high = middle;
  }
  return low;
}
