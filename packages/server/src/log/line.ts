import type { Cells, StoredFreeCells, RangeName, StructureChangeKind } from '@varn/core';
import type { SheetShape } from '../store/sheetShape';

/** Where a row stands among the others. */
interface Place {
  readonly orderKey: number;
}

interface Told<Kind extends string, Before, After> {
  readonly kind: Kind;
  readonly before: Before;
  readonly after: After;
}

/** What happened to a row, by its kind. `C` is what the row's cells are. */
type RowStory<Part extends 'record' | 'row', C> =
  | Told<`${Part}Added` | `${Part}PutBack`, null, C>
  | Told<`${Part}Changed`, C, C>
  | Told<`${Part}Removed`, C, null>
  | Told<`${Part}Moved`, Place, Place>;

/** What happened to a record: its cells, or its place, before and after. */
export type RecordChange = RowStory<'record', Cells>;
/** The same of a row outside of the records. */
export type RowChange = RowStory<'row', StoredFreeCells>;
export type SheetChange = Told<'sheetChanged', SheetShape, SheetShape>;
export type NamesChange = Told<'namesChanged', readonly RangeName[], readonly RangeName[]>;
/** Changes of structure that keep no before and after; they cannot be taken back. */
type StructureChange = Told<
  Exclude<StructureChangeKind, 'sheetChanged' | 'namesChanged'>,
  null,
  null
>;

interface RecordFacts {
  readonly recordId: string;
  /** The record's revision after the write. */
  readonly revision: number;
  /** The grid's row the record had or got, from 1. */
  readonly gridRow: number;
  /** How many records there were before. */
  readonly counted: number;
}

interface RowFacts {
  readonly rowId: string;
  readonly revision: number;
}

export type RecordLine = RecordFacts & RecordChange;
export type RowLine = RowFacts & RowChange;
/** What can be taken back: it keeps what was there before. */
type UndoableStory = RecordLine | RowLine | SheetChange | NamesChange;
/** What a line of the log tells, by its kind. */
export type LineStory = UndoableStory | StructureChange;

/** Of which write a line is, and whose. */
export interface LineFacts {
  readonly workbookId: string;
  readonly sheetId: string;
  /** The write's id. A write of many rows has a line for each. */
  readonly batch: string;
  /** The line's own id: the write's for its first line. */
  readonly writeId: string;
  /** The write that is taken back by this one. */
  readonly undoes: string | null;
  /** Of what was asked, and by whom: another request under the same write id is refused. */
  readonly digest: string;
  readonly accountId: string;
  /** Which form (its id), or which other door it came through. */
  readonly door: string;
  /** What was answered, on the first line of a write. */
  readonly answer: unknown;
}

/** A line to be written into the log. */
export type NewLine = LineFacts & LineStory;
/** A line of the log: when it was written, and its sequence number, after which events resume. */
export type Line = NewLine & {
  readonly seq: number;
  /** In milliseconds since 1970 UTC. */
  readonly at: number;
};
export type UndoableLine = Line & UndoableStory;

export const isRecordLine = <L extends NewLine>(line: L): line is L & RecordLine =>
  'recordId' in line;
export const isRowLine = (line: Line): line is Line & RowLine => 'rowId' in line;
