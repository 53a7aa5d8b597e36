import type { CellRefusal, SheetView } from '@varn/contract';
import { localeFacts, referencesIn, type CellValue, type Column, type Rule } from '@varn/core';
import * as fc from 'fast-check';
import { sheetView } from '../testing/views';
import { readCopied, toTsv } from './cells/clipboard';
import { freeFace, freeText, recordFace, recordText, type Face } from './cells/faces';
import { cellKey, planOf, spread, whyNotTyped, writtenOf, type Placed } from './cells/plan';
import { columnCount, layoutColumns } from './columnLayout';
import { outlinesOf, referenceFor } from './formula/ranges';
import { geometryOf, HEADING_PX, LETTERS_PX, lineTop, scrollToLine } from './grid/geometry';
import { lineAt, lineCount, lineOf, type Lines } from './lines';
import { readGroups, sayGroups, withSetting } from './margin/formats';
import { alsoFrom, at, boxesOf, boxOf, chosenOn, drawTo, isChosen, type Box } from './selection';
import { freeSpotsIn } from './cells/freeSpots';
import { blankBelow } from './grid/rows';
import { cellBoxes } from './useFigures';
import { PLAIN_VIEW, viewFor, viewParameter, withFilter } from './view/sheetView';

const GB = localeFacts('en-GB');

const sheet = sheetView({
  name: 'Kit loans',
  revision: 7,
  headingRow: 3,
  looseColumns: ['l'],
  columns: [
    { id: 'who', heading: 'Borrower', kind: 'text', settings: {} },
    { id: 'n', heading: 'Quantity', kind: 'wholeNumber', settings: {} },
    { id: 'sum', heading: 'Total', kind: 'computed', settings: { follows: true } },
  ],
  count: 4,
});
const lines: Lines = { freeRows: 2, hasRecords: true, records: 4, draft: true };
const free: Lines = { freeRows: 60, hasRecords: false, records: 0, draft: false };

test('each line is what it is, there and back', () => {
  const anyLines = fc.record({
    freeRows: fc.nat(20),
    hasRecords: fc.boolean(),
    records: fc.nat(20),
    draft: fc.boolean(),
  });
  fc.assert(
    fc.property(anyLines, (any) => {
      const all = Array.from({ length: lineCount(any) }, (_, line) => lineAt(any, line));
      expect(all.map((what) => lineOf(any, what))).toEqual(all.map((_, line) => line));
      const of = (is: string): number => all.filter((what) => what.is === is).length;
      expect(of('free')).toBe(any.freeRows);
      expect(of('record')).toBe(any.hasRecords ? any.records : 0);
      expect(of('draft')).toBe(any.hasRecords && any.draft ? 1 : 0);
    }),
  );
});

test('a selection chooses just the cells of its boxes, and they are asked for by part', () => {
  const spot = fc.record({ line: fc.nat(7), column: fc.nat(5) });
  fc.assert(
    fc.property(spot, spot, spot, spot, (a, b, c, d) => {
      const selection = drawTo(alsoFrom(drawTo(at(a), b), c), d);
      const boxes = boxesOf(selection);
      const inBox = (line: number, column: number, { top, bottom, left, right }: Box): boolean =>
        line >= top && line <= bottom && column >= left && column <= right;
      for (let line = 0; line < 8; line += 1) {
        const chosen = chosenOn(boxes, line);
        for (let column = 0; column < 6; column += 1) {
          const expected = boxes.some((box) => inBox(line, column, box));
          expect(isChosen(chosen, column)).toBe(expected);
        }
      }
      const asked = cellBoxes(selection, lines).reduce(
        (sum, { from, to, left, right }) => sum + (to - from) * (right - left),
        0,
      );
      const cells = boxes.reduce((sum, { top, bottom, left, right }) => {
        const held = Array.from({ length: bottom - top + 1 }, (_, n) => lineAt(lines, top + n));
        const counted = held.filter(({ is }) => is === 'free' || is === 'record').length;
        return sum + counted * (right - left + 1);
      }, 0);
      expect(asked).toBe(cells);
    }),
  );
});

describe('texts put into cells', () => {
  const records = [0, 1, 2, 3].map((n) => ({ id: `r${n}`, revision: n + 1 }));
  const looked = {
    record: (position: number) => records[position],
    row: (number: number) =>
      number === 1 ? { id: 'title', revision: 9 } : { id: '', revision: 0 },
  };
  const plan = (placed: Placed[]) => planOf(placed, lines, sheet, looked);

  test('become one write: cells outside of the records, records, new records', () => {
    const { edits, unplaced } = plan([
      { line: 0, column: 3, text: 'note' },
      { line: 0, column: 0, text: '=1' },
      { line: 3, column: 0, text: 'Nell' },
      { line: 3, column: 1, text: '2', meant: true },
      { line: 5, column: 1, text: '' },
      { line: 7, column: 0, text: 'Jory' },
      { line: 8, column: 1, text: ' ' },
    ]);
    expect(edits).toEqual({
      rows: [{ row: 1, cells: { 0: '=1', 3: 'note' }, revision: 9 }],
      records: [
        { id: 'r0', revision: 1, answers: { who: 'Nell', n: '2' }, meant: ['n'] },
        { id: 'r2', revision: 3, answers: { n: '' } },
      ],
      added: [{ answers: { who: 'Jory' } }],
    });
    expect(unplaced).toEqual([]);
    const refused = (list: CellRefusal['list'], at: number, column: string, more = {}) => {
      return { list, at, column, code: '', message: '', strictness: 'refuse' as const, ...more };
    };
    const told = { edits, unplaced, spotOf: () => ({ line: 0, column: 0 }) };
    const written = (...all: CellRefusal[]) =>
      writtenOf(told, { writeId: '', seq: 0, records: [], rows: [], refused: all });
    // What is blank in a new record is no cell; one that was refused leaves out the rest of its row.
    expect(written()).toBe(6);
    expect(written(refused('records', 0, 'n'))).toBe(5);
    expect(written(refused('added', 0, 'n'))).toBe(5);
    expect(written(refused('added', 0, 'who'), refused('added', 0, 'n'))).toBe(5);
    expect(written(refused('added', 0, 'who', { recordId: 'r9' }))).toBe(5);
    expect(written(refused('rows', 0, '0'))).toBe(5);
  });

  test.each<[string, Placed, RegExp]>([
    ['a heading', { line: 2, column: 0, text: 'x' }, /Headings/],
    ['a computed column', { line: 3, column: 2, text: '5' }, /Computed/],
    ['no column', { line: 3, column: 3, text: '5' }, /no column/],
  ])('on %s are not written, and told why', (_what, put, message) => {
    const { edits, unplaced } = plan([put]);
    expect(edits).toEqual({});
    expect(unplaced).toMatchObject([{ ...put, strictness: 'refuse' }]);
    expect(unplaced[0]?.message).toMatch(message);
    expect(plan([{ ...put, text: '' }]).unplaced.length).toBe(put.line === 2 ? 1 : 0);
  });

  test('what is said of a cell stays with it, wherever it stands by then', () => {
    const sorted = { ...looked, record: (position: number) => records[3 - position] };
    const key = (line: number, column: number, seen = looked): string | null =>
      cellKey({ line, column }, lines, sheet, seen);
    expect(key(3, 1)).toBe(key(6, 1, sorted));
    expect(key(3, 1)).not.toBe(key(3, 1, sorted));
    expect([key(0, 1), key(0, 3), key(1, 0)]).toEqual(['title|n', 'title|3', 'row 2|who']);
    expect([key(2, 0), key(7, 0)]).toEqual([null, null]);
    const turned = { columns: sheet.columns.toReversed() };
    expect(cellKey({ line: 3, column: 0 }, lines, turned, looked)).toBe(key(3, 2));
  });

  test('a refusal is told by its cell', () => {
    const { spotOf } = plan([
      { line: 1, column: 2, text: 'a' },
      { line: 4, column: 1, text: 'b' },
      { line: 6, column: 1, text: 'c' },
      { line: 7, column: 1, text: 'd' },
    ]);
    const refused = (list: CellRefusal['list'], index: number, column: string): CellRefusal => ({
      list,
      at: index,
      column,
      code: '',
      message: '',
      strictness: 'refuse',
    });
    expect(spotOf(refused('rows', 0, '2'))).toEqual({ line: 1, column: 2 });
    expect(spotOf(refused('records', 1, 'n'))).toEqual({ line: 6, column: 1 });
    expect(spotOf(refused('added', 0, 'n'))).toEqual({ line: 7, column: 1 });
  });

  test.each<[string, string[][], Box, number]>([
    ['once where the selection is one cell', [['a', 'b']], box(3, 3, 1, 1), 2],
    ['again where it fits evenly', [['a'], ['b']], box(0, 5, 0, 2), 18],
    ['once where it does not', [['a'], ['b']], box(0, 4, 0, 0), 2],
    ['with short rows left short', [['a', 'b'], ['c']], box(0, 0, 0, 0), 3],
    ['nothing of nothing', [], box(0, 3, 0, 3), 0],
  ])('a block is spread %s', (_what, rows, target, count) => {
    const spots = spread(rows, target);
    expect(spots.length).toBe(count);
    for (const { line, column, item, row, cell } of spots) {
      expect(rows[row]?.[cell]).toBe(item);
      expect([line >= target.top, column >= target.left]).toEqual([true, true]);
    }
  });
});

function box(top: number, bottom: number, left: number, right: number): Box {
  return { top, bottom, left, right };
}

test('cells are copied as tab-separated values and read back the same, whatever they hold', () => {
  const text = fc.string({ maxLength: 8 }).map((each) => each.replace(/[\r\0]/g, ''));
  const tricky = fc.oneof(text, fc.constantFrom('a\tb', 'a\nb', '"', '""', "'", ' x ', '=1'));
  fc.assert(
    fc.property(
      fc.integer({ min: 2, max: 4 }),
      fc.integer({ min: 1, max: 5 }),
      fc.infiniteStream(tricky),
      (w, h, texts) => {
        const rows = Array.from({ length: h }, () =>
          Array.from({ length: w }, () => ({ text: texts.next().value as string })),
        );
        expect(readCopied('', toTsv({ rows })).rows).toEqual(rows);
      },
    ),
  );
  // As other programs end what they copy.
  expect(
    readCopied('', '1\t2\r\n3\t4\r\n').rows.map((row) => row.map((cell) => cell.text)),
  ).toEqual([
    ['1', '2'],
    ['3', '4'],
  ]);
});

test.each<[Box, { ownSheet: boolean; inRecord: boolean }, string]>([
  [box(0, 0, 1, 1), { ownSheet: true, inRecord: false }, 'B1'],
  [box(0, 1, 0, 1), { ownSheet: true, inRecord: false }, 'A1:B2'],
  [box(0, 1, 0, 1), { ownSheet: false, inRecord: false }, "'Kit loans'!A1:B2"],
  [box(0, 7, 1, 1), { ownSheet: true, inRecord: false }, 'B:B'],
  [box(2, 6, 1, 1), { ownSheet: true, inRecord: false }, "'Kit loans'!'Quantity'"],
  [box(4, 4, 1, 1), { ownSheet: true, inRecord: true }, "'Quantity'"],
  [box(4, 5, 1, 1), { ownSheet: true, inRecord: false }, 'B5:B6'],
])('%j is named as a formula names it', (chosen, where, expected) => {
  expect(referenceFor(chosen, sheet, lines, where)).toBe(expected);
  if (where.inRecord) return;
  // What is named so is drawn where it was chosen.
  const [outline] = outlinesOf(referencesIn(expected, GB), sheet, lines);
  const records = expected.includes("!'") ? { top: 3, bottom: 7 } : {};
  expect(outline?.box).toEqual({ ...chosen, ...records });
});

test('a range drawn to the end of a sheet without records goes on down', () => {
  const bare: SheetView = { ...sheet, hasRecords: false, columns: [], headingRow: 1 };
  const where = { ownSheet: true, inRecord: false };
  expect(referenceFor(box(3, 59, 1, 1), bare, free, where)).toBe('B4..');
  expect(referenceFor(box(3, 59, 1, 3), bare, free, where)).toBe('B4..D');
  expect(outlinesOf(referencesIn('B4..', GB), bare, free)[0]?.box).toEqual(box(3, 59, 1, 1));
  expect(columnCount(bare)).toBeGreaterThanOrEqual(12);
});

test('the line that moves is brought into view, and stays where it is when it is seen', () => {
  const [height, totalsPx, rowPx] = [600, 28, 28];
  const many: Lines = { freeRows: 30, hasRecords: true, records: 1_000_000, draft: true };
  /** Where a line's upper edge is on the screen, from the grid's: parts as `Grid` stacks them. */
  const onScreen = (line: number, top: number): number => {
    const geometry = geometryOf(many, { top, left: 0, height, width: 1000 }, rowPx, totalsPx);
    const above = line < many.freeRows ? 0 : geometry.freePx + HEADING_PX;
    return LETTERS_PX + above + lineTop(geometry, many, line) - top;
  };
  const isSeen = (line: number, top: number): boolean => {
    const upper = onScreen(line, top);
    const head = LETTERS_PX + (line < many.freeRows ? 0 : HEADING_PX);
    return upper > head - 1 && upper + rowPx < height - totalsPx + 1;
  };
  fc.assert(
    fc.property(
      fc.nat(lineCount(many) - 1).filter((line) => line !== many.freeRows),
      fc.oneof(fc.integer({ min: 0, max: 28_000_000 }), fc.integer({ min: 0, max: 2000 })),
      (line, top) => {
        const seen = { top, left: 0, height, width: 1000 };
        const to = scrollToLine(geometryOf(many, seen, rowPx, totalsPx), many, line, top);
        expect(isSeen(line, to ?? top)).toBe(true);
        // Nothing moves where it was seen already, head and foot left free.
        if (to !== null) expect(isSeen(line, top) && line >= many.freeRows).toBe(false);
      },
    ),
  );
});

test('frozen columns never take more than half of what is seen', () => {
  const look = { frozenColumns: 3, widths: { who: 300, n: 300, sum: 300 } };
  for (const [width, frozen] of [
    [2400, 3],
    [1400, 2],
    [700, 1],
    [390, 0],
  ] as const) {
    const layout = layoutColumns({ ...sheet, look }, [100, 100, 100, 100], 99, width);
    expect([layout.frozen, layout.offsets.slice(0, 5)]).toEqual([frozen, [0, 300, 600, 900, 1000]]);
  }
});

const AFTER_OUT: Rule = { must: { is: 'compared', by: '>=', columnId: 'o' } };

test('a cell shows its format and is typed as it is stored; an error says why', () => {
  const money = { id: 'm', heading: 'M', kind: 'money', settings: { currency: 'GBP' } } as const;
  const [back, out] = [
    { id: 'b', heading: 'Back', kind: 'number', settings: { rules: [AFTER_OUT] } },
    { id: 'o', heading: 'Out', kind: 'number', settings: {} },
  ] as const;
  const columns = [money, back, out];
  const ground = {
    columns,
    byId: new Map<string, Column>(columns.map((each) => [each.id, each])),
    locale: GB,
    now: 46_000,
  };
  const face = (...cells: CellValue[]): Face => recordFace(cells, cells.length - 1, ground);
  expect([face(1234.5).text, recordText(1234.5, money, GB)]).toEqual(['£1,234.50', '1234.5']);
  // A stored value that breaks a rule says so where it stands.
  expect(recordFace([1, 3, 5], 1, ground)).toMatchObject({
    tone: 'broken',
    note: '‘3’ must be at least Out.',
  });
  expect(recordFace([1, 5, 5], 1, ground)).toMatchObject({ tone: 'plain', note: '' });
  expect(face('many')).toMatchObject({ tone: 'kept', align: 'start' });
  const date = { id: 'd', heading: 'D', kind: 'computed', settings: { shownAs: 'date' } } as const;
  expect(recordText(46_000, date, GB)).toBe('09/12/2025');
  const gone = { value: { error: '#REF!' }, why: { code: 'gone', what: 'Half' } } as const;
  expect(freeFace(gone, GB).text).toBe('#REF!');
  expect(freeFace(gone, GB).note).toContain('Half');
  expect(freeText({ value: 3, formula: '=1+2' }, GB)).toBe('=1+2');
  expect(freeText(null, GB)).toBe('');
  expect(whyNotTyped(sheet.columns[1])).toBeNull();
});

test('one’s own view drops what it says of columns that are gone', () => {
  const view = withFilter(withFilter(PLAIN_VIEW, 'n', ' >= 2 '), 'gone', 'x');
  expect(viewFor(view, sheet).filters).toEqual([{ columnId: 'n', says: '>= 2' }]);
  expect(viewParameter(PLAIN_VIEW)).toBe('');
  expect(viewParameter(withFilter(viewFor(view, sheet), 'n', ''))).toBe('');
});

test.each([
  ['4 4 4', [4, 4, 4]],
  ['', []],
  ['3, 2', [3, 2]],
  ['4 x', null],
  ['0 4', null],
  ['-1', null],
  ['1.5', null],
])('groups of digits: ‘%s’', (text, groups) => {
  expect(readGroups(text)).toEqual(groups);
  if (groups) expect(readGroups(sayGroups(groups))).toEqual(groups);
  expect(withSetting({ unit: 'm' }, 'unit', '')).toEqual({});
});

test('boxes of a span do not depend on where it was begun', () => {
  expect(boxOf({ from: { line: 5, column: 1 }, to: { line: 2, column: 3 } })).toEqual(
    box(2, 5, 1, 3),
  );
});

test.each([
  // Two boxes over rows 1 to 3 above the heading; records are none of it.
  [
    [
      [0, 1, 0, 1],
      [1, 2, 1, 2],
    ],
    '1:0,1 2:0,1,2 3:1,2',
  ],
  [[[2, 9, 0, 0]], '3:0'],
  [[[3, 9, 0, 0]], ''],
  [[[0, 2, 0, 1999]], null],
] as const)('of the boxes %j the cells above the heading are %j', (boxes, expected) => {
  const lines = { freeRows: 3, hasRecords: true, records: 10, draft: true };
  const spots = freeSpotsIn(
    boxes.map(([top, bottom, left, right]) => ({ top, bottom, left, right })),
    lines,
  );
  expect(spots && spots.map(({ row, columns }) => `${row}:${columns.join()}`).join(' ')).toBe(
    expected,
  );
});

test('wrapped text runs down over the blank cells below, as far as they are known', () => {
  const row = (...values: (string | null)[]) => ({
    id: 'r',
    revision: 1,
    cells: values.map((value) =>
      value === null ? null : { value, style: { wrapped: true as const } },
    ),
  });
  const below = [row(null, 'b'), row(null, null), row('c', null)];
  const blank = blankBelow(row('long', 'long', null), (n) => below[n - 1]);
  expect([
    blank,
    blankBelow(row('long'), () => undefined),
    blankBelow(undefined, () => row()),
  ]).toEqual(['0:2 1:0', '0:0', '']);
});
