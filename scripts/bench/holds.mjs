import { readFileSync } from 'node:fs';
import { addLargeSheet, addSheet } from './largeData.mjs';
import { inFolder, milliseconds, signIn, startServer } from './server.mjs';
import { sized } from './size.mjs';
import { until } from './waits.mjs';

/**
 * The dearest requests that are known, by who may ask them, each with how long others wait beside
 * it: an answer of health, which stands in no queue.
 */
const RECORDS = sized(1_000_000, 2000);
const ITEMS = sized(60_000, 300);
const SIDE = sized(300, 10);
const MATCHES = sized(50_000, 50);
const SPELLINGS = sized(20_000, 100);
const TARGET = '≤ 100 ms';

const filter = (column, says) => ({ columnId: `large.${column}`, says });
const view = (asked) => encodeURIComponent(JSON.stringify(asked));
const writeId = () => crypto.randomUUID();
/** The write that is taken back. */
const PASTE = writeId();
const several = (count, ask) => () => Promise.all(Array.from({ length: count }, (_, n) => ask(n)));

/** Formulas that a reader may try, over the large sheet or over nothing. */
const FORMULAS = [
  '=MODE(SEQUENCE(1000000))',
  '=SUM(COUNTIF(SEQUENCE(50000);SEQUENCE(50000)&"*"))',
  '=ROWS(UNIQUE(SEQUENCE(1000000)))',
  '=ROWS(SORT(SEQUENCE(90000);1;-1))',
  '=SEARCH(REPT("?a";1000)&"b";REPT("a";1000000))',
  "=SUMPRODUCT(Large!'Column 1'*Large!'Column 2')",
  `=TEXTJOIN(",";TRUE;Large!'Column 3')`,
  "=ROWS(SORT(Large!'Column 3'))",
  "=MEDIAN(Large!'Column 2')+LARGE(Large!'Column 6';9)",
  `=COUNTIFS(Large!'Column 3';"*7*";Large!'Column 7';"*8*";Large!'Column 2';">3")`,
];

/** What each role may ask, as `[what, ask]`; in order, as some change what others read. */
const TABLE = {
  reader: ({ ask, sheet }) => [
    ...FORMULAS.map((text) => [
      `try ${text}`,
      () => ask('POST', `${sheet}/check-formula`, { text }),
    ]),
    [
      '60 at once try =MODE(SEQUENCE(1000000))',
      several(60, () => ask('POST', `${sheet}/check-formula`, { text: FORMULAS[0] })),
    ],
    [
      'ten questions of 100 wildcards',
      several(10, (at) => {
        const filters = Array.from({ length: 100 }, (_, n) =>
          filter(2, `*${(n * 7 + at) % 10}*${n}*`),
        );
        return ask('POST', `${sheet}/counts`, { filters });
      }),
    ],
    [
      '20 searches at once',
      several(20, (n) => ask('POST', `${sheet}/search`, { text: `text ${n}7`, most: 8 })),
    ],
    [
      'a view in order of three columns, filtered',
      () => {
        const order = [2, 1, 3].map((n) => ({ columnId: `large.${n}`, falling: n === 1 }));
        const asked = view({ filters: [filter(1, '>= 5')], order });
        return ask('GET', `${sheet}/rows?from=500000&count=200&view=${asked}`);
      },
    ],
    [
      'figures of everything',
      () =>
        ask('POST', `${sheet}/figures`, {
          boxes: [{ part: 'records', from: 0, to: RECORDS, left: 0, right: 11 }],
        }),
    ],
    ['the values of a column', () => ask('GET', `${sheet}/columns/large.2/values`)],
    [
      'export as CSV',
      async ({ cookie, base }) => {
        const response = await fetch(`${base}${sheet}/csv?guard=on`, { headers: { cookie } });
        await response.body.pipeTo(new WritableStream());
      },
    ],
  ],
  clerk: ({ ask, sheet }) => [
    [
      'change all matches, tried',
      () =>
        ask('POST', `${sheet}/matches/preview`, {
          view: JSON.stringify({ filters: [filter(0, `< ${MATCHES}`)] }),
          count: MATCHES,
          columnId: 'large.1',
          text: "='Column 2'*2",
        }),
    ],
    [
      'change all matches',
      () =>
        ask('POST', `${sheet}/matches/change`, {
          view: JSON.stringify({ filters: [filter(0, `< ${MATCHES}`)] }),
          count: MATCHES,
          columnId: 'large.2',
          text: 'other',
          writeId: writeId(),
        }),
    ],
    [
      'remove all matches',
      () =>
        ask('POST', `${sheet}/matches/remove`, {
          view: JSON.stringify({ filters: [filter(0, `< ${MATCHES}`)] }),
          count: MATCHES,
          writeId: writeId(),
        }),
    ],
  ],
  owner: ({ ask, sheet, workbook }) => [
    [
      `paste ${SIDE} × ${SIDE} ruled cells`,
      async () => {
        const { revision } = await ask('GET', '/api/sheets/ruled');
        const answers = Object.fromEntries(
          Array.from({ length: SIDE }, (_, n) => [`ruled.${n}`, String(n % 9)]),
        );
        const records = Array.from({ length: SIDE }, (_, n) => ({
          id: `ruled-${n}`,
          revision: 1,
          answers,
        }));
        return ask('POST', '/api/sheets/ruled/cells', { writeId: PASTE, revision, records });
      },
    ],
    ['spellings among many values', () => ask('GET', '/api/sheets/names/columns/names.1/variants')],
    [
      'a list whose rows are counted among all',
      () =>
        ask('POST', `${sheet}/lists/try`, {
          kind: 'oneChoice',
          list: { source: `Names!'Name'`, where: `COUNTIF(Names!'Name';"*"&'Name'&"*")>3` },
        }).catch(() => null),
    ],
    [
      'rules of a column, tried',
      () =>
        ask('POST', `${sheet}/columns/large.1/rules/broken`, {
          rules: [{ must: { is: 'between', from: 0, to: 50 } }, { must: { is: 'unique' } }],
        }),
    ],
    ['rules of a column, suggested', () => ask('GET', `${sheet}/columns/large.2/rules/suggested`)],
    [
      'what a column would be as another kind',
      () =>
        ask('POST', `${sheet}/columns/large.2/conversion`, {
          kind: 'number',
          settings: {},
          revision: 1,
        }),
    ],
    [
      'a computed column for each record',
      async () => {
        const { revision } = await ask('GET', sheet);
        await ask('POST', `${sheet}/columns`, {
          heading: 'Times',
          kind: 'computed',
          formula: `=COUNTIF(Large!'Column 3';'Column 3')`,
          follows: true,
          revision,
        });
        const rows = `${sheet}/rows?from=0&count=1`;
        await until('the column', async () => !(await ask('GET', rows)).computing);
      },
    ],
    [
      'replace a text everywhere, tried',
      () => ask('POST', `${sheet}/replace/preview`, { text: 'text 9', by: 'word 9' }),
    ],
    [
      'take back the last write',
      () => ask('POST', `${workbook}/undo`, { writeId: writeId(), undoes: PASTE }),
    ],
  ],
};

const memoryOf = (pid) =>
  Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1]) / 1024;

/** The longest health waited, and the most memory was taken, while something else is asked. */
async function beside({ base, pid }, work) {
  const before = memoryOf(pid);
  const told = { ms: 0, mb: 0, took: 0, failed: '' };
  const from = performance.now();
  let isDone = false;
  const done = work.then(
    () => (isDone = true),
    (error) => {
      isDone = true;
      told.failed = error.message.slice(0, 160);
    },
  );
  while (!isDone) {
    const began = performance.now();
    await (await fetch(`${base}/api/health`)).text();
    told.ms = Math.max(told.ms, performance.now() - began);
    told.mb = Math.max(told.mb, memoryOf(pid) - before);
  }
  await done;
  told.took = performance.now() - from;
  return told;
}

const NAMES = ['Heron Weir', 'Alder Ford', 'Stone Bridge', 'Otter Pool', 'Willow Mill'];
function addSheets(folder, workbookId) {
  addLargeSheet(folder, workbookId, RECORDS);
  const ruled = Array.from({ length: SIDE }, (_, n) => ({
    id: `ruled.${n}`,
    heading: `Measure ${n + 1}`,
    kind: 'number',
    settings: {
      rules: [{ must: { is: 'between', from: 0, to: 14 } }, { must: { is: 'multiple', of: 0.1 } }],
    },
  }));
  const blank = () => '{}';
  addSheet(folder, workbookId, {
    id: 'ruled',
    name: 'Ruled',
    columns: ruled,
    records: SIDE,
    cellsOf: blank,
  });
  const text = (id, heading) => ({ id, heading, kind: 'text', settings: {} });
  addSheet(folder, workbookId, {
    ...{ id: 'names', name: 'Names', records: ITEMS },
    columns: [text('names.0', 'Name'), text('names.1', 'Spelt')],
    cellsOf: (n) => {
      const spelt = `${NAMES[n % 5]} ${((n * 2654435761) % 1e6).toString(36)}`;
      return JSON.stringify({
        'names.0': `${NAMES[n % 5]} ${n}`,
        ...(n < SPELLINGS && { 'names.1': spelt }),
      });
    },
  });
}

export function measure() {
  return inFolder(async (folder) => {
    const seeding = await startServer(folder);
    const [{ id }] = await (await signIn(seeding.base)).ask('GET', '/api/workbooks');
    await seeding.stop();
    addSheets(folder, id);
    const server = await startServer(folder);
    const { base } = server;
    const first = await signIn(base);
    const found = [];
    const cold = () =>
      first.ask('POST', '/api/sheets/large/counts', { filters: [filter(1, '> 5')] });
    found.push(['reader: the first question, cold', await beside(server, cold())]);
    await first.ask('GET', '/api/sheets/names');
    for (const [role, requestsOf] of Object.entries(TABLE)) {
      const { ask, cookie } = await signIn(base, role);
      const place = { ask, sheet: '/api/sheets/large', workbook: `/api/workbooks/${id}` };
      for (const [what, request] of requestsOf(place)) {
        found.push([`${role}: ${what}`, await beside(server, request({ cookie, base }))]);
        await beside(server, new Promise((resolve) => setTimeout(resolve, 300)));
      }
    }
    await server.stop();
    return found.map(([what, { ms, mb, took, failed }]) => ({
      what: what.slice(0, 62),
      value: milliseconds(ms),
      target: `${TARGET} · it takes ${(took / 1000).toFixed(1)} s, ${mb.toFixed(0)} MB${failed && ` · ${failed}`}`,
    }));
  });
}
