import type { RecordView, SheetView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import {
  asShown,
  columnLetters,
  isHeadingFree,
  kindOf,
  orderWith,
  orderWithout,
  printReference,
  sayCountOf,
  sayTicked,
  type Column,
} from '@varn/core';
import { flushSync } from 'react-dom';
import { newId } from '../api/newId';
import { request, sayError } from '../api/client';
import { fileOf } from './pastedTable';
import { recordText } from './cells/faces';
import { lineAt, lineOf } from './lines';
import { activeOf, at, boxesOf, boxOf, type Box } from './selection';
import { readRecords } from './useCells';
import type { Deleting } from './useDeleting';
import type { GridState } from './useSheetGrid';
import { withFilter, type OwnView } from './view/sheetView';

/** Something that can be done with what is chosen. */
export interface SheetAction {
  readonly id: string;
  readonly label: string;
  /** Whether a line parts it from what stands above it. */
  readonly apart?: boolean;
  readonly run: () => void;
}

interface Doors {
  readonly setView: (view: OwnView) => void;
  readonly openNotes: (part: 'column' | 'names' | 'view') => void;
  readonly askToDelete: Deleting['ask'];
  /** Brings a table in, as a file would be. */
  readonly bringIn: (file: File) => void;
}

const MOST_ROWS = 1000;

/** What can be done with the chosen cells, rows and columns, by what they are and who one is. */
export function sheetActions(grid: GridState, doors: Doors): SheetAction[] {
  const { setView, openNotes } = doors;
  const { sheet, lines, selection, view, locale, mayShape, mayEditRecords } = grid;
  const active = activeOf(selection);
  const box = boxOf(selection.last);
  const here = lineAt(lines, active.line);
  const column = sheet.columns[active.column];
  const actions: (SheetAction | false)[] = [];

  const tall = box.bottom > box.top;
  const wide = box.right > box.left;
  const mayWrite = here.is === 'free' ? mayShape : mayEditRecords;
  actions.push(
    { id: 'copy', label: 'Copy', run: () => grid.copy(null) },
    mayWrite && { id: 'paste', label: 'Paste', run: grid.pasteCopied },
    mayWrite &&
      tall && {
        id: 'fillDown',
        label: 'Fill down',
        apart: true,
        run: () => grid.fill('down'),
      },
    mayWrite && wide && { id: 'fillRight', label: 'Fill right', run: () => grid.fill('right') },
    mayWrite &&
      tall && { id: 'goOnDown', label: 'Continue the series down', run: () => grid.goOn('down') },
    mayWrite &&
      wide && {
        id: 'goOnRight',
        label: 'Continue the series right',
        run: () => grid.goOn('right'),
      },
    mayWrite && here.is !== 'heading' && { id: 'clear', label: 'Clear', run: grid.clear },
    mayShape &&
      here.is === 'free' &&
      tall && {
        id: 'makeRecords',
        label: 'Make records of this…',
        run: () =>
          void grid.texts().then(
            (rows) => doors.bringIn(fileOf(withoutBlank(rows), sheet.name)),
            (error: unknown) =>
              grid.cells.say({ written: 0, unplaced: [], failure: sayError(error) }),
          ),
      },
    mayShape && {
      id: 'name',
      label: 'Name this range',
      run: () => openNotes('names'),
    },
  );

  if (column && here.is !== 'free') {
    const order = (falling: boolean, isThen: boolean) => () =>
      setView({ ...view, order: orderWith(view.order, { columnId: column.id, falling }, isThen) });
    // What the records are in order by already, if by anything but this column.
    const others = orderWithout(view.order, column.id);
    const [first] = sheet.columns.filter(({ id }) => id === others[0]?.columnId);
    const record = here.is === 'record' ? grid.recordAt(here.position) : undefined;
    const text = record ? recordText(record.cells[active.column] ?? null, column, locale) : '';
    actions.push(
      {
        id: 'rising',
        label: `Sort by ${column.heading}, ascending`,
        apart: true,
        run: order(false, false),
      },
      {
        id: 'falling',
        label: `Sort by ${column.heading}, descending`,
        run: order(true, false),
      },
      first !== undefined && {
        id: 'thenRising',
        label: `Sort by ${first.heading}, then by ${column.heading}, ascending`,
        run: order(false, true),
      },
      first !== undefined && {
        id: 'thenFalling',
        label: `Sort by ${first.heading}, then by ${column.heading}, descending`,
        run: order(true, true),
      },
      {
        id: 'tick',
        label: `Show by values of ${column.heading}…`,
        run: () => {
          flushSync(() => openNotes('view'));
          document.querySelector<HTMLElement>('[data-own-view] input')?.focus();
        },
      },
      record !== undefined && {
        id: 'only',
        label:
          text === ''
            ? `Show only blank ${column.heading}`
            : `Show only ${column.heading} = ${text}`,
        run: () =>
          setView(
            withFilter(
              view,
              column.id,
              sayTicked({ texts: text === '' ? [] : [text], blank: text === '' }, column),
            ),
          ),
      },
    );
  }

  actions.push(...rowActions(grid));
  if (mayShape) actions.push(...columnActions(grid, doors));
  if (mayShape && column && sheet.hasRecords && isSummed(column)) {
    actions.push({
      id: 'totalAbove',
      label: `Total of ${column.heading} above the heading`,
      apart: true,
      run: () => void totalAbove(grid, active.column),
    });
  }
  return actions.filter((each) => each !== false);
}

/** Rows without those at the end that hold nothing. */
const withoutBlank = (rows: readonly string[][]): readonly string[][] =>
  rows.slice(0, rows.findLastIndex((cells) => cells.some((text) => text !== '')) + 1);

/** Whether a sum of a column says something: days and codes are not added up. */
const isSummed = (column: Column): boolean => {
  const { holds, iso } = kindOf(asShown(column));
  return holds === 'number' && iso === undefined;
};

function rowActions(grid: GridState): (SheetAction | false)[] {
  const { sheet, lines, selection, mayShape, mayEditRecords } = grid;
  const box = boxOf(selection.last);
  const top = lineAt(lines, box.top);
  const bottom = lineAt(lines, box.bottom);
  const count = box.bottom - box.top + 1;
  const rows = sayCountOf(count, 'row');
  if (top.is === 'free' && bottom.is === 'free') {
    if (!mayShape) return [];
    const numbers = numbersOf(grid);
    const move = (above: number) => () => {
      void post(grid, paths.moveRows, () => ({ rows: numbers, records: [], above }));
      shift(grid, above > box.top + 1 ? 1 : -1);
    };
    return [
      {
        id: 'insertAbove',
        label: count === 1 ? 'Insert a row above' : `Insert ${rows} above`,
        apart: true,
        run: () => void post(grid, paths.insertRows, () => ({ at: box.top + 1, count })),
      },
      box.top > 0 && { id: 'rowsUp', label: `Move ${rows} up`, run: move(box.top) },
      box.bottom + 1 < lines.freeRows && {
        id: 'rowsDown',
        label: `Move ${rows} down`,
        run: move(box.bottom + 3),
      },
      numbers.length > 0 && {
        id: 'removeRows',
        label: `Delete ${sayCountOf(numbers.length, 'row')}`,
        run: () => void post(grid, paths.removeRows, () => ({ records: [], rows: numbers })),
      },
    ];
  }
  if (!mayEditRecords || !sheet.hasRecords) return [];
  const positions = positionsOf(grid);
  if (!positions) return [];
  const { from, to } = positions;
  const records = sayCountOf(to - from, 'record');
  const plain = grid.viewParameter === '';
  const move = (above: number, by: number) => () => {
    const going = lookedAt(grid, from, to);
    void post(grid, paths.moveRows, async () => ({ rows: [], records: await going(), above }));
    shift(grid, by);
  };
  const first = plain ? grid.recordAt(from) : undefined;
  return [
    first !== undefined && {
      id: 'insertAbove',
      label: `Insert a record above row ${sheet.headingRow + 1 + from}`,
      apart: true,
      run: () => {
        grid.draft.putAbove({ id: first.id, gridRow: sheet.headingRow + 1 + from });
        grid.select(at({ line: lineOf(lines, { is: 'draft' }), column: 0 }));
      },
    },
    plain &&
      mayShape &&
      from > 0 &&
      to - from <= MOST_ROWS && {
        id: 'rowsUp',
        label: `Move ${records} up`,
        apart: true,
        run: move(sheet.headingRow + from, -1),
      },
    plain &&
      mayShape &&
      to < lines.records &&
      to - from <= MOST_ROWS && {
        id: 'rowsDown',
        label: `Move ${records} down`,
        run: move(sheet.headingRow + to + 2, 1),
      },
    {
      id: 'removeRows',
      label: `Delete ${records}`,
      apart: true,
      run: () => {
        const going = lookedAt(grid, from, to);
        void post(grid, paths.removeRows, async () => ({ records: await going(), rows: [] }));
      },
    },
  ];
}

/** Keeps chosen what was moved. */
function shift(grid: GridState, by: number): void {
  const { kept, last, ...rest } = grid.selection;
  const move = (spot: typeof last.from) => ({ ...spot, line: spot.line + by });
  grid.select({ ...rest, kept, last: { from: move(last.from), to: move(last.to) } });
}

function columnActions(
  grid: GridState,
  { openNotes, askToDelete }: Doors,
): (SheetAction | false)[] {
  const { sheet, selection, cells } = grid;
  const { column: index } = activeOf(selection);
  const column = sheet.columns[index];
  const { left, right } = boxOf(selection.last);
  const fit: SheetAction = {
    id: 'fitWidths',
    label:
      right > left
        ? `Fit the widths of ${sayCountOf(right - left + 1, 'column')}`
        : 'Fit the width',
    run: () => grid.fitWidths(left, right),
  };
  if (!sheet.hasRecords) return [...looseActions(grid), fit];
  if (!column) return [];
  const change = (body: object) => () =>
    void cells.send(({ id, revision }) =>
      request('PATCH', paths.column(id, column.id), { ...body, revision }),
    );
  const { heading } = column;
  const follow = (by: number): void =>
    grid.select(at({ ...activeOf(selection), column: index + by }));
  return [
    {
      id: 'column',
      label: `Details of column ${heading}`,
      apart: true,
      run: () => openNotes('column'),
    },
    {
      id: 'rename',
      label: `Rename column ${heading}`,
      run: () => grid.edit({ line: lineOf(grid.lines, { is: 'heading' }), column: index }),
    },
    ...[0, 1].map((after) => ({
      id: after === 0 ? 'insertLeft' : 'insertRight',
      label: `Insert a column ${after === 0 ? 'left' : 'right'} of ${heading}`,
      run: () => void insertColumn(grid, index + after),
    })),
    index > 0 && {
      id: 'columnLeft',
      label: `Move column ${heading} left`,
      run: () => {
        change({ place: index - 1 })();
        follow(-1);
      },
    },
    index < sheet.columns.length - 1 && {
      id: 'columnRight',
      label: `Move column ${heading} right`,
      run: () => {
        change({ place: index + 1 })();
        follow(1);
      },
    },
    fit,
    {
      id: 'removeColumn',
      label: `Delete column ${heading}`,
      run: () =>
        askToDelete(
          `The column ${column.heading}`,
          { columnId: column.id },
          () =>
            void cells.send(({ id, revision }) =>
              request('DELETE', `${paths.column(id, column.id)}?revision=${revision}`),
            ),
        ),
    },
  ];
}

/** Inserts a column of texts, whose heading is typed next. */
async function insertColumn(grid: GridState, place: number): Promise<void> {
  const { sheet, cells, lines } = grid;
  const taken = sheet.columns.map(({ heading }) => heading);
  const heading = ['New column', ...sheet.columns.map((_, n) => `New column ${n + 2}`)].find(
    (each) => isHeadingFree(each, taken),
  );
  const done = await cells.send(({ id, revision }) =>
    request('POST', paths.columns(id), { heading, kind: 'text', revision, place }),
  );
  if (done !== null) grid.select(at({ line: lineOf(lines, { is: 'heading' }), column: place }));
}

/** Columns of a sheet without records: put in, moved and taken out by their place. */
function looseActions(grid: GridState): (SheetAction | false)[] {
  const { sheet, selection, cells } = grid;
  const { left, right } = boxOf(selection.last);
  const { looseColumns } = sheet;
  if (left >= looseColumns.length) return [];
  const letters = columnLetters(left);
  const send = (order: readonly string[]) => () =>
    void cells.send(({ id, revision }) =>
      request('PATCH', paths.sheet(id), { revision, looseColumns: order }),
    );
  const going = looseColumns.slice(left, right + 1);
  const staying = looseColumns.filter((id) => !going.includes(id));
  return [
    {
      id: 'insertLeft',
      label: `Insert a column before ${letters}`,
      apart: true,
      run: send(looseColumns.toSpliced(left, 0, '')),
    },
    left > 0 && {
      id: 'columnLeft',
      label: 'Move left',
      run: send(staying.toSpliced(left - 1, 0, ...going)),
    },
    right + 1 < looseColumns.length && {
      id: 'columnRight',
      label: 'Move right',
      run: send(staying.toSpliced(left + 1, 0, ...going)),
    },
    staying.length > 0 && {
      id: 'removeColumn',
      label: `Delete ${sayCountOf(going.length, 'column')}`,
      run: send(staying),
    },
  ];
}

/** Numbers of the chosen rows outside of the records, of those there are. */
function numbersOf({ selection, lines, freeCount }: GridState): number[] {
  const last = lines.hasRecords ? lines.freeRows : freeCount;
  const numbers = new Set<number>();
  for (const { top, bottom } of boxesOf(selection)) {
    for (let line = top; line <= Math.min(bottom, last - 1); line += 1) numbers.add(line + 1);
  }
  return [...numbers];
}

/** The positions of the chosen records, from and to (exclusive), of the last range. */
function positionsOf({ selection, lines }: GridState): { from: number; to: number } | null {
  const { top, bottom }: Box = boxOf(selection.last);
  const first = lineOf(lines, { is: 'record', position: 0 });
  const from = Math.max(0, top - first);
  const to = Math.min(lines.records, bottom - first + 1);
  return to > from ? { from, to } : null;
}

/** The chosen records as they are looked at now; those out of sight are read when asked for. */
function lookedAt(
  { sheet, viewParameter, recordAt }: GridState,
  from: number,
  to: number,
): () => Promise<Pick<RecordView, 'id' | 'revision'>[]> {
  const held = Array.from({ length: to - from }, (_, n) => recordAt(from + n));
  return async () => {
    const records = held.every((record) => record !== undefined)
      ? held
      : await readRecords(sheet.id, viewParameter, from, to);
    return records.map(({ id, revision }) => ({ id, revision }));
  };
}

/** Posts a write of the grid, made once and under one id, however often it is sent. */
function post(
  { cells }: GridState,
  path: (sheetId: string) => string,
  make: () => object | Promise<object>,
): Promise<unknown> {
  const writeId = newId();
  let made: object | null = null;
  return cells.send(async ({ id, revision }) => {
    made ??= await make();
    return request('POST', path(id), { writeId, revision, ...made });
  });
}

/** Writes the sum of a column into the row above the heading, in a row of its own if need be. */
async function totalAbove(grid: GridState, index: number): Promise<void> {
  const { sheet, cells } = grid;
  const column = sheet.columns[index];
  if (!column) return;
  const above = sheet.headingRow - 1;
  const taken = above === 0 || grid.rowAt(above)?.cells[index];
  if (taken) {
    await post(grid, paths.insertRows, () => ({ at: above + 1, count: 1 }));
  }
  const heading = printReference({ kind: 'heading', sheet: sheet.name, heading: column.heading });
  const writeId = newId();
  await cells.send(({ id, revision, headingRow }: SheetView) =>
    request('POST', paths.cells(id), {
      writeId,
      revision,
      rows: [{ row: headingRow - 1, cells: { [index]: `=SUM(${heading})` } }],
    }),
  );
}
