import type { FreeRowView, RecordView, RenamedItem } from '@varn/contract';
import { useCallback, useRef, useState } from 'react';
import { freeFace, freeText, recordFace, recordText } from './cells/faces';
import { cellKey, whyNotTyped, type Looked } from './cells/plan';
import type { Onward } from './grid/CellEditor';
import { lineAt, lineOf } from './lines';
import { type Spot } from './selection';
import type { AtHand } from './useAtHand';
import type { Cells, Mark } from './useCells';
import type { DraftRow } from './useDraft';
import { usePointing, type PointingActs } from './usePointing';
import type { Selecting } from './useSelecting';

/** The cell that is being typed into. */
export interface Editing {
  readonly spot: Spot;
  readonly text: string;
  readonly caret: number;
  /** Rises when the caret is to be put where `caret` says. */
  readonly placed: number;
  /** Rises with each cell that is begun: one editor lasts as long, wherever its line goes. */
  readonly begun: number;
  /** What stood there when it was begun. */
  readonly original: string;
  /** The record, or the row outside of them, that was looked at. */
  readonly record: RecordView | undefined;
  readonly row: FreeRowView | undefined;
  /** Whether it belongs to the record that is begun, wherever its line is by now. */
  readonly onDraft: boolean;
}

/** What is typed into a cell, and what is to be told of it. */
export interface EditingActs extends PointingActs {
  readonly editing: Editing | null;
  /** Why a cell is an error, was kept as text, or was not written; '' where all is well. */
  readonly reasonOf: (spot: Spot) => string;
  /** What is on its way or was refused in a cell. */
  readonly markOf: (spot: Spot) => Mark | undefined;
  /** Drops what was refused in a cell. */
  readonly dropMark: (spot: Spot) => void;
  /** Begins to type into a cell: on what stands there, or with what is typed instead. */
  readonly edit: (spot: Spot, typed?: string) => void;
  readonly type: (text: string, caret: number, put?: boolean) => void;
  readonly done: (text: string, onward: Onward) => void;
  readonly cancel: () => void;
}

interface EditingDoors {
  readonly atHand: AtHand;
  readonly selecting: Selecting;
  readonly cells: Cells;
  readonly draft: DraftRow;
  /** Opens the details of a column. */
  readonly onNotes: () => void;
  /** Gives a column another heading. */
  readonly onRename: (columnId: string, heading: string) => void;
  /** Told of a cell that held one text and now holds another. */
  readonly onRenamed: (renamed: RenamedItem) => void;
}

const STEPS = { down: [1, 0], up: [-1, 0], right: [0, 1], left: [0, -1] } as const;

export function useEditing(doors: EditingDoors): EditingActs {
  const { atHand, selecting, cells, draft, onNotes, onRename, onRenamed } = doors;
  const { sheet, lines, locale, columns, recordAt, rowAt } = atHand;
  const [entry, setEditing] = useState<Editing | null>(null);
  // What is typed by now: the editor draws it, everyone else asks when it is done.
  const typing = useRef({ text: '', caret: 0 });
  const begun = useRef(0);
  // Records that come meanwhile push the line of the draft down.
  const editing =
    entry?.onDraft === true
      ? { ...entry, spot: { ...entry.spot, line: lineOf(lines, { is: 'draft' }) } }
      : entry;

  const { pointAt, pointTo, pointed, settle } = usePointing({
    atHand,
    typing: () => (editing ? typing.current : null),
    put: (next) => {
      typing.current = next;
      setEditing(editing && { ...editing, ...next, placed: editing.placed + 1 });
    },
  });

  const looked: Looked<RecordView, FreeRowView> = { record: recordAt, row: rowAt };
  const keyOf = (spot: Spot): string => cellKey(spot, lines, sheet, looked) ?? '';
  const markOf = (spot: Spot): Mark | undefined => cells.marks.get(keyOf(spot));
  const dropMark = (spot: Spot): void => cells.drop(keyOf(spot));
  const fail = (failure: string): void => cells.say({ written: 0, unplaced: [], failure });

  const reasonOf = ({ line, column }: Spot): string => {
    const mark = markOf({ line, column });
    if (mark?.is === 'refused') return mark.message;
    const what = lineAt(lines, line);
    const held = sheet.columns[column];
    if (what.is === 'free') return freeFace(rowAt(what.row)?.cells[column] ?? null, locale).note;
    if (what.is !== 'record' || !held) return '';
    return recordFace(recordAt(what.position)?.cells ?? [], column, atHand.faces).note;
  };

  /** What one would type to have a cell as it is. */
  const textAt = ({ line, column }: Spot): string => {
    const what = lineAt(lines, line);
    const held = sheet.columns[column];
    if (what.is === 'free') return freeText(rowAt(what.row)?.cells[column] ?? null, locale);
    if (what.is === 'heading') return held?.heading ?? '';
    if (!held) return '';
    if (what.is === 'draft') return draft.draft.answers[held.id] ?? '';
    return recordText(recordAt(what.position)?.cells[column] ?? null, held, locale);
  };

  const edit = (spot: Spot, typed?: string): void => {
    const what = lineAt(lines, spot.line);
    if (what.is === 'heading' && !(atHand.mayShape && sheet.columns[spot.column])) {
      onNotes();
      return;
    }
    const why = what.is === 'heading' ? null : whyNotEdited(spot, atHand);
    if (why !== null) {
      fail(`${atHand.addressOf(spot)}: ${why}`);
      return;
    }
    const original = textAt(spot);
    const text = typed ?? markOf(spot)?.text ?? original;
    selecting.goTo(spot);
    typing.current = { text, caret: text.length };
    begun.current += 1;
    setEditing({
      spot,
      text,
      caret: text.length,
      placed: 0,
      begun: begun.current,
      original,
      record: what.is === 'record' ? recordAt(what.position) : undefined,
      row: what.is === 'free' ? rowAt(what.row) : undefined,
      onDraft: what.is === 'draft',
    });
  };

  const putIn = (typed: Editing, text: string): void => {
    const { spot, original } = typed;
    const what = lineAt(lines, spot.line);
    const column = sheet.columns[spot.column];
    if (what.is === 'draft') {
      if (column) draft.type(column.id, text);
      return;
    }
    if (what.is === 'heading') {
      if (column && text.trim() !== original) onRename(column.id, text.trim());
      return;
    }
    const mark = markOf(spot);
    if (text === original) {
      if (mark) dropMark(spot);
      return;
    }
    // Rows are written by their number: it must be the same row still.
    const { row } = typed;
    if (what.is === 'free' && row && row.id !== '' && rowAt(what.row)?.id !== row.id) {
      fail(
        `Rows were moved in the meantime. ‘${text}’ was not entered. Type it again where it belongs.`,
      );
      return;
    }
    const meant = mark?.strictness === 'ask' && mark.text === text;
    const placed = [{ ...spot, text, ...(meant && { meant }) }];
    void cells.put(placed, lines, lookedAt(typed, atHand)).then(({ written }) => {
      const [before, after] = [original.trim(), text.trim()];
      if (written === 0 || before === '' || after === '') return;
      onRenamed({ ...(what.is === 'record' && column && { columnId: column.id }), before, after });
    });
  };

  const done = (text: string, onward: Onward): void => {
    if (!editing) return;
    const { spot } = editing;
    setEditing(null);
    settle();
    putIn(editing, text);
    if (onward === 'stay') return;
    selecting.wantFocus();
    const onDraft = lineAt(lines, spot.line).is === 'draft';
    if (onDraft && (onward === 'down' || (onward === 'right' && spot.column === columns - 1))) {
      draft.leave();
      selecting.goTo({ ...spot, column: 0 });
      return;
    }
    const [down, across] = STEPS[onward];
    selecting.goTo({ line: spot.line + down, column: spot.column + across });
  };

  return {
    editing,
    reasonOf,
    markOf,
    dropMark,
    edit,
    type: useCallback(
      (text, caret, isPut = false) => {
        if (text !== typing.current.text) settle();
        typing.current = { text, caret };
        if (!isPut) return;
        setEditing((held) => held && { ...held, text, caret, placed: held.placed + 1 });
      },
      [settle],
    ),
    done,
    cancel: () => {
      settle();
      selecting.wantFocus();
      setEditing(null);
    },
    pointAt,
    pointTo,
    pointed,
  };
}

/** Why one may not type into a cell; `null` where one may. */
function whyNotEdited({ line, column }: Spot, atHand: AtHand): string | null {
  const { lines, sheet, mayShape, mayEditRecords, rowAt } = atHand;
  const what = lineAt(lines, line);
  if (what.is === 'free') {
    if (!mayShape) return 'Only the workbook’s analysts can change rows outside the records.';
    const cell = rowAt(what.row)?.cells[column];
    return cell?.covered ? 'A formula in another cell fills this one.' : null;
  }
  if (!mayEditRecords) return 'You can read this workbook, but not change it.';
  return whyNotTyped(sheet.columns[column]);
}

/** What was looked at when a cell was begun: as it is now, if the cell is still what was seen. */
function lookedAt({ spot, record, row }: Editing, { lines, recordAt, rowAt }: AtHand): Looked {
  const isSame = <T extends RecordView | FreeRowView>(now: T | undefined, then: T): boolean =>
    now?.id === then.id &&
    JSON.stringify(now.cells[spot.column]) === JSON.stringify(then.cells[spot.column]);
  const what = lineAt(lines, spot.line);
  return {
    record: (position) => {
      const now = recordAt(position);
      const isIt = what.is === 'record' && what.position === position;
      return isIt && record && !isSame(now, record) ? record : now;
    },
    row: (number) => {
      const now = rowAt(number);
      return what.is === 'free' && what.row === number && row && !isSame(now, row) ? row : now;
    },
  };
}
