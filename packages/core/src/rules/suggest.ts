import {
  asShown,
  isGroup,
  kindOf,
  type Column,
  type Condition,
  type ConditionGroup,
  type Rule,
  type RuleTest,
} from '../kinds';
import type { SheetModel } from '../sheet';
import type { CellValue } from '../values';
import { brokenRules, fitsKind, type RuleGround } from './check';
import { graphemeCount, graphemesOf } from './graphemes';
import { eachStored } from './eachStored';

/** A rule that nearly all stored values follow. */
export interface Suggestion {
  readonly rule: Rule;
  /** How many values were looked at, and how many of them break it. */
  readonly values: number;
  readonly exceptions: number;
}

/** A test, or its contrary. */
type Proposed = Exclude<Condition, ConditionGroup>;

/** What share of the values has to follow, of how many at least. */
const SHARE = 0.99;
const FEWEST = 20;
/** A set is proposed where each of its values stands for so many. */
const MOST_IN_SET = 12;
const TIMES_EACH = 5;
const MOST_KNOWN = 50_000;
/** Numbers that are put in order, one of so many of a large sheet. */
const MOST_SORTED = 100_000;
/** Values whose letters are compared, place by place. */
const MOST_COMPARED = 500;

/** What a column holds, as far as rules can be found in it. */
interface Tally {
  count: number;
  readonly numbers: number[];
  readonly lengths: Map<number, number>;
  readonly shapes: Map<string, number>;
  /** How often each value stands there; no more are counted than can be told apart. */
  readonly values: Map<CellValue, number>;
  isOver: boolean;
}

/**
 * Looks for rules that at least 99 % of a column's stored values follow, in steps between which
 * other work can be done. Trial records are left out; rules the column has are not proposed again.
 */
export function* suggestIn(
  model: SheetModel,
  of: Column,
  others: readonly Column[],
  ground: Omit<RuleGround, 'cells'>,
): Generator<void, Suggestion[]> {
  const column = asShown(of);
  const tally = yield* tallyOf(model, column);
  if (tally.count < FEWEST) return [];
  const proposed = [...ofNumbers(tally, column), ...ofTexts(tally, column)];
  const compared = others
    .filter((other) => isComparable(column, other))
    .flatMap(({ id }): Proposed[] => [
      { is: 'compared', by: '>=', columnId: id },
      { is: 'compared', by: '>', columnId: id },
    ]);
  const has = (column.settings.rules ?? []).flatMap(({ must }) => testsIn(must));
  const fresh = [...proposed, ...compared].filter(
    (test) =>
      fitsKind(test, column) &&
      !has.some((each) => each.is === test.is && (test.is !== 'compared' || isOf(each, test))),
  );
  const found = yield* followed(fresh, model, column, ground);
  const unique = doublesOf(tally, column, has);
  return unique ? [...found, unique] : found;
}

const isOf = (a: RuleTest, b: RuleTest): boolean =>
  a.is === 'compared' && b.is === 'compared' && a.columnId === b.columnId;

const testsIn = (condition: Condition): RuleTest[] =>
  isGroup(condition) ? condition.of.flatMap(testsIn) : [condition];

function* tallyOf(model: SheetModel, column: Column): Generator<void, Tally> {
  const tally: Tally = {
    count: 0,
    numbers: [],
    lengths: new Map(),
    shapes: new Map(),
    values: new Map(),
    isOver: false,
  };
  const every = Math.ceil(model.count / MOST_SORTED);
  yield* eachStored(model, column.id, (value, position) => {
    tally.count += 1;
    const times = tally.values.get(value);
    if (times !== undefined || tally.values.size < MOST_KNOWN) {
      tally.values.set(value, (times ?? 0) + 1);
    } else tally.isOver = true;
    if (typeof value === 'number' && position % every === 0) tally.numbers.push(value);
    if (typeof value !== 'string') return;
    add(tally.lengths, graphemeCount(value));
    if (tally.shapes.size < MOST_KNOWN) add(tally.shapes, shapeOf(value));
  });
  return tally;
}

const add = <K>(counts: Map<K, number>, key: K): void => {
  counts.set(key, (counts.get(key) ?? 0) + 1);
};

/** A text with its figures and letters as places of a picture; other signs stand for themselves. */
function shapeOf(text: string): string {
  if (text.length > 40) return '';
  return graphemesOf(text)
    .map((sign) => (/^[0-9]$/.test(sign) ? '9' : /^\p{L}/u.test(sign) ? 'A' : sign))
    .join('');
}

/** The most frequent of what was counted. */
function mostFrequent<K>(counts: ReadonlyMap<K, number>): readonly [K, number] | null {
  let best: readonly [K, number] | null = null;
  for (const entry of counts) if (!best || entry[1] > best[1]) best = entry;
  return best;
}

function ofNumbers({ numbers }: Tally, column: Column): Proposed[] {
  if (numbers.length < FEWEST || kindOf(column).holds !== 'number') return [];
  const sorted = Float64Array.from(numbers).sort();
  const at = (share: number): number => sorted[Math.round(share * (sorted.length - 1))] ?? 0;
  const { iso } = kindOf(column);
  if (iso === 'date' || iso === 'moment') {
    return [{ is: 'past' }, { is: 'future', not: true }, { is: 'weekday' }];
  }
  // A few that lie far outside of the middle half count as slips; round limits hold the rest.
  const fence = 3 * (at(0.75) - at(0.25));
  const slips = Math.floor((sorted.length * (1 - SHARE)) / 2);
  const low = sorted.findIndex((value, n) => n >= slips || value >= at(0.25) - fence);
  const high = sorted.findLastIndex(
    (value, n) => sorted.length - 1 - n >= slips || value <= at(0.75) + fence,
  );
  const [from, to] = [sorted[low] ?? 0, sorted[high] ?? 0];
  if (from === to) return [];
  const step = iso === 'time' ? 1 / 24 : roundStep(to - from);
  const ends = {
    from: tidy(Math.floor(from / step) * step),
    to: tidy(
      iso === 'time'
        ? Math.min(1 - 1 / 1440, Math.ceil(to / step) * step)
        : Math.ceil(to / step) * step,
    ),
  };
  const whole: Proposed[] = column.kind === 'wholeNumber' ? [] : [{ is: 'whole' }];
  return [{ is: 'between', ...ends }, ...whole];
}

/** A tenth of a span, as people would say it: 1, 2 or 5 and noughts. */
function roundStep(span: number): number {
  const power = 10 ** Math.floor(Math.log10(span / 10));
  const times = span / 10 / power;
  return power * (times < 2 ? 1 : times < 5 ? 2 : 5);
}

const tidy = (value: number): number => Number(value.toPrecision(12));

function ofTexts({ count, lengths, shapes, values, isOver }: Tally, column: Column): Proposed[] {
  if (column.kind !== 'text') return [];
  const enough = count * SHARE;
  const tests: Proposed[] = [];
  const common = [...values].filter(([, times]) => times >= TIMES_EACH);
  const inCommon = common.reduce((sum, [, times]) => sum + times, 0);
  if (!isOver && common.length > 1 && common.length <= MOST_IN_SET && inCommon >= enough) {
    tests.push({
      is: 'oneOf',
      values: common.flatMap(([value]) => (typeof value === 'string' ? [value] : [])),
    });
  }
  const [shape = '', times = 0] = mostFrequent(shapes) ?? [];
  if (times >= enough && /9/.test(shape)) {
    tests.push({ is: 'picture', picture: pictureOf(shape, values) });
  } else {
    const [length = 0, often = 0] = mostFrequent(lengths) ?? [];
    if (often >= enough && length > 1) tests.push({ is: 'length', from: length, to: length });
  }
  return tests;
}

/** The picture of a shape; letters that are the same in nearly all values stand for themselves. */
function pictureOf(shape: string, values: ReadonlyMap<CellValue, number>): string {
  const shaped: { readonly signs: readonly string[]; readonly times: number }[] = [];
  for (const [value, times] of values) {
    if (shaped.length >= MOST_COMPARED) break;
    if (typeof value === 'string' && shapeOf(value) === shape) {
      shaped.push({ signs: graphemesOf(value), times });
    }
  }
  const places = graphemesOf(shape).map((sign, at): string => {
    if (sign !== 'A') return sign === '9' ? '9' : `'${sign}'`;
    const counts = new Map<string, number>();
    for (const { signs, times } of shaped) {
      const letter = signs[at] ?? '';
      counts.set(letter, (counts.get(letter) ?? 0) + times);
    }
    const sum = [...counts.values()].reduce((all, each) => all + each, 0);
    const [letter = '', times = 0] = mostFrequent(counts) ?? [];
    return times >= sum * SHARE ? `'${letter}'` : 'A';
  });
  return places.join('').replaceAll("''", '');
}

/** Columns that hold the same sort of day or time stand in an order, if any do. */
function isComparable(column: Column, other: Column): boolean {
  const { iso } = kindOf(column);
  if (other.id === column.id) return false;
  if (iso !== undefined) return kindOf(other).iso === iso;
  const isMeasured = (each: Column): boolean => each.settings.unit !== undefined;
  return (
    kindOf(column).holds === 'number' &&
    kindOf(other).holds === 'number' &&
    isMeasured(column) &&
    column.settings.unit === other.settings.unit
  );
}

/** Which of the tests nearly all values follow; of two orders of the same columns, the stricter. */
function* followed(
  tests: readonly Proposed[],
  model: SheetModel,
  column: Column,
  ground: Omit<RuleGround, 'cells'>,
): Generator<void, Suggestion[]> {
  const rules = tests.map((must): Rule => ({ must }));
  const places = new Map(rules.map((rule, at) => [rule, at]));
  const ruled = { ...column, settings: { ...column.settings, rules } };
  const others = tests.flatMap((test) => (test.is === 'compared' ? [test.columnId] : []));
  const looked = rules.map(() => 0);
  const broken = rules.map(() => 0);
  if (rules.length === 0) return [];
  yield* eachStored(model, column.id, (value, position) => {
    const cells = Object.fromEntries(others.map((id) => [id, model.cellAt(position, id)]));
    tests.forEach((test, at) => {
      // Where the other is blank, the two say nothing of their order.
      if (test.is === 'compared' && (cells[test.columnId] ?? null) === null) return;
      looked[at] = (looked[at] ?? 0) + 1;
    });
    for (const rule of brokenRules(value, ruled, { ...ground, cells })) {
      const at = places.get(rule) ?? 0;
      broken[at] = (broken[at] ?? 0) + 1;
    }
  });
  const all = rules.map((rule, at) => {
    return { rule, values: looked[at] ?? 0, exceptions: broken[at] ?? 0 };
  });
  const good = all.filter(
    ({ values, exceptions }) => values >= FEWEST && exceptions <= values * (1 - SHARE),
  );
  return good.filter(
    ({ rule: { must } }) => !good.some((other) => isStricter(other.rule.must, must)),
  );
}

/** Whether one test says all that another says, and more. */
function isStricter(one: Condition, other: Condition): boolean {
  if (one.is === 'compared' && other.is === 'compared') {
    return one.columnId === other.columnId && one.by === '>' && other.by === '>=';
  }
  return one.is === 'past' && other.is === 'future';
}

/** That no value stands twice, where hardly any does. */
function doublesOf(
  { count, values, isOver }: Tally,
  column: Column,
  has: readonly RuleTest[],
): Suggestion | null {
  const isNamed = column.kind === 'text' || ['email', 'phone', 'webAddress'].includes(column.kind);
  if (isOver || !isNamed || column.settings.key || has.some(({ is }) => is === 'unique'))
    return null;
  const doubled = [...values.values()].reduce((sum, each) => sum + (each > 1 ? each : 0), 0);
  if (doubled > count * (1 - SHARE)) return null;
  return { rule: { must: { is: 'unique' } }, values: count, exceptions: doubled };
}
