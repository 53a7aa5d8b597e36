/** @jest-environment jsdom */
import type { FormView } from '@varn/contract';
import type { Block, Column, FieldBlock } from '@varn/core';
import { act, renderHook, waitFor } from '@testing-library/react';
import * as fc from 'fast-check';
import { formView, sheetView } from '../testing/views';
import { useFilling, type FormFilling } from './useFilling';

const DAY = Date.UTC(2026, 10, 25, 9, 30);

const column = (id: string, kind: Column['kind'], settings = {}): Column<string> => ({
  id,
  heading: id,
  kind,
  settings,
});
const COLUMNS = [
  column('who', 'text'),
  column('day', 'date'),
  column('ph', 'number'),
  column('fee', 'money', { currency: 'EUR' }),
  column('no', 'text'),
  column('twice', 'computed', { formula: "='ph' * 2" }),
];
const field = (columnId: string, more: Partial<FieldBlock> = {}): FieldBlock => ({
  is: 'field',
  id: `f-${columnId}`,
  columnId,
  ...more,
});
const FIELDS: Block[] = [
  field('who', { required: true, start: { kind: 'text', text: 'Wyn', kept: true } }),
  field('day', { start: { kind: 'today' } }),
  field('ph', { limits: { from: 0, to: 14 } }),
  field('fee'),
  field('no', { start: { kind: 'next' } }),
];

const formOf = (blocks: readonly Block[] = FIELDS): FormView =>
  formView(sheetView({ columns: COLUMNS }), {
    definition: { blocks },
    nextTexts: { no: 'K-008' },
    now: DAY,
  });

function filling(form = formOf(), options: Parameters<typeof useFilling>[1] = {}) {
  const hook = renderHook(() => useFilling(form, options));
  const now = (): FormFilling => hook.result.current;
  const type = (id: string, text: string): void => act(() => now().type(`f-${id}`, text));
  return { ...hook, now, type, ready: () => waitFor(() => expect(now().isLoading).toBe(false)) };
}

beforeEach(() => {
  localStorage.clear();
  jest.spyOn(Date, 'now').mockReturnValue(DAY);
  global.fetch = jest.fn(() => Promise.reject(new TypeError('no network')));
});
afterEach(() => {
  jest.restoreAllMocks();
});

test('begins with starting values, which count until someone types over them', async () => {
  const { now, type, ready } = filling();
  await ready();
  const seen = { 'f-who': 'Wyn', 'f-day': '25/11/2026', 'f-no': 'K-008' };
  expect(now().answers).toEqual(seen);
  expect([...now().untouched].sort()).toEqual(Object.keys(seen).sort());
  expect([now().begun, now().filling.verdicts]).toEqual([false, []]);
  type('who', 'Ulla');
  expect([now().begun, now().untouched.has('f-who')]).toEqual([true, false]);
  expect(now().submitNow().sent).toEqual({
    answers: { ...seen, 'f-who': 'Ulla' },
    untouched: ['f-day', 'f-no'],
    pressedAt: DAY,
  });
});

test('what is computed follows what is typed', async () => {
  const { now, type, ready } = filling();
  await ready();
  type('ph', '3.5');
  await waitFor(() => expect(now().filling.computed).toEqual({ twice: 7 }));
});

test('a problem is told on leaving, goes as soon as it is cured, and comes back on leaving again', async () => {
  const { now, type, ready } = filling();
  await ready();
  const told = (): boolean => now().revealed.has('f-ph');
  type('ph', '15');
  expect(told()).toBe(false);
  act(() => now().leave('f-ph'));
  await waitFor(() => expect(told()).toBe(true));
  type('ph', '16');
  expect(told()).toBe(true);
  type('ph', '1');
  expect(told()).toBe(false);
  type('ph', '15');
  expect(told()).toBe(false);
});

test('what is asked about can be meant, until it is typed anew', async () => {
  const { now, type, ready } = filling();
  await ready();
  type('fee', '2.999');
  const strict = (): unknown =>
    now()
      .submitNow()
      .filling.verdicts.map((each) => each.strictness);
  expect(strict()).toEqual(['ask']);
  act(() => now().mean('f-fee'));
  expect([strict(), now().submitNow().sent.meant]).toEqual([[], ['f-fee']]);
  type('fee', '3.999');
  expect([strict(), now().submitNow().sent.meant]).toEqual([['ask'], undefined]);
});

test('the next record keeps what is to be kept; clearing gives back what stood there', async () => {
  const { now, type, ready } = filling();
  await ready();
  type('who', 'Ulla');
  type('ph', '7');
  act(() => now().next());
  expect(now().answers).toEqual({ 'f-who': 'Ulla', 'f-day': '25/11/2026', 'f-no': 'K-008' });
  expect([...now().kept]).toEqual(['f-who']);
  // A window opened later goes on with it, this day.
  const other = filling();
  await other.ready();
  expect(other.now().answers['f-who']).toBe('Ulla');
  type('ph', '8');
  let stood: ReturnType<FormFilling['clear']> | undefined;
  act(() => {
    stood = now().clear();
  });
  expect(now().answers['f-who']).toBe('Wyn');
  act(() => stood && now().bringBack(stood));
  expect(now().answers).toMatchObject({ 'f-who': 'Ulla', 'f-ph': '8' });
});

test('a draft keeps nothing, and a stored record stands as it is', async () => {
  const draft = filling(formOf(), { draft: true });
  await draft.ready();
  draft.type('who', 'Ulla');
  act(() => draft.now().next());
  expect(localStorage).toHaveLength(0);
  const stored = filling(formOf(), { stored: () => ({ 'f-ph': '5' }) });
  await stored.ready();
  expect([stored.now().answers, stored.now().untouched.size]).toEqual([{ 'f-ph': '5' }, 0]);
});

test('pages are gone through one by one: not past what is missing, to wherever one jumps', async () => {
  const blocks: Block[] = [
    field('who', { required: true }),
    { is: 'page', id: 'p2', title: 'Two' },
    field('ph'),
    { is: 'page', id: 'p3', title: 'Three', shownWhen: "'ph' > 7" },
    field('fee'),
  ];
  const { now, type, ready } = filling(formOf(blocks));
  await ready();
  const pages = () => [
    { blocks: [blocks[0] as Block], start: undefined },
    { blocks: [blocks[2] as Block], start: blocks[1] },
  ];
  const next = (at: number): void => act(() => now().nextPage(at, pages() as never));
  next(0);
  expect([now().page, now().revealed.has('f-who')]).toEqual([0, true]);
  type('who', 'Wyn');
  next(0);
  expect(now().page).toBe(1);
  act(() => now().jump('f-who'));
  expect(now().page).toBe(0);
  type('ph', '9');
  act(() => now().jump('f-fee'));
  expect(now().page).toBe(2);
});

test('whatever is typed in whatever order, what is submitted is what stands in the fields', async () => {
  const { now, type, ready } = filling();
  await ready();
  const step = fc.record({
    id: fc.constantFrom('who', 'day', 'ph', 'fee', 'no'),
    text: fc.constantFrom('', '7', '1/2/2026', 'x', '99', ' Wyn '),
  });
  fc.assert(
    fc.property(fc.array(step, { maxLength: 8 }), (steps) => {
      const typed: Record<string, string> = { ...now().answers };
      for (const { id, text } of steps) {
        type(id, text);
        typed[`f-${id}`] = text;
      }
      expect(now().answers).toEqual(typed);
      const { sent, filling: made } = now().submitNow();
      const stands = Object.fromEntries(Object.entries(typed).filter(([, text]) => text !== ''));
      expect({ ...sent.answers }).toEqual(stands);
      for (const { fieldId } of made.verdicts) expect(fieldId in typed).toBe(true);
      const refused = new Set(made.verdicts.map(({ columnId }) => columnId));
      for (const id of refused) expect(made.cells[id]).toBeUndefined();
    }),
    { numRuns: 40 },
  );
});
