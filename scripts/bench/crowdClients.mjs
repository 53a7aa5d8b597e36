/**
 * Many people at once, from outside the server: each with connections of their own, working as one
 * does (look, type, submit, look), ten times as fast. What was acknowledged is looked for at the end.
 */
import http from 'node:http';
import { randomUUID } from 'node:crypto';

/** How long one thinks between two requests, at ten times a person's pace. */
const THINKS_MS = 600;
/** How often someone new comes, and health is looked at. */
const NEWCOMER_MS = 500;

const pause = (ms) => new Promise((resolve) => setTimeout(resolve, ms));

function asker(base, cookie) {
  const agent = new http.Agent({ keepAlive: true });
  const ask = (method, path, body) =>
    new Promise((resolve, reject) => {
      const text = body === undefined ? undefined : JSON.stringify(body);
      const headers = { cookie, ...(text && { 'content-type': 'application/json' }) };
      const began = performance.now();
      const request = http.request(base + path, { method, agent, headers }, (response) => {
        let told = '';
        response.setEncoding('utf8');
        response.on('data', (chunk) => (told += chunk));
        response.on('end', () =>
          resolve({ status: response.statusCode, told, ms: performance.now() - began }),
        );
      });
      request.on('error', reject);
      request.end(text);
    });
  return { ask, end: () => agent.destroy() };
}

/** Opens a stream of events and keeps it. */
const lookOn = (base, cookie, workbookId) =>
  new Promise((resolve, reject) => {
    const agent = new http.Agent();
    const path = `${base}/api/workbooks/${workbookId}/events`;
    const request = http.get(path, { agent, headers: { cookie } }, (response) => {
      response.resume();
      resolve(() => request.destroy());
    });
    request.on('error', reject);
  });

process.once('message', async (order) => {
  const { base, workbookId, sheetId, formId, cookies, answers, clients, streams, seconds } = order;
  const told = { firsts: [], newcomers: [], rows: [], submits: [], health: [], failed: 0, busy: 0 };
  const acknowledged = new Set();
  const seen = ({ status }) => {
    if (status === 503 || status === 429) told.busy += 1;
    else if (status >= 400) told.failed += 1;
    return status < 400;
  };
  const closes = await Promise.all(
    Array.from({ length: streams }, async (_, n) => {
      await pause((n / streams) * 2000);
      return lookOn(base, cookies[n % cookies.length], workbookId);
    }),
  );
  const until = performance.now() + seconds * 1000;
  const goesOn = () => performance.now() < until;

  const work = async (n) => {
    // Within a second, as at the beginning of a shift.
    await pause(Math.random() * 1000);
    const { ask, end } = asker(base, cookies[n % cookies.length]);
    const first = await ask('GET', `/api/forms/${formId}`);
    seen(first);
    told.firsts.push(first.ms);
    while (goesOn()) {
      await pause(THINKS_MS * (0.5 + Math.random()));
      const from = Math.floor(Math.random() * 2000);
      const rows = await ask('GET', `/api/sheets/${sheetId}/rows?from=${from}&count=100`);
      seen(rows);
      told.rows.push(rows.ms);
      await pause(THINKS_MS * (0.5 + Math.random()));
      const body = { writeId: randomUUID(), answers };
      const submit = await ask('POST', `/api/forms/${formId}/submits`, body);
      told.submits.push(submit.ms);
      if (seen(submit)) acknowledged.add(JSON.parse(submit.told).recordId);
    }
    end();
  };
  const watch = async () => {
    while (goesOn()) {
      await pause(NEWCOMER_MS);
      // Someone new each time: a connection of its own, and nobody signed in.
      for (const [path, times] of [
        ['/api/session', told.newcomers],
        ['/api/health', told.health],
      ]) {
        const { ask, end } = asker(base, '');
        const answer = await ask('GET', path);
        seen(answer);
        times.push(answer.ms);
        end();
      }
    }
  };
  await Promise.all([watch(), ...Array.from({ length: clients }, (_, n) => work(n))]);
  for (const close of closes) close();

  const { ask, end } = asker(base, cookies[0]);
  const stored = new Set();
  for (let from = 0; ; from += 1000) {
    const page = await ask('GET', `/api/sheets/${sheetId}/rows?from=${from}&count=1000`);
    const { records } = JSON.parse(page.told);
    for (const { id } of records) stored.add(id);
    if (records.length < 1000) break;
  }
  end();
  const lost = [...acknowledged].filter((id) => !stored.has(id)).length;
  process.send({ ...told, lost });
});
