import { kindOf, type Column, type ReadingContext } from '../kinds';
import { narrowingDoubt } from '../lists';
import { ruleDoubts, ruledColumns } from '../rules';
import type { KeyChange } from '../sheet';
import type { Cells, CellValue, Problem, Sentences, Strictness } from '../values';
import { withoutForgotten } from './forget';
import { takenKeys, type KeyGround } from './keys';

declare module '../values/problem' {
  interface Problems {
    nothingTyped: object;
    nothingLeft: object;
  }
}

export const BLANK_SENTENCES: Sentences<'nothingTyped' | 'nothingLeft'> = {
  nothingTyped: () => 'Nothing is filled in yet. Type at least one answer.',
  nothingLeft: () => 'This would leave the record blank. Delete the record instead.',
};

/** A cell as it comes to be stored: a text that someone typed, or a value that is one already. */
export type Given = { readonly typed: string } | { readonly value: CellValue };

/** Holds a value of its column's kind against something more; `null` where it passes. */
export type CellCheck = (
  value: Exclude<CellValue, null>,
  column: Column,
  context: ReadingContext,
) => Problem | null;

/** A check with how much it weighs, and in whose name it speaks. */
export interface WeighedCheck {
  readonly strictness: Strictness;
  readonly check: CellCheck;
  readonly by?: string;
}

/** What a cell is judged on. */
export interface CellGround {
  readonly context: ReadingContext;
  readonly checks?: readonly WeighedCheck[];
  /** Whether a text that is no value of its kind is kept as it stands, and noted. */
  readonly keepsUnread?: boolean;
}

/** Why a value may not be stored, or should be looked at again. */
export interface Doubt {
  readonly problem: Problem;
  readonly strictness: Strictness;
  /** In whose name: a form's, of what the grid writes. */
  readonly by?: string;
}

/** What judging a cell comes to: its value, and what is to be said of it. */
export interface JudgedCell {
  readonly value: CellValue;
  /** The weightiest first; what is refused has no other. */
  readonly doubts: readonly Doubt[];
}

/** Shared, as most cells have none. */
export const NO_DOUBTS: readonly Doubt[] = [];
const BLANK: JudgedCell = { value: null, doubts: NO_DOUBTS };
const refused = (problem: Problem): JudgedCell => ({
  value: null,
  doubts: [{ problem, strictness: 'refuse' }],
});

/** Whether people type into cells of a column; others are filled in. */
export const isTyped = (column: Pick<Column, 'kind'>): boolean =>
  kindOf(column).filledBy === 'people';

/** Judges one cell: what is stored of it, and what stands in the way. */
export function judgeCell(given: Given, column: Column, ground: CellGround): JudgedCell {
  const { context, checks } = ground;
  const read =
    'typed' in given
      ? readCell(given.typed, column, ground)
      : { value: given.value, doubts: NO_DOUBTS };
  const { value } = read;
  if (value === null || !checks || checks.length === 0) return read;
  const doubts = [...read.doubts];
  for (const { strictness, check, by } of checks) {
    const problem = check(value, column, context);
    if (!problem) continue;
    const doubt = { problem, strictness, ...(by !== undefined && { by }) };
    if (strictness === 'refuse') return { value, doubts: [doubt] };
    doubts.push(doubt);
  }
  return { value, doubts };
}

function readCell(typed: string, column: Column, { context, keepsUnread }: CellGround): JudgedCell {
  if (!isTyped(column)) {
    return typed === '' ? BLANK : refused({ code: 'notTyped', kind: kindOf(column).label });
  }
  const reading = kindOf(column).read(typed, column, context);
  if (!reading.ok) {
    return keepsUnread
      ? { value: typed, doubts: [{ problem: reading.problem, strictness: 'note' }] }
      : refused(reading.problem);
  }
  const { value, doubt, strictness = 'ask' } = reading;
  return { value, doubts: doubt ? [{ problem: doubt, strictness }] : NO_DOUBTS };
}

/** Why a value can't be written, or what is to be said of it, and where it was given. */
export interface Verdict extends Doubt {
  /** Of a form, the input; else the column. */
  readonly fieldId: string;
  readonly columnId: string;
}

/** The doubt that keeps a cell from being stored, unless it is meant. */
export const inTheWay = (doubts: readonly Doubt[], isMeant = false): Doubt | undefined =>
  doubts.find(({ strictness }) => strictness === 'refuse' || (strictness === 'ask' && !isMeant));

/** What a record is judged on. */
export interface RecordGround {
  readonly columns: ReadonlyMap<string, Column>;
  readonly context: ReadingContext;
  readonly checksOf?: (columnId: string) => readonly WeighedCheck[];
  /** Columns whose values are meant, although they are asked about. */
  readonly meant?: ReadonlySet<string>;
}

/** What judging a record comes to. */
export interface JudgedRecord {
  /** The record as it would be stored: without what is not taken. Blanks are left out. */
  readonly cells: Cells;
  readonly verdicts: readonly Verdict[];
  /** The columns that were given and are taken. */
  readonly taken: ReadonlySet<string>;
}

/**
 * Judges a record: from what is given of it and what it was before, what would be stored and what
 * stands in the way. A cell that may not be stored leaves what was there before.
 *
 * @param given by column id; of columns that `ground` does not know, nothing is taken
 * @param before the record as it is stored; `null` for a new one
 */
export function judgeRecord(
  given: Readonly<Record<string, Given>>,
  before: Cells | null,
  { columns, checksOf, meant, ...ground }: RecordGround,
): JudgedRecord {
  const context = { ...ground.context, held: before };
  const cells: Record<string, CellValue> = { ...before };
  const verdicts: Verdict[] = [];
  const taken = new Set<string>();
  for (const [columnId, each] of Object.entries(given)) {
    const column = columns.get(columnId);
    if (!column) continue;
    // A blank pasted over what nobody types leaves it.
    if ('typed' in each && each.typed === '' && !isTyped(column)) continue;
    const checks = checksOf?.(columnId);
    const { value, doubts } = judgeCell(each, column, { context, ...(checks && { checks }) });
    const obstacle = inTheWay(doubts, meant?.has(columnId));
    const isNew = value !== (before?.[columnId] ?? null);
    const told = obstacle ? [obstacle] : isNew ? doubts.filter(isNote) : [];
    verdicts.push(...told.map((doubt) => ({ fieldId: columnId, columnId, ...doubt })));
    if (obstacle) continue;
    taken.add(columnId);
    if (value === null) Reflect.deleteProperty(cells, columnId);
    else cells[columnId] = value;
  }
  const among = [
    ...narrowingVerdicts(taken, cells, columns, context),
    ...ruleVerdicts(taken, cells, columns, context),
  ];
  for (const verdict of among) {
    if (verdict.strictness === 'ask' && meant?.has(verdict.columnId)) continue;
    verdicts.push(verdict);
    if (isNote(verdict)) continue;
    taken.delete(verdict.columnId);
    const value = before?.[verdict.columnId] ?? null;
    if (value === null) Reflect.deleteProperty(cells, verdict.columnId);
    else cells[verdict.columnId] = value;
  }
  const ruled = ruledColumns(columns).map(({ column }) => column);
  const kept = withoutForgotten(cells, ruled);
  const blank = blankVerdict(Object.keys(given), before, kept, verdicts);
  const all = { cells: kept, verdicts, taken };
  return blank ? { ...all, verdicts: [blank], taken: new Set() } : all;
}

/** Choices that do not go with the rest of the record, told where something was given. */
function narrowingVerdicts(
  taken: ReadonlySet<string>,
  cells: Cells,
  columns: RecordGround['columns'],
  context: ReadingContext,
): Verdict[] {
  if (!context.listed) return [];
  return [...columns.values()].flatMap((column) => {
    const by = column.settings.list?.narrowed?.map(({ columnId }) => columnId) ?? [];
    const columnId = [column.id, ...by].find((id) => taken.has(id));
    if (by.length === 0 || columnId === undefined) return [];
    const doubt = narrowingDoubt(column, cells[column.id] ?? null, cells, columns, context);
    return doubt ? [{ fieldId: columnId, columnId, ...doubt }] : [];
  });
}

/** Rules that what was given breaks, or that a value beside it breaks now. */
function ruleVerdicts(
  taken: ReadonlySet<string>,
  cells: Cells,
  columns: RecordGround['columns'],
  context: ReadingContext,
): Verdict[] {
  const ruled = ruledColumns(columns);
  const { computing, held } = context;
  const isComputed = computing && ruled.some(({ column }) => column.kind === 'computed');
  const whole = (of: Cells): Cells => (isComputed ? { ...of, ...computing.values(of) } : of);
  const all = whole(cells);
  const scope = {
    columns,
    context: { ...context, held: held ? whole(held) : null },
    cells: all,
  };
  const [any] = taken;
  return ruled.flatMap(({ column, readBy, always }) => {
    const reads = computing?.reads(column.id) ?? [];
    const columnId =
      [...readBy, ...reads].find((id) => taken.has(id)) ?? (always ? any : undefined);
    if (columnId === undefined) return [];
    const [first, ...others] = ruleDoubts(column, all[column.id] ?? null, scope);
    // What is refused, or asked about, is told alone.
    const told = first && isNote(first) ? [first, ...others] : first ? [first] : [];
    return told.map((doubt) => ({ fieldId: columnId, columnId, ...doubt }));
  });
}

/** A record that would hold nothing is none. */
function blankVerdict(
  [first]: readonly string[],
  before: Cells | null,
  cells: Cells,
  verdicts: readonly Verdict[],
): Verdict | null {
  const isRefused = verdicts.some((verdict) => !isNote(verdict));
  if (first === undefined || isRefused || Object.keys(cells).length > 0) return null;
  if (before && Object.keys(before).length === 0) return null;
  const problem = { code: before ? ('nothingLeft' as const) : ('nothingTyped' as const) };
  return { fieldId: first, columnId: first, problem, strictness: 'refuse' };
}

const isNote = ({ strictness }: Doubt): boolean => strictness === 'note';

/** Typed texts by column id, as they are given to `judgeRecord`. */
export const typedCells = (texts: Readonly<Record<string, string>>): Record<string, Given> =>
  Object.fromEntries(Object.entries(texts).map(([id, typed]) => [id, { typed }]));

/** A verdict on one of the changes of a write: which of them. */
export interface WriteVerdict extends Verdict {
  readonly at: number;
}

/**
 * Judges what a write does to the records of a sheet among all that are stored, whatever door it
 * comes through: a key is one record's alone.
 */
export function judgeWrite(changes: readonly KeyChange[], ground: KeyGround): WriteVerdict[] {
  return takenKeys(ground, changes).map(({ at, columnId, problem }) => {
    return { at, fieldId: columnId, columnId, problem, strictness: 'refuse' };
  });
}
