import type { Column, Rule } from '../kinds';
import { keyOf, type SheetModel } from '../sheet';
import type { Cells, CellValue } from '../values';
import { brokenRules, columnsRead, type RuleGround } from './check';
import { eachStored } from './eachStored';

/** Records whose stored value breaks rules of its column. */
export interface BrokenRecords {
  /** For each rule, in how many records it is broken. */
  readonly counts: readonly number[];
  /** How many records break any. */
  readonly records: number;
  /** The first of them. */
  readonly first: readonly { readonly position: number; readonly rules: readonly number[] }[];
}

/** Different values whose verdict is remembered. */
const MOST_REMEMBERED = 50_000;
const NONE: readonly number[] = [];

/**
 * Holds what a column stores against its rules, in steps between which other work can be done.
 * Trial records are left out.
 *
 * @param most how many of the records are told one by one
 */
export function* brokenIn(
  model: SheetModel,
  column: Column,
  ground: Omit<RuleGround, 'cells'>,
  most: number,
): Generator<void, BrokenRecords> {
  const { rules = [] } = column.settings;
  const places = new Map<Rule, number>(rules.map((rule, n) => [rule, n]));
  const others = [...new Set(rules.flatMap(columnsRead))];
  const counts = rules.map(() => 0);
  const first: { position: number; rules: readonly number[] }[] = [];
  let records = 0;
  const doubles = yield* doublesIn(model, column, rules);
  // Where nothing else is read, what one record breaks, each with its value breaks.
  const known = new Map<CellValue, readonly number[]>();
  const brokenBy = (value: CellValue, position: number): readonly number[] => {
    const held = others.length === 0 ? known.get(value) : undefined;
    if (held) return held;
    const cells: Cells = Object.fromEntries(others.map((id) => [id, model.cellAt(position, id)]));
    const broken = brokenRules(value, column, { ...ground, cells });
    const found = broken.length === 0 ? NONE : broken.map((rule) => places.get(rule) ?? 0);
    if (others.length === 0 && known.size < MOST_REMEMBERED) known.set(value, found);
    return found;
  };
  if (rules.length === 0) return { counts, records, first };
  yield* eachStored(model, column.id, (value, position) => {
    const ofValue = brokenBy(value, position);
    const twice = doubles.flatMap((each) => (each.isAt(position) ? [each.rule] : []));
    const broken = twice.length > 0 ? [...ofValue, ...twice] : ofValue;
    if (broken.length === 0) return;
    records += 1;
    for (const n of broken) counts[n] = (counts[n] ?? 0) + 1;
    if (first.length < most) first.push({ position, rules: broken });
  });
  return { counts, records, first };
}

/** A rule against doubles, and where one is. */
interface Doubles {
  readonly rule: number;
  readonly isAt: (position: number) => boolean;
}

/** The values of a column that more than one record has, for each of its rules that asks for one. */
function* doublesIn(
  model: SheetModel,
  column: Column,
  rules: readonly Rule[],
): Generator<void, Doubles[]> {
  const doubles: Doubles[] = [];
  for (const [rule, { must }] of rules.entries()) {
    if (must.is !== 'unique') continue;
    const ids = [column.id, ...(must.with ?? [])];
    const keyAt = (position: number): string | null =>
      keyOf(Object.fromEntries(ids.map((id) => [id, model.cellAt(position, id)])), ids);
    const once = new Set<string>();
    const twice = new Set<string>();
    yield* eachStored(model, column.id, (_value, position) => {
      const key = keyAt(position);
      if (key === null) return;
      if (once.has(key)) twice.add(key);
      else once.add(key);
    });
    const isAt = (position: number): boolean => twice.has(keyAt(position) ?? '');
    if (twice.size > 0) doubles.push({ rule, isAt });
  }
  return doubles;
}
