/** @jest-environment jsdom */
import type { CellRefusal, Landed, RecordView, SheetView, UndoView, Written } from '@varn/contract';
import { localeFacts, type Column } from '@varn/core';
import { act, renderHook, waitFor } from '@testing-library/react';
import type { ReactNode } from 'react';
import { SWRConfig } from 'swr';
import { fakeServer, refused, type Answered, type Asked } from '../testing/fakeServer';
import { sheetView } from '../testing/views';
import type { Looked, Placed } from './cells/plan';
import type { Lines } from './lines';
import { sayOutcome, useCells, type Outcome } from './useCells';
import { useKept } from './useKept';
import { differences, useUndo, type Contested } from './useUndo';

const column = (id: string, kind: Column['kind'] = 'text', settings = {}): Column<string> => ({
  id,
  heading: id.toUpperCase(),
  kind,
  settings,
});
const SHEET = sheetView({
  columns: [column('a'), column('b', 'number'), column('c', 'computed', { formula: '1' })],
  count: 3,
  headingRow: 2,
});
/** One row above the heading in line 1, three records under it, and the row to begin one in. */
const LINES: Lines = { freeRows: 1, hasRecords: true, records: 3, draft: true };
const record = (n: number, revision = 1): RecordView => ({ id: `r${n}`, revision, cells: [] });
const LOOKED: Looked = {
  record: (position) => (position < 2 ? record(position) : undefined),
  row: (number) => ({ id: `f${number}`, revision: 4 }),
};
const spot = (line: number, at: number, text: string, meant?: boolean): Placed => ({
  line,
  column: at,
  text,
  ...(meant !== undefined && { meant }),
});

const written = (body: Record<string, unknown>, more: Partial<Written> = {}): Answered => ({
  status: 200,
  body: { writeId: body['writeId'], seq: 1, records: [], rows: [], refused: [], ...more },
});
/** What a write of the grid says it is about, without its id. */
const said = ({ body: { writeId: _, ...rest } }: Asked): Record<string, unknown> => rest;

const wrapper = ({ children }: { children: ReactNode }) => (
  <SWRConfig value={{ provider: () => new Map() }}>{children}</SWRConfig>
);

function cells(sheet: SheetView = SHEET) {
  const hook = renderHook(({ of }) => useCells(of, ''), { wrapper, initialProps: { of: sheet } });
  const put = async (...placed: Placed[]): Promise<Outcome> => {
    let outcome: Outcome | undefined;
    await act(async () => {
      outcome = await hook.result.current.put(placed, LINES, LOOKED);
    });
    if (!outcome) throw new Error('nothing came of it');
    return outcome;
  };
  return { ...hook, put, now: () => hook.result.current };
}
const posts = (asked: readonly Asked[]): Asked[] => asked.filter(({ method }) => method !== 'GET');

describe('cells that are put in', () => {
  test('go as one write: records, rows above them, and new ones, with what was looked at', async () => {
    const asked = fakeServer(({ body }) => written(body));
    const { put, now } = cells();
    const outcome = await put(
      spot(2, 0, 'ash'),
      spot(2, 1, '7', true),
      spot(0, 1, '=1+1'),
      spot(5, 0, 'new'),
    );
    expect(posts(asked).map(said)).toEqual([
      {
        revision: 1,
        partly: true,
        records: [{ id: 'r0', revision: 1, answers: { a: 'ash', b: '7' }, meant: ['b'] }],
        added: [{ answers: { a: 'new' } }],
        rows: [{ row: 1, revision: 4, cells: { 1: '=1+1' } }],
      },
    ]);
    expect([outcome.written, outcome.unplaced, now().marks.size]).toEqual([4, [], 0]);
    expect(now().outcome && sayOutcome(now().outcome ?? outcome)).toBe('4 cells written.');
  });

  test('are marked while they are sent, and what was refused stays marked with its reason', async () => {
    let answer: (answered: Answered) => void = () => undefined;
    const asked = fakeServer(
      ({ method }) =>
        new Promise((resolve) => {
          if (method === 'POST') answer = resolve;
        }),
    );
    const { result, now } = cells();
    act(() => void result.current.put([spot(2, 0, 'ash'), spot(3, 1, 'x')], LINES, LOOKED));
    await waitFor(() => expect(posts(asked)).toHaveLength(1));
    expect([...now().marks].map(([key, { is, text }]) => [key, is, text])).toEqual([
      ['r0|a', 'sending', 'ash'],
      ['r1|b', 'sending', 'x'],
    ]);
    const refusal = {
      list: 'records',
      at: 1,
      column: 'b',
      code: 'notANumber',
      message: '‘x’ is not a number.',
      strictness: 'refuse',
    } as const;
    act(() => answer(written(posts(asked)[0]?.body ?? {}, { refused: [refusal] })));
    await waitFor(() => expect(now().marks.get('r1|b')?.is).toBe('refused'));
    expect([...now().marks.keys()]).toEqual(['r1|b']);
    expect(now().outcome && sayOutcome(now().outcome ?? ({} as Outcome))).toBe(
      '1 cell written. 1 cell could not be placed: ‘x’ is not a number.',
    );
    act(() => now().drop('r1|b'));
    expect(now().marks.size).toBe(0);
  });

  test('of several, what is not written is kept with its row, and placed once it is right', async () => {
    const refusal = (list: 'records' | 'added', at: number, column: string, more: object = {}) => {
      const message = `${column} of ${list} ${at}`;
      return { list, at, column, code: 'x', message, strictness: 'refuse' as const, ...more };
    };
    const landed = { recordId: 'n1', revision: 1 } as Landed;
    let refusals: CellRefusal[] = [
      refusal('records', 0, 'b'),
      // Of one new record nothing was written, of the next all but a cell.
      refusal('added', 0, 'b', { strictness: 'ask' }),
      refusal('added', 1, 'a', { recordId: 'n1' }),
    ];
    const asked = fakeServer(({ body }) => written(body, { refused: refusals, records: [landed] }));
    const hook = renderHook(
      () => {
        const all = useCells(SHEET, '');
        return { cells: all, kept: useKept(all) };
      },
      { wrapper },
    );
    const now = () => hook.result.current;
    const texts = () => now().kept.all.map(({ row, text, message }) => [row, text, message]);
    await act(async () => {
      const placed = [
        spot(2, 1, 'x'),
        spot(5, 0, 'new'),
        spot(5, 1, '9'),
        spot(6, 0, '?'),
        spot(6, 1, '1'),
      ];
      await now().cells.put(placed, LINES, LOOKED);
    });
    const [first] = posts(asked);
    const whole = `${String(first?.body['writeId'])} 0`;
    expect(texts()).toEqual([
      ['r0', 'x', 'b of records 0'],
      [whole, '9', 'b of added 0'],
      ['n1', '?', 'a of added 1'],
    ]);
    // What else was typed into a row that has no place is told with it.
    expect(now().kept.all[1]).toMatchObject({ nth: 1, record: null, rest: { a: 'new' } });
    refusals = [refusal('records', 0, 'b', { message: 'still' })];
    const [number] = now().kept.all;
    if (number) act(() => now().kept.type(number, 'y'));
    // Pressed twice, it is sent once.
    await act(async () => {
      await Promise.all([now().kept.place(now().kept.all), now().kept.place(now().kept.all)]);
    });
    expect(posts(asked).slice(1).map(said)).toEqual([
      {
        revision: 1,
        partly: true,
        records: [
          { id: 'r0', revision: 1, answers: { b: 'y' } },
          { id: 'n1', revision: 1, answers: { a: '?' } },
        ],
        added: [{ answers: { a: 'new', b: '9' }, meant: ['b'] }],
      },
    ]);
    expect(texts()).toEqual([['r0', 'y', 'still']]);
    act(() => now().kept.drop(now().kept.all));
    expect([texts(), now().cells.marks.size]).toEqual([[], 0]);
  });

  test.each<[what: string, placed: Placed, why: RegExp]>([
    ['the heading', spot(1, 0, 'x'), /^Headings are changed/],
    ['a computed column', spot(2, 2, '7'), /^Computed/],
    ['past the last column', spot(2, 9, '7'), /^There is no column here/],
  ])('in %s are told of, and nothing is asked for', async (_what, placed, why) => {
    const asked = fakeServer(() => 'none');
    const outcome = await cells().put(placed);
    expect(posts(asked)).toEqual([]);
    expect(outcome.written).toBe(0);
    expect(outcome.unplaced.map(({ message }) => message)).toEqual([expect.stringMatching(why)]);
  });

  test('in records that are not at hand read these first', async () => {
    const asked = fakeServer(({ method, body }) =>
      method === 'GET'
        ? { status: 200, body: { from: 2, count: 3, records: [record(2, 9)] } }
        : written(body),
    );
    await cells().put(spot(4, 0, 'fen'));
    expect(asked.find(({ method }) => method === 'GET')?.path).toContain('rows?from=2&count=1');
    expect(said(posts(asked)[0] as Asked)['records']).toEqual([
      { id: 'r2', revision: 9, answers: { a: 'fen' } },
    ]);
  });

  test('twice know of the revision that the first made, before anyone told of it', async () => {
    const landed = { recordId: 'r0', revision: 2, kind: 'recordChanged', sheetId: 's', cells: {} };
    const asked = fakeServer(({ body, method }) =>
      method === 'GET'
        ? { status: 200, body: {} }
        : written(body, { records: [landed as Written['records'][number]] }),
    );
    const { put } = cells();
    await put(spot(2, 0, 'ash'));
    await put(spot(2, 0, 'beck'));
    const revisions = posts(asked).map(
      (each) => (said(each)['records'] as { revision: number }[])[0]?.revision,
    );
    expect(revisions).toEqual([1, 2]);
  });

  test('without an answer go again, the same, until there is one', async () => {
    let tries = 0;
    const asked = fakeServer(({ body, method }) => {
      if (method === 'GET') return { status: 200, body: {} };
      tries += 1;
      return tries < 2 ? 'none' : written(body);
    });
    const { result, now } = cells();
    let outcome: Outcome | null = null;
    act(() => {
      void result.current.put([spot(2, 0, 'ash')], LINES, LOOKED).then((each) => (outcome = each));
    });
    await waitFor(() => expect(now().stuck).not.toBeNull());
    await waitFor(() => expect(outcome).toMatchObject({ written: 1 }), { timeout: 4000 });
    expect(new Set(posts(asked).map(({ body }) => JSON.stringify(body))).size).toBe(1);
    expect(now().stuck).toBeNull();
  });

  test('that someone else changed since are kept as typed, and told of', async () => {
    fakeServer(({ method }) =>
      method === 'GET' ? { status: 200, body: {} } : refused(409, 'changedSince', 'At revision 3.'),
    );
    const { put, now } = cells();
    const outcome = await put(spot(2, 0, 'ash'));
    expect(outcome.failure).toMatch(/^Someone else changed this in the meantime/);
    expect(now().marks.get('r0|a')).toMatchObject({ is: 'refused', text: 'ash' });
    expect(sayOutcome(outcome)).toMatch(/^Nothing written\. Someone else/);
  });

  test('are told with what forms would say of them', async () => {
    const note = { list: 'records', at: 0, column: 'b', code: 'over', message: 'Over 14.' };
    fakeServer(({ body, method }) =>
      method === 'GET' ? { status: 200, body: {} } : written(body, { notes: [note] }),
    );
    const { put, now } = cells();
    await put(spot(2, 1, '99'));
    expect(now().outcome?.doubts).toEqual(['Over 14.']);
  });
});

describe('other writes of the grid', () => {
  test('have their turn after those begun before, and know of the sheet as it is by then', async () => {
    const asked = fakeServer(({ body, method }) =>
      method === 'GET'
        ? { status: 200, body: { ...SHEET, revision: 8 } }
        : written(body, { rows: [{ rowId: 'f1', revision: 5 }] }),
    );
    const { result } = cells();
    let seen = 0;
    await act(async () => {
      const first = result.current.put([spot(0, 0, 'x')], LINES, LOOKED);
      const second = result.current.send(({ revision }) => Promise.resolve((seen = revision)));
      await Promise.all([first, second]);
    });
    expect(seen).toBe(8);
    expect(posts(asked)).toHaveLength(1);
  });

  test('that are refused give nothing and say why', async () => {
    fakeServer(() => ({ status: 200, body: SHEET }));
    const { result, now } = cells();
    let answer: unknown = 'unset';
    await act(async () => {
      answer = await result.current.send(() => Promise.reject(new Error('no')));
    });
    expect([answer, now().outcome?.failure]).toEqual([null, 'no']);
  });
});

describe('taking back', () => {
  const entry = (writeId: string, says: string) => ({ writeId, says });
  const state: UndoView = { undo: entry('w2', '1 cell in Samples'), redo: entry('w1', '1 record') };
  const undo = () => renderHook(() => useUndo('w', 'clerk'), { wrapper }).result;

  test('names the last write of one’s own, or the last one taken back', async () => {
    const asked = fakeServer(() => ({ status: 200, body: state }));
    const result = undo();
    let words: string[] = [];
    await act(async () => {
      words = [await result.current.takeBack(false), await result.current.takeBack(true)];
    });
    expect(words).toEqual(['Undone: 1 cell in Samples.', 'Redone: 1 record.']);
    expect(posts(asked).map(({ body }) => body['undoes'])).toEqual(['w2', 'w1']);
  });

  test('asks for nothing where there is nothing', async () => {
    const asked = fakeServer(() => ({ status: 200, body: { undo: null, redo: null } }));
    const result = undo();
    await act(async () => {
      expect(await result.current.takeBack(false)).toBe('You have nothing to undo.');
      expect(await result.current.takeBack(true)).toBe('There is nothing to redo.');
    });
    expect(posts(asked)).toEqual([]);
  });

  test('over a change of someone else’s shows both, and can be left or done anyway', async () => {
    const both = { yours: { a: 'mine' }, now: { a: 'theirs' } };
    let anyway = false;
    const asked = fakeServer(({ method, body }) => {
      if (method === 'GET') return { status: 200, body: state };
      anyway = body['anyway'] === true;
      return anyway
        ? { status: 200, body: {} }
        : refused(409, 'changedSince', 'Changed since.', { both });
    });
    const result = undo();
    await act(async () => {
      expect(await result.current.takeBack(false)).toBe('Not undone: Changed since.');
    });
    expect(result.current.contested).toMatchObject({ both, again: false });
    act(() => result.current.leave());
    expect(result.current.contested).toBeNull();
    await act(async () => {
      await result.current.takeBack(false, true);
    });
    expect([anyway, posts(asked).length, result.current.contested]).toEqual([true, 2, null]);
  });

  test.each<[yours: object | null, now: object | null, told: [string, string, string][]]>([
    [{ a: 'x', b: 1 }, { a: 'x', b: 2 }, [['B', '1', '2']]],
    [{ a: 'x' }, null, [['A', 'x', 'blank']]],
    [null, { d: { formula: {} } }, [['Cell', 'blank', 'a formula']]],
    [{ d: { value: 46_350, kind: 'date' } }, {}, [['Cell', '24/11/2026', 'blank']]],

    [{ d: 'loose' }, { d: { error: '#N/A' } }, [['Cell', 'loose', 'No value was found.']]],
    [{ a: 'x' }, { a: 'x' }, []],
  ])('tells %j from %j as the columns show them', (yours, now, told) => {
    const contested = { both: { yours, now } } as Contested;
    const found = differences(contested, SHEET, localeFacts('en-GB'));
    expect(found.map((each) => [each.heading, each.yours, each.now])).toEqual(told);
  });
});
