/** @jest-environment jsdom */
import { act, renderHook, waitFor } from '@testing-library/react';
import * as fc from 'fast-check';
import type { ScopedMutator } from 'swr';
import { NoAnswer } from './client';
import { apply } from './events';
import { insist, waitBefore } from './insist';
import { useWrites } from './useWrites';

const later = (ms = 0): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));

describe('writes of one place', () => {
  test('go one after another, in the order they were begun, whatever becomes of each', async () => {
    const writes = fc.array(fc.record({ ms: fc.nat({ max: 3 }), isRefused: fc.boolean() }), {
      maxLength: 6,
    });
    await fc.assert(
      fc.asyncProperty(writes, async (all) => {
        const { result, unmount } = renderHook(() => useWrites());
        const log: string[] = [];
        let under = 0;
        const turns = all.map(({ ms, isRefused }, n) =>
          result.current.inTurn(
            async () => {
              expect((under += 1)).toBe(1);
              await later(ms);
              under -= 1;
              log.push(`${n}`);
              if (isRefused) throw new Error(`refused ${n}`);
              return n;
            },
            () => Promise.resolve(void log.push(`after ${n}`)),
          ),
        );
        let outcomes: PromiseSettledResult<number>[] = [];
        await act(async () => {
          outcomes = await Promise.allSettled(turns);
        });
        expect(outcomes.map(({ status }) => status === 'rejected')).toEqual(
          all.map(({ isRefused }) => isRefused),
        );
        expect(log).toEqual(
          all.flatMap(({ isRefused }, n) => (isRefused ? [`${n}`] : [`${n}`, `after ${n}`])),
        );
        unmount();
      }),
      { numRuns: 25 },
    );
  });

  test('say what one waits for, and wait no more once it went', async () => {
    const { result } = renderHook(() => useWrites());
    let tries = 0;
    const write = (): Promise<string> => {
      tries += 1;
      return tries === 1 ? Promise.reject(new NoAnswer()) : Promise.resolve('written');
    };
    let answer = '';
    act(() => void result.current.inTurn(write).then((text) => (answer = text)));
    await waitFor(() => expect(result.current.stuck?.message).toMatch(/does not answer/));
    await waitFor(() => expect(answer).toBe('written'), { timeout: 3000 });
    await waitFor(() => expect(result.current.stuck).toBeNull());
    expect(tries).toBe(2);
  });
});

describe('what gets no answer', () => {
  test('is sent again, the same, as often as it takes, and never after an answer', async () => {
    await fc.assert(
      fc.asyncProperty(fc.nat({ max: 12 }), fc.boolean(), async (silent, isRefused) => {
        let tries = 0;
        const waits: number[] = [];
        const sent = insist(
          () => {
            tries += 1;
            if (tries <= silent) return Promise.reject(new NoAnswer());
            return isRefused ? Promise.reject(new Error('no')) : Promise.resolve(tries);
          },
          { pause: (ms) => Promise.resolve(void waits.push(ms)) },
        );
        if (isRefused) await expect(sent).rejects.toThrow('no');
        else expect(await sent).toBe(silent + 1);
        expect(tries).toBe(silent + 1);
        expect(waits).toEqual(Array.from({ length: silent }, (_, n) => waitBefore(n)));
        expect(waits).toEqual([...waits].sort((a, b) => a - b));
      }),
    );
  });

  test('is given up once nobody waits for it', async () => {
    let tries = 0;
    const sent = insist(
      () => {
        tries += 1;
        return Promise.reject(new NoAnswer());
      },
      { isGone: () => tries >= 3, pause: () => Promise.resolve() },
    );
    await expect(sent).rejects.toBeInstanceOf(NoAnswer);
    expect(tries).toBe(3);
  });
});

describe('a record that was written', () => {
  /** What is held of the server, by path; tells which places are read anew. */
  function held(places: Readonly<Record<string, unknown>>): {
    mutate: ScopedMutator;
    anew: string[];
  } {
    const anew: string[] = [];
    const mutate = (
      matches: (key: string) => boolean,
      change?: (value: unknown) => unknown,
    ): Promise<unknown> => {
      for (const [path, value] of Object.entries(places)) {
        if (!matches(path)) continue;
        if (change === undefined) anew.push(path);
        else change(value);
      }
      return Promise.resolve();
    };
    return { mutate: mutate as unknown as ScopedMutator, anew };
  }
  const rows = '/api/sheets/s/rows?from=0&count=200';
  const view = `${rows}&view=x`;
  const one = '/api/sheets/s/records/r';
  const page = { from: 0, count: 1, records: [{ id: 'r', revision: 1, cells: [] }] };

  // At the desk the sheet itself is not read, and the matches of a question are.
  test.each<[what: string, places: Record<string, unknown>, anew: string[]]>([
    ['matches, without their sheet', { [view]: page }, [view]],
    ['all rows, without their sheet', { [rows]: page }, []],
    [
      'the record itself and its history',
      { [one]: {}, [`${one}/history`]: {} },
      [one, `${one}/history`],
    ],
    ['another record', { '/api/sheets/s/records/other': {} }, []],
    [
      'the bin and the history',
      { '/api/workbooks/w/bin': {}, '/api/workbooks/w/history?x': {} },
      ['/api/workbooks/w/bin', '/api/workbooks/w/history?x'],
    ],
  ])('has read anew, of %s, what only the server can tell', async (_what, places, anew) => {
    const store = held(places);
    const landed = {
      recordId: 'r',
      sheetId: 's',
      kind: 'recordChanged',
      row: 5,
      after: 1,
      before: 1,
      cells: {},
      revision: 2,
      seq: 1,
      writeId: 'x',
    } as const;
    apply(store.mutate, 'w', {
      seq: 1,
      kind: 'recordChanged',
      sheetId: 's',
      writeId: 'x',
      by: '',
      landed,
    });
    await later(80);
    expect(store.anew).toEqual(anew);
  });
});
