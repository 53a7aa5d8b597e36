import type { Column } from '../kinds';
import { isErrorValue, type Cells, type CellValue } from '../values';
import { isTrial } from './trial';

/** The columns by which people tell a sheet's records apart: together they are its key. */
export const keyColumnsOf = (columns: readonly Column[]): Column[] =>
  columns.filter(({ settings }) => settings.key === true && !settings.formula);

/** A key as one text: the same for keys that people would take for one. Blank keys are none. */
export function keyOf(cells: Cells, columnIds: readonly string[]): string | null {
  if (isTrial(cells)) return null;
  const parts = columnIds.map((id) => partOf(cells[id] ?? null));
  return parts.every((part) => part === '') ? null : parts.join('\u0000');
}

function partOf(value: CellValue): string {
  if (value === null || isErrorValue(value)) return '';
  if (typeof value !== 'string') return `${typeof value} ${String(value)}`;
  return `t ${value.normalize('NFC').trim().replace(/\s+/g, ' ').toLowerCase()}`;
}

/** Who holds which key, of records that are stored; kept up to date as they come, change and go. */
export class KeyIndex {
  private readonly holders = new Map<string, Set<string>>();

  constructor(readonly columnIds: readonly string[]) {}

  put(id: string, cells: Cells): void {
    const key = keyOf(cells, this.columnIds);
    if (key === null) return;
    const holders = this.holders.get(key);
    if (holders) holders.add(id);
    else this.holders.set(key, new Set([id]));
  }

  remove(id: string, cells: Cells): void {
    const key = keyOf(cells, this.columnIds);
    const holders = key === null ? undefined : this.holders.get(key);
    holders?.delete(id);
    if (key !== null && holders?.size === 0) this.holders.delete(key);
  }

  keyOf(cells: Cells): string | null {
    return keyOf(cells, this.columnIds);
  }

  holdersOf(key: string): Iterable<string> {
    return this.holders.get(key) ?? [];
  }
}

/** What a write does to one record: `null` before it comes, and after it goes. */
export interface KeyChange {
  readonly id: string;
  readonly before: Cells | null;
  readonly after: Cells | null;
}

/** Changes gone through between two steps. */
const SLICE = 1000;

interface Keyed {
  readonly id: string;
  readonly had: string | null;
  readonly key: string | null;
  readonly isKept: boolean;
}

/** A change whose key is another record's: which change, and whose key it is. */
export interface KeyConflict {
  readonly at: number;
  readonly holderId: string;
}

/**
 * The changes of one write to leave out, so that no two records have one key. Records may exchange
 * their keys within a write, and one that had its key before keeps it. Of two that come with one
 * key, the first has it. A record whose change is left out has the key it had: who took that one
 * is left out as well. In steps, as a write may be of very many records.
 */
export function* keyConflicts(
  index: KeyIndex,
  changes: readonly KeyChange[],
): Generator<undefined, KeyConflict[]> {
  const touched = new Set<string>();
  /** Who has each key after the write, by place among the changes. */
  const given = new Map<string, number>();
  const conflicts: KeyConflict[] = [];
  const keyed: Keyed[] = [];
  // Those that keep their key have it before those that take it.
  for (const [at, { id, before, after }] of changes.entries()) {
    if (at % SLICE === SLICE - 1) yield;
    touched.add(id);
    const had = before && index.keyOf(before);
    const key = after && index.keyOf(after);
    const isKept = key !== null && had === key;
    keyed.push({ id, had, key, isKept });
    if (isKept) given.set(key, at);
  }
  for (const [at, { id, key, isKept }] of keyed.entries()) {
    if (at % SLICE === SLICE - 1) yield;
    if (key === null || isKept) continue;
    const giver = given.get(key);
    const other =
      giver === undefined
        ? [...index.holdersOf(key)].find((each) => each !== id && !touched.has(each))
        : keyed[giver]?.id;
    if (other === undefined) given.set(key, at);
    else conflicts.push({ at, holderId: other });
  }
  // It grows as it is gone through: each change is left out once at most.
  const out = new Set(conflicts.map(({ at }) => at));
  for (const { at } of conflicts) {
    const { id = '', had = null } = keyed[at] ?? {};
    const taker = had === null ? undefined : given.get(had);
    if (taker === undefined || out.has(taker) || keyed[taker]?.isKept) continue;
    out.add(taker);
    conflicts.push({ at: taker, holderId: id });
  }
  return conflicts;
}
