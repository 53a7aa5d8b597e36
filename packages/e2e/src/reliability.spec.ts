import { expect, test } from '@playwright/test';
import { randomUUID } from 'node:crypto';
import { spawnSync } from 'node:child_process';
import { MAIN, Server } from './server';

interface Landed {
  recordId: string;
  cells: Record<string, string>;
}

/** How many submits are acknowledged before each kill. */
const ROUND = 40;

test('killed in the middle of a stream of submits, it keeps every acknowledged record, once', async () => {
  const server = await Server.withDemo({ VARN_DEMO_SAMPLES: '5' });
  const { demoPeople } = (await (await fetch(`${server.base}/api/session`)).json()) as {
    demoPeople: { id: string }[];
  };
  const signedIn = await fetch(`${server.base}/api/session/demo`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ personId: demoPeople[0]?.id }),
  });
  const headers = {
    'content-type': 'application/json',
    cookie: signedIn.headers.get('set-cookie')?.split(';')[0] ?? '',
  };
  const get = async <T>(path: string): Promise<T> =>
    (await (await fetch(server.base + path, { headers })).json()) as T;
  const [workbook] = await get<{ id: string }[]>('/api/workbooks');
  const { sheets } = await get<{ sheets: { id: string; name: string; forms: { id: string }[] }[] }>(
    `/api/workbooks/${workbook?.id ?? ''}`,
  );
  const sheet = sheets.find(({ name }) => name === 'Samples');
  const formId = sheet?.forms[0]?.id ?? '';
  const { lists } = await get<{ lists: { columnIds: string[]; items: { value: string }[] }[] }>(
    `/api/sheets/${sheet?.id ?? ''}/lists`,
  );
  const observers = lists.find(({ columnIds }) => columnIds.includes('samples.observer'));
  const observer = observers?.items[0]?.value ?? '';
  const submit = async (note: string): Promise<Landed> => {
    const response = await fetch(`${server.base}/api/forms/${formId}/submits`, {
      method: 'POST',
      headers,
      body: JSON.stringify({
        writeId: randomUUID(),
        answers: {
          'samples.date': '24/11/2026',
          'samples.time': '9:30',
          'samples.river': 'Mereling',
          'samples.station': 'ME-01',
          'samples.observer': observer,
          'samples.water-temp': '7',
          'samples.ph': '7',
          'samples.notes': note,
        },
      }),
    });
    if (response.status !== 201) throw new Error(String(response.status));
    return (await response.json()) as Landed;
  };

  const acknowledged: Landed[] = [];
  let sent = 0;
  for (const clients of [8, 40, 200]) {
    let stopping = false;
    const streams = Array.from({ length: clients }, async () => {
      while (!stopping) {
        const note = `n${(sent += 1)}`;
        const landed = await submit(note).catch(() => null);
        if (landed) acknowledged.push(landed);
        else return;
      }
    });
    // However fast the machine: it is killed in the middle of a stream that runs.
    const enough = acknowledged.length + ROUND;
    while (acknowledged.length < enough) await new Promise((resolve) => setTimeout(resolve, 5));
    await server.stop('SIGKILL');
    stopping = true;
    await Promise.all(streams);
    await server.start();
  }

  const stored: { id: string; cells: unknown[] }[] = [];
  for (;;) {
    const { records } = await get<{ records: typeof stored }>(
      `/api/sheets/${sheet?.id ?? ''}/rows?from=${stored.length}&count=1000`,
    );
    if (records.length === 0) break;
    stored.push(...records);
  }
  const ids = stored.map(({ id }) => id);
  expect(new Set(ids).size).toBe(ids.length);
  expect(acknowledged.filter(({ recordId }) => !ids.includes(recordId))).toEqual([]);
  // Notes are each sent once: twice in the sheet would be a doubled record.
  const notes = stored.map(({ cells }) => cells[19]).filter((note) => /^n\d+$/.test(String(note)));
  expect(new Set(notes).size).toBe(notes.length);
  const numbers = stored.map(({ cells }) => cells[0]);
  expect(new Set(numbers).size).toBe(numbers.length);
  await server.remove();
});

test('told to stop, it finishes what it was asked, closes the database and ends with 0', async () => {
  const server = await Server.withDemo({ VARN_DEMO_SAMPLES: '5' });
  expect(await server.stop('SIGTERM')).toBe(0);
  await server.remove();
});

test('a second server on one folder ends with who holds it; what is served says how long it holds', async () => {
  const server = await Server.withDemo({ VARN_DEMO_SAMPLES: '5' });
  const second = spawnSync(process.execPath, [MAIN], {
    encoding: 'utf8',
    timeout: 60_000,
    env: { ...process.env, VARN_DATA: server.folder, VARN_PORT: '0' },
  });
  expect(second.status).toBe(1);
  expect(second.stdout).toBe('');
  expect(second.stderr).toMatch(
    /^Varn could not start: .* is in use by the Varn at http:\/\/localhost:\d+ \(process \d+, since [^)]+\)\. Stop that one first, or choose another folder with VARN_DATA\.\n$/,
  );
  const wrong = spawnSync(process.execPath, [MAIN], {
    encoding: 'utf8',
    timeout: 60_000,
    env: { ...process.env, VARN_DATA: server.folder, VARN_ORIGIN: 'forms.example.org' },
  });
  expect([wrong.status, wrong.stderr]).toEqual([1, expect.stringContaining('VARN_ORIGIN is')]);

  const cacheOf = async (path: string): Promise<string | null> =>
    (await fetch(server.base + path)).headers.get('cache-control');
  const page = await (await fetch(`${server.base}/workbooks`)).text();
  const asset = /\/assets\/[\w.-]+\.js/.exec(page)?.[0] ?? '';
  expect(await cacheOf('/')).toBe('no-cache');
  expect(await cacheOf('/workbooks/any/forms/any')).toBe('no-cache');
  expect(await cacheOf(asset)).toBe('public, max-age=31536000, immutable');
  expect(await cacheOf('/api/health')).toBe('no-store');
  expect(await cacheOf('/assets/none.js')).toBeNull();

  // Killed without a word, it leaves the folder to the next.
  await server.stop('SIGKILL');
  await server.start();
  await server.remove();
});
