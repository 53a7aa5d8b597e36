import { openBrowser } from './chromium.mjs';
import { createRequire } from 'node:module';
import { paintsOf, percentile, watchPaints } from './paints.mjs';
import { sized } from './size.mjs';
import { inFolder, milliseconds, ratio, signIn, startServer } from './server.mjs';

const { readOutline } = createRequire(import.meta.url)('@varn/core');

const FIELDS = sized(300, 20);
const LINES = sized(500, 20);
const KEYS = sized(60, 12);
/** Twelve keys a second: faster than anyone types for long. */
const BETWEEN_KEYS_MS = 80;

const KINDS = [
  'text, required',
  'number 0..40, unit °C',
  'date, starts today',
  'one of (Ash Beck, Corrow Water, Mereling)',
  'yes/no',
  'lines, hint "What you saw"',
  'steps 1..5',
];

/** An outline of so many fields, a tenth of them with a condition on the one before. */
function outlineOf(count) {
  return Array.from({ length: count }, (_, n) => {
    const condition = n % 10 === 9 ? `, shown when NOT(ISBLANK('F${n - 1}'))` : '';
    return `F${n}: ${KINDS[n % KINDS.length]}${condition}`;
  }).join('\n');
}

const reading = (text) => {
  let n = 0;
  return readOutline(text, { columns: [], newId: () => `new-${(n += 1)}-${count++}` });
};
let count = 0;

/** Reading an outline again at each key, and the splitting of its lines alone as baseline. */
function readingTimes() {
  const text = outlineOf(LINES);
  const keys = [];
  const bare = [];
  for (let n = 0; n < KEYS; n += 1) {
    const typed = `${text}\nPlace: text${'x'.repeat(n)}`;
    let began = performance.now();
    reading(typed);
    keys.push(performance.now() - began);
    began = performance.now();
    typed.split('\n').map((line) => line.split(','));
    bare.push(performance.now() - began);
  }
  return { p95: percentile(keys.slice(5), 0.95), bare: percentile(bare.slice(5), 0.95) };
}

/** A form of an outline, in use. */
async function formOf(ask, workbookId, name, text) {
  const writeId = () => crypto.randomUUID();
  const { id } = await ask('POST', `/api/workbooks/${workbookId}/forms`, {
    writeId: writeId(),
    name,
  });
  const { definition, columns } = reading(text);
  const draft = { definition, columns, revision: 1 };
  const { revision } = await ask('PUT', `/api/forms/${id}/draft`, draft);
  await ask('POST', `/api/forms/${id}/use`, { writeId: writeId(), revision });
  return id;
}

/** From a key to the next paint, 95th percentile: in the first field, or at the end of a text. */
async function typing(page, where = '[data-field]') {
  await page.waitForSelector(where);
  await watchPaints(page);
  await page.locator(where).first().focus();
  await page.keyboard.press('Control+End');
  for (let n = 0; n < KEYS; n += 1) {
    await page.keyboard.press(n % 6 === 5 ? 'Backspace' : 'a');
    await page.waitForTimeout(BETWEEN_KEYS_MS);
  }
  return percentile(await paintsOf(page), 0.95);
}

/** Frame times while a block is dragged down and up the page, 95th percentile and median. */
async function dragging(page) {
  await page.waitForSelector('[data-frame]');
  const frame = page.locator('[data-frame]').nth(2);
  await frame.hover();
  const grip = await frame.locator('.frame-grip').boundingBox();
  await page.evaluate(() => {
    window.frames = [];
    let last = performance.now();
    const beat = () => {
      const now = performance.now();
      window.frames.push(now - last);
      last = now;
      requestAnimationFrame(beat);
    };
    requestAnimationFrame(beat);
  });
  await page.mouse.move(grip.x + 8, grip.y + 8);
  await page.mouse.down();
  await page.evaluate(() => (window.frames.length = 0));
  for (let n = 0; n < sized(120, 20); n += 1) {
    await page.mouse.move(grip.x - 60, 180 + 300 * Math.abs(Math.sin(n / 18)));
  }
  const frames = await page.evaluate(() => window.frames);
  await page.keyboard.press('Escape');
  await page.mouse.up();
  return { p95: percentile(frames, 0.95), median: percentile(frames, 0.5) };
}

export function measure() {
  return inFolder(async (folder) => {
    const { base, stop } = await startServer(folder, { VARN_DEMO_SAMPLES: '100' });
    const { cookie, ask } = await signIn(base);
    const workbook = { name: 'Bench', locale: 'en-GB', timeZone: 'UTC' };
    const { id } = await ask('POST', '/api/workbooks', {
      writeId: crypto.randomUUID(),
      ...workbook,
    });
    const small = await formOf(ask, id, 'Small', outlineOf(7));
    const large = await formOf(ask, id, 'Large', outlineOf(FIELDS));
    const browser = await openBrowser();
    const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
    const [name, value] = cookie.split('=');
    await context.addCookies([{ name, value, url: base }]);
    const page = await context.newPage();
    const at = (formId, rest = '') => `${base}/workbooks/${id}/forms/${formId}${rest}`;
    await page.goto(at(small));
    const few = await typing(page);
    await page.goto(at(large));
    const many = await typing(page);
    const lines = await formOf(ask, id, 'Lines', outlineOf(LINES));
    await page.goto(at(lines, '/compose'));
    await page.locator('[data-action="outline"]').click();
    const outline = await typing(page, 'textarea');
    await page.goto(at(small, '/compose'));
    const fewDrag = await dragging(page);
    await page.goto(at(large, '/compose'));
    const manyDrag = await dragging(page);
    await browser.close();
    await stop();
    const { p95, bare } = readingTimes();
    return [
      {
        what: `outline of ${LINES} lines, read at a key, p95`,
        value: milliseconds(p95),
        target: '≤ 16 ms',
      },
      { what: '  ÷ splitting its lines and commas alone', value: ratio(p95, bare) },
      {
        what: `key to paint in an outline of ${LINES} lines, p95`,
        value: milliseconds(outline),
        target: '≤ 50 ms',
      },
      {
        what: `key to paint, form of ${FIELDS} fields, p95`,
        value: milliseconds(many),
        target: '≤ 50 ms',
      },
      { what: '  ÷ a form of 7 fields', value: ratio(many, few) },
      {
        what: `frame while a block is dragged, ${FIELDS} fields, p95`,
        value: milliseconds(manyDrag.p95),
        target: '≤ 16.7 ms',
      },
      { what: '  median', value: milliseconds(manyDrag.median) },
      { what: '  p95 ÷ that of a form of 7 fields', value: ratio(manyDrag.p95, fewDrag.p95) },
    ];
  });
}
