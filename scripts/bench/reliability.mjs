import { readFileSync } from 'node:fs';
import { firstObserver, inFolder, milliseconds, signIn, startServer } from './server.mjs';
import { sized } from './size.mjs';
import { until } from './waits.mjs';

const WRITERS = sized(60, 6);
const READERS = sized(60, 6);
const SECONDS = sized(8, 1);
const RECORDS = sized(100_000, 300);

const percentile = (values, share) =>
  [...values].sort((a, b) => a - b)[Math.floor(values.length * share)] ?? 0;
const seconds = (n) => new Promise((resolve) => setTimeout(resolve, n * 1000));

/** Formulas that would hold a server that lets them. */
const HOSTILE = [
  '=SEARCH("*b";REPT("a";1000000))',
  '=NETWORKDAYS(1;1e300)',
  '=SUM(COUNTIF(SEQUENCE(100000);SEQUENCE(100000)))',
  '=SUM(COUNTIF(SEQUENCE(100000);SEQUENCE(100000)&"*"))',
  '=SUM(MATCH("a"&SEQUENCE(50000)&"?";"a"&SEQUENCE(50000);0))',
  '=SUM(SUMIF(SEQUENCE(50000);SEQUENCE(50000);SEQUENCE(50000)))',
  '=SEQUENCE(10000)*TRANSPOSE(SEQUENCE(10000))',
  '=ROWS(UNIQUE(SEQUENCE(1000000)))',
  '=ROWS(SORT(SEQUENCE(100000);1;-1))',
  '=SEARCH(REPT("?a";1000)&"b";REPT("a";1000000))',
];

const memoryOf = (pid) =>
  Number(/VmHWM:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1]) / 1024;

/** The longest that health waited while something else was asked. */
async function healthBeside(base, work) {
  let isDone = false;
  const end = () => (isDone = true);
  work.then(end, end);
  let most = 0;
  while (!isDone) {
    const began = performance.now();
    await (await fetch(`${base}/api/health`)).text();
    most = Math.max(most, performance.now() - began);
  }
  await work;
  return most;
}

/** One request after the other; the longest health waited, and by how much memory rose at most. */
async function hostile({ base, pid }, sheet) {
  const { cookie } = await signIn(base, 'reader');
  const json = { 'content-type': 'application/json' };
  const post =
    (path, body, headers = {}) =>
    () =>
      fetch(base + path, { method: 'POST', headers: { ...json, ...headers }, body })
        .then((response) => response.text())
        // A body that is not wanted may be cut off on its way.
        .catch(() => '');
  const requests = [
    ...HOSTILE.map((text) =>
      post(`/api/sheets/${sheet}/check-formula`, JSON.stringify({ text }), { cookie }),
    ),
    post(`/api/sheets/${sheet}/cells`, `{"rows":[${'{},'.repeat(8_000_000)}{}]}`),
    post('/api/session/demo', `[${'0,'.repeat(1_000_000)}0]`),
    post(`/api/sheets/${sheet}/cells`, `{"rows":[${'{},'.repeat(8_000_000)}{}]}`, { cookie }),
    post('/api/session', '['.repeat(3000)),
  ];
  const health = [];
  const before = memoryOf(pid);
  for (const request of requests) {
    const work = request();
    health.push(await healthBeside(base, work));
  }
  return { most: Math.max(...health), memory: memoryOf(pid) - before };
}

/** Writers and readers of one sheet with formulas, all at once: how long its rows are waited for. */
async function together({ base }, { cookie, ask }, formId, sheetId, answers) {
  const until = performance.now() + SECONDS * 1000;
  const rows = [];
  let written = 0;
  const writer = async () => {
    while (performance.now() < until) {
      await ask('POST', `/api/forms/${formId}/submits`, { writeId: crypto.randomUUID(), answers });
      written += 1;
    }
  };
  const reader = async (n) => {
    while (performance.now() < until) {
      const began = performance.now();
      const path = `/api/sheets/${sheetId}/rows?from=${(n * 200) % 2000}&count=200`;
      await (await fetch(base + path, { headers: { cookie } })).text();
      rows.push(performance.now() - began);
      await seconds(0.2);
    }
  };
  await Promise.all([
    ...Array.from({ length: WRITERS }, writer),
    ...Array.from({ length: READERS }, (_, n) => reader(n)),
  ]);
  return { written: written / SECONDS, p95: percentile(rows, 0.95), p50: percentile(rows, 0.5) };
}

/** Adds a column that looks each record up among all; gives how long until all of it is there. */
async function lookedUp({ ask }, sheetId, heading, formula) {
  const { revision } = await ask('GET', `/api/sheets/${sheetId}`);
  const began = performance.now();
  await ask('POST', `/api/sheets/${sheetId}/columns`, {
    heading,
    kind: 'computed',
    formula,
    follows: true,
    revision,
  });
  const rows = `/api/sheets/${sheetId}/rows?from=0&count=1`;
  await until(`the column ${heading}`, async () => !(await ask('GET', rows)).computing);
  return performance.now() - began;
}

export function measure() {
  return inFolder(async (folder) => {
    const server = await startServer(folder, { VARN_DEMO_SAMPLES: String(RECORDS) });
    const session = await signIn(server.base);
    const { ask } = session;
    const [{ id }] = await ask('GET', '/api/workbooks');
    const { sheets } = await ask('GET', `/api/workbooks/${id}`);
    const samples = sheets.find(({ name }) => name === 'Samples');
    const { sheet } = await ask('GET', `/api/forms/${samples.forms[0].id}`);
    const observer = await firstObserver(ask, sheet.id);
    const answers = {
      'samples.date': '24/11/2026',
      'samples.time': '9:30',
      'samples.river': 'Mereling',
      'samples.station': 'ME-01',
      'samples.observer': observer,
      'samples.water-temp': '7.5',
      'samples.ph': '7.2',
    };
    const refused = await hostile(server, samples.id);
    const number = sheet.columns[0].heading;
    const counted = await lookedUp(
      session,
      samples.id,
      'Times',
      `=COUNTIF(Samples!'${number}';'${number}')`,
    );
    const found = await lookedUp(
      session,
      samples.id,
      'Found',
      `=XLOOKUP('${number}';Samples!'${number}';Samples!'pH')`,
    );
    const both = await together(server, session, samples.forms[0].id, samples.id, answers);
    await server.stop();
    const many = RECORDS.toLocaleString('en');
    return [
      {
        what: 'health beside any hostile request, longest',
        value: milliseconds(refused.most),
        target: '≤ 100 ms',
      },
      {
        what: 'memory they took at most',
        value: `${refused.memory.toFixed(0)} MB`,
        target: '≤ 64 MB',
      },
      { what: `COUNTIF of each of ${many} records among all`, value: milliseconds(counted) },
      { what: `XLOOKUP of each of ${many} records among all`, value: milliseconds(found) },
      {
        what: `rows beside ${WRITERS} writers and ${READERS} readers, p95`,
        value: milliseconds(both.p95),
        target: `≤ 300 ms (p50 ${milliseconds(both.p50)})`,
      },
      { what: 'submits meanwhile', value: `${both.written.toFixed(0)}/s` },
    ];
  });
}
