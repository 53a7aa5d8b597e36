/** @jest-environment jsdom */
import type { Landed } from '@varn/contract';
import { webcrypto } from 'node:crypto';
import { ApiRefusal, NoAnswer, SignedOut } from './client';
import { ownStore } from './ownStore';
import { setSignedOut } from './signedOut';
import { WaitingLine, type WaitingSubmit } from './waitingLine';
import type { Claims } from './claims';

Object.assign(globalThis, { crypto: webcrypto });

/** Claims of two windows of one browser: what one holds, the other has not. */
function claimsOfTwo(): [Claims, Claims] {
  const held = new Map<string, number>();
  const of = (window: number): Claims => ({
    claim: (id) => {
      if (!held.has(id)) held.set(id, window);
      return Promise.resolve(held.get(id) === window);
    },
    release: (id) => {
      if (held.get(id) === window) held.delete(id);
    },
    unclaimed: (ids) => Promise.resolve(ids.filter((id) => !held.has(id))),
  });
  return [of(1), of(2)];
}

const submit = (writeId: string): Omit<WaitingSubmit, 'place' | 'refused'> => ({
  workbookId: 'w',
  formId: 'f',
  formName: 'Log',
  path: '/api/forms/f/submits',
  body: { writeId, answers: { a: writeId } },
});
const landed = (writeId: string): Landed => ({ writeId, sheetId: 's' }) as Landed;
const refusal = new ApiRefusal({ statusCode: 422, code: 'refused', message: 'pH 19 is over 14.' });

type Answer = 'none' | 'out' | 'refused' | 'written';

describe('submits that wait in line', () => {
  let answers: Answer[];
  let sent: string[];
  let written: string[];
  let lines: WaitingLine[];
  let claims: Claims[];
  let stops: (() => void)[];
  beforeEach(() => {
    jest.useFakeTimers();
    localStorage.clear();
    [answers, sent, written, stops] = [[], [], [], []];
    const own = ownStore('person');
    claims = claimsOfTwo();
    lines = claims.map(
      (each) =>
        new WaitingLine(
          own,
          ({ body }) => {
            sent.push(body.writeId);
            const answer = answers.shift() ?? 'written';
            if (answer === 'none') return Promise.reject(new NoAnswer());
            if (answer === 'out') return Promise.reject(new SignedOut());
            if (answer === 'refused') return Promise.reject(refusal);
            return Promise.resolve(landed(body.writeId));
          },
          each,
        ),
    );
  });
  afterEach(() => {
    for (const stop of stops) stop();
    jest.useRealTimers();
  });
  const open = (window = 0): WaitingLine => {
    const line = lines[window] as WaitingLine;
    stops.push(line.start(({ body }) => void written.push(body.writeId)));
    return line;
  };
  const later = (ms: number): Promise<void> => jest.advanceTimersByTimeAsync(ms);

  test('go in their order, once each, as soon as the server answers, however long that takes', async () => {
    const line = open();
    answers = ['none', 'none', 'none'];
    for (const id of ['1', '2', '3']) line.add(submit(id), new NoAnswer());
    expect(line.snapshot().waiting.map(({ body }) => body.writeId)).toEqual(['1', '2', '3']);
    await later(8000);
    expect([sent, written]).toEqual([['1', '1', '1'], []]);
    expect(line.snapshot().why?.message).toBe('The server does not answer.');
    await later(8000);
    expect(written).toEqual(['1', '2', '3']);
    expect(line.snapshot()).toMatchObject({ waiting: [], refused: [], why: null });
    await later(60_000);
    expect(sent).toEqual(['1', '1', '1', '1', '2', '3']);
  });

  test('outlive the window, with an order of their own where the clock went back', async () => {
    const first = open();
    answers = ['none'];
    first.add(submit('1'), new NoAnswer());
    await later(1000);
    for (const stop of stops.splice(0)) stop();
    jest.setSystemTime(Date.now() - 86_400_000);
    const other = new WaitingLine(ownStore('person'), () => Promise.reject(new NoAnswer()));
    other.add(submit('2'), new NoAnswer());
    expect(other.snapshot().waiting.map(({ body }) => body.writeId)).toEqual(['1', '2']);
  });

  test('are sent by one window at a time', async () => {
    const [one, two] = [open(0), open(1)];
    answers = ['none'];
    one.add(submit('1'), new NoAnswer());
    two.add(submit('2'), new NoAnswer());
    await later(30_000);
    expect([sent, written]).toEqual([
      ['1', '1', '2'],
      ['1', '2'],
    ]);
  });

  test('go on from another window when the one that sent them is closed', async () => {
    const [one, two] = [open(0), open(1)];
    answers = Array<Answer>(20).fill('none');
    one.add(submit('1'), new NoAnswer());
    await later(2000);
    two.add(submit('2'), new NoAnswer());
    stops.shift()?.();
    claims[0]?.release('line');
    answers = [];
    await later(10_000);
    expect(written).toEqual(['1', '2']);
  });

  test('that are refused wait for a person, and hold up nobody', async () => {
    const line = open();
    answers = ['none', 'refused', 'written'];
    for (const id of ['1', '2']) line.add(submit(id), new NoAnswer());
    await later(10_000);
    expect(written).toEqual(['2']);
    expect(line.snapshot().refused).toMatchObject([
      { body: { writeId: '1' }, refused: { message: 'pH 19 is over 14.' } },
    ]);
    await later(60_000);
    expect(sent).toHaveLength(3);
    line.drop('1');
    expect(line.snapshot().refused).toEqual([]);
  });

  test('of whoever is signed out go once they are signed in again', async () => {
    const line = open();
    setSignedOut(true);
    answers = ['out'];
    line.add(submit('1'), new NoAnswer());
    await later(60_000);
    expect(sent).toEqual(['1']);
    setSignedOut(false);
    await later(1);
    expect(written).toEqual(['1']);
  });

  test('go at once when one says so, or when the network is back', async () => {
    const line = open();
    answers = Array<Answer>(6).fill('none');
    line.add(submit('1'), new NoAnswer());
    await later(16_000);
    const tried = sent.length;
    window.dispatchEvent(new Event('online'));
    await later(1);
    expect(sent).toHaveLength(tried + 1);
    line.tryNow();
    await later(1);
    expect(sent).toHaveLength(tried + 2);
  });
});
