import type { FreeRowsView, FreeRowView, RecordView } from '@varn/contract';
import { LAST_FREE_ROW, MOST_CELLS } from '@varn/contract/limits';
import { paths } from '@varn/contract/paths';
import {
  moveFormula,
  sayCount,
  sayCountOf,
  seriesOf,
  type LocaleFacts,
  type ReadingContext,
} from '@varn/core';
import { get, sayError } from '../api/client';
import { blockOf } from './cells/block';
import {
  readClipboard,
  readCopied,
  toHtml,
  toTsv,
  type Copied,
  type CopiedCell,
} from './cells/clipboard';
import { spread, type Looked, type Placed } from './cells/plan';
import { lineAt, lineOf, type Lines } from './lines';
import { boxesOf, boxOf, type Box, type Selection, type Spot } from './selection';
import type { AtHand } from './useAtHand';
import { readRecords, type Cells } from './useCells';
import type { DraftRow } from './useDraft';

/** Rows read at once. */
const MOST_ROWS = 1000;

/** What is done with all the cells that are chosen. */
export interface ClipboardActs {
  readonly clear: () => void;
  /** @param clipboard of the event that asks for it; `null` where a menu does */
  readonly copy: (clipboard: DataTransfer | null) => void;
  readonly paste: (html: string, text: string) => void;
  /** The texts of the cells that are chosen last, as they are typed. */
  readonly texts: () => Promise<string[][]>;
  /** Pastes what the browser lets one read without its own keys. */
  readonly pasteCopied: () => void;
  readonly fill: (direction: Direction) => void;
  /** Goes on with what stands in the first cells, as far as is chosen. */
  readonly goOn: (direction: Direction) => void;
}

export type Direction = 'down' | 'right';

interface ClipboardDoors {
  readonly atHand: AtHand;
  readonly selection: Selection;
  readonly cells: Cells;
  readonly draft: DraftRow;
}

export function useClipboard({ atHand, selection, cells, draft }: ClipboardDoors): ClipboardActs {
  const { sheet, lines, locale, freeCount, mayShape, mayEditRecords, recordAt, rowAt } = atHand;
  const looked: Looked<RecordView, FreeRowView> = { record: recordAt, row: rowAt };
  const fail = (failure: string): void => cells.say({ written: 0, unplaced: [], failure });

  const fits = (count: number, what: string): boolean => {
    if (count <= MOST_CELLS) return true;
    fail(
      `${what} ${sayCount(count)} cells at once is more than the most, ${sayCount(MOST_CELLS)}. Do it in parts.`,
    );
    return false;
  };

  const blockAtHand = (box: Box): CopiedCell[][] | null =>
    blockOf(box, lines, sheet, looked, locale, freeCount);

  const read = async (box: Box): Promise<CopiedCell[][]> => {
    const block =
      blockAtHand(box) ?? blockOf(box, lines, sheet, await readLines(box, atHand), locale, 0);
    if (block) return block;
    throw new Error('Some of these rows were deleted in the meantime. Choose what to take again.');
  };

  const copy = (clipboard: DataTransfer | null): void => {
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
      cells.say({
        written: 0,
        unplaced: [],
        failure: '',
        note: `Copied ${sayCountOf(rows, 'row')}.`,
      });
    if (clipboard && held.every((block) => block !== null)) {
      const all = copied(held);
      clipboard.setData('text/plain', toTsv(all));
      clipboard.setData('text/html', toHtml(all));
      return;
    }
    if (!('clipboard' in navigator)) {
      fail(
        clipboard
          ? 'Over this connection the browser lets only rows in view be copied. Choose fewer.'
          : 'Over this connection the browser copies by its own keys only: press Ctrl+C.',
      );
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
      () =>
        all.then(
          () => fail('The browser did not let the cells be copied. Choose fewer rows.'),
          (error: unknown) => fail(sayError(error)),
        ),
    );
  };

  const put = (all: readonly Placed[]): void => {
    const allowed = all.filter(({ line }) =>
      lineAt(lines, line).is === 'free' ? mayShape : mayEditRecords,
    );
    if (allowed.length < all.length) fail('You can’t change all of these cells.');
    else void cells.put(all, lines, looked);
  };

  const paste = (html: string, text: string): void => {
    const copied = readCopied(html, text);
    const target = boxOf(selection.last);
    const count = copied.rows.reduce((sum, row) => sum + row.length, 0);
    const spreadOver = count === 1 ? sizeOf(target) : 0;
    if (!fits(Math.max(count, spreadOver), 'Pasting')) return;
    const all = placedOn(target, copied, lines, locale);
    const past = all.filter(({ line }) => line >= LAST_FREE_ROW && !lines.hasRecords);
    if (past.length > 0) {
      fail(`Rows outside the records end at ${sayCount(LAST_FREE_ROW)}.`);
      return;
    }
    put(all);
  };

  const pasteCopied = (): void => {
    readClipboard().then(
      ({ html, text }) => {
        if (html === '' && text === '') fail('Nothing was copied that can be pasted here.');
        else paste(html, text);
      },
      () => fail('The browser didn’t let Varn read what was copied. Press Ctrl+V instead.'),
    );
  };

  const fill = (direction: Direction): void => {
    const box = boxOf(selection.last);
    if (!fits(sizeOf(box), 'Filling')) return;
    const source: Box =
      direction === 'down' ? { ...box, bottom: box.top } : { ...box, right: box.left };
    const target: Box =
      direction === 'down' ? { ...box, top: box.top + 1 } : { ...box, left: box.left + 1 };
    if (target.top > target.bottom || target.left > target.right) return;
    const from = { row: box.top + 1, column: box.left };
    read(source).then(
      (rows) => put(placedOn(target, { rows, from }, lines, locale)),
      (error: unknown) => fail(sayError(error)),
    );
  };

  const goOn = (direction: Direction): void => {
    const box = boxOf(selection.last);
    if (!fits(sizeOf(box), 'Filling')) return;
    read(box).then(
      (rows) => {
        const context = { locale, now: atHand.faces.now };
        const all = continued(box, rows, direction, { atHand, context });
        if (all) put(all);
        else {
          fail(
            'What is chosen doesn’t begin a series. Type two that go on, such as 1 and 2, and choose them with the cells to fill.',
          );
        }
      },
      (error: unknown) => fail(sayError(error)),
    );
  };

  const clear = (): void => {
    const boxes = boxesOf(selection);
    if (!fits(sizeOfAll(boxes), 'Clearing')) return;
    const spots = boxes.flatMap(spotsOf);
    const draftLine = lineOf(lines, { is: 'draft' });
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

  const texts = async (): Promise<string[][]> => {
    const rows = await read(boxOf(selection.last));
    return rows.map((cells) => cells.map(({ text }) => text));
  };

  return { clear, copy, paste, texts, pasteCopied, fill, goOn };
}

const sizeOf = ({ top, bottom, left, right }: Box): number =>
  (bottom - top + 1) * (right - left + 1);
const sizeOfAll = (boxes: readonly Box[]): number =>
  boxes.reduce((sum, box) => sum + sizeOf(box), 0);

function spotsOf(box: Box): Spot[] {
  const spots: Spot[] = [];
  for (let line = box.top; line <= box.bottom; line += 1) {
    for (let column = box.left; column <= box.right; column += 1) spots.push({ line, column });
  }
  return spots;
}

/** What is copied as texts of cells; formulas outside of the records move with their cells. */
function placedOn(
  target: Box,
  { rows, from }: Copied,
  lines: Lines,
  locale: LocaleFacts,
): Placed[] {
  return spread(rows, target).map(({ line, column, item, row, cell }) => {
    const isFree = lineAt(lines, line).is === 'free';
    if (!isFree || item.formula === undefined) return { line, column, text: item.text };
    const down = from ? line + 1 - (from.row + row) : 0;
    const across = from ? column - (from.column + cell) : 0;
    return { line, column, text: `=${moveFormula(item.formula.slice(1), down, across, locale)}` };
  });
}

/**
 * The cells that go on with a series: each column of a box, or each row, from the cells that are
 * filled at its beginning.
 *
 * @returns `null` where one of them begins no series, or nothing is left to be filled
 */
function continued(
  box: Box,
  rows: readonly (readonly CopiedCell[])[],
  direction: Direction,
  { atHand, context }: { readonly atHand: AtHand; readonly context: ReadingContext },
): Placed[] | null {
  const { lines, sheet } = atHand;
  const isDown = direction === 'down';
  const [along, across] = [
    isDown ? box.bottom - box.top + 1 : box.right - box.left + 1,
    isDown ? box.right - box.left + 1 : box.bottom - box.top + 1,
  ];
  const placed: Placed[] = [];
  for (let at = 0; at < across; at += 1) {
    const cellAt = (n: number): CopiedCell | undefined => (isDown ? rows[n]?.[at] : rows[at]?.[n]);
    const spotAt = (n: number): Spot =>
      isDown
        ? { line: box.top + n, column: box.left + at }
        : { line: box.top + at, column: box.left + n };
    const blank = Array.from({ length: along }, (_, n) => cellAt(n)?.text ?? '').indexOf('');
    // Where all is filled the first two begin it, and the rest is written over.
    const given = blank < 0 ? Math.min(2, along - 1) : blank;
    const first = Array.from({ length: given }, (_, n) => cellAt(n));
    const { line, column: index } = spotAt(0);
    const isRecord = lineAt(lines, line).is === 'record';
    const column = isDown && isRecord ? (sheet.columns[index] ?? null) : null;
    const isFormula = first.some((each) => each?.formula !== undefined);
    const texts = first.map((each) => each?.text ?? '');
    const series = isFormula ? null : seriesOf(texts, column, context);
    if (!series) return null;
    for (let n = given; n < along; n += 1) {
      placed.push({ ...spotAt(n), text: series(n - given + 1) });
    }
  }
  return placed;
}

/** Reads the lines of a box that are not at hand. */
async function readLines(
  box: Box,
  { sheet, lines, viewParameter }: AtHand,
): Promise<Looked<RecordView, FreeRowView>> {
  const { freeRows } = lines;
  const records = new Map<number, RecordView>();
  const from = Math.max(0, box.top - freeRows - 1);
  const to = Math.min(lines.records, box.bottom - freeRows);
  if (lines.hasRecords && to > from) {
    const read = await readRecords(sheet.id, viewParameter, from, to);
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
}
