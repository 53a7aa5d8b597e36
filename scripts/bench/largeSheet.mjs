import { readFileSync } from 'node:fs';
import { addLargeSheet, COLUMNS } from './largeData.mjs';
import { sized } from './size.mjs';
import { until } from './waits.mjs';
import { inFolder, milliseconds, ratio, signIn, startServer } from './server.mjs';

const RECORDS = sized(1_000_000, 2000);
const RUNS = sized(5, 1);
const CHECKS = sized(60, 5);

const median = (values) => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)];
const p95 = (values) => [...values].sort((a, b) => a - b)[Math.floor(values.length * 0.95)];

const memoryOf = (pid) =>
  Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1]) / 1024;

async function timed(work) {
  const began = performance.now();
  await work();
  return performance.now() - began;
}

export function measure() {
  return inFolder(async (folder) => {
    const first = await startServer(folder);
    const session = await signIn(first.base);
    const [{ id }] = await session.ask('GET', '/api/workbooks');
    const { sheets } = await session.ask('GET', `/api/workbooks/${id}`);
    const small = sheets.find(({ name }) => name === 'Stations').id;
    const form = sheets.flatMap(({ forms }) => forms)[0].id;
    await first.stop();
    addLargeSheet(folder, id, RECORDS);

    const opening = async (ask, sheet, from = 0) =>
      timed(async () => {
        await ask('GET', `/api/sheets/${sheet}`);
        await ask('GET', `/api/sheets/${sheet}/rows?from=${from}&count=200`);
      });

    // Cold: right after a start, before anything is in memory.
    const cold = { small: [], large: [], end: [] };
    for (let n = 0; n < RUNS; n += 1) {
      const server = await startServer(folder);
      const { ask } = await signIn(server.base);
      cold.small.push(await opening(ask, small));
      cold.large.push(await opening(ask, 'large'));
      cold.end.push(await opening(ask, 'large', RECORDS - 200));
      await server.stop();
    }

    const server = await startServer(folder);
    const { ask } = await signIn(server.base);
    const before = memoryOf(server.pid);
    const whole = { boxes: [{ part: 'records', from: 0, to: RECORDS, left: 1, right: 2 }] };
    const loading = await timed(() => ask('POST', '/api/sheets/large/figures', whole));
    const after = memoryOf(server.pid);
    const warm = { small: [], large: [] };
    for (let n = 0; n < sized(40, 3); n += 1) {
      warm.small.push(await opening(ask, small));
      warm.large.push(await opening(ask, 'large', (n * 24_989) % RECORDS));
    }

    // A heavy pass: a formula for each of the million records, while others submit.
    const { definition, sheet } = await ask('GET', `/api/forms/${form}`);
    const fields = Object.fromEntries(
      definition.blocks
        .filter(({ is }) => is === 'field')
        .map(({ id, columnId }) => [
          sheet.columns.find((column) => column.id === columnId).heading,
          id,
        ]),
    );
    const answers = {
      [fields['Date']]: '2026-03-01',
      [fields['Time']]: '9.30',
      [fields['Water temp']]: '7',
      [fields['pH']]: '7',
    };
    const check = () =>
      ask('POST', `/api/forms/${form}/checks`, { writeId: crypto.randomUUID(), answers });
    const quiet = [];
    for (let n = 0; n < CHECKS; n += 1) quiet.push(await timed(check));
    const { revision } = await ask('GET', '/api/sheets/large');
    const adding = ask('POST', '/api/sheets/large/columns', {
      heading: 'Computed',
      kind: 'computed',
      formula: `=ROUND('Column 2'*'Column 1'/3;2)`,
      follows: true,
      revision,
    });
    const busy = [];
    const pass = timed(async () => {
      await adding;
      const rows = '/api/sheets/large/rows?from=0&count=1';
      await until('a million formulas', async () => !(await ask('GET', rows)).computing);
    });
    let isOver = false;
    void pass.then(() => {
      isOver = true;
    });
    while (!isOver) {
      busy.push(await timed(check));
      await new Promise((resolve) => setTimeout(resolve, 20));
    }
    const passMs = await pass;
    await server.stop();

    return [
      { what: 'small sheet, first rows, cold', value: milliseconds(median(cold.small)) },
      { what: '1,000,000 records, first rows, cold', value: milliseconds(median(cold.large)) },
      { what: '1,000,000 records, last rows, cold', value: milliseconds(median(cold.end)) },
      {
        what: 'large ÷ small, cold',
        value: ratio(median(cold.large), median(cold.small)),
        target: 'like a small one',
      },
      { what: 'any rows of 1,000,000, warm', value: milliseconds(median(warm.large)) },
      { what: 'large ÷ small, warm', value: ratio(median(warm.large), median(warm.small)) },
      { what: 'all of it read into memory', value: milliseconds(loading) },
      {
        what: `memory of 1,000,000 × ${COLUMNS} cells`,
        value: `${(after - before).toFixed(0)} MB`,
        target: `${(((after - before) * 1024 * 1024) / RECORDS / COLUMNS).toFixed(1)} bytes a cell`,
      },
      { what: 'a pass over 1,000,000 formulas', value: milliseconds(passMs) },
      {
        what: `requests answered meanwhile, p95 of ${busy.length}`,
        value: milliseconds(p95(busy)),
      },
      {
        what: 'meanwhile ÷ quiet, p95',
        value: ratio(p95(busy), p95(quiet)),
        target: `quiet ${milliseconds(p95(quiet))}`,
      },
    ];
  });
}
