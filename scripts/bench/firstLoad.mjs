import { openBrowser } from './chromium.mjs';
import { inFolder, milliseconds, signIn, startServer } from './server.mjs';
import { sized } from './size.mjs';

/** A phone on the road: a processor four times slower, 1.6 Mbit/s, 150 ms. */
const SLOWER = 4;
const NETWORK = {
  offline: false,
  latency: 150,
  downloadThroughput: 1.6e6 / 8,
  uploadThroughput: 0.75e6 / 8,
};
const RUNS = sized(3, 1);
const FORMS = ['Log a sample', 'Report a sighting'];

const median = (values) => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)];

/** Opens a form for the first time. @returns how long until one can type, its scripts, its shifts */
async function openCold(cookie, address) {
  const browser = await openBrowser();
  const context = await browser.newContext({ viewport: { width: 390, height: 844 } });
  await context.addCookies([{ ...cookie, url: new URL('/', address).href }]);
  const page = await context.newPage();
  const devtools = await context.newCDPSession(page);
  await devtools.send('Network.enable');
  await devtools.send('Network.emulateNetworkConditions', NETWORK);
  await devtools.send('Emulation.setCPUThrottlingRate', { rate: SLOWER });
  const scripts = new Map();
  devtools.on('Network.responseReceived', ({ requestId, type }) => {
    if (type === 'Script') scripts.set(requestId, 0);
  });
  devtools.on('Network.loadingFinished', ({ requestId, encodedDataLength }) => {
    if (scripts.has(requestId)) scripts.set(requestId, encodedDataLength);
  });
  await page.addInitScript(() => {
    window.shift = 0;
    new PerformanceObserver((list) => {
      for (const { hadRecentInput, value } of list.getEntries()) {
        if (!hadRecentInput) window.shift += value;
      }
    }).observe({ type: 'layout-shift', buffered: true });
  });
  const began = performance.now();
  await page.goto(address, { waitUntil: 'commit' });
  await page.locator('[data-desk-form] [data-field]').first().waitFor({ timeout: 60_000 });
  const usable = performance.now() - began;
  // What is loaded ahead of its time after that keeps nobody waiting.
  const bytes = [...scripts.values()].reduce((sum, each) => sum + each, 0);
  const files = scripts.size;
  await page.waitForTimeout(1500);
  const shift = await page.evaluate(() => window.shift);
  await browser.close();
  return { usable, shift, files, bytes };
}

export function measure() {
  return inFolder(async (folder) => {
    const { base, stop } = await startServer(folder);
    const session = await signIn(base);
    const [name, value] = session.cookie.split('=');
    const [{ id }] = await session.ask('GET', '/api/workbooks');
    const { sheets } = await session.ask('GET', `/api/workbooks/${id}`);
    const forms = sheets.flatMap((sheet) => sheet.forms);
    const results = [];
    for (const called of FORMS) {
      const form = forms.find((each) => each.name === called);
      const runs = [];
      for (let n = 0; n < RUNS; n += 1) {
        runs.push(await openCold({ name, value }, `${base}/workbooks/${id}/forms/${form.id}`));
      }
      const [{ bytes, files }] = runs;
      const isBare = called === FORMS[0];
      results.push(
        {
          what: `${called}: script, as it is sent`,
          value: `${(bytes / 1024).toFixed(0)} kB`,
          target: isBare ? '≤ 260 kB' : 'with notes and phones',
        },
        { what: `${called}: script files`, value: String(files), target: isBare ? '≤ 10' : '' },
        {
          what: `${called}: usable on a slow phone, cold`,
          value: milliseconds(median(runs.map(({ usable }) => usable))),
          target: '≤ 4,000 ms',
        },
        {
          what: `${called}: layout shift`,
          value: Math.max(...runs.map(({ shift }) => shift)).toFixed(3),
          target: '≤ 0.05',
        },
      );
    }
    await stop();
    return results;
  });
}
