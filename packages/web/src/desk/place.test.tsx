/** @jest-environment jsdom */
import type { RecordView, SheetView } from '@varn/contract';
import type { Block, Column, Question } from '@varn/core';
import { act, renderHook, waitFor } from '@testing-library/react';
import type { ReactNode } from 'react';
import { MemoryRouter } from 'react-router';
import { SWRConfig } from 'swr';
import { get } from '../api/client';
import { useBegunWork } from '../api/useBegunWork';
import { useFilling } from '../form/useFilling';
import { fakeServer, type Answered, type Asked } from '../testing/fakeServer';
import { formView, sheetView } from '../testing/views';
import { openRecord, storedOtherwise, copiedAnswers, type OpenRecord } from './openRecord';
import type { BegunRecord } from './useBegunRecord';
import { useDeskPlace, viewOf } from './useDeskPlace';
import { useSettling } from './useSettling';

jest.mock('../api/resources', () => ({ useSession: () => ({ data: { person: { id: 'wyn' } } }) }));

const column = (id: string, kind: Column['kind'], settings = {}): Column<string> => ({
  id,
  heading: id.toUpperCase(),
  kind,
  settings,
});
const SHEET: SheetView = sheetView({
  columns: [column('no', 'text', { key: true }), column('ph', 'number'), column('day', 'date')],
  count: 5,
});
const blocks: Block[] = ['no', 'ph', 'day'].map((columnId) => ({
  is: 'field',
  id: `f-${columnId}`,
  columnId,
  ...(columnId === 'day' && { start: { kind: 'today' } }),
}));
const FORM = formView(SHEET, { definition: { blocks } });
const record = (n: number, ph = n, revision = 1): RecordView => ({
  id: `r${n}`,
  revision,
  cells: [`K-${n}`, ph, '2026-11-24'],
});
const QUESTION: Question = { filters: [{ columnId: 'ph', says: '>= 2' }] };

/** Five records, of which the last three answer to the question. */
function rowsFor({ path }: Asked): Answered {
  const url = new URL(path, 'http://varn');
  const all = [0, 1, 2, 3, 4];
  const found = url.searchParams.has('view') ? all.filter((n) => n >= 2) : all;
  const one = /records\/r(\d)$/.exec(url.pathname)?.[1];
  if (one !== undefined) {
    const n = Number(one);
    return { status: 200, body: { record: record(n), row: 5 + n, position: n, count: 5 } };
  }
  const from = Number(url.searchParams.get('from'));
  const count = Number(url.searchParams.get('count'));
  const shown = found.slice(from, from + count);
  return {
    status: 200,
    body: {
      from,
      count: found.length,
      records: shown.map((n) => record(n)),
      gridRows: shown.map((n) => 5 + n),
    },
  };
}

const wrapperAt = (address: string) =>
  function Around({ children }: { children: ReactNode }) {
    return (
      <SWRConfig value={{ provider: () => new Map(), fetcher: get, shouldRetryOnError: false }}>
        <MemoryRouter initialEntries={[address]}>{children}</MemoryRouter>
      </SWRConfig>
    );
  };

async function atPlace(address = '/') {
  const hook = renderHook(
    () => {
      const begun = useBegunWork<BegunRecord>('form.f', true);
      const place = useDeskPlace(FORM, begun);
      return { begun, place };
    },
    { wrapper: wrapperAt(address) },
  );
  const now = () => hook.result.current;
  await waitFor(() => expect(now().begun.isReady).toBe(true));
  const open = () => now().place.opened;
  const isAt = (id: string | null, at: number | null) =>
    waitFor(() => expect([open().record?.id ?? null, open().at]).toEqual([id, at]));
  return { now, open, isAt };
}

beforeEach(() => {
  localStorage.clear();
  window.history.replaceState(null, '', '/');
});

describe('where one is at the desk', () => {
  test('steps go through all records, and behind the last a new one begins', async () => {
    fakeServer(rowsFor);
    const { now, isAt } = await atPlace();
    act(() => now().place.step('back'));
    await isAt('r4', 4);
    act(() => now().place.step('back'));
    await isAt('r3', 3);
    act(() => now().place.step('first'));
    await isAt('r0', 0);
    act(() => now().place.step('back'));
    await isAt('r0', 0);
    act(() => now().place.step(2));
    await isAt('r2', 2);
    act(() => now().place.step('last'));
    await isAt('r4', 4);
    act(() => now().place.step('on'));
    await isAt(null, null);
  });

  test('a question is stepped through by its matches, stands in the address, and goes', async () => {
    fakeServer(rowsFor);
    const { now, open, isAt } = await atPlace();
    act(() => now().place.showFirst(QUESTION));
    await isAt('r2', 0);
    expect([open().of, now().place.view]).toEqual([3, viewOf(QUESTION)]);
    act(() => now().place.step('on'));
    await isAt('r3', 1);
    await waitFor(() => expect(window.location.search).toBe('?is.ph=%3E%3D%202&record=r3'));
    // Beyond the last match there is nothing more.
    act(() => now().place.step('last'));
    await isAt('r4', 2);
    act(() => now().place.step('on'));
    await isAt('r4', 2);
    act(() => now().place.ask({ filters: [] }));
    act(() => now().place.goTo('r1'));
    await isAt('r1', 1);
    await waitFor(() => expect(window.location.search).toBe('?record=r1'));
  });

  test('an address that was handed over opens its record among its matches', async () => {
    fakeServer(rowsFor);
    const { now, isAt } = await atPlace('/?is.ph=%3E%3D%202&record=r3');
    await isAt('r3', 1);
    expect(now().place.question).toEqual(QUESTION);
  });

  test('a copy begins afresh, and what was begun before waits as it was', async () => {
    fakeServer(rowsFor);
    const { now, isAt } = await atPlace();
    const begun: BegunRecord = { typed: { 'f-ph': '7' }, record: null };
    act(() => now().begun.keep(begun));
    act(() => now().place.step('back'));
    await isAt('r4', 4);
    act(() => now().place.goToNew({ copied: { answers: { 'f-ph': '4' }, from: 'K-4' } }));
    await isAt(null, null);
    expect(now().begun.found).toBeNull();
    await waitFor(() => expect(now().begun.waiting).toBe(1));
    expect(now().begun.all()).toEqual([begun]);
  });

  test('of a match that matches no more the next one stands in its place', async () => {
    let isFirst = true;
    fakeServer((asked) => {
      if (isFirst || !asked.path.includes('rows?')) return rowsFor(asked);
      // r2 was corrected, and is found no more.
      const records = [record(3), record(4)];
      return { status: 200, body: { from: 0, count: 2, records, gridRows: [8, 9] } };
    });
    const { now, isAt } = await atPlace();
    act(() => now().place.showFirst(QUESTION));
    await isAt('r2', 0);
    isFirst = false;
    act(() => now().place.step('on'));
    await isAt('r3', 0);
  });

  test('what can’t be gone to is told, and one stays', async () => {
    fakeServer(({ path }) =>
      path.includes('records/')
        ? { status: 404, body: { statusCode: 404, code: 'notFound', message: 'No such record.' } }
        : rowsFor({ path, method: 'GET', body: {} }),
    );
    const { now, isAt } = await atPlace();
    act(() => now().place.goTo('gone'));
    await waitFor(() => expect(now().place.trouble).toBe('No such record.'));
    await isAt(null, null);
    act(() => now().place.step('last'));
    await isAt('r4', 4);
    expect(now().place.trouble).toBe('');
  });
});

describe('a record that someone else changes meanwhile', () => {
  const OPEN: OpenRecord = openRecord(record(1, 7), 6, SHEET);

  /** @param theirs what is stored by now, told when it is asked for again */
  async function correcting(theirs: () => Answered) {
    fakeServer(({ path }) =>
      path.endsWith('/history')
        ? {
            status: 200,
            body: { entries: [{ kind: 'recordChanged', by: 'Ulla', at: 1, changes: [] }] },
          }
        : theirs(),
    );
    const hook = renderHook(
      () => {
        const filled = useFilling(FORM, {
          stored: () => ({ 'f-no': 'K-1', 'f-ph': '7', 'f-day': '24/11/2026' }),
        });
        return { filled, settling: useSettling(OPEN, filled, SHEET) };
      },
      { wrapper: wrapperAt('/') },
    );
    const now = () => hook.result.current;
    await waitFor(() => expect(now().filled.isLoading).toBe(false));
    return { now };
  }
  const stored = (of: RecordView): Answered => ({
    status: 200,
    body: { record: of, row: 6, position: 1, count: 5 },
  });

  test('is brought in where I changed nothing, with who and what', async () => {
    const { now } = await correcting(() => stored(record(1, 8, 2)));
    await waitFor(() => expect(now().filled.answers['f-ph']).toBe('8'));
    expect(now().settling.base?.revision).toBe(2);
    expect(now().settling.taken).toEqual(['f-ph']);
    await waitFor(() => expect(now().settling.by?.name).toBe('Ulla'));
    expect(now().settling.contests).toEqual([]);
  });

  test.each(['mine', 'theirs'] as const)('is to be decided where both did: %s', async (whose) => {
    let answer: (answered: Answered) => void = () => undefined;
    fakeServer(
      ({ path }) =>
        new Promise((resolve) => {
          if (path.endsWith('/history')) resolve({ status: 200, body: { entries: [] } });
          else answer = resolve;
        }),
    );
    const hook = renderHook(
      () => {
        const filled = useFilling(FORM, { stored: () => ({ 'f-no': 'K-1', 'f-ph': '7' }) });
        return { filled, settling: useSettling(OPEN, filled, SHEET) };
      },
      { wrapper: wrapperAt('/') },
    );
    const now = () => hook.result.current;
    await waitFor(() => expect(now().filled.isLoading).toBe(false));
    act(() => now().filled.type('f-ph', '9'));
    act(() => answer(stored(record(1, 8, 2))));
    await waitFor(() => expect(now().settling.contests).toHaveLength(1));
    expect(now().settling.contests).toEqual([{ inputId: 'f-ph', mine: '9', theirs: '8' }]);
    expect(now().filled.answers['f-ph']).toBe('9');
    act(() => now().settling.decide('f-ph', whose));
    expect(now().filled.answers['f-ph']).toBe(whose === 'mine' ? '9' : '8');
    expect(now().settling.contests).toEqual([]);
  });

  test('or deletes, is told as gone', async () => {
    const { now } = await correcting(() => ({
      status: 404,
      body: { statusCode: 404, code: 'notFound', message: 'Gone.' },
    }));
    await waitFor(() => expect(now().settling.isGone).toBe(true));
  });

  test('what differs is told by field; a copy leaves out what begins afresh', async () => {
    const { now } = await correcting(() => stored(record(1, 7)));
    act(() => now().filled.type('f-ph', '7.5'));
    expect([...storedOtherwise(OPEN, now().filled)]).toEqual([['f-ph', '7']]);
    act(() => now().filled.type('f-ph', '7'));
    expect(storedOtherwise(OPEN, now().filled).size).toBe(0);
    expect(copiedAnswers(OPEN, now().filled)).toEqual({ 'f-ph': '7' });
  });
});
