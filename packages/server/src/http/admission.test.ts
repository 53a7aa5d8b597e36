import fastify, { type FastifyRequest } from 'fastify';
import * as fc from 'fast-check';
import { SharedTurns } from '../turns/sharedTurns';
import { Admission } from './admission';
import { FairLines } from '../turns/fairLines';

const nextTurn = (): Promise<void> => new Promise((resolve) => setImmediate(resolve));
const busy = (ms: number): void => {
  for (const until = performance.now() + ms; performance.now() < until;);
};

test('whoever waits is served in the order they asked, and nobody waits for more than one of each other', () => {
  const step = fc.oneof(fc.constantFrom('a', 'b', 'c', 'd'), fc.constant(null));
  fc.assert(
    fc.property(fc.array(step, { maxLength: 60 }), (steps) => {
      const lines = new FairLines<{ who: string; n: number }>();
      const waiting = new Map<string, number[]>();
      /** Who was served since, by who waits at the head of their line. */
      const served = new Map<string, string[]>();
      for (const [n, who] of [...steps, ...steps.map(() => null)].entries()) {
        if (who !== null) {
          lines.add(who, { who, n });
          waiting.set(who, [...(waiting.get(who) ?? []), n]);
          if (!served.has(who)) served.set(who, []);
          continue;
        }
        const taken = lines.take();
        if (!taken) continue;
        // Each one's in their order.
        const line = waiting.get(taken.who) ?? [];
        expect(line.shift()).toBe(taken.n);
        served.delete(taken.who);
        if (line.length === 0) waiting.delete(taken.who);
        else served.set(taken.who, []);
        for (const others of served.values()) others.push(taken.who);
        for (const others of served.values()) expect(new Set(others).size).toBe(others.length);
      }
      expect([lines.size, waiting.size]).toEqual([0, 0]);
    }),
  );
});

test('who is late is served where nobody else waits, and once in a while else', () => {
  const coming = fc.array(fc.tuple(fc.constantFrom('a', 'b', 'c'), fc.boolean()), {
    maxLength: 80,
  });
  fc.assert(
    fc.property(coming, fc.nat(20), (all, before) => {
      const lines = new FairLines<{ isLate: boolean }>();
      for (let n = 0; n < before; n += 1) lines.take();
      for (const [who, isLate] of all) lines.add(who, { isLate }, isLate);
      const taken = all.map(() => lines.take()?.isLate);
      const [late, prompt] = [true, false].map((is) => taken.filter((each) => each === is).length);
      expect([late, prompt]).toEqual(
        [true, false].map((is) => all.filter(([, isLate]) => isLate === is).length),
      );
      const lastPrompt = taken.lastIndexOf(false);
      const early = taken.slice(0, lastPrompt + 1).flatMap((isLate, n) => (isLate ? [n] : []));
      // Each of them is the eighth after the last.
      for (const [n, at] of early.entries()) if (n > 0) expect(at - (early[n - 1] ?? 0)).toBe(8);
      if (late && lastPrompt >= 0)
        expect(early.length).toBeGreaterThanOrEqual(Math.min(late, Math.floor(lastPrompt / 8)));
    }),
  );
});

test.each<[how: string, work: () => void]>([
  ['at once', () => busy(5)],
  ['after what it waits for is there already', () => void Promise.resolve().then(() => busy(5))],
])('a turn begins pieces for its time, also of those who work %s', async (_how, work) => {
  const turnOf: number[] = [];
  let turn = 0;
  let left = 9;
  const shared = new SharedTurns(8, () => {
    if (left === 0) return undefined;
    left -= 1;
    return () => {
      turnOf.push(turn);
      work();
    };
  });
  shared.wake();
  for (; turn < 40; turn += 1) await nextTurn();
  const inOne = turnOf.map((each) => turnOf.filter((other) => other === each).length);
  expect([turnOf.length, Math.max(...inOne)]).toEqual([9, 2]);
  // What comes when all is done is begun as well.
  left = 1;
  shared.wake();
  await nextTurn();
  await nextTurn();
  expect(turnOf.length).toBe(10);
});

describe('requests', () => {
  /** A server whose requests are let in, and begun only while it is open. */
  async function waitingRoom(bounds?: { ofAll: number; ofOne: number }) {
    const server = fastify();
    const admission = new Admission();
    const begun: string[] = [];
    const asked = ({ url, raw }: FastifyRequest) => {
      const [, who = '', what = ''] = url.split('/');
      if (who === 'gone') raw.destroy();
      return who === 'health' ? null : { who, isUrgent: what === 'write', isLate: what === 'late' };
    };
    admission.guard(server, asked, bounds);
    server.get('*', ({ url }) => {
      begun.push(url);
      // Whoever came meanwhile has to wait: nobody is heard.
      if (url.endsWith('slow')) busy(50);
      return 'done';
    });
    const base = await server.listen({ port: 0, host: '127.0.0.1' });
    const get = async (path: string) => {
      const response = await fetch(`${base}/${path}`);
      await response.text();
      return response;
    };
    return { server, admission, begun, get };
  }

  test('of one who asks often wait behind their own, writes go before what reads, health waits for nobody', async () => {
    const { server, admission, begun, get } = await waitingRoom();
    // Connections that stand already, so that all ask within one turn.
    await Promise.all(Array.from({ length: 24 }, (_, n) => get(`health/${n}`)));
    begun.length = 0;
    const many = Array.from({ length: 12 }, (_, n) => get(`many/read${n}slow`));
    const others = ['one/read', 'two/write', 'health/now'].map(get);
    await Promise.all([...many, ...others]);
    const placeOf = (url: string) => begun.indexOf(url);
    expect(placeOf('/one/read')).toBeLessThan(placeOf('/many/read3slow'));
    expect(placeOf('/two/write')).toBeLessThan(placeOf('/many/read3slow'));
    expect(admission.view()).toEqual({ waiting: 0, oldest: 0 });
    await server.close();
  });

  test('over the bound are told at once when to come again; who has gone is not begun', async () => {
    const { server, begun, get } = await waitingRoom({ ofAll: 8, ofOne: 5 });
    await Promise.all(Array.from({ length: 12 }, (_, n) => get(`health/${n}`)));
    const answers = await Promise.all(Array.from({ length: 12 }, () => get('many/slow')));
    const away = answers.filter(({ status }) => status === 503);
    // Those who were turned away were not begun, and all others were.
    expect(begun.filter((url) => url === '/many/slow').length).toBe(12 - away.length);
    expect(away.length).toBeGreaterThan(0);
    for (const { headers } of away) expect(Number(headers.get('retry-after'))).toBeGreaterThan(0);
    await expect(get('gone/read')).rejects.toThrow();
    expect((await get('many/again')).status).toBe(200);
    expect(begun).not.toContain('/gone/read');
    await server.close();
  });
});
