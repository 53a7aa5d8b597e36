import type { Column } from '../kinds';
import { isErrorValue, type Cells, type CellValue } from '../values';
import { isTrial } from './trial';

/** The columns by which people tell a sheet's records apart: together they are its key. */
export const keyColumnsOf = (columns: readonly Column[]): Column[] =>
  columns.filter(({ settings }) => settings.key === true && !settings.formula);

/** A key as one text: the same for keys that people would take for one. Blank keys are none. */
function keyOf(cells: Cells, columnIds: readonly string[]): string | null {
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

/** A change whose key is another record's: which change, and whose key it is. */
export interface KeyConflict {
  readonly at: number;
  readonly holderId: string;
}

/**
 * The changes of one write that would give two records one key. Records may exchange their keys
 * within a write, and one that had its key before keeps it. Of two that come with one key, the
 * first has it.
 */
export function keyConflicts(index: KeyIndex, changes: readonly KeyChange[]): KeyConflict[] {
  const touched = new Set(changes.map(({ id }) => id));
  const given = new Map<string, string>();
  const conflicts: KeyConflict[] = [];
  // Those that keep their key have it before those that take it.
  const keyed = changes.map(({ id, before, after }, at) => {
    const key = after && index.keyOf(after);
    return { id, at, key, isKept: key !== null && before !== null && index.keyOf(before) === key };
  });
  for (const { id, key, isKept } of keyed) if (key !== null && isKept) given.set(key, id);
  for (const { id, at, key, isKept } of keyed) {
    if (key === null || isKept) continue;
    const other =
      given.get(key) ?? [...index.holdersOf(key)].find((each) => each !== id && !touched.has(each));
    if (other === undefined) given.set(key, id);
    else conflicts.push({ at, holderId: other });
  }
  return conflicts;
}
