import { fork } from 'node:child_process';
import { once } from 'node:events';
import { join } from 'node:path';
import { ROOT } from '../lib/run.mjs';
import { startWithClerks } from './people.mjs';
import { firstObserver, inFolder, milliseconds } from './server.mjs';
import { sized } from './size.mjs';
import { within } from './waits.mjs';

/** Two hundred people who come within a second, then work at ten times a person's pace. */
const CLIENTS = sized(200, 10);
const SECONDS = sized(60, 2);
/** People who only look on: a stream each, idle. */
const IDLE = sized(800, 5);
const ACTIVE = sized(100, 5);

/** Accounts they share: of each person a few windows, of which each has a stream. */
const PEOPLE = sized(80, 3);

const percentile = (values, share) =>
  [...values].sort((a, b) => a - b)[Math.floor(values.length * share)] ?? 0;

/** Runs a crowd in a process of its own, so that its work is not measured as waiting. */
async function crowd(order) {
  const child = fork(join(ROOT, 'scripts/bench/crowdClients.mjs'));
  child.send(order);
  const [told] = await within(
    `${order.clients} clients at work for ${order.seconds} s`,
    once(child, 'message'),
    order.seconds * 1000 + 120_000,
  );
  child.disconnect();
  await once(child, 'exit');
  return told;
}

const lines = (told, name) => {
  const { firsts, newcomers, rows, submits, health, lost, failed, busy } = told;
  return [
    {
      what: `${name}: first answer, the slowest of ${firsts.length}`,
      value: milliseconds(Math.max(...firsts)),
      target: '≤ 1,000 ms',
    },
    {
      what: `${name}: a newcomer while they work, the slowest of ${newcomers.length}`,
      value: milliseconds(Math.max(...newcomers)),
      target: '≤ 1,000 ms',
    },
    {
      what: `${name}: rows, p99 of ${rows.length}`,
      value: milliseconds(percentile(rows, 0.99)),
      target: `≤ 1,000 ms (p50 ${milliseconds(percentile(rows, 0.5))})`,
    },
    {
      what: `${name}: submits, p99 of ${submits.length}`,
      value: milliseconds(percentile(submits, 0.99)),
      target: `≤ 1,500 ms (p50 ${milliseconds(percentile(submits, 0.5))})`,
    },
    { what: `${name}: health, p99`, value: milliseconds(percentile(health, 0.99)) },
    {
      what: `${name}: lost, failed, asked to wait`,
      value: `${lost}, ${failed}, ${busy}`,
      target: '0, 0',
    },
  ];
};

export function measure() {
  return inFolder(async (folder) => {
    const server = await startWithClerks(folder, PEOPLE);
    const { base, workbookId: id, people } = server;
    const { ask } = people[0];
    const { sheets } = await ask('GET', `/api/workbooks/${id}`);
    const samples = sheets.find(({ name }) => name === 'Samples');
    const formId = samples.forms[0].id;
    const order = {
      ...{ base, workbookId: id, sheetId: samples.id, formId },
      cookies: people.map(({ cookie }) => cookie),
      answers: {
        'samples.date': '24/11/2026',
        'samples.time': '9:30',
        'samples.river': 'Mereling',
        'samples.station': 'ME-01',
        'samples.observer': await firstObserver(ask, samples.id),
        'samples.water-temp': '7.5',
        'samples.ph': '7.2',
      },
    };
    const active = await crowd({ ...order, clients: CLIENTS, streams: 0, seconds: SECONDS });
    const beside = await crowd({ ...order, clients: ACTIVE, streams: IDLE, seconds: SECONDS / 2 });
    await server.stop();
    return [
      ...lines(active, `${CLIENTS} at work`),
      ...lines(beside, `${ACTIVE} beside ${IDLE} who look on`),
    ];
  });
}
