/** @jest-environment jsdom */
import type { FreeRowView, RecordView } from '@varn/contract';
import { localeFacts } from '@varn/core';
import { act, renderHook } from '@testing-library/react';
import * as fc from 'fast-check';
import type { MouseEvent } from 'react';
import { fakeServer } from '../testing/fakeServer';
import { sheetView } from '../testing/views';
import type { Placed } from './cells/plan';
import { lineAt, lineCount, lineOf, type Lines } from './lines';
import { activeOf, at, boxesOf, boxOf, drawTo, type Spot } from './selection';
import type { AtHand } from './useAtHand';
import type { Cells, Mark, Outcome } from './useCells';
import { useClipboard } from './useClipboard';
import type { DraftRow } from './useDraft';
import { useEditing } from './useEditing';
import { useSelecting } from './useSelecting';

const lines: Lines = { freeRows: 2, hasRecords: true, records: 4, draft: true };
const COLUMNS = 3;
const DRAFT = lineOf(lines, { is: 'draft' });

const press = (keys: Partial<MouseEvent> = {}): MouseEvent =>
  ({ button: 0, preventDefault: () => undefined, ...keys }) as MouseEvent;

function selecting(of: Lines = lines, begun = false) {
  const leave = jest.fn();
  const hook = renderHook(
    ({ now, isBegun }) => useSelecting(now, COLUMNS, { begun: isBegun, leave }),
    { initialProps: { now: of, isBegun: begun } },
  );
  return { ...hook, leave, now: () => hook.result.current };
}

describe('choosing', () => {
  test.each<[what: string, from: Spot, to: Spot, box: number[]]>([
    ['one cell', { line: 4, column: 1 }, { line: 4, column: 1 }, [4, 4, 1, 1]],
    ['a range', { line: 4, column: 2 }, { line: 3, column: 0 }, [3, 4, 0, 2]],
    ['whole rows', { line: 3, column: -1 }, { line: 5, column: -1 }, [3, 5, 0, 2]],
    ['whole columns', { line: -1, column: 1 }, { line: -1, column: 2 }, [0, 7, 1, 2]],
    [
      'a column of records by its heading',
      { line: 2, column: 1 },
      { line: 2, column: 1 },
      [2, 6, 1, 1],
    ],
  ])('draws %s', (_what, from, to, [top, bottom, left, right]) => {
    const { now } = selecting();
    act(() => now().mouseDown(press(), from));
    act(() => now().drawTo(to));
    act(() => now().mouseUp());
    expect(boxOf(now().selection.last)).toEqual({ top, bottom, left, right });
    // What is drawn after the button is up chooses nothing.
    act(() => now().drawTo({ line: 0, column: 0 }));
    expect(boxOf(now().selection.last)).toEqual({ top, bottom, left, right });
  });

  test('whatever is pressed and drawn, what is chosen lies in the sheet', () => {
    const spot = fc
      .record({
        line: fc.integer({ min: -1, max: lineCount(lines) - 1 }),
        column: fc.integer({ min: -1, max: COLUMNS - 1 }),
      })
      .filter(({ line, column }) => line >= 0 || column >= 0);
    const steps = fc.array(
      fc.record({ down: spot, to: spot, shiftKey: fc.boolean(), ctrlKey: fc.boolean() }),
      { maxLength: 6 },
    );
    fc.assert(
      fc.property(steps, (all) => {
        const { now, unmount } = selecting();
        for (const { down, to, ...keys } of all) {
          act(() => now().mouseDown(press(keys), down));
          act(() => now().drawTo(to));
          act(() => now().mouseUp());
        }
        for (const { top, bottom, left, right } of boxesOf(now().selection)) {
          expect(top >= 0 && left >= 0 && right < COLUMNS).toBe(true);
          expect(bottom).toBeLessThan(lineCount(lines));
        }
        unmount();
      }),
      { numRuns: 60 },
    );
  });

  test('with Shift goes on from where it began, with Ctrl keeps what was chosen', () => {
    const { now } = selecting();
    act(() => now().mouseDown(press(), { line: 3, column: 0 }));
    act(() => now().mouseUp());
    act(() => now().mouseDown(press({ shiftKey: true }), { line: 5, column: 2 }));
    act(() => now().mouseUp());
    expect(boxOf(now().selection.last)).toMatchObject({ top: 3, bottom: 5, right: 2 });
    act(() => now().mouseDown(press({ ctrlKey: true }), { line: 0, column: 1 }));
    expect(boxesOf(now().selection)).toHaveLength(2);
    act(() => now().mouseDown(press({ button: 2 }), { line: 6, column: 1 }));
    expect(boxesOf(now().selection)).toHaveLength(2);
  });

  test('elsewhere leaves the record that is begun, once, and stays on it when records come', () => {
    const { now, leave, rerender } = selecting(lines, true);
    act(() => now().select(at({ line: DRAFT, column: 1 })));
    expect(leave).not.toHaveBeenCalled();
    const more = { ...lines, records: 6 };
    rerender({ now: more, isBegun: true });
    expect(activeOf(now().selection)).toEqual({ line: DRAFT + 2, column: 1 });
    act(() => now().select(at({ line: 3, column: 0 })));
    expect(leave).toHaveBeenCalledTimes(1);
    act(() => now().select(at({ line: 4, column: 0 })));
    expect(leave).toHaveBeenCalledTimes(1);
  });

  test('is held within the sheet when it becomes shorter', () => {
    const { now, rerender } = selecting();
    act(() => now().goTo({ line: 6, column: 9 }));
    expect(activeOf(now().selection)).toEqual({ line: 6, column: 2 });
    rerender({ now: { ...lines, records: 1, draft: false }, isBegun: false });
    expect(activeOf(now().selection).line).toBe(3);
  });

  test('by the menu keeps what holds the place, and else chooses what is there', () => {
    const { now } = selecting();
    const place = { x: 1, y: 2 };
    act(() => now().select(drawTo(at({ line: 3, column: 0 }), { line: 4, column: 1 })));
    act(() => now().openMenu(place, { line: 4, column: 0 }));
    expect([now().menu, boxOf(now().selection.last).bottom]).toEqual([place, 4]);
    act(() => now().openMenu(place, { line: 5, column: -1 }));
    expect(boxOf(now().selection.last)).toEqual({ top: 5, bottom: 5, left: 0, right: 2 });
    act(() => now().openMenu(place, { line: -1, column: 2 }));
    expect(boxOf(now().selection.last)).toMatchObject({ left: 2, right: 2, top: 0 });
    act(() => now().closeMenu());
    expect(now().menu).toBeNull();
  });

  test('is asked for the focus once each time it is wanted', () => {
    const { now } = selecting();
    expect(now().takesFocus()).toBe(false);
    act(() => now().refocus());
    expect([now().takesFocus(), now().takesFocus()]).toEqual([true, false]);
  });
});

const sheet = sheetView({
  name: 'Kit loans',
  revision: 7,
  headingRow: 3,
  columns: [
    { id: 'who', heading: 'Borrower', kind: 'text', settings: {} },
    { id: 'n', heading: 'Quantity', kind: 'wholeNumber', settings: {} },
    { id: 'sum', heading: 'Total', kind: 'computed', settings: { follows: true } },
  ],
  count: 4,
});
const record = (n: number): RecordView => ({
  id: `r${n}`,
  revision: 1,
  cells: [`W${n}`, n, n * 2],
});
const row = (n: number): FreeRowView => ({
  id: `f${n}`,
  revision: 1,
  cells: [{ value: `t${n}` }, { value: 3, formula: '=B1+1' }, null],
});

/** A grid as it is at hand, with what is written into it noted. */
function grid({ role = 'analyst', marks = new Map<string, Mark>(), rows = row, held = 4 } = {}) {
  const said: string[] = [];
  const puts: (readonly Placed[])[] = [];
  const cells: Cells = {
    stuck: null,
    marks,
    outcome: null,
    put: (placed) => {
      puts.push(placed);
      return Promise.resolve({ written: placed.length, unplaced: [], failure: '' });
    },
    place: () => Promise.reject(new Error('nothing is placed here')),
    drop: (key) => void marks.delete(key),
    send: () => Promise.resolve(null),
    say: (outcome: Outcome | null) => void said.push(outcome?.failure ?? ''),
    inTurn: (work) => work(),
  };
  const typed: [string, string][] = [];
  const draft: DraftRow = {
    draft: { id: 'd', answers: { who: 'Wyn' }, verdicts: {}, meant: [], failure: '' },
    begun: true,
    refused: 0,
    type: (id, text) => void typed.push([id, text]),
    leave: jest.fn(),
    forget: jest.fn(),
    putAbove: jest.fn(),
  };
  const atHand: AtHand = {
    sheet,
    locale: localeFacts('en-GB'),
    faces: {
      columns: sheet.columns,
      byId: new Map(sheet.columns.map((each) => [each.id, each])),
      locale: localeFacts('en-GB'),
      now: 46_000,
    },
    lines,
    freeCount: 2,
    columns: COLUMNS,
    view: { filters: [], order: [] },
    viewParameter: '',
    viewError: undefined,
    mayEditRecords: role !== 'reader',
    mayShape: role === 'analyst',
    show: () => undefined,
    recordAt: (position) => (position < held ? record(position) : undefined),
    rowAt: (number) => (number <= 2 ? rows(number) : undefined),
    textsOf: () => [],
    addressOf: ({ line, column }) => `${'ABC'[column] ?? ''}${line + 1}`,
  };
  return { atHand, cells, draft, said, puts, typed };
}

describe('typing into a cell', () => {
  const editing = (options: Parameters<typeof grid>[0] = {}) => {
    const parts = grid(options);
    const onNotes = jest.fn();
    const onRename = jest.fn();
    const hook = renderHook(() => {
      const choosing = useSelecting(lines, COLUMNS, parts.draft);
      return {
        choosing,
        ...useEditing({ ...parts, selecting: choosing, onNotes, onRename, onRenamed: jest.fn() }),
      };
    });
    return { ...parts, onNotes, onRename, now: () => hook.result.current };
  };

  test.each<[where: string, spot: Spot, original: string]>([
    ['a record', { line: 4, column: 1 }, '1'],
    ['a free row', { line: 0, column: 0 }, 't1'],
    ['a cell with a formula', { line: 0, column: 1 }, '=B1+1'],
    ['the record that is begun', { line: DRAFT, column: 0 }, 'Wyn'],
  ])('of %s begins with what stands there', (_where, spot, original) => {
    const { now } = editing();
    act(() => now().edit(spot));
    expect(now().editing).toMatchObject({ spot, text: original, original });
    act(() => now().cancel());
    expect(now().editing).toBeNull();
    act(() => now().edit(spot, '7'));
    expect(now().editing).toMatchObject({ text: '7', original, caret: 1 });
  });

  test.each<[role: string, spot: Spot, why: RegExp]>([
    ['clerk', { line: 0, column: 0 }, /analysts/],
    ['reader', { line: 4, column: 0 }, /read this workbook/],
    ['analyst', { line: 4, column: 2 }, /computed|formula/i],
  ])('is not begun by a %s at %j', (role, spot, why) => {
    const { now, said } = editing({ role });
    act(() => now().edit(spot));
    expect([now().editing, said.at(-1)]).toEqual([null, expect.stringMatching(why)]);
  });

  test('of a heading renames its column, by those who may', () => {
    const { now, onRename } = editing();
    act(() => now().edit({ line: 2, column: 0 }));
    expect(now().editing).toMatchObject({ original: 'Borrower' });
    act(() => now().done(' Lender ', 'down'));
    expect(onRename).toHaveBeenCalledWith('who', 'Lender');
    const clerk = editing({ role: 'clerk' });
    act(() => clerk.now().edit({ line: 2, column: 0 }));
    expect([clerk.now().editing, clerk.onNotes.mock.calls.length]).toEqual([null, 1]);
  });

  test.each<['down' | 'up' | 'right' | 'left' | 'stay', Spot]>([
    ['down', { line: 5, column: 1 }],
    ['up', { line: 3, column: 1 }],
    ['right', { line: 4, column: 2 }],
    ['left', { line: 4, column: 0 }],
    ['stay', { line: 4, column: 1 }],
  ])('is put in and goes on %s', (onward, active) => {
    const { now, puts } = editing();
    act(() => now().edit({ line: 4, column: 1 }, '9'));
    act(() => now().done('9', onward));
    expect(puts).toEqual([[{ line: 4, column: 1, text: '9' }]]);
    expect(activeOf(now().choosing.selection)).toEqual(active);
    expect(now().choosing.takesFocus()).toBe(onward !== 'stay');
  });

  test('what stands there already writes nothing, and drops what was refused', () => {
    const marks = new Map<string, Mark>([
      ['r1|n', { is: 'refused', text: 'x', message: 'No number.', strictness: 'refuse' }],
    ]);
    const { now, puts } = editing({ marks });
    expect(now().reasonOf({ line: 4, column: 1 })).toBe('No number.');
    act(() => now().edit({ line: 4, column: 1 }));
    expect(now().editing?.text).toBe('x');
    act(() => now().done('1', 'down'));
    expect([puts, marks.size]).toEqual([[], 0]);
  });

  test.each([
    ['ask', true],
    ['refuse', undefined],
  ] as const)('the same again is meant where it was told by %s', (strictness, meant) => {
    const mark = { is: 'refused', text: '2.999', message: '', strictness } as const;
    const { now, puts } = editing({ marks: new Map([['r1|n', mark]]) });
    act(() => now().edit({ line: 4, column: 1 }));
    act(() => now().done('2.999', 'stay'));
    expect(puts[0]?.[0]?.meant).toBe(meant);
  });

  test('of the record that is begun goes into it, and Enter ends its row', () => {
    const { now, typed, draft, puts } = editing();
    act(() => now().edit({ line: DRAFT, column: 1 }, '4'));
    act(() => now().done('4', 'down'));
    expect([typed, puts]).toEqual([[['n', '4']], []]);
    expect(draft.leave).toHaveBeenCalled();
    expect(activeOf(now().choosing.selection)).toEqual({ line: DRAFT, column: 0 });
  });

  test('into a row that was moved meanwhile is not written', () => {
    let moved = false;
    const { now, puts, said } = editing({ rows: (n) => row(moved ? n + 5 : n) });
    act(() => now().edit({ line: 1, column: 0 }, 'new'));
    moved = true;
    act(() => now().done('new', 'down'));
    expect([puts, said.at(-1)]).toEqual([[], expect.stringMatching(/moved in the meantime/)]);
  });

  test('a formula takes what is pointed out, drawn or pressed again, and only where it can stand', () => {
    const { now } = editing();
    const point = (spot: Spot): boolean => {
      let taken = false;
      act(() => {
        taken = now().pointAt(press(), spot);
      });
      return taken;
    };
    act(() => now().edit({ line: 0, column: 2 }, '=SUM('));
    expect(point({ line: 0, column: 0 })).toBe(true);
    expect(now().editing?.text).toBe('=SUM(A1');
    act(() => void now().pointTo({ line: 1, column: 1 }));
    expect(now().editing?.text).toBe('=SUM(A1:B2');
    act(() => now().pointed());
    expect(point({ line: 4, column: 1 })).toBe(true);
    expect(now().editing?.text).toBe('=SUM(B5');
    act(() => now().type('=SUM(B5)', 8));
    expect(point({ line: 0, column: 0 })).toBe(false);
    expect(point({ line: -1, column: 0 })).toBe(false);
    act(() => now().cancel());
    expect(point({ line: 0, column: 0 })).toBe(false);
  });
});

describe('what is done with all that is chosen', () => {
  const clipboard = (selection = at({ line: 3, column: 0 }), options = {}) => {
    const parts = grid(options);
    const { result } = renderHook(() => useClipboard({ ...parts, selection }));
    return { ...parts, acts: result.current };
  };
  const range = (top: number, left: number, bottom: number, right: number) =>
    drawTo(at({ line: top, column: left }), { line: bottom, column: right });
  const carried = () => {
    const data = new Map<string, string>();
    const transfer = {
      setData: (type: string, text: string) => void data.set(type, text),
    } as unknown as DataTransfer;
    return { data, transfer };
  };

  test('copied and pasted, texts stand where they are put, and formulas move along', () => {
    const { data, transfer } = carried();
    clipboard(range(0, 0, 0, 1)).acts.copy(transfer);
    expect(data.get('text/plain')).toBe('t1\t3');
    const { acts, puts } = clipboard(at({ line: 1, column: 0 }));
    acts.paste(data.get('text/html') ?? '', data.get('text/plain') ?? '');
    expect(puts).toEqual([
      [
        { line: 1, column: 0, text: 't1' },
        { line: 1, column: 1, text: '=B2+1' },
      ],
    ]);
  });

  test.each(['copied', 'filled', 'gone on with'])(
    'rows that went meanwhile are told, not %s as nothing',
    async (done) => {
      fakeServer(() => ({ status: 200, body: { from: 2, count: 2, records: [] } }));
      Object.assign(globalThis, { ClipboardItem: Object });
      Object.assign(navigator, {
        clipboard: {
          write: ([item = {}]: Record<string, Promise<Blob>>[]) => Promise.all(Object.values(item)),
        },
      });
      const { acts, puts, said } = clipboard(range(5, 0, 6, 0), { held: 2 });
      if (done === 'copied') acts.copy(null);
      else if (done === 'filled') acts.fill('down');
      else acts.goOn('down');
      await act(() => new Promise((ready) => setTimeout(ready, 20)));
      expect([puts, said]).toEqual([[], [expect.stringMatching(/deleted in the meantime/)]]);
    },
  );

  test('one copied cell fills all that is chosen; in records a formula is its text', () => {
    const { acts, puts } = clipboard(range(3, 0, 4, 1));
    acts.paste('', '5');
    expect(puts[0]).toHaveLength(4);
    expect(puts[0]?.every(({ text }) => text === '5')).toBe(true);
  });

  test.each(['down', 'right'] as const)('is filled %s from its first cells', async (direction) => {
    const { acts, puts } = clipboard(range(3, 0, 5, 1));
    acts.fill(direction);
    await act(() => Promise.resolve());
    const down = [
      { line: 4, column: 0, text: 'W0' },
      { line: 4, column: 1, text: '0' },
      { line: 5, column: 0, text: 'W0' },
      { line: 5, column: 1, text: '0' },
    ];
    const right = [0, 1, 2].map((n) => ({ line: 3 + n, column: 1, text: `W${n}` }));
    expect(puts).toEqual([direction === 'down' ? down : right]);
  });

  test('goes on with the series its first cells begin, or says that they begin none', async () => {
    const { acts, puts } = clipboard(range(3, 0, 6, 1));
    acts.goOn('down');
    await act(() => Promise.resolve());
    expect(puts).toEqual([
      [
        { line: 5, column: 0, text: 'W2' },
        { line: 6, column: 0, text: 'W3' },
        { line: 5, column: 1, text: '2' },
        { line: 6, column: 1, text: '3' },
      ],
    ]);
    const alone = clipboard(at({ line: 3, column: 0 }));
    alone.acts.goOn('right');
    await act(() => Promise.resolve());
    expect([alone.puts, alone.said]).toEqual([[], [expect.stringMatching(/begin a series/)]]);
  });

  test('is cleared: records and rows that are there, and the record that is begun', () => {
    const { acts, puts, typed } = clipboard(range(0, 0, DRAFT, 0));
    acts.clear();
    const cleared = [0, 1, 3, 4, 5, 6].map((line) => ({ line, column: 0, text: '' }));
    expect(puts).toEqual([cleared]);
    expect(typed).toEqual([['who', '']]);
    for (const { line } of puts[0] ?? []) expect(lineAt(lines, line).is).not.toBe('heading');
  });

  test.each<[role: string, what: string]>([
    ['clerk', 'rows outside of the records'],
    ['reader', 'records'],
  ])('by a %s leaves %s as they are', (role) => {
    const { acts, puts, said } = clipboard(range(role === 'clerk' ? 0 : 3, 0, 4, 0), { role });
    acts.clear();
    acts.paste('', 'x');
    expect([puts, said]).toEqual([[], Array(2).fill('You can’t change all of these cells.')]);
  });

  test('that is more than one write takes is not begun', () => {
    const { acts, puts, said } = clipboard();
    acts.paste('', 'x\n'.repeat(250_002));
    expect([puts.length, said.at(-1)]).toEqual([0, expect.stringMatching(/250,002.*250,000/)]);
  });
});
