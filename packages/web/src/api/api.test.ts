import type { ScopedMutator } from 'swr';
import { isBusy, onBusy } from './busy';
import { ApiRefusal, get, NoAnswer, request, sayError } from './client';
import { amend, read, readAgain } from './held';
import { ownStore } from './ownStore';
import { waitBefore } from './insist';

/** What the server is made to answer, next to be asked first. */
const answers: (() => Promise<Response>)[] = [];
const asked: [string, RequestInit | undefined][] = [];
beforeEach(() => {
  answers.length = 0;
  asked.length = 0;
  jest.spyOn(globalThis, 'fetch').mockImplementation((path, init) => {
    asked.push([path as string, init]);
    const next = answers.shift();
    return next ? next() : Promise.reject(new TypeError('failed to fetch'));
  });
});
afterEach(() => jest.restoreAllMocks());

const answer = (status: number, body: unknown = ''): void => {
  const text = typeof body === 'string' ? body : JSON.stringify(body);
  answers.push(() => Promise.resolve(new Response(status === 204 ? null : text, { status })));
};
const failure = async (asking: Promise<unknown>): Promise<unknown> =>
  asking.then(
    () => new Error('it was answered'),
    (error: unknown) => error,
  );

test.each<[status: number, body: unknown, says: string, isRefusal: boolean]>([
  [409, { statusCode: 409, code: 'changedSince', message: 'Look again.' }, 'Look again.', true],
  [413, '<html>too large</html>', 'The server refused (413).', true],
  // It got to answer: told, and not sent again for ever.
  [500, { statusCode: 500, code: 'failed', message: 'It failed.' }, 'It failed.', true],
  [500, '<html>', 'The server failed (500).', true],
  [429, { statusCode: 429, code: 'tooMany', message: 'Wait a minute.' }, 'Wait a minute.', false],
  [504, '', 'The server does not answer. Check the network, then try again.', false],
  [502, '', 'The server does not answer. Check the network, then try again.', false],
])('an answer of %i with %j is told as ‘%s’', async (status, body, says, isRefusal) => {
  answer(status, body);
  const error = await failure(get('/api/x'));
  expect(sayError(error)).toBe(says);
  expect(error instanceof ApiRefusal).toBe(isRefusal);
  expect(error instanceof NoAnswer).toBe(!isRefusal);
});

test('without a network there is no answer; without a body there is one, of nothing', async () => {
  expect(await failure(get('/api/x'))).toBeInstanceOf(NoAnswer);
  answer(204);
  expect(await request('DELETE', '/api/x')).toBeUndefined();
  expect(sayError('odd')).toBe('That did not work. Try again.');
});

test.each<[busy: number, headers: Record<string, string>, ends: unknown, asks: number]>([
  [1, { 'retry-after': '0' }, { ok: true }, 2],
  [3, { 'retry-after': '0' }, { ok: true }, 4],
  // For ever is not waited for; a proxy that says nothing of when is taken at its word.
  [9, { 'retry-after': '0' }, 'none', 6],
  [1, {}, 'none', 1],
])(
  'a server that is busy %i times with %j is asked again by itself',
  async (busy, headers, ends, asks) => {
    for (let n = 0; n < busy; n += 1) {
      answers.push(() => Promise.resolve(new Response('', { status: 503, headers })));
    }
    answer(200, { ok: true });
    const told: boolean[] = [];
    const stop = onBusy(() => told.push(isBusy()));
    const got = await request('POST', '/api/x', {}).catch((error: unknown) =>
      error instanceof NoAnswer ? 'none' : error,
    );
    stop();
    expect([got, asked.length]).toEqual([ends, asks]);
    // It is told as long as it is waited for.
    expect(told).toEqual(Array.from({ length: asks - 1 }, () => [true, false]).flat());
  },
);

test('a body goes as JSON, a file as its bytes', async () => {
  answer(200, { ok: true });
  answer(200, { ok: true });
  const file = new Blob(['a']);
  await request('POST', '/api/x', { a: 1 });
  await request('POST', '/api/files', file);
  expect(
    asked.map(([, init]) => [
      init?.body,
      (init?.headers as Record<string, string>)['content-type'],
    ]),
  ).toEqual([
    ['{"a":1}', 'application/json'],
    [file, 'application/octet-stream'],
  ]);
});

/** What is held, as SWR would: by path, changed where a filter says so. */
function heldOf(cache: Map<string, unknown>): ScopedMutator {
  return ((matches: (key: string) => boolean, change: (held: unknown) => unknown) => {
    for (const [path, held] of cache) if (matches(path)) cache.set(path, change(held));
    return Promise.resolve([]);
  }) as unknown as ScopedMutator;
}

test('what changes while it is read is changed in what arrives; what is held is changed at once', async () => {
  const cache = new Map<string, unknown>([
    ['/api/sheets/a', { count: 1 }],
    ['/api/sheets/b', { count: 1 }],
  ]);
  const mutate = heldOf(cache);
  const count = (to: number) => (held: { count: number }) => ({ ...held, count: to });
  const isSheet = (path: string): boolean => path.startsWith('/api/sheets/');
  let arrive = (_: Response): void => undefined;
  answers.push(() => new Promise((resolve) => (arrive = resolve)));
  const reading = read('/api/sheets/a');
  amend(mutate, isSheet, count(2));
  amend(mutate, isSheet, count(3));
  // What is held of it stays until the answer is here: SWR would drop the answer otherwise.
  expect(cache.get('/api/sheets/a')).toEqual({ count: 1 });
  expect(cache.get('/api/sheets/b')).toEqual({ count: 3 });
  arrive(new Response('{"count":1,"name":"Samples"}'));
  expect(await reading).toEqual({ count: 3, name: 'Samples' });
  amend(mutate, isSheet, count(4));
  expect([...cache.values()]).toEqual([{ count: 4 }, { count: 4 }]);
});

test('of two readings of one place the later takes the changes; one that fails leaves none behind', async () => {
  const cache = new Map<string, unknown>();
  const mutate = heldOf(cache);
  const arrivals: ((response: Response) => void)[] = [];
  for (let n = 0; n < 2; n += 1) {
    answers.push(() => new Promise((resolve) => arrivals.push(resolve)));
  }
  const [first, second] = [read('/api/a'), read('/api/a')];
  amend<number>(
    mutate,
    () => true,
    (held) => held + 10,
  );
  arrivals[0]?.(new Response('1'));
  expect(await first).toBe(1);
  amend<number>(
    mutate,
    () => true,
    (held) => held + 100,
  );
  arrivals[1]?.(new Response('2'));
  expect(await second).toBe(112);
  expect(await failure(read('/api/a'))).toBeInstanceOf(NoAnswer);
  cache.set('/api/a', 5);
  amend<number>(
    mutate,
    () => true,
    (held) => held + 1,
  );
  expect(cache.get('/api/a')).toBe(6);
});

test('what is told to be read anew while it is read is read once more when it is here, however often', async () => {
  const again: string[] = [];
  const paths = ['/api/a', '/api/b'];
  const mutate = ((matches: (key: string) => boolean) => {
    again.push(...paths.filter(matches));
    return Promise.resolve([]);
  }) as unknown as ScopedMutator;
  let arrive = (_: Response): void => undefined;
  answers.push(() => new Promise((resolve) => (arrive = resolve)));
  const reading = read('/api/a');
  for (let n = 0; n < 5; n += 1) readAgain(mutate, (path) => path.startsWith('/api/'));
  expect(again).toEqual(Array.from({ length: 5 }, () => '/api/b'));
  again.length = 0;
  arrive(new Response('1'));
  expect(await reading).toBe(1);
  expect(again).toEqual([]);
  await new Promise((resolve) => setTimeout(resolve));
  expect(again).toEqual(['/api/a']);
});

/** Storage as browsers have it. */
function storage(): Storage {
  const held = new Map<string, string>();
  return {
    get length() {
      return held.size;
    },
    key: (n) => [...held.keys()][n] ?? null,
    getItem: (name) => held.get(name) ?? null,
    setItem: (name, value) => void held.set(name, value),
    removeItem: (name) => void held.delete(name),
    clear: () => held.clear(),
  };
}

test('what a browser keeps is each person’s own, and goes when they sign out', () => {
  const shared = storage();
  shared.setItem('varn.keys', '{}');
  const [ines, tom] = [ownStore('ines', shared), ownStore('tom', shared)];
  ines.store('begun.f', { typed: { a: 'x' } });
  ines.store('kept.f', { day: 1 });
  tom.store('begun.f', { typed: {} });
  expect(ines.read('begun.f')).toEqual({ typed: { a: 'x' } });
  expect(ines.read('begun.g')).toBeNull();
  ines.store('kept.f', null);
  expect(ines.read('kept.f')).toBeNull();
  ines.forgetAll();
  expect(ines.read('begun.f')).toBeNull();
  expect(tom.read('begun.f')).toEqual({ typed: {} });
  expect(shared.getItem('varn.keys')).toBe('{}');
});

test('a write without an answer waits longer each time, to a limit', () => {
  const waits = Array.from({ length: 8 }, (_, n) => waitBefore(n));
  expect(waits).toEqual([...waits].sort((a, b) => a - b));
  expect(new Set(waits.slice(-3)).size).toBe(1);
});
