import type {
  FreeRowsView,
  FreeRowView,
  RecordView,
  SheetView,
  WorkbookView,
} from '@varn/contract';
import { LAST_FREE_ROW, MOST_CELLS } from '@varn/contract/limits';
import { paths } from '@varn/contract/paths';
import { mayAs } from '@varn/contract/roles';
import { columnLetters, localeFacts, moveFormula, sayCount, type LocaleFacts } from '@varn/core';
import { useCallback, useMemo, useRef, useState, type MouseEvent } from 'react';
import { get, request, sayError } from '../api/client';
import { blockOf } from './cells/block';
import { readCopied, toHtml, toTsv, type Copied, type CopiedCell } from './cells/clipboard';
import { freeFace, freeText, recordFace, recordText } from './cells/faces';
import { cellKey, spread, whyNotTyped, type Looked, type Placed } from './cells/plan';
import { columnCount } from './columnLayout';
import { referenceFor } from './formula/ranges';
import { isFormula } from './formula/useFormulaHelp';
import type { Onward } from './grid/CellEditor';
import { lineAt, lineCount, lineOf, type Lines } from './lines';
import {
  activeOf,
  alsoFrom,
  at,
  boxesOf,
  boxOf,
  clampSpot,
  drawTo,
  whole,
  type Box,
  type Selection,
  type Spot,
} from './selection';
import { readRecords, useCells, type Cells, type Mark } from './useCells';
import { useDraft, type DraftRow } from './useDraft';
import { useFreeRows, useRecords, type FreeWindow, type RecordWindow } from './useRows';
import { viewFor, viewParameter, type OwnView } from './view/sheetView';

/** Blank rows to type into under those of a sheet without records. */
const BLANK_ROWS = 40;
const LEAST_FREE_ROWS = 60;
const MOST_ROWS = 1000;

/** The cell that is being typed into. */
export interface Editing {
  readonly spot: Spot;
  readonly text: string;
  readonly caret: number;
  /** Rises when the caret is to be put where `caret` says. */
  readonly placed: number;
  /** What stood there when it was begun. */
  readonly original: string;
  /** The record, or the row outside of them, that was looked at. */
  readonly record: RecordView | undefined;
  readonly row: FreeRowView | undefined;
  /** Whether it belongs to the record that is begun, wherever its line is by now. */
  readonly onDraft: boolean;
}

/** The part of a formula a range is being pointed out for, by pressing and drawing in the grid. */
interface Pointing {
  readonly from: number;
  readonly to: number;
  readonly start: Spot;
}

export interface MenuPlace {
  readonly x: number;
  readonly y: number;
}

/** A sheet's grid: what is chosen and typed in it, and all that can be done there. */
export interface SheetGrid {
  readonly sheet: SheetView;
  readonly locale: LocaleFacts;
  readonly lines: Lines;
  /** Rows outside of the records that there are, blank ones below them not counted. */
  readonly freeCount: number;
  readonly columns: number;
  readonly view: OwnView;
  readonly viewParameter: string;
  readonly viewError: unknown;
  readonly selection: Selection;
  readonly editing: Editing | null;
  readonly cells: Cells;
  readonly draft: DraftRow;
  readonly mayEditRecords: boolean;
  /** Whether one may change rows outside of the records, columns and formulas. */
  readonly mayShape: boolean;
  readonly menu: MenuPlace | null;
  /** Tells what is at hand of the lines in view, as they are drawn. */
  readonly show: (window: Window) => void;
  readonly recordAt: (position: number) => RecordView | undefined;
  readonly rowAt: (number: number) => FreeRowView | undefined;
  /** Whether the grid is to take the focus now that it is drawn; asked once. */
  readonly takesFocus: () => boolean;
  readonly addressOf: (spot: Spot) => string;
  /** Why a cell is an error, was kept as text, or was not written; '' where all is well. */
  readonly reasonOf: (spot: Spot) => string;
  /** What is on its way or was refused in a cell. */
  readonly markOf: (spot: Spot) => Mark | undefined;
  /** Drops what was refused in a cell. */
  readonly dropMark: (spot: Spot) => void;
  readonly select: (selection: Selection) => void;
  readonly drawTo: (spot: Spot) => void;
  readonly mouseDown: (event: MouseEvent, spot: Spot | null) => void;
  readonly mouseUp: () => void;
  readonly edit: (spot: Spot, typed?: string) => void;
  readonly type: (text: string, caret: number, put?: boolean) => void;
  readonly done: (text: string, onward: Onward) => void;
  readonly cancel: () => void;
  readonly clear: () => void;
  readonly copy: (clipboard: DataTransfer) => void;
  readonly paste: (html: string, text: string) => void;
  readonly fill: (direction: 'down' | 'right') => void;
  readonly resize: (index: number, width: number) => void;
  readonly takeBack: (again: boolean) => void;
  readonly openMenu: (place: MenuPlace, spot: Spot | null) => void;
  readonly closeMenu: () => void;
  /** Brings the focus back to the grid. */
  readonly refocus: () => void;
}

/** What is at hand of a sheet. */
interface Window {
  readonly records: RecordWindow;
  readonly free: FreeWindow;
}

interface Doors {
  readonly view: OwnView;
  readonly onTakeBack: (again: boolean) => Promise<void>;
  /** Opens the notes of a column. */
  readonly onNotes: () => void;
}

export function useSheetGrid(
  workbook: WorkbookView,
  sheet: SheetView,
  { view: asked, onTakeBack, onNotes }: Doors,
): SheetGrid {
  const locale = localeFacts(workbook.locale);
  const view = viewFor(asked, sheet);
  const parameter = viewParameter(view);
  const mayEditRecords = mayAs(workbook.role, 'clerk');
  const mayShape = mayAs(workbook.role, 'analyst');

  const first = useRecords(sheet.id, 0, parameter);
  const freeCount = useFreeRows(sheet.id, 0).count ?? 0;
  const lines = useMemo((): Lines => {
    const { hasRecords, headingRow, count } = sheet;
    const blank = Math.max(LEAST_FREE_ROWS, freeCount + BLANK_ROWS);
    return {
      hasRecords,
      freeRows: hasRecords ? headingRow - 1 : Math.min(LAST_FREE_ROW, blank),
      records: parameter === '' ? count : (first.count ?? 0),
      draft: hasRecords && mayEditRecords && parameter === '',
    };
  }, [sheet, freeCount, parameter, first.count, mayEditRecords]);

  const columns = columnCount(sheet);
  const cells = useCells(sheet, parameter);
  const draft = useDraft(sheet, cells.inTurn);
  const window = useRef<Window | null>(null);
  const focusWanted = useRef(false);
  const dragging = useRef<'cells' | 'rows' | 'columns' | 'reference' | null>(null);
  const pointing = useRef<Pointing | null>(null);
  const [entry, setEditing] = useState<Editing | null>(null);
  // What is typed by now: the editor draws it, everyone else asks when it is done.
  const typing = useRef({ text: '', caret: 0 });
  // Records that come meanwhile push the line of the draft down.
  const draftLine = lineOf(lines, { is: 'draft' });
  const editing =
    entry?.onDraft === true ? { ...entry, spot: { ...entry.spot, line: draftLine } } : entry;
  const [menu, setMenu] = useState<MenuPlace | null>(null);
  const [, setRefocused] = useState(0);
  const [selection, setSelection] = useSelection(lines, columns, draft);

  const rowAt = (number: number): FreeRowView | undefined => window.current?.free.at(number);
  const recordAt = (position: number): RecordView | undefined =>
    window.current?.records.at(position);
  const clamp = (spot: Spot): Spot => clampSpot(spot, lineCount(lines), columns);

  const select = (next: Selection): void => {
    const wasOn = lineAt(lines, activeOf(selection).line).is === 'draft';
    if (wasOn && lineAt(lines, activeOf(next).line).is !== 'draft') draft.leave();
    setSelection(next);
  };

  const addressOf = ({ line, column }: Spot): string => {
    const what = lineAt(lines, line);
    const row =
      what.is === 'record'
        ? (window.current?.records.gridRowAt(what.position) ?? line + 1)
        : line + 1;
    return `${columnLetters(column)}${row}`;
  };

  const atHand: Looked<RecordView, FreeRowView> = { record: recordAt, row: rowAt };
  const markOf = (spot: Spot): Mark | undefined =>
    cells.marks.get(cellKey(spot, lines, sheet, atHand) ?? '');
  const dropMark = (spot: Spot): void => cells.drop(cellKey(spot, lines, sheet, atHand) ?? '');

  const reasonOf = ({ line, column }: Spot): string => {
    const mark = markOf({ line, column });
    if (mark?.is === 'refused') return mark.message;
    const what = lineAt(lines, line);
    const held = sheet.columns[column];
    if (what.is === 'free') return freeFace(rowAt(what.row)?.cells[column] ?? null, locale).note;
    if (what.is !== 'record' || !held) return '';
    return recordFace(recordAt(what.position)?.cells[column] ?? null, held, locale).note;
  };

  /** What one would type to have a cell as it is. */
  const textAt = ({ line, column }: Spot): string => {
    const what = lineAt(lines, line);
    const held = sheet.columns[column];
    if (what.is === 'free') return freeText(rowAt(what.row)?.cells[column] ?? null, locale);
    if (!held || what.is === 'heading') return '';
    if (what.is === 'draft') return draft.draft.answers[held.id] ?? '';
    return recordText(recordAt(what.position)?.cells[column] ?? null, held, locale);
  };

  const fail = (failure: string): void => cells.say({ written: 0, unplaced: [], failure });

  const whyNot = ({ line, column }: Spot): string | null => {
    const what = lineAt(lines, line);
    if (what.is === 'free') {
      if (!mayShape) return 'Rows outside of the records are for the workbook’s analysts.';
      const cell = rowAt(what.row)?.cells[column];
      return cell?.spilled ? 'An array that is written elsewhere covers this cell.' : null;
    }
    if (!mayEditRecords) return 'You may read this workbook, not change it.';
    return whyNotTyped(sheet.columns[column]);
  };

  const edit = (spot: Spot, typed?: string): void => {
    const what = lineAt(lines, spot.line);
    if (what.is === 'heading') {
      onNotes();
      return;
    }
    const why = whyNot(spot);
    if (why !== null) {
      fail(`${addressOf(spot)}: ${why}`);
      return;
    }
    const original = textAt(spot);
    const text = typed ?? markOf(spot)?.text ?? original;
    const record = what.is === 'record' ? recordAt(what.position) : undefined;
    setSelection(at(spot));
    const row = what.is === 'free' ? rowAt(what.row) : undefined;
    const onDraft = what.is === 'draft';
    typing.current = { text, caret: text.length };
    setEditing({ spot, text, caret: text.length, placed: 0, original, record, row, onDraft });
  };

  /** What was looked at when a cell was begun: as it is now, if the cell is still what was seen. */
  const lookedAt = ({ spot, record, row }: Editing): Looked => {
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
  };

  const putIn = (typed: Editing, text: string): void => {
    const { spot, original } = typed;
    const what = lineAt(lines, spot.line);
    const column = sheet.columns[spot.column];
    if (what.is === 'draft') {
      if (column) draft.type(column.id, text);
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
      fail(`Rows were moved meanwhile. ‘${text}’ was not put in: type it where it belongs.`);
      return;
    }
    const meant = mark?.strictness === 'ask' && mark.text === text;
    void cells.put([{ ...spot, text, ...(meant && { meant }) }], lines, lookedAt(typed));
  };

  const done = (text: string, onward: Onward): void => {
    if (!editing) return;
    const { spot } = editing;
    setEditing(null);
    pointing.current = null;
    putIn(editing, text);
    if (onward === 'stay') return;
    focusWanted.current = true;
    const onDraft = lineAt(lines, spot.line).is === 'draft';
    if (onDraft && (onward === 'down' || (onward === 'right' && spot.column === columns - 1))) {
      draft.leave();
      setSelection(at({ ...spot, column: 0 }));
      return;
    }
    const steps = { down: [1, 0], up: [-1, 0], right: [0, 1], left: [0, -1] } as const;
    const [down, across] = steps[onward];
    setSelection(at(clamp({ line: spot.line + down, column: spot.column + across })));
  };

  const placesOf = (box: Box): Spot[] => {
    const spots: Spot[] = [];
    for (let line = box.top; line <= box.bottom; line += 1) {
      for (let column = box.left; column <= box.right; column += 1) spots.push({ line, column });
    }
    return spots;
  };

  const fits = (count: number, what: string): boolean => {
    if (count <= MOST_CELLS) return true;
    fail(
      `${what} ${sayCount(count)} cells at once is more than the most, ${sayCount(MOST_CELLS)}. Do it in parts.`,
    );
    return false;
  };

  const sizeOf = ({ top, bottom, left, right }: Box): number =>
    (bottom - top + 1) * (right - left + 1);
  const sizeOfAll = (boxes: readonly Box[]): number =>
    boxes.reduce((sum, box) => sum + sizeOf(box), 0);

  /** Reads the lines of a box that are not at hand. */
  const readLines = async (box: Box): Promise<typeof atHand> => {
    const { freeRows } = lines;
    const records = new Map<number, RecordView>();
    const from = Math.max(0, box.top - freeRows - 1);
    const to = Math.min(lines.records, box.bottom - freeRows);
    if (lines.hasRecords && to > from) {
      const read = await readRecords(sheet.id, parameter, from, to);
      read.forEach((record, n) => records.set(from + n, record));
    }
    const rows = new Map<number, FreeRowView>();
    for (let start = box.top; start <= Math.min(box.bottom, freeRows - 1);) {
      const page = await get<FreeRowsView>(paths.freeRows(sheet.id, start, MOST_ROWS));
      if (page.rows.length === 0) break;
      for (const [n, row] of page.rows.entries()) rows.set(start + n + 1, row);
      start += page.rows.length;
    }
    return { record: (position) => records.get(position), row: (number) => rows.get(number) };
  };

  const blockAtHand = (box: Box): CopiedCell[][] | null =>
    blockOf(box, lines, sheet, atHand, locale, freeCount);

  const read = async (box: Box): Promise<CopiedCell[][]> =>
    blockAtHand(box) ?? blockOf(box, lines, sheet, await readLines(box), locale, 0) ?? [];

  const copy = (clipboard: DataTransfer): void => {
    const boxes = boxesOf(selection);
    if (!fits(sizeOfAll(boxes), 'Copying')) return;
    const [box] = boxes;
    const from = box && boxes.length === 1 && { from: { row: box.top + 1, column: box.left } };
    const copied = (blocks: readonly CopiedCell[][][]): Copied => ({
      rows: blocks.flat(),
      ...from,
    });
    const held = boxes.map(blockAtHand);
    const said = (rows: number): void =>
      cells.say({ written: 0, unplaced: [], failure: '', note: `Copied ${sayCount(rows)} rows.` });
    if (held.every((block) => block !== null)) {
      const all = copied(held);
      clipboard.setData('text/plain', toTsv(all));
      clipboard.setData('text/html', toHtml(all));
      return;
    }
    if (!('clipboard' in navigator)) {
      fail('Over this connection the browser lets only rows in view be copied. Choose fewer.');
      return;
    }
    const all = Promise.all(boxes.map(read)).then(copied);
    const blob = (type: string, write: (all: Copied) => string): Promise<Blob> =>
      all.then((each) => new Blob([write(each)], { type }));
    const item = new ClipboardItem({
      'text/plain': blob('text/plain', toTsv),
      'text/html': blob('text/html', toHtml),
    });
    navigator.clipboard.write([item]).then(
      async () => said((await all).rows.length),
      () => fail('The browser did not let the cells be copied. Choose fewer rows.'),
    );
  };

  const placed = (copied: Copied, target: Box): Placed[] => {
    const { from } = copied;
    return spread(copied.rows, target).map(({ line, column, item, row, cell }) => {
      const isFree = lineAt(lines, line).is === 'free';
      if (!isFree || item.formula === undefined) return { line, column, text: item.text };
      const down = from ? line + 1 - (from.row + row) : 0;
      const across = from ? column - (from.column + cell) : 0;
      return { line, column, text: `=${moveFormula(item.formula.slice(1), down, across, locale)}` };
    });
  };

  const put = (all: readonly Placed[]): void => {
    const allowed = all.filter(({ line }) =>
      lineAt(lines, line).is === 'free' ? mayShape : mayEditRecords,
    );
    if (allowed.length < all.length) fail('You may not write to all of these cells.');
    else void cells.put(all, lines, atHand);
  };

  const paste = (html: string, text: string): void => {
    const copied = readCopied(html, text);
    const target = boxOf(selection.last);
    const count = copied.rows.reduce((sum, row) => sum + row.length, 0);
    const spreadOver = count === 1 ? sizeOf(target) : 0;
    if (!fits(Math.max(count, spreadOver), 'Pasting')) return;
    const all = placed(copied, target);
    const past = all.filter(({ line }) => line >= LAST_FREE_ROW && !lines.hasRecords);
    if (past.length > 0) {
      fail(`Rows outside of the records end at ${sayCount(LAST_FREE_ROW)}.`);
      return;
    }
    put(all);
  };

  const fill = (direction: 'down' | 'right'): void => {
    const box = boxOf(selection.last);
    if (!fits(sizeOf(box), 'Filling')) return;
    const source: Box =
      direction === 'down' ? { ...box, bottom: box.top } : { ...box, right: box.left };
    const target: Box =
      direction === 'down' ? { ...box, top: box.top + 1 } : { ...box, left: box.left + 1 };
    if (target.top > target.bottom || target.left > target.right) return;
    const from = { row: box.top + 1, column: box.left };
    read(source).then(
      (rows) => put(placed({ rows, from }, target)),
      (error: unknown) => fail(sayError(error)),
    );
  };

  const clear = (): void => {
    const boxes = boxesOf(selection);
    if (!fits(sizeOfAll(boxes), 'Emptying')) return;
    const spots = boxes.flatMap(placesOf);
    for (const { line, column } of spots) {
      const id = sheet.columns[column]?.id;
      if (lines.draft && line === draftLine && id !== undefined) draft.type(id, '');
    }
    const what = spots.filter(({ line }) => {
      const { is } = lineAt(lines, line);
      return is === 'record' || (is === 'free' && line < freeCount);
    });
    if (what.length > 0) put(what.map((spot) => ({ ...spot, text: '' })));
  };

  const resize = (index: number, width: number): void => {
    const id = sheet.columns[index]?.id ?? sheet.looseColumns[index - sheet.columns.length];
    if (id === undefined) return;
    void cells.send(({ id: sheetId, revision, look }) =>
      request('PATCH', paths.sheet(sheetId), {
        revision,
        look: { ...look, widths: { ...look.widths, [id]: width } },
      }),
    );
  };

  /** Whether a range can stand where the caret is in the formula. */
  const takesReference = (): boolean => {
    const { text, caret } = typing.current;
    return isFormula(`${text} `) && /[=(;,+\-*/^&<>:\s]$/.test(text.slice(0, caret));
  };

  const pointOut = (spot: Spot, start: Spot): void => {
    if (!editing) return;
    const { text: typed, caret } = typing.current;
    const here = pointing.current ?? { from: caret, to: caret, start };
    const own = { ownSheet: true, inRecord: false };
    const named = referenceFor(boxOf({ from: start, to: spot }), sheet, lines, own);
    const text = typed.slice(0, here.from) + named + typed.slice(here.to);
    const to = here.from + named.length;
    pointing.current = { from: here.from, to, start };
    typing.current = { text, caret: to };
    setEditing({ ...editing, text, caret: to, placed: editing.placed + 1 });
  };

  const last = { line: lineCount(lines) - 1, column: columns - 1 };
  const lastRecord = lines.hasRecords ? lines.freeRows + lines.records : last.line;

  const mouseDown = (event: MouseEvent, spot: Spot | null): void => {
    if (!spot || event.button === 2) return;
    const isCell = spot.line >= 0 && spot.column >= 0;
    if (editing && isCell && (pointing.current || takesReference())) {
      event.preventDefault();
      dragging.current = 'reference';
      if (pointing.current) pointing.current = { ...pointing.current, start: spot };
      pointOut(spot, spot);
      return;
    }
    const also = event.ctrlKey || event.metaKey;
    const begin = (from: Spot, to: Spot): void => {
      if (event.shiftKey) select({ ...drawTo(selection, to), still: true });
      else if (also) select({ ...alsoFrom(selection, from, to), still: true });
      else select(from === to ? at(from) : whole(from, to));
    };
    if (spot.column < 0) {
      dragging.current = 'rows';
      begin({ line: spot.line, column: 0 }, { line: spot.line, column: last.column });
    } else if (spot.line < 0) {
      dragging.current = 'columns';
      begin({ line: 0, column: spot.column }, { line: last.line, column: spot.column });
    } else if (lineAt(lines, spot.line).is === 'heading') {
      dragging.current = 'columns';
      begin(spot, { line: lastRecord, column: spot.column });
    } else {
      dragging.current = 'cells';
      begin(spot, spot);
    }
  };

  const draw = (spot: Spot): void => {
    const { from, to } = selection.last;
    if (dragging.current === 'rows') {
      if (spot.line >= 0 && spot.line !== to.line) {
        setSelection({
          ...drawTo(selection, { line: spot.line, column: last.column }),
          still: true,
        });
      }
    } else if (dragging.current === 'columns') {
      if (spot.column >= 0 && spot.column !== to.column) {
        setSelection({ ...drawTo(selection, { line: to.line, column: spot.column }), still: true });
      }
    } else if (spot.line < 0 || spot.column < 0) {
      return;
    } else if (dragging.current === 'reference') {
      pointOut(spot, pointing.current?.start ?? from);
    } else if (
      dragging.current === 'cells' &&
      (spot.line !== to.line || spot.column !== to.column)
    ) {
      setSelection(drawTo(selection, spot));
    }
  };

  return {
    sheet,
    locale,
    lines,
    freeCount,
    columns,
    view,
    viewParameter: parameter,
    viewError: first.error,
    selection,
    editing,
    cells,
    draft,
    mayEditRecords,
    mayShape,
    menu,
    show: useCallback((shown) => {
      window.current = shown;
    }, []),
    recordAt,
    rowAt,
    takesFocus: useCallback(() => {
      const wanted = focusWanted.current;
      focusWanted.current = false;
      return wanted;
    }, []),
    addressOf,
    reasonOf,
    markOf,
    dropMark,
    select,
    drawTo: draw,
    mouseDown,
    mouseUp: () => {
      dragging.current = null;
    },
    edit,
    type: useCallback((text, caret, isPut = false) => {
      if (text !== typing.current.text) pointing.current = null;
      typing.current = { text, caret };
      if (!isPut) return;
      setEditing((held) => held && { ...held, text, caret, placed: held.placed + 1 });
    }, []),
    done,
    cancel: () => {
      pointing.current = null;
      focusWanted.current = true;
      setEditing(null);
    },
    clear,
    copy,
    paste,
    fill,
    resize,
    // What was begun before is written first: it may be what is to be taken back.
    takeBack: (again) => void cells.inTurn(() => onTakeBack(again)),
    openMenu: (place, spot) => {
      const isIn = (each: Spot): boolean =>
        boxesOf(selection).some(
          ({ top, bottom, left, right }) =>
            (each.line < 0 || (each.line >= top && each.line <= bottom)) &&
            (each.column < 0 || (each.column >= left && each.column <= right)),
        );
      if (spot && !isIn(spot)) {
        if (spot.column < 0) {
          select(whole({ line: spot.line, column: 0 }, { line: spot.line, column: last.column }));
        } else if (spot.line < 0) {
          select(whole({ line: 0, column: spot.column }, { line: last.line, column: spot.column }));
        } else select(at(spot));
      }
      setMenu(place);
    },
    closeMenu: useCallback(() => setMenu(null), []),
    refocus: useCallback(() => {
      focusWanted.current = true;
      setRefocused((count) => count + 1);
    }, []),
  };
}

/** What is chosen, held within the sheet; on the draft's line it stays on it when records come. */
function useSelection(
  lines: Lines,
  columns: number,
  { begun }: DraftRow,
): [Selection, (selection: Selection) => void] {
  const [selection, setSelection] = useState<Selection>(() =>
    at({ line: lines.hasRecords && lines.records > 0 ? lines.freeRows + 1 : 0, column: 0 }),
  );
  const [seen, setSeen] = useState(lines);
  if (seen !== lines) {
    setSeen(lines);
    const active = activeOf(selection);
    const moved = lineCount(lines) - lineCount(seen);
    const wasDraft = seen.draft && lineAt(seen, active.line).is === 'draft';
    if (wasDraft && moved !== 0 && (begun || lines.draft)) {
      setSelection(at({ ...active, line: lineOf(lines, { is: 'draft' }) }));
    } else {
      const clamp = (spot: Spot): Spot => clampSpot(spot, lineCount(lines), columns);
      const { from, to } = selection.last;
      const held = { from: clamp(from), to: clamp(to) };
      if (held.from.line !== from.line || held.to.line !== to.line) {
        setSelection({ ...selection, last: held });
      }
    }
  }
  return [selection, setSelection];
}
