/** @jest-environment jsdom */
import type { FormView } from '@varn/contract';
import type { Block, Column } from '@varn/core';
import { act, renderHook, waitFor } from '@testing-library/react';
import { fakeServer, refused, type Answered, type Asked } from '../testing/fakeServer';
import { formView, sheetView } from '../testing/views';
import { useFilling } from './useFilling';

/** A form whose fee starts with what the price list, which only the server has, says of the item. */
const columns: Column<string>[] = [
  { id: 'item', heading: 'Item', kind: 'text', settings: {} },
  { id: 'note', heading: 'Note', kind: 'text', settings: {} },
  { id: 'fee', heading: 'Fee', kind: 'money', settings: { currency: 'EUR' } },
];
const PRICE = `=XLOOKUP('Item';Prices!'Item';Prices!'Fee')`;
const blocks: Block[] = [
  { is: 'field', id: 'f-item', columnId: 'item' },
  { is: 'field', id: 'f-note', columnId: 'note' },
  { is: 'field', id: 'f-fee', columnId: 'fee', start: { kind: 'formula', formula: PRICE } },
];
const FORM: FormView = formView(sheetView({ columns }), { definition: { blocks } });

const PRICES: Readonly<Record<string, number>> = { net: 25, meter: 120 };
const itemIn = ({ body }: Asked): string =>
  (body['answers'] as Record<string, string>)['f-item'] ?? '';
const priceOf = (asked: Asked): Answered => ({
  status: 200,
  body: {
    values: { [PRICE]: PRICES[itemIn(asked)] ?? null },
    cells: { item: itemIn(asked) },
    verdicts: [],
  },
});

async function filling() {
  const hook = renderHook(() => useFilling(FORM));
  await waitFor(() => expect(hook.result.current.isLoading).toBe(false));
  return {
    ...hook,
    fee: () => hook.result.current.filling.cells['fee'],
    awaited: () => hook.result.current.filling.awaited.has('fee'),
    type: (id: string, text: string) => act(() => hook.result.current.type(id, text)),
  };
}

beforeEach(() => localStorage.clear());

test('what only the server knows is asked of it, and stands in its field', async () => {
  const asked = fakeServer(priceOf);
  const { type, fee, awaited } = await filling();
  type('f-item', 'net');
  await waitFor(() => expect(fee()).toBe(25));
  expect(awaited()).toBe(false);
  expect(asked.at(-1)).toMatchObject({ method: 'POST', path: '/api/forms/f/checks' });
});

test('of answers that change while it is asked only the latest are asked for next, and stand', async () => {
  const waiting: (() => void)[] = [];
  const asked = fakeServer(
    (each) => new Promise((resolve) => waiting.push(() => resolve(priceOf(each)))),
  );
  const { type, fee, awaited } = await filling();
  for (const item of ['n', 'ne', 'net', 'm', 'met', 'meter']) type('f-item', item);
  expect(awaited()).toBe(true);
  for (let turn = 0; turn < 4; turn += 1) {
    await waitFor(() => expect(waiting.length).toBeGreaterThan(0)).catch(() => undefined);
    await act(async () => {
      waiting.shift()?.();
      await new Promise((resolve) => setTimeout(resolve));
    });
    // One request under way, at most, whatever was typed.
    expect(waiting.length).toBeLessThanOrEqual(1);
    if (fee() === 120 && !awaited()) break;
  }
  expect([fee(), awaited()]).toEqual([120, false]);
  expect(asked.length).toBeLessThanOrEqual(4);
  expect(itemIn(asked.at(-1) as Asked)).toBe('meter');
});

test('what does not bear on it asks for nothing; what a person types over it stays', async () => {
  const asked = fakeServer(priceOf);
  const { type, fee } = await filling();
  type('f-item', 'net');
  await waitFor(() => expect(fee()).toBe(25));
  const { length } = asked;
  type('f-note', 'for the weekend');
  type('f-fee', '30');
  await act(() => new Promise((resolve) => setTimeout(resolve, 20)));
  expect([asked.length, fee()]).toEqual([length, 30]);
});

test('a refusal leaves it open until the next answers; without an answer it asks again', async () => {
  const answers: Answered[] = [refused(422, 'invalid', 'No.'), 'none'];
  const asked = fakeServer((each) => answers.shift() ?? priceOf(each));
  const { type, fee, awaited } = await filling();
  const before = asked.length;
  type('f-item', 'net');
  await waitFor(() => expect(asked.length).toBeGreaterThan(before));
  expect(awaited()).toBe(true);
  type('f-item', 'meter');
  await waitFor(() => expect(fee()).toBe(120), { timeout: 5000 });
});

test('a page that was left is told nothing more', async () => {
  let answer: (() => void) | undefined;
  const asked = fakeServer(
    (each) => new Promise((resolve) => (answer = () => resolve(priceOf(each)))),
  );
  const { type, unmount } = await filling();
  type('f-item', 'net');
  await waitFor(() => expect(answer).toBeDefined());
  const { length } = asked;
  unmount();
  answer?.();
  await new Promise((resolve) => setTimeout(resolve, 20));
  expect(asked).toHaveLength(length);
});
