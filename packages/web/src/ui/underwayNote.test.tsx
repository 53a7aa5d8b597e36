/** @jest-environment jsdom */
import { ChakraProvider } from '@chakra-ui/react';
import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { fakeServer, refused } from '../testing/fakeServer';
import { system } from '../theme/system';
import { UnderwayNote } from './UnderwayNote';

afterEach(cleanup);

test('a large write tells how far it is, is stopped by a key, and says when that is too late', async () => {
  let [share, isLate] = [null as number | null, false];
  const asked = fakeServer(({ method }) => {
    if (method === 'GET') return { status: 200, body: { share } };
    return isLate ? refused(409, 'tooLate', 'It is already stored.') : { status: 204 };
  });
  const { unmount } = render(
    <ChakraProvider value={system}>
      <UnderwayNote workbookId="w" writeId="one" />
    </ChakraProvider>,
  );
  await waitFor(() => expect(asked.length).toBeGreaterThan(0), { timeout: 3000 });
  // Not under way yet, it says nothing.
  expect(screen.queryByRole('progressbar')).toBeNull();
  share = 0.42;
  const bar = await screen.findByRole('progressbar', undefined, { timeout: 3000 });
  expect(bar.getAttribute('aria-valuenow')).toBe('42');
  const stop = screen.getByRole('button', { name: 'Stop and change nothing' });
  expect(document.activeElement).toBe(stop);
  fireEvent.click(stop);
  await waitFor(() => expect(asked.some(({ method }) => method === 'DELETE')).toBe(true));
  expect(screen.getByRole('status').textContent).toBe('Stopping…');
  isLate = true;
  fireEvent.click(stop);
  await waitFor(() => expect(screen.getByRole('status').textContent).toBe('It is already stored.'));
  unmount();
  const before = asked.length;
  await new Promise((resolve) => setTimeout(resolve, 600));
  expect(asked.length).toBe(before);
});
