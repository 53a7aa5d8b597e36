/** @jest-environment jsdom */
import { ChakraProvider } from '@chakra-ui/react';
import type { DraftView } from '@varn/contract';
import { act, cleanup, fireEvent, render, screen } from '@testing-library/react';
import { system } from '../theme/system';
import { AddLine } from './AddLine';
import { useCompose } from './useCompose';

const draft = {
  form: { id: 'f', definition: { blocks: [] }, locale: 'en-GB' },
  columns: [],
  stored: [
    { id: 'a', heading: 'Price', kind: 'number', settings: {} },
    { id: 'b', heading: 'Quantity', kind: 'number', settings: {} },
  ],
  revision: 1,
  names: [],
  sheets: [],
} as unknown as DraftView;

beforeEach(() => {
  // What jsdom has not: places and sizes.
  Element.prototype.scrollIntoView = () => undefined;
  global.ResizeObserver = class {
    observe = (): void => undefined;
    unobserve = (): void => undefined;
    disconnect = (): void => undefined;
  };
  global.fetch = jest.fn(() => new Promise(() => undefined)) as unknown as typeof fetch;
});
afterEach(cleanup);

function Line() {
  const composing = useCompose(draft, () => Promise.resolve());
  const { blocks } = composing.layout.definition;
  return (
    <ChakraProvider value={system}>
      <AddLine
        composing={composing}
        spot={{ blockId: null, side: 'after' }}
        onAdded={() => undefined}
      />
      <output>{blocks.length}</output>
    </ChakraProvider>
  );
}

test.each<[typed: string, keys: string, stands: string, blocks: number]>([
  ['Temp: number', 'Enter', '', 1],
  ['Temp: num', 'Enter', 'Temp: number', 0],
  ['Temp: num', 'Enter Enter', '', 1],
  ['Temp: number', 'ArrowDown Enter', 'Temp: number with steps', 0],
  ['Temp: number', 'ArrowDown ArrowUp ArrowUp Enter', 'Temp: number steps', 0],
  ['Temp: number, req', 'Enter Enter', '', 1],
  // What is wrong elsewhere in the line, or in another, is not mended by what is offered here.
  ['Temp: number, foo 3, req', 'Enter', 'Temp: number, foo 3, req', 0],
  ['Air: zzz\nTemp: nu', 'Enter', 'Air: zzz\nTemp: nu', 0],
  // The list put away, the line says what is wrong.
  ['Temp: nu', 'Escape Enter', 'Temp: nu', 0],
  ['Temp: nu', 'Escape Escape', '', 0],
  ['Sum: computed = price * quantity', 'Enter', "Sum: computed = 'Price' * 'Quantity'", 0],
  ['Sum: computed = price * quantity', 'Enter Enter', '', 1],
  ['Pr', 'ArrowDown Enter', 'Price', 0],
])('%j, then %s: the line holds %j, the form %d parts', (typed, keys, stands, blocks) => {
  render(<Line />);
  const line = screen.getByLabelText<HTMLTextAreaElement>('Add a part');
  fireEvent.change(line, { target: { value: typed, selectionEnd: typed.length } });
  for (const key of keys.split(' ')) act(() => void fireEvent.keyDown(line, { key }));
  expect([line.value, screen.getByRole('status').textContent]).toEqual([stands, String(blocks)]);
});
