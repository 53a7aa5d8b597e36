import { join } from 'node:path';
import { addLargeSheet, COLUMNS, Database } from './largeData.mjs';
import { inFolder, milliseconds, ratio, signIn, startServer } from './server.mjs';
import { sized } from './size.mjs';

const RECORDS = sized(1_000_000, 2000);
const RUNS = sized(9, 2);
const STEPS = sized(200, 5);
const CHANGED = sized(10_000, 20);

const median = (values) => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)];
const p95 = (values) => [...values].sort((a, b) => a - b)[Math.floor(values.length * 0.95)];

async function timed(work) {
  const began = performance.now();
  await work();
  return performance.now() - began;
}

/** Three conditions, and the same as SQLite reads them of the stored records. */
const filters = [
  { columnId: 'large.1', says: '>= 50' },
  { columnId: 'large.2', says: 'text 7*' },
  { columnId: 'large.3', says: '45000..45499'.replace(/\d+/g, (serial) => isoOf(Number(serial))) },
];
const BY_SQLITE = `SELECT count(*) AS n FROM record WHERE sheet_id = 'large' AND removed_at IS NULL
  AND json_extract(cells, '$."large.1"') >= 50 AND json_extract(cells, '$."large.2"') LIKE 'text 7%'
  AND json_extract(cells, '$."large.3"') BETWEEN 45000 AND 45499`;

function isoOf(serial) {
  return new Date(Date.UTC(1899, 11, 30) + serial * 86_400_000).toISOString().slice(0, 10);
}

export function measure() {
  return inFolder(async (folder) => {
    const first = await startServer(folder);
    const session = await signIn(first.base);
    const [{ id }] = await session.ask('GET', '/api/workbooks');
    await first.stop();
    addLargeSheet(folder, id, RECORDS);

    const database = new Database(join(folder, 'varn.sqlite'), { readonly: true });
    const scans = [];
    let expected = 0;
    for (let n = 0; n < 3; n += 1) {
      scans.push(await timed(() => (expected = database.prepare(BY_SQLITE).get().n)));
    }
    database.close();

    const server = await startServer(folder);
    const { ask } = await signIn(server.base);
    await ask('POST', '/api/sheets/large/counts', { filters });

    /** How long the longest wait of others is while something goes on. */
    const beside = async (work) => {
      let isOver = false;
      const done = work().finally(() => (isOver = true));
      let longest = 0;
      while (!isOver) longest = Math.max(longest, await timed(() => ask('GET', '/api/health')));
      await done;
      return longest;
    };

    const counting = [];
    for (let n = 0; n < RUNS; n += 1) {
      const says = `>= ${50 + n / 1000}`;
      const asked = { filters: [{ ...filters[0], says }, ...filters.slice(1)] };
      counting.push(await timed(() => ask('POST', '/api/sheets/large/counts', asked)));
    }
    const { count } = await ask('POST', '/api/sheets/large/counts', { filters });
    if (count !== expected) throw new Error(`${count} were found, and SQLite finds ${expected}`);

    const searching = [];
    for (const text of ['text 77', '9231', '24 nov 2023', 'nothing at all', 'text 500 97.6']) {
      const asked = { text, most: 8 };
      searching.push(await timed(() => ask('POST', '/api/sheets/large/search', asked)));
    }
    const held = await beside(() =>
      ask('POST', '/api/sheets/large/search', { text: 'text 99', most: 8 }),
    );

    const view = encodeURIComponent(JSON.stringify({ filters }));
    await ask('GET', `/api/sheets/large/rows?from=0&count=3&view=${view}`);
    const [stepping, among] = [[], []];
    for (let n = 0; n < STEPS; n += 1) {
      const at = (n * 24_989) % (RECORDS - 3);
      const all = `/api/sheets/large/rows?from=${at}&count=3`;
      const matches = `/api/sheets/large/rows?from=${at % (count - 3)}&count=3&view=${view}`;
      stepping.push(await timed(() => ask('GET', all)));
      among.push(await timed(() => ask('GET', matches)));
    }

    // As many matches as are changed, and removed, at once.
    const few = JSON.stringify({ filters: [{ columnId: 'large.0', says: `< ${CHANGED}` }] });
    const all = { view: few, count: CHANGED };
    let changing = 0;
    const heldByChange = await beside(async () => {
      const body = { ...all, columnId: 'large.2', text: 'other' };
      changing = await timed(() =>
        ask('POST', '/api/sheets/large/matches/change', { ...body, writeId: crypto.randomUUID() }),
      );
    });
    const removing = await timed(() =>
      ask('POST', '/api/sheets/large/matches/remove', { ...all, writeId: crypto.randomUUID() }),
    );
    await server.stop();

    return [
      {
        what: 'three conditions, 1,000,000 records, by SQLite',
        value: milliseconds(median(scans)),
      },
      {
        what: 'the same counted, at each key',
        value: milliseconds(median(counting)),
        target: '≤ 50 ms',
      },
      {
        what: 'counted ÷ SQLite',
        value: ratio(median(counting), median(scans)),
        target: '≤ 1×',
      },
      {
        what: `any words over 1,000,000 × ${COLUMNS}, the slowest of 5`,
        value: milliseconds(Math.max(...searching)),
        target: '≤ 300 ms',
      },
      { what: 'others beside it, the longest', value: milliseconds(held), target: '≤ 20 ms' },
      { what: 'a step to any record, p95', value: milliseconds(p95(stepping)), target: '≤ 20 ms' },
      { what: 'a step among the matches, p95', value: milliseconds(p95(among)), target: '≤ 20 ms' },
      {
        what: '10,000 matches changed as one write',
        value: milliseconds(changing),
        target: '≤ 1,000 ms',
      },
      {
        what: 'others beside it, the longest',
        value: milliseconds(heldByChange),
        target: '≤ 100 ms',
      },
      {
        what: '10,000 matches removed as one write',
        value: milliseconds(removing),
        target: '≤ 1,000 ms',
      },
    ];
  });
}
