/** @jest-environment jsdom */
import type { Landed, SheetView } from '@varn/contract';
import type { Block, Column } from '@varn/core';
import { act, cleanup, render, waitFor } from '@testing-library/react';
import fc from 'fast-check';
import { useState, type ReactNode } from 'react';
import { MemoryRouter } from 'react-router';
import { SWRConfig } from 'swr';
import { get } from '../api/client';
import { useBegunWork, type Begun } from '../api/useBegunWork';
import { useSendingLine, useWaitingLine } from '../api/useWaitingLine';
import type { LineState } from '../api/waitingLine';
import { fakeServer, refused, type Answered, type Asked } from '../testing/fakeServer';
import { formView, sheetView } from '../testing/views';
import type { BegunRecord } from './useBegunRecord';
import { useDesk, type Desk } from './useDesk';
import { useDeskPlace, type DeskPlace } from './useDeskPlace';

let person = 0;
jest.mock('../api/resources', () => ({
  useSession: () => ({ data: { person: { id: `wyn ${person}` } } }),
}));

const column = (id: string, kind: Column['kind'], settings = {}): Column<string> => ({
  id,
  heading: id.toUpperCase(),
  kind,
  settings,
});
const SHEET: SheetView = sheetView({
  columns: [column('no', 'text', { key: true }), column('day', 'text')],
  count: 0,
});
const blocks: Block[] = ['no', 'day'].map((columnId) => ({
  is: 'field',
  id: `f-${columnId}`,
  columnId,
}));
const FORM = formView(SHEET, { definition: { blocks } });
const wait = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));

function Around({ children }: { children: ReactNode }) {
  return (
    <SWRConfig value={{ provider: () => new Map(), fetcher: get, shouldRetryOnError: false }}>
      <MemoryRouter>{children}</MemoryRouter>
    </SWRConfig>
  );
}

/** What was stored, in order, and how often anything was asked to be. */
function serverThat(latencies: readonly number[], refuses: ReadonlySet<string>) {
  const stored = new Map<string, Record<string, string>>();
  let at = 0;
  const answer = async ({ method, path, body }: Asked): Promise<Answered> => {
    if (method !== 'POST' || !path.endsWith('/submits')) return { status: 404, body: {} };
    await wait(latencies[(at += 1) % latencies.length] ?? 0);
    const { writeId, answers } = body as { writeId: string; answers: Record<string, string> };
    if (refuses.has(answers['f-no'] ?? '')) {
      const verdict = { fieldId: 'f-no', columnId: 'no', code: 'keyTaken', message: 'Taken.' };
      return refused(422, 'refused', 'Not written.', { verdicts: [verdict] });
    }
    stored.set(writeId, answers);
    const landed: Landed = {
      writeId,
      seq: stored.size,
      kind: 'recordAdded',
      sheetId: SHEET.id,
      recordId: writeId,
      revision: 1,
      row: 1 + stored.size,
      before: stored.size - 1,
      after: stored.size,
      cells: {},
    };
    return { status: 201, body: landed };
  };
  fakeServer(answer);
  return stored;
}

/** What stands on the screen now. */
interface Now {
  readonly desk: Desk;
  readonly place: DeskPlace;
  readonly begun: Begun<BegunRecord>;
  readonly line: LineState;
}

type On = (now: Now) => void;

/** A record at the desk, as the page draws one: anew for each that is opened. */
function At(props: Pick<Now, 'place' | 'begun'> & { readonly on: On }) {
  const { place, begun, on } = props;
  const [record] = useState(begun.found ? begun.found.record : place.opened.record);
  const desk = useDesk({
    ...{ form: FORM, role: 'owner', gone: '', isNewer: false },
    ...{ onTakeNewer: () => undefined, record, place, begun },
  });
  const line = useWaitingLine();
  on({ desk, place, begun, line });
  return null;
}

function Page({ on }: { readonly on: On }) {
  const begun = useBegunWork<BegunRecord>('form.f', true);
  const place = useDeskPlace(FORM, begun);
  useSendingLine();
  return begun.isReady ? <At key={begun.visit} {...{ place, begun, on }} /> : null;
}

async function openDesk(): Promise<() => Now> {
  let now: Now | undefined;
  const on: On = (drawn) => {
    now = drawn;
  };
  render(<Page on={on} />, { wrapper: Around });
  await waitFor(() => expect(now?.desk.filled.isLoading).toBe(false));
  return () => now as Now;
}

/** `VARN_STREAMS=10000 VARN_SEED=1` tries more of them, and the same ones again. */
const RUNS = Number(process.env['VARN_STREAMS'] ?? 12);
const SEED = process.env['VARN_SEED'];
const TRIED = { numRuns: RUNS, ...(SEED !== undefined && { seed: Number(SEED) }) };

afterEach(cleanup);

test('whatever is typed while others are sent, and refused, each record is stored as it was typed', async () => {
  const latency = fc.oneof(fc.constant(0), fc.integer({ min: 0, max: 30 }));
  const stream = fc.array(
    fc.record({ day: fc.constantFrom('12/11/2026', '2/11/2026', 'x'), pause: latency }),
    { minLength: 1, maxLength: 6 },
  );
  await fc.assert(
    fc.asyncProperty(
      stream,
      fc.array(latency, { minLength: 1, maxLength: 6 }),
      fc.array(fc.nat(5), { maxLength: 2 }),
      async (records, latencies, refusedOnes) => {
        localStorage.clear();
        person += 1;
        const refuses = new Set(refusedOnes.map((n) => `K-${n}`));
        const stored = serverThat(latencies, refuses);
        const now = await openDesk();
        for (const [n, { day, pause }] of records.entries()) {
          // Key by key, as it is typed.
          for (const [id, text] of [
            ['f-no', `K-${n}`],
            ['f-day', day],
          ] as const) {
            for (let to = 1; to <= text.length; to += 1) {
              act(() => now().desk.filled.type(id, text.slice(0, to)));
            }
          }
          act(() => now().desk.submit());
          // The next one begins at once, with nothing of the last.
          expect(now().desk.filled.answers).toEqual({});
          if (pause > 0) await act(() => wait(pause));
        }
        await waitFor(() => expect(now().line.waiting).toEqual([]));
        const typed = records.map(({ day }, n) => ({ 'f-no': `K-${n}`, 'f-day': day }));
        const isRefused = (each: { 'f-no': string }): boolean => refuses.has(each['f-no']);
        expect([...stored.values()]).toEqual(typed.filter((each) => !isRefused(each)));
        // What was refused waits as it was typed, and stands in nobody's way.
        expect(now().line.refused.map(({ body }) => body.answers)).toEqual(typed.filter(isRefused));
        expect([now().desk.busy, now().desk.onItsWay, now().desk.filled.begun]).toEqual([
          false,
          0,
          false,
        ]);
        const written = now().desk.acts.flatMap((each) => (each.is === 'written' ? [each] : []));
        expect(written.map(({ filled }) => filled?.answers)).toEqual([...stored.values()]);
        cleanup();
      },
    ),
    TRIED,
  );
}, 3_600_000);

test('a correction that is stored is begun no more, whenever its event and its answer come', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.integer({ min: 0, max: 20 }),
      fc.constantFrom(0, 0, 400),
      fc.boolean(),
      fc.constantFrom('12/11/2026', '2/11/2026'),
      async (latency, slow, isQuestion, day) => {
        localStorage.clear();
        person += 1;
        const cells = ['K-1', '1/1/2026'];
        let revision = 1;
        fakeServer(async ({ method, path, body }): Promise<Answered> => {
          const record = { id: 'r1', revision, cells };
          if (method === 'PATCH') {
            await wait(latency);
            const { answers, writeId } = body as {
              answers: Record<string, string>;
              writeId: string;
            };
            cells[1] = answers['f-day'] ?? '';
            revision += 1;
            const landed: Landed = {
              ...{ writeId, seq: 1, kind: 'recordChanged', sheetId: SHEET.id, recordId: 'r1' },
              ...{ revision, row: 5, before: 1, after: 1 },
              cells: { no: cells[0] ?? null, day: cells[1] },
            };
            return { status: 200, body: landed };
          }
          // What is read anew may come late, behind the pause after which work is kept.
          if (revision > 1 && path.includes('/rows?')) await wait(slow);
          if (path.includes('/history')) return { status: 200, body: { entries: [] } };
          if (path.includes('/records/')) {
            return { status: 200, body: { record, row: 5, position: 0, count: 1 } };
          }
          return { status: 200, body: { from: 0, count: 1, records: [record], gridRows: [5] } };
        });
        const now = await openDesk();
        const question = { filters: [{ columnId: 'no', says: 'K-1' }] };
        if (isQuestion) act(() => now().place.showFirst(question));
        else act(() => now().place.goTo('r1'));
        await waitFor(() => expect(now().desk.filled.answers['f-day']).toBe('1/1/2026'));
        act(() => now().desk.filled.type('f-day', day));
        act(() => now().desk.filled.leave('f-day'));
        await act(() => wait(300));
        act(() => now().desk.submit());
        await waitFor(() => expect(now().desk.sending.is).toBe('written'));
        // What is shown of the record is read anew, and nothing is typed since.
        await act(() => wait(350 + slow));
        act(() => now().place.step('on'));
        await act(() => wait(50));
        expect(now().begun.all()).toEqual([]);
        cleanup();
      },
    ),
    TRIED,
  );
}, 3_600_000);
