import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { mkdtempSync, rmSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ROOT } from '../lib/run.mjs';
import { until, within } from './waits.mjs';

/** Servers and browsers that were started and not stopped. */
const running = new Set();

/** Remembers how to stop something, should its bench fail before it does. */
export function toBeStopped(stop) {
  const once = async () => {
    if (running.delete(once)) await stop();
  };
  running.add(once);
  return once;
}

/** Stops whatever a bench left running. */
export async function stopAll() {
  for (const stop of running) await stop();
}

/** A port nobody listens on. */
export async function freePort() {
  const probe = createServer().listen(0, '127.0.0.1');
  await once(probe, 'listening');
  const { port } = probe.address();
  probe.close();
  await once(probe, 'close');
  return port;
}

/** A folder of its own for a bench, removed at the end. */
export async function inFolder(work) {
  const folder = mkdtempSync(join(tmpdir(), 'varn-bench-'));
  try {
    return await work(folder);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

/** Starts the built server on a folder; gives its address, how long it took to answer, and a stop. */
export async function startServer(folder, env = {}) {
  const port = await freePort();
  const began = performance.now();
  const server = spawn(process.execPath, [join(ROOT, 'packages/server/dist/main.js')], {
    stdio: ['ignore', 'ignore', 'inherit'],
    env: {
      ...process.env,
      NODE_ENV: 'production',
      VARN_DATA: folder,
      VARN_PORT: String(port),
      VARN_DEMO: '1',
      VARN_LOG: 'error',
      ...env,
    },
  });
  const stop = toBeStopped(async () => {
    const ended = once(server, 'exit');
    server.kill('SIGTERM');
    await ended;
  });
  const base = `http://127.0.0.1:${port}`;
  const isHealthy = () =>
    fetch(`${base}/api/health`).then(
      ({ ok }) => ok,
      () => false,
    );
  await until('the server to answer', async () => {
    if (await isHealthy()) return true;
    // Nobody else is talked to on its port.
    if (server.exitCode !== null) throw new Error('the server ended before it answered');
    await new Promise((resolve) => setTimeout(resolve, 5));
    return false;
  });
  const ms = performance.now() - began;
  return { base, ms, stop, pid: server.pid };
}

/** Signs in as one of the demo's people; gives a way to ask the API. */
export async function signIn(base, wanted = 'owner') {
  const { demoPeople } = await (await fetch(`${base}/api/session`)).json();
  return signInAs(base, demoPeople.find(({ role }) => role === wanted).id);
}

/** The same as one of them by id. */
export async function signInAs(base, personId) {
  const signedIn = await fetch(`${base}/api/session/demo`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ personId }),
  });
  const cookie = signedIn.headers.get('set-cookie').split(';')[0];
  const ask = async (method, path, body) => {
    const isText = typeof body === 'string';
    const asked = fetch(base + path, {
      method,
      headers: {
        cookie,
        ...(body && { 'content-type': isText ? 'application/octet-stream' : 'application/json' }),
      },
      ...(body && { body: isText ? body : JSON.stringify(body) }),
    });
    const response = await within(`${method} ${path}`, asked);
    if (!response.ok)
      throw new Error(`${method} ${path}: ${response.status} ${await response.text()}`);
    return response.json();
  };
  return { cookie, ask };
}

export const ratio = (a, b) => `${(a / b).toFixed(2)}×`;
export const perSecond = (n) => `${Math.round(n).toLocaleString('en')}/s`;
export const milliseconds = (ms) => `${ms.toFixed(1)} ms`;

/** Someone of the demo who may be chosen as the observer of a sample. */
export async function firstObserver(ask, sheetId) {
  const { lists } = await ask('GET', `/api/sheets/${sheetId}/lists`);
  return lists.find(({ columnIds }) => columnIds.includes('samples.observer')).items[0].value;
}
