import type { Column, Rule } from '../kinds';
import { keyOf, type SheetModel, type TouchedSlots } from '../sheet';
import { isErrorValue, type Cells, type CellValue } from '../values';
import { brokenRules, columnsRead, type RuleGround } from './check';
import { costOf, MOST_AT_ONCE } from './eachStored';

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
/** What holding a value against rules costs, besides looking at it. */
const COST_OF_RULES = 100;
/** What telling a value from all others costs: its key is made, and put with theirs. */
const COST_OF_KEY = 40;
/** Doubles that are judged again before other work may go between. */
const LATE_AT_ONCE = MOST_AT_ONCE / COST_OF_KEY;
/** The set of rules that a record breaks none of. */
const NO_RULE = 0;

/**
 * Which records of a sheet break rules of a column. Counted once over all of them, and from then
 * on anew only for those that were touched. Trial records are left out.
 */
export class BrokenTally {
  private readonly touched: TouchedSlots;
  private readonly rules: readonly Rule[];
  private readonly places: ReadonlyMap<Rule, number>;
  private readonly others: readonly string[];
  private readonly doubles: readonly Doubles[];
  /** Where nothing else is read, what one record breaks, each with its value breaks. */
  private readonly known = new Map<CellValue, number>();
  /** By slot: which of `sets` it breaks. */
  private broken = new Int32Array(0);
  private readonly sets: (readonly number[])[] = [[]];
  private readonly setByName = new Map<string, number>([['', NO_RULE]]);
  private readonly counts: number[];
  private records = 0;
  /** How many values were held against the rules. */
  private judged = 0;

  constructor(
    private readonly model: SheetModel,
    private readonly column: Column,
    private readonly ground: Omit<RuleGround, 'cells'>,
  ) {
    const { rules = [] } = column.settings;
    this.rules = rules;
    this.places = new Map(rules.map((rule, n) => [rule, n]));
    this.others = [...new Set(rules.flatMap(columnsRead))];
    this.doubles = rules.flatMap(({ must }, rule) =>
      must.is === 'unique' ? [new Doubles(rule, [column.id, ...(must.with ?? [])])] : [],
    );
    this.counts = rules.map(() => 0);
    this.touched = model.watchSlots();
  }

  /** Counts what was touched since the last time, in steps between which other work can be done. */
  *refresh(): Generator<void, void> {
    if (this.rules.length === 0) return;
    for (;;) {
      const touched = this.touched.take();
      if (touched !== 'all' && touched.size === 0) return;
      yield* this.count(touched === 'all' ? null : [...touched]);
    }
  }

  /** What the count came to, as positions stand now. */
  told(most: number): BrokenRecords {
    const first: { position: number; rules: readonly number[] }[] = [];
    const { model, records } = this;
    const wanted = Math.min(most, records);
    for (let position = 0; first.length < wanted && position < model.count; position += 1) {
      const set = this.broken[model.slotAt(position)] ?? NO_RULE;
      if (set !== NO_RULE) first.push({ position, rules: this.sets[set] ?? [] });
    }
    return { counts: [...this.counts], records, first };
  }

  /** Nothing is noted for it any more. */
  stop(): void {
    this.model.stopWatching(this.touched);
  }

  /** @param slots `null` for all */
  private *count(slots: readonly number[] | null): Generator<void, void> {
    let { judged } = this;
    let spent = 0;
    // Who has a value others have is known once all are in.
    const late: number[] = [];
    const count = slots?.length ?? this.model.slotCount;
    for (let n = 0; n < count; n += 1) {
      const slot = slots?.[n] ?? n;
      const value = this.valueOf(slot);
      for (const each of this.doubles) {
        late.push(...each.put(slot, this.keyOf(each, slot, value)));
      }
      this.judge(slot, value);
      spent += costOf(value) + (this.judged - judged) * COST_OF_RULES;
      spent += this.doubles.length * COST_OF_KEY;
      judged = this.judged;
      if (spent < MOST_AT_ONCE) continue;
      spent = 0;
      yield;
    }
    for (const [n, slot] of late.entries()) {
      this.judge(slot, this.valueOf(slot));
      if (n % LATE_AT_ONCE === LATE_AT_ONCE - 1) yield;
    }
  }

  /** What rules are held against; blank cells, errors and trial records are not. */
  private valueOf(slot: number): CellValue {
    const { model } = this;
    if (!model.isTaken(slot) || model.isTrialOfSlot(slot)) return null;
    const value = model.cellOfSlot(slot, this.column.id);
    return isErrorValue(value) ? null : value;
  }

  private keyOf({ columnIds }: Doubles, slot: number, value: CellValue): string | null {
    return value === null ? null : keyOf(this.cellsOf(columnIds, slot), columnIds);
  }

  private cellsOf(columnIds: readonly string[], slot: number): Cells {
    return Object.fromEntries(columnIds.map((id) => [id, this.model.cellOfSlot(slot, id)]));
  }

  private judge(slot: number, value: CellValue): void {
    const set = value === null ? NO_RULE : this.brokenBy(value, slot);
    const before = this.broken[slot] ?? NO_RULE;
    if (set === before) return;
    this.put(slot, set);
    this.records += Number(set !== NO_RULE) - Number(before !== NO_RULE);
    for (const n of this.sets[before] ?? []) this.counts[n] = (this.counts[n] ?? 0) - 1;
    for (const n of this.sets[set] ?? []) this.counts[n] = (this.counts[n] ?? 0) + 1;
  }

  private brokenBy(value: CellValue, slot: number): number {
    const ofValue = this.ofValue(value, slot);
    if (this.doubles.length === 0) return ofValue;
    const twice = this.doubles.flatMap((each) => (each.isDouble(slot) ? [each.rule] : []));
    return twice.length > 0 ? this.setOf([...(this.sets[ofValue] ?? []), ...twice]) : ofValue;
  }

  private ofValue(value: CellValue, slot: number): number {
    const { others, known } = this;
    const held = others.length === 0 ? known.get(value) : undefined;
    if (held !== undefined) return held;
    this.judged += 1;
    const cells = this.cellsOf(others, slot);
    const broken = brokenRules(value, this.column, { ...this.ground, cells });
    const found = this.setOf(broken.map((rule) => this.places.get(rule) ?? 0));
    if (others.length === 0 && known.size < MOST_REMEMBERED) known.set(value, found);
    return found;
  }

  private setOf(rules: readonly number[]): number {
    const name = rules.join();
    let set = this.setByName.get(name);
    if (set === undefined) {
      set = this.sets.push(rules) - 1;
      this.setByName.set(name, set);
    }
    return set;
  }

  private put(slot: number, set: number): void {
    if (slot >= this.broken.length) {
      const more = new Int32Array(Math.max(this.model.slotCount, 2 * this.broken.length));
      more.set(this.broken);
      this.broken = more;
    }
    this.broken[slot] = set;
  }
}

/** A rule against doubles, and which slots have which value. */
class Doubles {
  private readonly keys: (string | null | undefined)[] = [];
  /** One slot alone stands for itself: most values are one record’s. */
  private readonly holders = new Map<string, number | Set<number>>();

  constructor(
    readonly rule: number,
    readonly columnIds: readonly string[],
  ) {}

  /** @returns other slots that have become doubles, or are none any more */
  put(slot: number, key: string | null): number[] {
    const before = this.keys[slot] ?? null;
    if (before === key) return [];
    this.keys[slot] = key;
    return [
      ...(before === null ? [] : this.leave(slot, before)),
      ...(key === null ? [] : this.join(slot, key)),
    ];
  }

  isDouble(slot: number): boolean {
    const key = this.keys[slot] ?? null;
    return key !== null && typeof this.holders.get(key) === 'object';
  }

  private join(slot: number, key: string): number[] {
    const there = this.holders.get(key);
    if (typeof there === 'object') there.add(slot);
    else this.holders.set(key, there === undefined ? slot : new Set([there, slot]));
    return typeof there === 'number' ? [there] : [];
  }

  private leave(slot: number, key: string): number[] {
    const there = this.holders.get(key);
    if (typeof there !== 'object') {
      this.holders.delete(key);
      return [];
    }
    there.delete(slot);
    if (there.size > 1) return [];
    const [last = 0] = there;
    this.holders.set(key, last);
    return [last];
  }
}
