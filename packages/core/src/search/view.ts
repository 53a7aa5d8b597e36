import { compareValues } from '../formula';
import { runningNumberIn, type Column } from '../kinds';
import { isErrorValue, type CellValue } from '../values';
import type { Grading, Scan, SheetModel, Sure } from '../sheet';
import type { ShownTest, Test } from './condition';
import type { OrderPart } from './order';

/** What of a column's values they are put in order by: of running numbers, their numbers. */
export function orderedBy({ kind }: Column): (value: CellValue) => CellValue {
  if (kind !== 'runningNumber') return (value) => value;
  return (value) => (typeof value === 'string' ? (runningNumberIn(value)?.number ?? value) : value);
}

const rank = (value: CellValue): number => (value === null ? 2 : isErrorValue(value) ? 1 : 0);

/** A part of an order, and what of its column's values is compared. */
type SortedBy = OrderPart & { readonly by?: (value: CellValue) => CellValue };

/** Records looked at before other work may go between. */
const LOOKED = 2048;
/** Where a column is held against more tests than so many at once, fewer are looked at. */
const FEW_TESTS = 4;
const FEWEST = 64;
/** Steps of putting in order before it. */
const SLICE = 20_000;
/** Positions that are put in order at once; longer lists are merged of such runs. */
const RUN = 4096;

/** What a column's value must be. */
interface ColumnTest {
  readonly columnId: string;
  readonly test: Test;
  readonly sure?: Sure | undefined;
  /** The same of what is shown, and what that is: it is made once for all tests of a column. */
  readonly ofShown?: ShownTest;
  readonly show?: (value: CellValue) => string | null;
}

/** A filter of a view: what a column's value must be, or a scan of its own. */
export type ViewTest = ColumnTest | { readonly scan: () => Generator<void, Scan> };

/**
 * The positions of the records for which all tests hold, in an order of one's own or as they
 * stand, in steps between which other work can be done. Records that are the same in that order
 * stay as they stand.
 */
export function* positionsIn(
  model: SheetModel,
  tests: readonly ViewTest[],
  order: readonly SortedBy[],
): Generator<void, Int32Array> {
  // Of now: records may come and go between the steps.
  const slots = model.slots().slice();
  const found = new Int32Array(slots.length);
  let count = 0;
  for (const { from, marks } of looks(slots, model, tests)) {
    for (let at = 0; at < marks.length; at += 1) {
      if (marks[at] === 0) continue;
      found[count] = from + at;
      count += 1;
    }
    yield;
  }
  const positions = found.subarray(0, count);
  if (order.length === 0) return positions;
  const sorts: Sort[] = [];
  for (const { columnId, falling, by } of order) {
    const read = model.readerOf(columnId);
    const values: CellValue[] = [];
    for (const position of positions) {
      const value = read(slots[position] ?? 0);
      values.push(by ? by(value) : value);
      if (values.length % SLICE === 0) yield;
    }
    sorts.push({ values, falling });
  }
  const places = yield* sortedPlaces(count, (a, b) => {
    for (const sort of sorts) {
      const compared = comparedIn(sort, a, b);
      if (compared !== 0) return compared;
    }
    return a - b;
  });
  const inOrder = new Int32Array(count);
  for (let at = 0; at < count; at += 1) inOrder[at] = positions[places[at] as number] as number;
  return inOrder;
}

/** A column's values at the places that are put in order. */
interface Sort {
  readonly values: readonly CellValue[];
  readonly falling: boolean;
}

function comparedIn({ values, falling }: Sort, a: number, b: number): number {
  const left = values[a] ?? null;
  const right = values[b] ?? null;
  const ranked = rank(left) - rank(right);
  if (ranked !== 0 || rank(left) !== 0) return ranked;
  const compared = compareValues(left, right);
  return falling ? -compared : compared;
}

/**
 * How many records are left with each test and those before it, in steps between which other work
 * can be done.
 */
export function* countsOf(
  model: SheetModel,
  tests: readonly ViewTest[],
): Generator<void, number[]> {
  const counts = tests.map(() => 0);
  const add = (at: number, left: number): void => {
    counts[at] = (counts[at] ?? 0) + left;
  };
  for (const _ of looks(model.slots().slice(), model, tests, add)) yield;
  return counts;
}

/**
 * Records that were looked at: from a position on, those are marked for which all tests hold. The
 * marks are of this step; the next writes over them.
 */
interface Looked {
  readonly from: number;
  readonly marks: Uint8Array;
}

/** Nothing was looked at yet: the tests are made ready. */
const NOTHING_YET: Looked = { from: 0, marks: new Uint8Array(0) };

/**
 * Looks through the records, some at a time, test by test.
 *
 * @param told how many are left after each test
 */
function* looks(
  slots: Int32Array,
  model: SheetModel,
  tests: readonly ViewTest[],
  told?: (at: number, left: number) => void,
): Generator<Looked, void> {
  const looking: (Scan | Row)[] = [];
  for (let at = 0; at < tests.length; at += 1) {
    const each = tests[at] as ViewTest;
    const row = 'scan' in each ? [] : rowFrom(tests, at, each.columnId);
    if ('scan' in each) looking.push(yield* ready(each.scan()));
    else if (row.length > 1) {
      const grading = yield* ready(model.grading(each.columnId, gradeIn(row)));
      looking.push(new Row(row.length, grading));
      at += row.length - 1;
    } else {
      looking.push(model.scan(each.columnId, each.test, { sure: each.sure }));
      yield NOTHING_YET;
    }
  }
  const all = [new Uint8Array(LOOKED), new Uint8Array(LOOKED)] as const;
  const longest = Math.max(...looking.map((each) => (each instanceof Row ? each.length : 1)), 1);
  const atOnce = Math.max(FEWEST, Math.floor(LOOKED / Math.ceil(longest / FEW_TESTS)));
  for (let from = 0; from < slots.length; from += atOnce) {
    const count = Math.min(atOnce, slots.length - from);
    let [marks, found] = all.map((each) => each.subarray(0, count)) as [Uint8Array, Uint8Array];
    marks.fill(1);
    let at = 0;
    for (const each of looking) {
      if (each instanceof Row) {
        const left = each.look(slots, from, count, marks);
        for (const [n, many] of left.entries()) told?.(at + n, many);
        at += each.length;
        continue;
      }
      found.fill(0);
      each(slots, from, count, marks, found);
      [marks, found] = [found, marks];
      told?.(at, sumOf(marks));
      at += 1;
    }
    yield { from, marks };
  }
}

/** Tests of one column that stand in a row: a value is read once for all of them. */
class Row {
  /** How many of them each record passes. */
  private readonly grades = new Uint16Array(LOOKED);
  /** By how many they pass: how many records do. */
  private readonly passing: Uint32Array;

  constructor(
    readonly length: number,
    private readonly grading: Grading,
  ) {
    this.passing = new Uint32Array(length + 1);
  }

  /** Takes the mark from those that fail one. @returns how many are left after each */
  look(slots: Int32Array, from: number, count: number, marks: Uint8Array): Uint32Array {
    const { grades, passing, length } = this;
    passing.fill(0);
    this.grading(slots, from, count, marks, grades);
    for (let at = 0; at < count; at += 1) {
      if (marks[at] === 0) continue;
      const grade = grades[at] as number;
      passing[grade] = (passing[grade] as number) + 1;
      if (grade < length) marks[at] = 0;
    }
    for (let n = length - 1; n > 0; n -= 1) {
      passing[n] = (passing[n] as number) + (passing[n + 1] as number);
    }
    return passing.subarray(1);
  }
}

/** Runs steps that make something ready. */
function* ready<T>(steps: Generator<void, T>): Generator<Looked, T> {
  let step = steps.next();
  for (; step.done !== true; step = steps.next()) yield NOTHING_YET;
  return step.value;
}

function sumOf(marks: Uint8Array): number {
  let sum = 0;
  for (const mark of marks) sum += mark;
  return sum;
}

/** The tests of a column that follow each other; those that are sure of numbers are quicker alone. */
function rowFrom(tests: readonly ViewTest[], from: number, columnId: string): ColumnTest[] {
  const row: ColumnTest[] = [];
  for (const each of tests.slice(from)) {
    if ('scan' in each || each.columnId !== columnId || each.sure) break;
    row.push(each);
  }
  return row;
}

/** How many of some tests a value passes before it fails one. */
function gradeIn(row: readonly ColumnTest[]): (value: CellValue) => number {
  const show = row.find((each) => each.show)?.show;
  return (value) => {
    const shown = show ? show(value) : null;
    let passed = 0;
    for (const { test, ofShown } of row) {
      if (!(ofShown ? ofShown(shown) : test(value))) break;
      passed += 1;
    }
    return passed;
  };
}

/** The places of a list in order: short runs are sorted, and merged two by two. */
function* sortedPlaces(
  count: number,
  compare: (a: number, b: number) => number,
): Generator<void, Int32Array> {
  let from = new Int32Array(count);
  for (let place = 0; place < count; place += 1) from[place] = place;
  for (let start = 0; start < count; start += RUN) {
    from.subarray(start, start + RUN).sort(compare);
    yield;
  }
  let into = new Int32Array(count);
  for (let width = RUN; width < count; width *= 2) {
    for (let start = 0; start < count; start += 2 * width) {
      const middle = Math.min(start + width, count);
      const end = Math.min(start + 2 * width, count);
      let [left, right] = [start, middle];
      for (let at = start; at < end; at += 1) {
        const isLeft =
          left < middle && (right >= end || compare(from[left] ?? 0, from[right] ?? 0) <= 0);
        into[at] = from[isLeft ? left : right] ?? 0;
        if (isLeft) left += 1;
        else right += 1;
        if (at % SLICE === SLICE - 1) yield;
      }
    }
    [from, into] = [into, from];
  }
  return from;
}
