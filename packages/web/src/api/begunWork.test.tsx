/** @jest-environment jsdom */
import { act, renderHook, waitFor } from '@testing-library/react';
import * as fc from 'fast-check';
import { BegunPlace } from './begunWork';
import { makeClaims, type Claims } from './claims';
import { hearOfSignOuts, ownStore, signedIn } from './ownStore';
import { useBegunWork, type Begun } from './useBegunWork';

jest.mock('./resources', () => ({ useSession: () => ({ data: { person: { id: 'wyn' } } }) }));

beforeEach(() => {
  localStorage.clear();
  signedIn('wyn');
});
const settle = (): Promise<void> => new Promise((resolve) => setTimeout(resolve));

interface Typed {
  readonly text: string;
}

/** A window's place at a form: what its hook holds. */
async function opened(place = 'f', isKept = true) {
  const hook = renderHook(() => useBegunWork<Typed>(place, isKept));
  await waitFor(() => expect(hook.result.current.isReady).toBe(true));
  await act(settle);
  const now = (): Begun<Typed> => hook.result.current;
  return { ...hook, now, keep: (text: string) => act(() => now().keep({ text })) };
}

describe('work that was begun', () => {
  test('comes back with its write id after its window is gone, until it is done', async () => {
    const first = await opened();
    const { id } = first.now();
    first.keep('ash');
    first.unmount();
    const second = await opened();
    expect(second.now()).toMatchObject({ id, found: { text: 'ash' }, visit: 1 });
    await act(async () => {
      second.now().done();
      await settle();
    });
    expect(second.now()).toMatchObject({ found: null, visit: 1, waiting: 0 });
    expect(second.now().id).not.toBe(id);
    second.unmount();
    expect((await opened()).now().found).toBeNull();
  });

  test('is one window’s at a time: a second begins anew, and can take up what was left', async () => {
    const [left, other] = [await opened(), await opened()];
    left.keep('ash');
    other.keep('beck');
    const ids = [left.now().id, other.now().id];
    expect(new Set(ids).size).toBe(2);
    left.unmount();
    await act(async () => {
      other.now().takeUp();
      await settle();
    });
    expect(other.now()).toMatchObject({ id: ids[0], found: { text: 'ash' }, waiting: 1 });
    await act(async () => {
      other.now().takeUp();
      await settle();
    });
    expect(other.now().found).toEqual({ text: 'beck' });
  });

  test('is left for other work without mixing the two, and found again by what it is', async () => {
    const window = await opened();
    window.keep('ash');
    const keepAsh = window.now().keep;
    const isAsh = ({ text }: Typed): boolean => text.startsWith('ash');
    await act(() => window.now().goOnWith(() => false));
    expect(window.now()).toMatchObject({ found: null, visit: 2 });
    window.keep('beck');
    // What is left is drawn once more on its way out, and keeps what is its own.
    act(() => keepAsh({ text: 'ash, later' }));
    expect(window.now().read()).toEqual({ text: 'beck' });
    await act(() => window.now().goOnWith(isAsh));
    expect(window.now()).toMatchObject({ found: { text: 'ash, later' }, visit: 3 });
    expect(window.now().all()).toEqual([{ text: 'ash, later' }, { text: 'beck' }]);
  });

  test('whose write id was used goes on under a new one, kept as it was', async () => {
    const window = await opened();
    const { id } = window.now();
    window.keep('ash');
    await act(async () => {
      window.now().renew();
      await settle();
    });
    expect(window.now().id).not.toBe(id);
    expect(window.now().read()).toEqual({ text: 'ash' });
    window.unmount();
    expect((await opened()).now().found).toEqual({ text: 'ash' });
  });

  test('is not kept where nothing is to be, nor once it is blank again', async () => {
    const trial = await opened('trial', false);
    trial.keep('x');
    expect(trial.now().read()).toBeNull();
    const window = await opened();
    window.keep('ash');
    act(() => window.now().keep(null));
    window.unmount();
    expect((await opened()).now().found).toBeNull();
  });

  test('is no one else’s, and gone from every window at sign-out', async () => {
    hearOfSignOuts();
    const window = await opened();
    window.keep('ash');
    ownStore('ulla').store('begun.f.other', { id: 'other', at: 1, work: { text: 'hers' } });
    // As it is told by another window of the browser.
    window.unmount();
    act(() => {
      window.keep('ash');
      dispatchEvent(new StorageEvent('storage', { key: 'varn.out.wyn', newValue: '1' }));
    });
    expect(ownStore('wyn').names('')).toEqual([]);
    window.keep('more');
    expect(ownStore('wyn').names('')).toEqual([]);
    expect(ownStore('ulla').names('begun.')).toEqual(['begun.f.other']);
  });
});

/** Locks as the platform gives them, of all windows in a test. */
function locks(): LockManager {
  const held = new Map<string, Promise<unknown>>();
  const manager = {
    request: (name: string, _: object, work: (lock: object | null) => unknown) => {
      if (held.has(name)) return Promise.resolve(work(null));
      const done = Promise.resolve(work({ name }));
      held.set(name, done);
      return done.finally(() => held.delete(name));
    },
    query: () => Promise.resolve({ held: [...held.keys()].map((name) => ({ name })) }),
  };
  return manager as unknown as LockManager;
}

describe.each<[by: string, windows: () => [Claims, Claims, () => void]]>([
  [
    'locks',
    () => {
      const all = locks();
      return [makeClaims(all, localStorage), makeClaims(all, localStorage), () => undefined];
    },
  ],
  [
    'speaking up',
    () => {
      jest.useFakeTimers();
      const pair: [Claims, Claims] = [
        makeClaims(undefined, localStorage),
        makeClaims(undefined, localStorage),
      ];
      return [...pair, () => void jest.useRealTimers()];
    },
  ],
])('two windows told apart by %s', (_by, windows) => {
  test('never work on the same, in whatever order they claim and release', async () => {
    const [a, b, end] = windows();
    const acts = fc.array(
      fc.record({
        window: fc.constantFrom(0, 1),
        id: fc.constantFrom('x', 'y'),
        is: fc.constantFrom('claim', 'release'),
      }),
      { maxLength: 12 },
    );
    await fc.assert(
      fc.asyncProperty(acts, async (all) => {
        const claims = [a, b];
        const owner = new Map<string, number>();
        for (const { window, id, is } of all) {
          if (is === 'claim') {
            const isMine = await claims[window]?.claim(id);
            expect(isMine).toBe(!owner.has(id) || owner.get(id) === window);
            if (isMine) owner.set(id, window);
          } else if (owner.get(id) === window) {
            claims[window]?.release(id);
            owner.delete(id);
            await Promise.resolve();
            await Promise.resolve();
          }
          for (const claim of claims) {
            const free = await claim.unclaimed(['x', 'y']);
            expect(free).toEqual(['x', 'y'].filter((each) => !owner.has(each)));
          }
        }
        for (const [id, window] of owner) claims[window]?.release(id);
        for (let n = 0; n < 5; n += 1) await Promise.resolve();
      }),
      { numRuns: 40 },
    );
    end();
  });
});

test('what was begun is taken up the oldest first, as much as is wanted', async () => {
  const place = new BegunPlace<Typed>(ownStore('wyn'), 'f', makeClaims(locks(), localStorage));
  const clock = jest.spyOn(Date, 'now');
  for (const [n, id] of ['new', 'old', 'mid'].entries()) {
    clock.mockReturnValue([30, 10, 20][n] ?? 0);
    place.keep(id, { text: id });
  }
  // Kept anew, work stays as old as it is.
  clock.mockReturnValue(99);
  place.keep('old', { text: 'older' });
  clock.mockRestore();
  expect((await place.takeUp(2)).map(({ id, at }) => [id, at])).toEqual([
    ['old', 10],
    ['mid', 20],
  ]);
  expect(await place.waiting()).toBe(1);
  expect(place.read('old')?.work.text).toBe('older');
});
