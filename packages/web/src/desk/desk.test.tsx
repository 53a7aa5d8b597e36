/** @jest-environment jsdom */
import type { FormView, Landed, Refusal } from '@varn/contract';
import { act, renderHook, waitFor } from '@testing-library/react';
import * as fc from 'fast-check';
import type { Submission } from '../form/filledIn';
import { fakeServer, type Asked } from '../testing/fakeServer';
import { lookedAddress, lookedOfAddress, type Looked } from './deskAddress';
import { atDesk, BLANK_DESK, type DeskEvent, type DeskState } from './deskState';
import { useSubmit, type SentSubmit } from './useSubmit';

const landedAs = (writeId: string, kind: Landed['kind'] = 'recordAdded'): Landed => ({
  writeId,
  seq: 1,
  kind,
  sheetId: 's',
  recordId: 'r',
  revision: 1,
  row: 5,
  before: 1,
  after: 2,
  cells: {},
});
const filled = { answers: { a: '1' }, untouched: new Set<string>() };

describe('the desk', () => {
  const after = (...events: DeskEvent[]): DeskState => events.reduce(atDesk, BLANK_DESK);

  test.each<[what: string, events: DeskEvent[], state: Partial<DeskState>]>([
    ['is held back', [{ is: 'heldBack' }], { step: { is: 'heldBack' } }],
    [
      'goes on when pressed again',
      [{ is: 'heldBack' }, { is: 'pressed' }],
      { step: { is: 'entering' } },
    ],
    ['asks', [{ is: 'asked', erasing: ['Care'] }], { step: { is: 'asked', erasing: ['Care'] } }],
    [
      'asks no more once it is written',
      [
        { is: 'asked', erasing: ['Care'] },
        { is: 'written', said: 'Thank you' },
      ],
      { step: { is: 'entering' }, said: 'Thank you' },
    ],
    [
      'says nothing of the last record while the next is sent',
      [{ is: 'written', said: 'x' }, { is: 'pressed' }],
      { said: '' },
    ],
    ['clears', [{ is: 'cleared', filled }], { acts: [{ is: 'cleared', filled }] }],
    ['clears what was blank without a trace', [{ is: 'cleared', filled: null }], { acts: [] }],
    [
      'takes back the last first',
      [{ is: 'landed', landed: landedAs('1') }, { is: 'cleared', filled }, { is: 'takenBack' }],
      { acts: [{ is: 'written', landed: landedAs('1') }] },
    ],
  ])('%s', (_what, events, state) => {
    expect(after(...events)).toMatchObject(state);
  });

  test('notes each write once, however often it is told, and takes back as many as were done', () => {
    const event: fc.Arbitrary<DeskEvent> = fc.oneof(
      fc.constantFrom('1', '2', '3').map((id) => ({ is: 'landed' as const, landed: landedAs(id) })),
      fc.constant({ is: 'cleared' as const, filled }),
      fc.constant({ is: 'takenBack' as const }),
      fc.constant({ is: 'pressed' as const }),
    );
    fc.assert(
      fc.property(fc.array(event), (events) => {
        const { acts } = after(...events);
        const written = acts.flatMap((each) => (each.is === 'written' ? each.landed.writeId : []));
        expect(new Set(written).size).toBe(written.length);
        expect(atDesk({ ...BLANK_DESK, acts }, { is: 'takenBack' }).acts).toEqual(
          acts.slice(0, -1),
        );
      }),
    );
  });
});

describe('a submit', () => {
  type Answer = { status: number; body: Landed | Partial<Refusal> } | 'none';
  let answers: Answer[] = [];
  let asked: Asked[] = [];
  beforeEach(() => {
    answers = [];
    asked = fakeServer(() => answers.shift() ?? 'none');
  });

  const form = { id: 'f', version: 3, sheet: { id: 's', workbookId: 'w' } } as FormView;
  const sent: Submission['sent'] = { answers: { a: '7' }, untouched: [], pressedAt: 5 };
  const submitting = (options = {}) => {
    const told: boolean[] = [];
    const sentOff: SentSubmit[] = [];
    const onIdUsed = jest.fn();
    const hook = renderHook(() =>
      useSubmit(form, {
        writeId: 'id-1',
        onSent: (each) => void sentOff.push(each),
        onAnswered: (isWritten) => void told.push(isWritten),
        onIdUsed,
        ...options,
      }),
    );
    return { ...hook, told, sentOff, onIdUsed, now: () => hook.result.current };
  };

  test('goes once with its write id and version, however often it is pressed', async () => {
    answers = [{ status: 201, body: landedAs('id-1') }];
    const { now, told, sentOff } = submitting();
    const then = jest.fn();
    act(() => {
      now().submit(sent, then);
      now().submit(sent, then);
    });
    expect(now().sending.is).toBe('sending');
    await waitFor(() => expect(now().sending.is).toBe('written'));
    expect(asked).toEqual([
      {
        method: 'POST',
        path: '/api/forms/f/submits',
        body: { writeId: 'id-1', ...sent, version: 3 },
      },
    ]);
    expect([told, sentOff.length, then.mock.calls.length]).toEqual([[true], 1, 1]);
  });

  test('without an answer is kept, and goes again as it was until there is one', async () => {
    answers = ['none', { status: 503, body: {} }, { status: 201, body: landedAs('id-1') }];
    const { now, told } = submitting();
    act(() => now().submit(sent, () => undefined));
    for (let attempt = 1; attempt < 3; attempt += 1) {
      await waitFor(() => expect(asked).toHaveLength(attempt));
      await waitFor(() => expect(now().sending.is).toBe('notWritten'));
      act(() => now().tryNow());
    }
    await waitFor(() => expect(now().sending.is).toBe('written'));
    expect(new Set(asked.map(({ body }) => JSON.stringify(body))).size).toBe(1);
    expect(told).toEqual([true]);
  });

  test.each<[code: string, status: number, renews: boolean, says: RegExp]>([
    ['invalid', 422, false, /^No number/],
    ['changedSince', 409, false, /^No number/],
    ['writeIdUsed', 409, true, /another window/],
  ])('refused by %s keeps what was typed and says why', async (code, status, renews, says) => {
    const verdicts = [
      { fieldId: 'a', columnId: 'a', code: 'x', message: 'm', strictness: 'refuse' as const },
    ];
    answers = [{ status, body: { statusCode: status, code, message: 'No number.', verdicts } }];
    const { now, told, onIdUsed } = submitting();
    act(() => now().submit(sent, () => undefined));
    await waitFor(() => expect(now().sending.is).toBe('refused'));
    expect(now().sending).toMatchObject({ verdicts, answers: sent.answers });
    expect(now().sending).toHaveProperty('message', expect.stringMatching(says));
    expect([told, onIdUsed.mock.calls.length > 0]).toEqual([[false], renews]);
    act(() => now().forget());
    expect(now().sending.is).toBe('idle');
  });

  test('that is an update names its record and revision; a trial has no version', async () => {
    answers = [landedAs('id-1'), landedAs('id-1')].map((body) => ({ status: 200, body }));
    const update = submitting();
    act(() => update.now().update({ id: 'r', revision: 4 }, sent, () => undefined));
    await waitFor(() => expect(update.now().sending.is).toBe('written'));
    const trial = submitting({ trial: true });
    act(() => trial.now().submit(sent, () => undefined));
    await waitFor(() => expect(trial.now().sending.is).toBe('written'));
    expect(asked.map(({ method, body }) => [method, body['revision'], body['version']])).toEqual([
      ['PATCH', 4, 3],
      ['POST', undefined, undefined],
    ]);
  });

  test('is taken back and put back, and says which', async () => {
    const kinds = ['recordRemoved', 'recordPutBack'] as const;
    answers = kinds.map((kind) => ({
      status: 200,
      body: { records: [landedAs('u', kind)] } as unknown as Landed,
    }));
    const { now } = submitting();
    act(() => now().undo(landedAs('id-1')));
    await waitFor(() => expect(now().sending.is).toBe('takenBack'));
    act(() => now().undo(landedAs('u')));
    await waitFor(() => expect(now().sending.is).toBe('written'));
    expect(asked.map(({ body }) => body['undoes'])).toEqual(['id-1', 'u']);
  });

  test('of a page that was left waits no more', async () => {
    const { now, unmount, told } = submitting();
    act(() => now().submit(sent, () => undefined));
    await waitFor(() => expect(now().sending.is).toBe('notWritten'));
    unmount();
    await Promise.resolve();
    expect([told, asked.length <= 2]).toEqual([[], true]);
  });
});

test('what is looked at is the same again by its address', () => {
  const id = fc.string({ unit: 'grapheme', minLength: 1, maxLength: 8 });
  const says = fc.string({ unit: 'grapheme', minLength: 1 }).filter((text) => text.trim() !== '');
  const looked: fc.Arbitrary<Looked> = fc.record({
    question: fc.record({
      filters: fc.uniqueArray(fc.record({ columnId: id, says }), {
        selector: ({ columnId }) => columnId,
        maxLength: 3,
      }),
    }),
    order: fc.array(fc.record({ columnId: id, falling: fc.boolean() }), { maxLength: 4 }),
    shown: fc.option(fc.array(id, { minLength: 1, maxLength: 4 })),
  });
  fc.assert(
    fc.property(looked, (each) => {
      expect(lookedOfAddress(`${lookedAddress(each)}&record=r`)).toEqual(each);
    }),
  );
});
