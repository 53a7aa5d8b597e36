import autocannon from 'autocannon';
import Database from 'better-sqlite3';
import { fork } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { once } from 'node:events';
import { join } from 'node:path';
import { ROOT } from '../lib/run.mjs';
import { sized } from './size.mjs';
import {
  firstObserver,
  inFolder,
  milliseconds,
  perSecond,
  ratio,
  signIn,
  startServer,
} from './server.mjs';

const SECONDS = sized(6, 1);
const MANY = 32;
const ROUNDS = sized(3, 1);

/** Fires one kind of request as fast as it is answered; each body has a write id of its own. */
export async function fire(url, cookie, answers, connections) {
  const result = await autocannon({
    url,
    connections,
    duration: SECONDS,
    method: 'POST',
    headers: { 'content-type': 'application/json', cookie },
    requests: [
      {
        setupRequest: (request) => ({
          ...request,
          body: JSON.stringify({ writeId: randomUUID(), answers }),
        }),
      },
    ],
  });
  if (result.non2xx > 0 || result.errors > 0)
    throw new Error(`${url}: ${result.non2xx} refused, ${result.errors} failed`);
  return { rate: result['2xx'] / result.duration, p50: result.latency.p50, count: result['2xx'] };
}

/** The p50 of one request at a time, finer than autocannon's whole milliseconds. */
export async function quiet(url, cookie, answers) {
  const times = [];
  for (let n = 0; n < sized(400, 60); n += 1) {
    const body = JSON.stringify({ writeId: randomUUID(), answers });
    const began = performance.now();
    const response = await fetch(url, {
      method: 'POST',
      headers: { 'content-type': 'application/json', cookie },
      body,
    });
    await response.text();
    if (n >= 50) times.push(performance.now() - began);
  }
  return times.sort((a, b) => a - b)[Math.floor(times.length / 2)];
}

/** The bare driver: durable commits of one row each. */
function bareCommits(folder) {
  const database = new Database(join(folder, 'bare.sqlite'));
  database.pragma('journal_mode = WAL');
  database.pragma('synchronous = FULL');
  database.exec('CREATE TABLE record (id TEXT PRIMARY KEY, cells TEXT)');
  const insert = database.prepare('INSERT INTO record VALUES (?, ?)');
  const cells = JSON.stringify({ a: 'x'.repeat(300) });
  const until = performance.now() + sized(2000, 200);
  let count = 0;
  for (; performance.now() < until; count += 1) insert.run(randomUUID(), cells);
  database.close();
  return (count * 1000) / sized(2000, 200);
}

async function echoRate(cookie, answers) {
  const echo = fork(join(ROOT, 'scripts/bench/echo.mjs'));
  const [port] = await once(echo, 'message');
  const told = await fire(`http://127.0.0.1:${port}/`, cookie, answers, MANY);
  echo.disconnect();
  await once(echo, 'exit');
  return told.rate;
}

export function measure() {
  return inFolder(async (folder) => {
    const { base, stop } = await startServer(folder);
    const { cookie, ask } = await signIn(base);
    const [workbook] = await ask('GET', '/api/workbooks');
    const { sheets } = await ask('GET', `/api/workbooks/${workbook.id}`);
    const formId = sheets.find(({ name }) => name === 'Samples').forms[0].id;
    const { sheet } = await ask('GET', `/api/forms/${formId}`);
    const observer = await firstObserver(ask, sheet.id);
    const answers = {
      'samples.date': '24/11/2026',
      'samples.time': '9:30',
      'samples.river': 'Mereling',
      'samples.station': 'ME-01',
      'samples.observer': observer,
      'samples.water-temp': '7.5',
      'samples.ph': '7.2',
      'samples.notes': 'Two herons on the far bank',
    };
    const submits = `${base}/api/forms/${formId}/submits`;
    const checks = `${base}/api/forms/${formId}/checks`;

    await fire(checks, cookie, answers, MANY);
    const before = (await ask('GET', `/api/sheets/${sheet.id}`)).count;
    await fire(submits, cookie, answers, MANY);
    const echo = await echoRate(cookie, answers);
    // By turns, as the machine may be slower at one time than at another; the best of each counts.
    const rounds = [];
    for (let n = 0; n < ROUNDS; n += 1) {
      const checked = await fire(checks, cookie, answers, MANY);
      rounds.push({ checked, written: await fire(submits, cookie, answers, MANY) });
    }
    const best = (name) => Math.max(...rounds.map((round) => round[name].rate));
    const checked = { rate: best('checked') };
    const written = { rate: best('written') };
    const checkedOne = await quiet(checks, cookie, answers);
    const writtenOne = await quiet(submits, cookie, answers);
    const bare = bareCommits(folder);
    const { count } = await ask('GET', `/api/sheets/${sheet.id}`);
    const rows = [];
    while (rows.length < count) {
      const { records } = await ask(
        'GET',
        `/api/sheets/${sheet.id}/rows?from=${rows.length}&count=1000`,
      );
      rows.push(...records.map(({ cells }) => cells[0]));
    }
    await stop();
    const doubled = rows.length - new Set(rows).size;
    return [
      { what: `submits, ${MANY} at once, durable`, value: perSecond(written.rate) },
      { what: `the same request, checked but not stored`, value: perSecond(checked.rate) },
      { what: 'submits ÷ checked', value: ratio(written.rate, checked.rate), target: '≥ 0.80×' },
      { what: 'bare node:http JSON echo', value: perSecond(echo) },
      {
        what: 'checked ÷ echo (the server’s own overhead)',
        value: ratio(checked.rate, echo),
        target: '≥ 0.40×',
      },
      { what: 'bare driver, durable one-row commits', value: perSecond(bare) },
      { what: 'one submit, quiet server, p50', value: milliseconds(writtenOne) },
      { what: 'one check, quiet server, p50', value: milliseconds(checkedOne) },
      { what: 'submit p50 ÷ check p50', value: ratio(writtenOne, checkedOne), target: '≤ 3×' },
      {
        what: 'records written, doubled numbers',
        value: `${(count - before).toLocaleString('en')}, ${doubled}`,
        target: 'none doubled',
      },
    ];
  });
}
