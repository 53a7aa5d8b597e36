/** @jest-environment jsdom */
import { act, cleanup, fireEvent, render, screen } from '@testing-library/react';
import { useState } from 'react';
import { later } from './later';

afterEach(cleanup);

function Counter({ of }: { readonly of: string }) {
  const [count, setCount] = useState(0);
  return (
    <button onClick={() => setCount(count + 1)}>
      {of} {count}
    </button>
  );
}

it('keeps what was begun in a part, though the page around it is drawn again; comes at once later on', async () => {
  const { Part, load } = later(() => Promise.resolve(Counter));
  load();
  const page = (of: string) => <Part of={of} />;
  const { rerender, unmount } = render(page('matches'));
  expect(screen.queryByRole('button')).toBeNull();
  await act(async () => Promise.resolve());
  const button = screen.getByRole('button');
  fireEvent.click(button);
  rerender(page('all'));
  expect(screen.getByRole('button').textContent).toBe('all 1');
  expect(screen.getByRole('button')).toBe(button);
  unmount();
  render(page('again'));
  expect(screen.getByRole('button').textContent).toBe('again 0');
});
