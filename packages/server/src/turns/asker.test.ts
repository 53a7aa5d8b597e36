import { paths, type CountsView } from '@varn/contract';
import * as fc from 'fast-check';
import { start, type Running } from '../testing/harness';
import { Costs } from './costs';

test('what someone has spent weighs for about a minute, and on nobody else', () => {
  let now = 0;
  const clock = jest.spyOn(performance, 'now').mockImplementation(() => now);
  const spent = fc.record({ ms: fc.nat(4000), pause: fc.nat(2000) });
  fc.assert(
    fc.property(fc.array(spent, { maxLength: 30 }), (all) => {
      const costs = new Costs();
      for (const { ms, pause } of all) {
        costs.add('busy', ms);
        now += pause;
      }
      const sum = all.reduce((total, { ms }) => total + ms, 0);
      if (sum <= 15_000) expect(costs.isMuch('busy')).toBe(false);
      const long = all.reduce((total, { pause }) => total + pause, 0);
      // All of it was spent since, and counts a quarter of it at least.
      if (sum > 60_000 && long <= 60_000) expect(costs.isMuch('busy')).toBe(true);
      expect(costs.isMuch('other')).toBe(false);
      now += 120_000;
      expect(costs.isMuch('busy')).toBe(sum > 240_000);
    }),
  );
  clock.mockRestore();
});

describe('a question that takes long', () => {
  let running: Running;
  beforeAll(async () => {
    running = await start({ demoSamples: 3000 });
  });
  afterAll(() => running.stop());

  const filters = (holds: string) =>
    Array.from({ length: 100 }, (_, n) => ({
      // All values differ, so that each is held against each.
      columnId: 'samples.number',
      says: `${holds}${'*'.repeat(n % 3)}?*`,
    }));

  test('costs the one who asks, and ends when they have gone', async () => {
    const { owner, base, form, app } = running;
    const path = paths.counts(form.sheet.id);
    const costs = jest.spyOn(app.get(Costs), 'add');
    const spent = () => costs.mock.calls.reduce((sum, [, ms]) => sum + ms, 0);
    const whole = await owner.ask<CountsView>('POST', path, { filters: filters('*') });
    expect(whole.status).toBe(200);
    expect(new Set(costs.mock.calls.map(([who]) => who)).size).toBe(1);
    const [turns, all] = [costs.mock.calls.length, spent()];
    expect(turns).toBeGreaterThan(3);

    costs.mockClear();
    const asks = new AbortController();
    costs.mockImplementationOnce(() => asks.abort());
    const body = JSON.stringify({ filters: filters('?*') });
    const headers = { cookie: owner.cookie, 'content-type': 'application/json' };
    const { signal } = asks;
    await expect(fetch(base + path, { method: 'POST', headers, body, signal })).rejects.toThrow();
    await new Promise((resolve) => setTimeout(resolve, 50 + 2 * all));
    expect(costs.mock.calls.length).toBeLessThan(turns / 2);
    // Whoever asks again is answered.
    expect((await owner.ask('POST', path, { filters: filters('*') })).status).toBe(200);
  });
});
