import type { CellRefusal, EditCells, SheetView, Written } from '@varn/contract';
import { kindOf, type Column, type Strictness } from '@varn/core';
import { lineAt, type Lines } from '../lines';
import type { Spot } from '../selection';

/** A text put into a cell. */
export interface Placed extends Spot {
  readonly text: string;
  /** Whether it is meant, although it was asked about. */
  readonly meant?: boolean;
}

/** A cell that was not written, and why. */
export interface Unplaced extends Placed {
  readonly message: string;
  /** Whether it is refused, or only asked about. */
  readonly strictness: Strictness;
  /** Of a formula: where in its text. */
  readonly span?: readonly [number, number];
}

interface Known {
  readonly id: string;
  readonly revision: number;
}

/** What stands on the lines of a sheet, as far as it was looked at. */
export interface Looked<R extends Known = Known, F extends Known = Known> {
  readonly record: (position: number) => R | undefined;
  readonly row: (number: number) => F | undefined;
}

/** What tells a row from all others wherever it stands by now: an id, or a blank row's number. */
export const rowKey = (row: Known | undefined, number: number): string =>
  row?.id === undefined || row.id === '' ? `row ${number}` : row.id;

interface Columns {
  readonly columns: readonly { readonly id: string }[];
}

/** What tells a column from all others: its id, or beyond those that have one its place. */
export const columnKey = (index: number, { columns }: Columns): string =>
  columns[index]?.id ?? String(index);

/** What tells a cell from all others, so that what is said of it stays with it; `null` for none. */
export function cellKey(
  { line, column }: Spot,
  lines: Lines,
  sheet: Columns,
  looked: Looked,
): string | null {
  const what = lineAt(lines, line);
  const inColumn = columnKey(column, sheet);
  if (what.is === 'free') return `${rowKey(looked.row(what.row), what.row)}|${inColumn}`;
  const record = what.is === 'record' ? looked.record(what.position) : undefined;
  return record ? `${record.id}|${inColumn}` : null;
}

/** A write of the grid, with what is needed to tell its refusals by cell. */
export interface Plan {
  readonly edits: Pick<EditCells, 'records' | 'added' | 'rows'>;
  readonly unplaced: readonly Unplaced[];
  /** The cell a refusal is about. */
  readonly spotOf: (refusal: CellRefusal) => Spot;
}

/** A cell of a record that was not written, with what is needed to write it yet. */
export interface Kept extends Spot {
  readonly columnId: string;
  readonly text: string;
  readonly message: string;
  readonly strictness: Strictness;
  /** What its row is told by: cells of one row are written together. */
  readonly row: string;
  /** Which of the new rows of its write it is of, from 1: one that is not written has no place. */
  readonly nth: number;
  /** Its record; `null` where its row is not written at all. */
  readonly record: { readonly id: string; readonly revision: number } | null;
  /** What else of its row waits for it, by column. */
  readonly rest: Readonly<Record<string, string>>;
}

/** How many cells a write stored. Of a new record that was refused none is, whatever else it held. */
export function writtenOf({ edits }: Plan, { refused }: Written): number {
  const { records = [], added = [], rows = [] } = edits;
  const texts = [...records, ...added].map(({ answers }) => answers);
  const all = [...texts, ...rows.map(({ cells }) => cells)];
  const sent = all.reduce((sum, each) => sum + Object.keys(each).length, 0);
  const gone = new Map<string, number>();
  for (const { list, at, column, recordId } of refused) {
    const row = list === 'added' && recordId === undefined ? added[at] : undefined;
    if (row) gone.set(`added ${at}`, Object.keys(row.answers).length);
    else gone.set(`${list} ${at} ${column}`, 1);
  }
  return sent - [...gone.values()].reduce((sum, each) => sum + each, 0);
}

/** What a write did not take of records, each with its row. */
export function keptOf({ edits, spotOf }: Plan, { writeId, refused, records }: Written): Kept[] {
  const revisions = new Map(records.map(({ recordId, revision }) => [recordId, revision]));
  const outOf = new Map<string, Set<string>>();
  for (const { list, at, column } of refused) {
    entry(outOf, `${list} ${at}`, () => new Set<string>()).add(column);
  }
  return refused.flatMap((refusal): Kept[] => {
    const { list, at, column: columnId, message, strictness, recordId } = refusal;
    if (list === 'rows') return [];
    const edit = list === 'records' ? edits.records?.[at] : undefined;
    const id = edit?.id ?? recordId;
    const answers = (edit ?? edits.added?.[at])?.answers ?? {};
    const revision = revisions.get(id ?? '') ?? edit?.revision ?? 1;
    const out = outOf.get(`${list} ${at}`);
    const rest = Object.entries(answers).filter(([each]) => !out?.has(each));
    return [
      {
        ...spotOf(refusal),
        columnId,
        text: answers[columnId] ?? '',
        message,
        strictness,
        row: id ?? `${writeId} ${at}`,
        nth: at + 1,
        record: id === undefined ? null : { id, revision },
        rest: id === undefined ? Object.fromEntries(rest) : {},
      },
    ];
  });
}

/** Kept cells with the texts they have by now, as one write; cells of one row as one edit. */
export function editsOf(kept: readonly Kept[]): {
  readonly edits: Pick<EditCells, 'records' | 'added'>;
  readonly rows: readonly string[];
} {
  const byRow = new Map<string, Kept[]>();
  for (const each of kept) entry(byRow, each.row, (): Kept[] => []).push(each);
  const records: NonNullable<EditCells['records']> = [];
  const added: NonNullable<EditCells['added']> = [];
  const addedRows: string[] = [];
  for (const [row, cells] of byRow) {
    const [first] = cells;
    if (!first) continue;
    const { record, rest } = first;
    const answers = Object.fromEntries(cells.map(({ columnId, text }) => [columnId, text]));
    // What was asked about is meant by whoever places it as it is.
    const meant = cells.flatMap(({ columnId, strictness }) =>
      strictness === 'ask' ? [columnId] : [],
    );
    if (record) records.push({ ...record, answers, ...sure(meant) });
    else {
      added.push({ answers: { ...rest, ...answers }, ...sure(meant) });
      addedRows.push(row);
    }
  }
  return {
    edits: { ...(records.length > 0 && { records }), ...(added.length > 0 && { added }) },
    rows: addedRows,
  };
}

export const NOT_TYPED: Readonly<Record<'varn' | 'formula', string>> = {
  varn: 'Filled in by Varn.',
  formula: 'Computed. The formula is in the details of the column.',
};

/** Why nothing can be typed into a cell of a record, or `null`. */
export function whyNotTyped(column: Column | undefined): string | null {
  if (!column) return 'There is no column here. Add one first.';
  const { filledBy, typing } = kindOf(column);
  if (filledBy !== 'people') return NOT_TYPED[filledBy];
  return typing === 'none' ? 'Files come in through a form.' : null;
}

/**
 * Sorts texts put into cells into what is written: cells of records, new records, and cells
 * outside of them.
 *
 * @param looked records and rows as they were looked at: what was changed since is refused
 */
export function planOf(
  placed: readonly Placed[],
  lines: Lines,
  { columns }: Pick<SheetView, 'columns'>,
  looked: Looked,
): Plan {
  const unplaced: Unplaced[] = [];
  const records = new Map<number, { answers: Record<string, string>; meant: string[] }>();
  const added = new Map<number, { answers: Record<string, string>; meant: string[] }>();
  const rows = new Map<number, Record<string, string>>();
  for (const put of placed) {
    const { column: index, text, meant = false } = put;
    const line = lineAt(lines, put.line);
    const refuse = (message: string): void => {
      unplaced.push({ ...put, message, strictness: 'refuse' });
    };
    if (line.is === 'heading') {
      refuse('Headings are changed in the details of their column.');
      continue;
    }
    if (line.is === 'free') {
      entry(rows, line.row, (): Record<string, string> => ({}))[String(index)] = text;
      continue;
    }
    const column = columns[index];
    const why = whyNotTyped(column);
    if (!column || why !== null) {
      if (text !== '') refuse(why ?? '');
      continue;
    }
    const group = line.is === 'record' ? records : added;
    const edit = entry(group, put.line, blankEdit);
    edit.answers[column.id] = text;
    if (meant) edit.meant.push(column.id);
  }
  const lists = {
    records: [...records].flatMap(([line, { answers, meant }]) => {
      const what = lineAt(lines, line);
      const known = what.is === 'record' ? looked.record(what.position) : undefined;
      if (!known) return [];
      const { id, revision } = known;
      return [{ line, edit: { id, revision, answers, ...sure(meant) } }];
    }),
    added: [...added]
      .filter(([, { answers }]) => Object.values(answers).some((text) => text.trim() !== ''))
      .map(([line, { answers, meant }]) => ({ line, edit: { answers, ...sure(meant) } })),
    rows: [...rows].map(([row, cells]) => {
      const known = looked.row(row);
      const revision = known && known.id !== '' && { revision: known.revision };
      return { line: row - 1, edit: { row, cells, ...revision } };
    }),
  };
  return {
    unplaced,
    edits: {
      ...(lists.records.length > 0 && { records: lists.records.map(({ edit }) => edit) }),
      ...(lists.added.length > 0 && { added: lists.added.map(({ edit }) => edit) }),
      ...(lists.rows.length > 0 && { rows: lists.rows.map(({ edit }) => edit) }),
    },
    spotOf: ({ list, at, column }) => ({
      line: lists[list][at]?.line ?? 0,
      column: list === 'rows' ? Number(column) : columns.findIndex(({ id }) => id === column),
    }),
  };
}

const blankEdit = (): { answers: Record<string, string>; meant: string[] } => ({
  answers: {},
  meant: [],
});

const sure = (meant: string[]): { meant?: string[] } => (meant.length > 0 ? { meant } : {});

function entry<K, V>(map: Map<K, V>, key: K, make: () => V): V {
  const held = map.get(key);
  if (held !== undefined) return held;
  const made = make();
  map.set(key, made);
  return made;
}

/**
 * Where a block of texts goes when it is put in at a selection: once from its first cell on, or
 * again and again where the selection is larger than the block and it fits evenly.
 */
export function spread<T>(
  rows: readonly (readonly T[])[],
  box: { top: number; bottom: number; left: number; right: number },
): { line: number; column: number; item: T; row: number; cell: number }[] {
  const height = rows.length;
  const width = Math.max(0, ...rows.map((cells) => cells.length));
  if (height === 0 || width === 0) return [];
  const tall = box.bottom - box.top + 1;
  const wide = box.right - box.left + 1;
  const again = tall % height === 0 && wide % width === 0;
  const [lines, columns] = again ? [tall, wide] : [height, width];
  const spots = [];
  for (let line = 0; line < lines; line += 1) {
    for (let column = 0; column < columns; column += 1) {
      const [row, cell] = [line % height, column % width];
      const item = rows[row]?.[cell];
      if (item === undefined) continue;
      spots.push({ line: box.top + line, column: box.left + column, item, row, cell });
    }
  }
  return spots;
}
