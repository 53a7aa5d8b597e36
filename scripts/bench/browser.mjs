import { openBrowser } from './chromium.mjs';
import { paintsOf, percentile, watchPaints } from './paints.mjs';
import { sized } from './size.mjs';
import { within } from './waits.mjs';
import { inFolder, milliseconds, ratio, signIn, startServer } from './server.mjs';

const RUNS = sized(5, 1);
const LARGE = sized('100000', '300');
const IMPORTED = sized(100_000, 20_000);

const median = (values) => percentile(values, 0.5);

/** From asking for a sheet's address to its heading and first rows on the screen. */
async function opening(context, address, ready) {
  const times = [];
  for (let n = 0; n < RUNS + 1; n += 1) {
    const page = await context.newPage();
    const began = performance.now();
    await page.goto(address);
    await page.waitForSelector(ready);
    if (n > 0) times.push(performance.now() - began);
    await page.close();
  }
  return median(times);
}

/** The 95th percentile of frame times while a sheet is scrolled through. */
async function scrolling(context, address) {
  const page = await context.newPage();
  await page.goto(address);
  await page.waitForSelector('.grid-row [role=gridcell]:not(:empty)');
  const scrolled = page.evaluate(
    async (frameCount) => {
      const grid = document.querySelector('.grid');
      const frames = [];
      let last = performance.now();
      for (let n = 0; n < frameCount; n += 1) {
        grid.scrollTop += 140;
        await new Promise(requestAnimationFrame);
        const now = performance.now();
        if (n > 10) frames.push(now - last);
        last = now;
      }
      return frames;
    },
    sized(240, 30),
  );
  const frames = await within('the frames of a sheet that is scrolled', scrolled);
  await page.close();
  return percentile(frames, 0.95);
}

/** From a key in a cell to the next paint, 95th percentile, while a file of records comes in. */
async function typingDuringImport(context, address, ask, workbookId) {
  const rows = Array.from(
    { length: IMPORTED },
    (_, n) => `${n},2026-03-28,${(n % 97) / 10},text ${n}`,
  );
  const upload = await ask(
    'POST',
    '/api/uploads?name=import.csv',
    `N,Date,Depth,Note\n${rows.join('\n')}\n`,
  );
  const page = await context.newPage();
  await page.goto(address);
  await page.waitForSelector('.grid-row [role=gridcell]:not(:empty)');
  await watchPaints(page);
  await page.locator('.grid').focus();
  let isOver = false;
  const importing = within(
    'a file to come in',
    bringIn(ask, upload, workbookId, 'Imported'),
  ).finally(() => (isOver = true));
  // It is awaited below.
  importing.catch(() => undefined);
  while (!isOver) {
    for (const key of [
      'Control+End',
      'Home',
      'ArrowRight',
      'F2',
      'a',
      'b',
      'c',
      '1',
      '2',
      'Escape',
    ]) {
      await page.keyboard.press(key);
      await page.waitForTimeout(20);
    }
  }
  await importing;
  const paints = await paintsOf(page, 0);
  await page.close();
  return { p95: percentile(paints, 0.95), keys: paints.length };
}

export function bringIn(ask, upload, workbookId, sheetName) {
  const { encoding, delimiter, headingRow, headingRows, keepTotals, guarded } = upload;
  const columns = upload.columns.map(({ index, heading, kind, decimal, dateOrder }) => {
    return { index, heading, kind, decimal, dateOrder };
  });
  const reading = { encoding, delimiter, headingRow, headingRows, keepTotals, guarded };
  const writeId = crypto.randomUUID();
  return ask('POST', `/api/uploads/${upload.id}/bring-in`, {
    writeId,
    workbookId,
    sheetName,
    ...reading,
    columns,
  });
}

export function measure() {
  return inFolder(async (folder) => {
    const { base, stop } = await startServer(folder, { VARN_DEMO_SAMPLES: LARGE });
    const { cookie, ask } = await signIn(base);
    const [{ id }] = await ask('GET', '/api/workbooks');
    const upload = await ask('POST', '/api/uploads?name=empty.csv', 'Number,Date,Depth\n');
    const empty = await bringIn(ask, upload, id, 'Empty');
    const { sheets } = await ask('GET', `/api/workbooks/${id}`);
    const large = sheets.find(({ name }) => name === 'Samples');
    const sheetAt = (sheetId) => `${base}/workbooks/${id}/sheets/${sheetId}`;

    const browser = await openBrowser();
    const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
    const [name, value] = cookie.split('=');
    await context.addCookies([{ name, value, url: base }]);
    const emptyMs = await opening(context, sheetAt(empty.sheetId), '.grid [role=columnheader]');
    const largeMs = await opening(
      context,
      sheetAt(large.id),
      '.grid-row [role=gridcell]:not(:empty)',
    );
    const p95 = await scrolling(context, sheetAt(large.id));
    const typing = await typingDuringImport(context, sheetAt(large.id), ask, id);
    await browser.close();
    await stop();
    return [
      { what: 'an empty sheet on screen', value: milliseconds(emptyMs) },
      {
        what: `a sheet of ${Number(LARGE).toLocaleString('en')} records: first rows on screen`,
        value: milliseconds(largeMs),
      },
      { what: 'large ÷ empty', value: ratio(largeMs, emptyMs), target: '≤ 1.3×' },
      { what: 'scrolling it, p95 frame', value: milliseconds(p95), target: '≤ 20 ms' },
      {
        what: `key to paint while 100,000 rows come in, p95 of ${typing.keys}`,
        value: milliseconds(typing.p95),
        target: '≤ 50 ms',
      },
    ];
  });
}
