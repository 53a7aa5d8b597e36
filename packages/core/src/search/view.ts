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
  const count = (at: number, marks: Uint8Array): void => {
    let sum = 0;
    for (const mark of marks) sum += mark;
    counts[at] = (counts[at] ?? 0) + sum;
  };
  for (const _ of looks(model.slots().slice(), model, tests, count)) yield;
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
 * @param told the marks after each test
 */
function* looks(
  slots: Int32Array,
  model: SheetModel,
  tests: readonly ViewTest[],
  told?: (at: number, marks: Uint8Array) => void,
): Generator<Looked, void> {
  const looking: (Scan | Row)[] = [];
  for (let at = 0; at < tests.length; at += 1) {
    const each = tests[at] as ViewTest;
    const row = 'scan' in each ? [] : rowFrom(tests, at, each.columnId);
    if ('scan' in each) {
      const steps = each.scan();
      let step = steps.next();
      for (; step.done !== true; step = steps.next()) yield NOTHING_YET;
      looking.push(step.value);
    } else if (row.length > 1) {
      looking.push({
        length: row.length,
        grading: model.grading(each.columnId, gradeIn(row)),
        grades: new Uint16Array(LOOKED),
      });
      at += row.length - 1;
      yield NOTHING_YET;
    } else {
      looking.push(model.scan(each.columnId, each.test, { sure: each.sure }));
      yield NOTHING_YET;
    }
  }
  const all = [new Uint8Array(LOOKED), new Uint8Array(LOOKED)] as const;
  for (let from = 0; from < slots.length; from += LOOKED) {
    const count = Math.min(LOOKED, slots.length - from);
    let [marks, found] = all.map((each) => each.subarray(0, count)) as [Uint8Array, Uint8Array];
    marks.fill(1);
    let at = 0;
    for (const each of looking) {
      if (typeof each === 'function') {
        found.fill(0);
        each(slots, from, count, marks, found);
        [marks, found] = [found, marks];
        told?.(at, marks);
        at += 1;
        continue;
      }
      const { length, grading, grades } = each;
      grading(slots, from, count, marks, grades);
      for (let passed = 1; passed <= length; passed += 1) {
        if (!told && passed < length) continue;
        for (let n = 0; n < count; n += 1) if ((grades[n] as number) < passed) marks[n] = 0;
        told?.(at + passed - 1, marks);
      }
      at += length;
    }
    yield { from, marks };
  }
}

/** Tests of one column that stand in a row: a value is read once for all of them. */
interface Row {
  readonly length: number;
  readonly grading: Grading;
  /** How many of them each record passes. */
  readonly grades: Uint16Array;
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
