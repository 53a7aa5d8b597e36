/** @jest-environment jsdom */
import type { DraftView, SaveDraft } from '@varn/contract';
import type { Column } from '@varn/core';
import { act, renderHook, waitFor } from '@testing-library/react';
import * as fc from 'fast-check';
import { changeColumn, putIn, type Layout } from './edits';
import { useCompose, type Composing } from './useCompose';

const column = (id: string, settings = {}): Column<string> => ({
  id,
  heading: id,
  kind: 'text',
  settings,
});
const draft = {
  form: { id: 'f', definition: { blocks: [] }, locale: 'en-GB' },
  columns: [],
  stored: [column('c')],
  revision: 4,
  names: ['Limits'],
  sheets: ['Samples'],
} as unknown as DraftView;
const add =
  (id: string) =>
  (layout: Layout): Layout =>
    putIn(layout, [{ is: 'note', id, text: id }], { blockId: null, side: 'after' });
const idsOf = ({ layout }: Composing): string =>
  layout.definition.blocks.map(({ id }) => id).join('');

type Answer = 'none' | { status: number; body: object };
let answers: Answer[] = [];
let kept: SaveDraft[] = [];
beforeEach(() => {
  answers = [];
  kept = [];
  let revision = 4;
  global.fetch = jest.fn((_path: string, init: { body: string }) => {
    const body = JSON.parse(init.body) as SaveDraft;
    kept.push(body);
    const answer = answers.shift() ?? { status: 200, body: { revision: (revision += 1) } };
    if (answer === 'none') return Promise.reject(new TypeError('no network'));
    return Promise.resolve({
      ok: answer.status < 400,
      status: answer.status,
      text: () => Promise.resolve(JSON.stringify(answer.body)),
    });
  }) as unknown as typeof fetch;
});

function composing() {
  const readAnew = jest.fn(() => Promise.resolve());
  const hook = renderHook(() => useCompose(draft, readAnew));
  const now = (): Composing => hook.result.current;
  return {
    ...hook,
    now,
    readAnew,
    isKept: () => waitFor(() => expect(now().keeping.is).toBe('kept')),
  };
}

test('what is changed is kept a moment later, as it stands then, and each time on what was kept before', async () => {
  const { now, isKept } = composing();
  act(() => now().edit(add('a')));
  act(() => now().edit(add('b')));
  await waitFor(() => expect(kept).toHaveLength(1));
  await isKept();
  act(() => now().edit((layout) => changeColumn(layout, column('new', { formula: '1+1' }))));
  await waitFor(() => expect(kept).toHaveLength(2));
  expect(kept.map(({ revision }) => revision)).toEqual([4, 5]);
  expect(kept[0]?.definition.blocks.map(({ id }) => id)).toEqual(['a', 'b']);
  expect(kept[1]?.columns).toEqual([column('new', { formula: '1+1' })]);
  expect(now().columns.map(({ id }) => id)).toEqual(['c', 'new']);
  expect([...now().ground.headings]).toEqual(['c', 'new']);
});

test('asked to keep now, it waits for no rest and gives the revision', async () => {
  const { now } = composing();
  act(() => now().edit(add('a')));
  let revision = 0;
  await act(async () => {
    revision = await now().keepNow();
  });
  expect([revision, kept.length]).toEqual([5, 1]);
  await act(async () => {
    revision = await now().keepNow();
  });
  expect([revision, kept.length]).toEqual([5, 1]);
});

test('without an answer it is kept here, and sent again until there is one', async () => {
  answers = ['none'];
  const { now, isKept } = composing();
  act(() => now().edit(add('a')));
  await waitFor(() => expect(now().keeping.is).toBe('waiting'));
  await waitFor(() => expect(kept).toHaveLength(2), { timeout: 4000 });
  await isKept();
  expect(kept[0]).toEqual(kept[1]);
});

test('changed by someone else it is contested, and goes on from theirs once that was looked at', async () => {
  answers = [{ status: 409, body: { statusCode: 409, code: 'changedSince', message: 'Changed.' } }];
  const { now, readAnew, isKept } = composing();
  act(() => now().edit(add('a')));
  await waitFor(() => expect(now().keeping.is).toBe('contested'));
  act(() => now().takeTheirs());
  expect(readAnew).toHaveBeenCalled();
  act(() => now().keepMine({ ...draft, revision: 9 }));
  await isKept();
  expect(kept.map(({ revision }) => revision)).toEqual([4, 9]);
});

test('what is refused says why', async () => {
  answers = [{ status: 400, body: { statusCode: 400, code: 'invalid', message: 'Too long.' } }];
  const { now } = composing();
  act(() => now().edit(add('a')));
  await waitFor(() => expect(now().keeping).toEqual({ is: 'refused', message: 'Too long.' }));
});

test('leaving right after a change keeps it', async () => {
  const { now, unmount } = composing();
  act(() => now().edit(add('a')));
  unmount();
  await waitFor(() => expect(kept).toHaveLength(1));
});

test('however it is undone and redone, it stands as it would after the changes that are left', () => {
  const step = fc.constantFrom('a', 'b', 'c', 'undo', 'redo');
  fc.assert(
    fc.property(fc.array(step, { maxLength: 14 }), (steps) => {
      const { now, unmount } = composing();
      let done: string[] = [];
      let undone: string[] = [];
      for (const each of steps) {
        if (each === 'undo') {
          expect(now().undo === null).toBe(done.length === 0);
          act(() => now().undo?.());
          const last = done.at(-1);
          if (last === undefined) continue;
          done = done.slice(0, -1);
          undone = [...undone, last];
        } else if (each === 'redo') {
          expect(now().redo === null).toBe(undone.length === 0);
          act(() => now().redo?.());
          const next = undone.at(-1);
          if (next === undefined) continue;
          done = [...done, next];
          undone = undone.slice(0, -1);
        } else {
          act(() => now().edit(add(each)));
          done = [...done, each];
          undone = [];
        }
        expect(idsOf(now())).toBe(done.join(''));
      }
      unmount();
    }),
    { numRuns: 60 },
  );
});

test('changes of one sitting are taken back as one, and what changes nothing is no step', () => {
  const { now } = composing();
  act(() => now().edit(add('a'), 'typing'));
  act(() => now().edit(add('b'), 'typing'));
  act(() => now().edit((layout) => layout));
  act(() => now().edit(add('c'), 'elsewhere'));
  act(() => now().undo?.());
  expect(idsOf(now())).toBe('ab');
  act(() => now().undo?.());
  expect([idsOf(now()), now().undo]).toEqual(['', null]);
});
