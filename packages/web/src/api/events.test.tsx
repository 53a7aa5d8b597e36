/** @jest-environment jsdom */
import { act, renderHook } from '@testing-library/react';
import { useWorkbookEvents } from './events';

jest.mock('./resources', () => ({ useSession: () => ({ data: { person: { id: 'wyn' } } }) }));

/** A stream as browsers open them (WHATWG HTML, 9.2), told of what comes by the test. */
class Stream extends EventTarget {
  static readonly CLOSED = 2;
  static readonly opened: Stream[] = [];
  readyState = 1;
  onmessage: ((event: MessageEvent<string>) => void) | null = null;
  onerror: (() => void) | null = null;
  constructor(readonly url: string) {
    super();
    Stream.opened.push(this);
  }
  close(): void {
    this.readyState = Stream.CLOSED;
  }
}

test('a stream that gave way is opened again when one comes back, from where it was', () => {
  Object.assign(globalThis, { EventSource: Stream });
  const hook = renderHook(() => useWorkbookEvents('w', 7));
  const [first] = Stream.opened;
  const change = { seq: 9, kind: 'recordChanged', sheetId: 's', personId: 'other' };
  act(() => first?.onmessage?.(new MessageEvent('message', { data: JSON.stringify(change) })));
  act(() => void first?.dispatchEvent(new Event('gaveWay')));
  expect([first?.readyState, hook.result.current, Stream.opened.length]).toEqual([2, true, 1]);
  act(() => void dispatchEvent(new Event('focus')));
  act(() => void dispatchEvent(new Event('focus')));
  expect(hook.result.current).toBe(false);
  expect(Stream.opened.map(({ url }) => url)).toEqual(
    ['after=7', 'after=9'].map((after) => expect.stringContaining(after) as string),
  );
  hook.unmount();
  act(() => void dispatchEvent(new Event('focus')));
  expect(Stream.opened.map(({ readyState }) => readyState)).toEqual([2, 2]);
});
