import { kindOf, type Column, type ReadingContext } from '../kinds';
import { narrowingDoubt } from '../lists';
import { ruledColumns, ruleDoubts } from '../rules';
import type { KeyChange } from '../sheet';
import {
  atOnce,
  type Cells,
  type CellValue,
  type Problem,
  type Sentences,
  type Strictness,
} from '../values';
import { withoutForgotten } from './forget';
import { Judged } from './judged';
import { takenKeys, type KeyGround } from './keys';
import { inTheWay, isNote, type Doubt, type Verdict } from './verdict';

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

/** What a record is judged on. */
export interface RecordGround {
  /** The sheet's columns; those that a form shows with the rules of its fields added to theirs. */
  readonly columns: ReadonlyMap<string, Column>;
  readonly context: ReadingContext;
  readonly checksOf?: (columnId: string) => readonly WeighedCheck[];
  /** Columns whose values are meant, although they are asked about. */
  readonly meant?: ReadonlySet<string>;
  /** Whether what passes is stored without the rest; else a record is stored whole, or not at all. */
  readonly partly?: boolean;
  /** Columns whose values are on their way: what reads them is not held against anything yet. */
  readonly awaited?: ReadonlySet<string>;
  /** What Varn fills in of a new record, as far as it is known: rules may read it. */
  readonly filled?: Cells;
}

/** Where what stands in the way is told: at the fields of a form that are there now. */
export interface FieldPlaces {
  /** The input that writes a column; `undefined` where none is shown. */
  fieldOf(columnId: string): string | undefined;
}

/** What is given of a record, by column id: to be read, or read already, with what is to be said of it. */
export type GivenCells = Readonly<Record<string, Given | JudgedCell>>;

/**
 * Judges a change: what would be stored of a record, from what is given of it and what it was
 * before, and what stands in the way. All rules run over the whole record, whatever part of it is
 * given. A rule is asked where its column is another now, or one that it reads, through computed
 * columns too; one that *always* holds at any change. What may not be stored leaves what was there.
 *
 * @param given of columns that `ground` does not know, nothing is taken
 * @param before the record as it is stored; `null` for a new one
 * @param by the form through which it comes, where there is one
 */
export function judgeChange(
  given: GivenCells,
  before: Cells | null,
  ground: RecordGround,
  by?: FieldPlaces,
): Judged {
  const context = { ...ground.context, held: before };
  const { columns, meant } = ground;
  const cells: Record<string, CellValue> = { ...before };
  const taken = new Set<string>();
  let verdicts: Verdict[] = [];
  const asked = new Set<string>();
  const fieldIdOf = (columnId: string): string => by?.fieldOf(columnId) ?? columnId;
  for (const [columnId, each] of Object.entries(given)) {
    const column = columns.get(columnId);
    if (!column) continue;
    // A blank pasted over what nobody types leaves it.
    if ('typed' in each && each.typed === '' && !isTyped(column)) continue;
    const { value, doubts } =
      'doubts' in each ? each : judgeCell(each, column, { context, ...checksIn(ground, columnId) });
    const obstacle = inTheWay(doubts, meant?.has(columnId));
    const isNew = value !== (before?.[columnId] ?? null);
    const told = obstacle ? [obstacle] : isNew ? doubts.filter(isNote) : [];
    const fieldId = fieldIdOf(columnId);
    for (const doubt of told) verdicts.push({ fieldId, columnId, ...doubt });
    if (obstacle?.strictness === 'refuse') continue;
    // What is asked about is looked at beside the rest as it would be.
    if (obstacle) asked.add(columnId);
    taken.add(columnId);
    put(cells, columnId, value);
  }
  const among = (): Verdict[] => {
    const change = { cells, before, taken, fieldIdOf, by };
    return [...narrowingVerdicts(change, ground), ...ruleVerdicts(change, ground)].filter(
      ({ strictness, columnId }) => strictness !== 'ask' || !meant?.has(columnId),
    );
  };
  const leaveOut = (columnIds: ReadonlySet<string>): void => {
    for (const columnId of columnIds) {
      taken.delete(columnId);
      put(cells, columnId, before?.[columnId] ?? null);
    }
  };
  if (taken.size > 0) verdicts.push(...among());
  if (ground.partly) {
    // What is left out leaves the rest beside other values: they are held against those again.
    let out = new Set([...asked, ...inTheWayOf(verdicts)]);
    while (out.size > 0 && taken.size > 0) {
      leaveOut(out);
      const more = among().filter((each) => !isNote(each));
      verdicts.push(...more);
      out = new Set(inTheWayOf(more));
    }
    verdicts = verdicts.filter((each) => !isNote(each) || taken.has(each.columnId));
  } else if (verdicts.some((each) => !isNote(each))) leaveOut(new Set(taken));
  const blank = blankVerdict(Object.keys(given), verdicts, { cells, before, taken, fieldIdOf, by });
  if (blank) leaveOut(new Set(taken));
  const kept = withoutForgotten(
    cells,
    ruledColumns(columns).map(({ column }) => column),
  );
  const judged = Judged.of({ cells: kept, before, taken, verdicts: blank ? [blank] : verdicts });
  return before ? judged.computedAnew(context.computing) : judged;
}

/** The columns where something stands in the way. */
const inTheWayOf = (verdicts: readonly Verdict[]): string[] =>
  verdicts.filter((each) => !isNote(each)).map(({ columnId }) => columnId);

/**
 * Judges cells that stood in a sheet before and come back, or that no person types now: an older
 * state, what a removal left, a column under another kind, a file that becomes a sheet. They are
 * stored as they are, and what lists and rules say of them is noted.
 *
 * @param cells the whole record as it is to be
 * @param before the record as it is stored; `null` where there is none
 */
export function judgeRestored(cells: Cells, before: Cells | null, ground: RecordGround): Judged {
  const { admits: _, ...context } = ground.context;
  const taken = new Set(
    [...ground.columns.keys()].filter((id) => (cells[id] ?? null) !== (before?.[id] ?? null)),
  );
  const change = { cells, before, taken, fieldIdOf: (id: string) => id };
  const told = [
    ...narrowingVerdicts(change, { ...ground, context: { ...context, held: before } }),
    ...ruleVerdicts(change, { ...ground, context: { ...context, held: before } }),
  ];
  const verdicts = told.map((each): Verdict => ({ ...each, strictness: 'note' }));
  return Judged.of({ cells, before, verdicts, taken });
}

function put(cells: Record<string, CellValue>, columnId: string, value: CellValue): void {
  if (value === null) Reflect.deleteProperty(cells, columnId);
  else cells[columnId] = value;
}

function checksIn({ checksOf }: RecordGround, columnId: string): Pick<CellGround, 'checks'> {
  const checks = checksOf?.(columnId);
  return checks ? { checks } : {};
}

/** A record as it would be, with what was given of it and is taken so far. */
interface Change {
  readonly cells: Cells;
  readonly before: Cells | null;
  readonly taken: ReadonlySet<string>;
  readonly fieldIdOf: (columnId: string) => string;
  readonly by?: FieldPlaces | undefined;
}

/**
 * Where something is told: of these columns the first that the change makes another, rather one
 * that is shown. Of a new record it may be one that was left blank.
 */
function placeAmong(ids: Iterable<string>, change: Change): string | undefined {
  const { cells, before, taken, by } = change;
  let blank: string | undefined;
  let hidden: string | undefined;
  for (const id of ids) {
    if (!taken.has(id)) continue;
    const isShown = !by || by.fieldOf(id) !== undefined;
    if ((cells[id] ?? null) !== (before?.[id] ?? null)) {
      if (isShown) return id;
      hidden ??= id;
    } else if (!before && isShown) blank ??= id;
  }
  return blank ?? hidden;
}

/** Choices that do not go with the rest of the record, told where something was given. */
function narrowingVerdicts(change: Change, { columns, context }: RecordGround): Verdict[] {
  if (!context.listed) return [];
  const { cells, before } = change;
  const scope = { ...context, held: before };
  return [...narrowedColumns(columns)].flatMap(({ column, readBy }) => {
    const columnId = placeAmong(readBy, change);
    if (columnId === undefined) return [];
    const doubt = narrowingDoubt(column, cells[column.id] ?? null, cells, columns, scope);
    return doubt ? [{ fieldId: change.fieldIdOf(columnId), columnId, ...doubt }] : [];
  });
}

/** A column whose choices are narrowed, and what they are narrowed by: itself first. */
interface NarrowedColumn {
  readonly column: Column;
  readonly readBy: readonly string[];
}

const narrowed = new WeakMap<ReadonlyMap<string, Column>, readonly NarrowedColumn[]>();

function narrowedColumns(columns: ReadonlyMap<string, Column>): readonly NarrowedColumn[] {
  let found = narrowed.get(columns);
  if (!found) {
    found = [...columns.values()].flatMap((column): NarrowedColumn[] => {
      const by = column.settings.list?.narrowed?.map(({ columnId }) => columnId) ?? [];
      return by.length > 0 ? [{ column, readBy: [column.id, ...by] }] : [];
    });
    narrowed.set(columns, found);
  }
  return found;
}

/** Rules that what was given breaks, or that a value beside it breaks now. */
function ruleVerdicts(change: Change, ground: RecordGround): Verdict[] {
  const { columns, awaited, filled } = ground;
  const ruled = ruledColumns(columns);
  if (ruled.length === 0) return [];
  const { before } = change;
  const { computing } = ground.context;
  const comes = computing && ruled.some(({ computed }) => computed.length > 0) ? computing : null;
  const cells = !before && filled ? { ...filled, ...change.cells } : change.cells;
  const all = comes ? { ...cells, ...comes.values(cells) } : cells;
  const held = comes && before ? { ...comes.values(before), ...before } : before;
  const scope = { columns, context: { ...ground.context, held }, cells: all };
  return ruled.flatMap(({ column, readBy, computed, always }) => {
    const value = all[column.id] ?? null;
    // A blank breaks no rule.
    if (value === null) return [];
    const reads = comes ? computed.flatMap((id) => comes.reads(id)) : [];
    if (awaited && [...readBy, ...reads].some((id) => awaited.has(id))) return [];
    const own = placeAmong([...readBy, ...reads], change);
    const columnId = own ?? (always || !before ? placeAmong(columns.keys(), change) : undefined);
    if (columnId === undefined) return [];
    const [first, ...others] = ruleDoubts(column, value, scope);
    // What is refused, or asked about, is told alone.
    const told = first && isNote(first) ? [first, ...others] : first ? [first] : [];
    const fieldId = change.fieldIdOf(columnId);
    return told.map(({ problem, strictness }) => {
      const isElsewhere = columnId !== column.id && problem.code === 'breaksRule';
      const named = isElsewhere ? { ...problem, of: column.heading } : problem;
      return { fieldId, columnId, problem: named, strictness };
    });
  });
}

/** A record that would hold nothing is none. */
function blankVerdict(
  given: readonly string[],
  verdicts: readonly Verdict[],
  change: Change,
): Verdict | null {
  const { cells, before } = change;
  if (given.length === 0 || inTheWayOf(verdicts).length > 0) return null;
  if (Object.keys(cells).length > 0) return null;
  if (before && Object.keys(before).length === 0) return null;
  const problem = { code: before ? ('nothingLeft' as const) : ('nothingTyped' as const) };
  const columnId = placeAmong(given, { ...change, taken: new Set(given) }) ?? given[0] ?? '';
  return { fieldId: change.fieldIdOf(columnId), columnId, problem, strictness: 'refuse' };
}

/** Typed texts by column id, as they are given to `judgeChange`. */
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
export const judgeWrite = (changes: readonly KeyChange[], ground: KeyGround): WriteVerdict[] =>
  atOnce(judgeWriteInSteps(changes, ground));

/** The same of a write of very many records, in steps. */
export function* judgeWriteInSteps(
  changes: readonly KeyChange[],
  ground: KeyGround,
): Generator<undefined, WriteVerdict[]> {
  const taken = yield* takenKeys(ground, changes);
  return taken.map(({ at, columnId, problem }) => {
    return { at, fieldId: columnId, columnId, problem, strictness: 'refuse' };
  });
}
