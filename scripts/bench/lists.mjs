import { createRequire } from 'node:module';
import { bringIn } from './browser.mjs';
import { openBrowser } from './chromium.mjs';
import { paintsOf, percentile, watchPaints } from './paints.mjs';
import { startWithClerks } from './people.mjs';
import { inFolder, milliseconds, ratio, signIn } from './server.mjs';
import { sized } from './size.mjs';

const require = createRequire(import.meta.url);
const core = require('@varn/core');

const ITEMS = sized(50_000, 500);
const ROWS = sized(1_000_000, 2000);
const SOURCE = sized(100_000, 500);
const FORMS = sized(200, 5);
/** People who have them open, a few each. */
const PEOPLE = sized(20, 2);
const NAMES = sized(20_000, 200);
const TYPED = ['h', 'he', 'her', 'hero', 'heron', 'heron w', 'we', 'wei', '1', '12', '123', 'zz'];

const since = (from) => performance.now() - from;
const WORDS = ['Heron', 'Alder', 'Stone', 'Otter', 'Willow', 'Marl', 'Fern', 'Quarry'];
const PLACES = ['Weir', 'Ford', 'Bridge', 'Pool', 'Mill', 'Bend', 'Lock', 'Meadow'];
const name = (n) => `${WORDS[n % 8]} ${PLACES[(n >> 3) % 8]} ${n}`;
const item = (text) => ({ value: text, text, label: text, second: '', by: [], fills: [] });

/** A key's result among many items, 95th percentile, and going through the same texts alone. */
function finding() {
  const items = Array.from({ length: ITEMS }, (_, n) => item(name(n)));
  const texts = items.map(({ text }) => core.foldText(text));
  const [ours, bare] = [[], []];
  for (let run = 0; run < sized(20, 2); run += 1) {
    const finder = new core.ListFinder(items);
    finder.find('0', 1);
    for (const typed of TYPED) {
      let began = performance.now();
      finder.find(typed, 100);
      ours.push(since(began));
      began = performance.now();
      texts.filter((text) => text.includes(typed));
      bare.push(since(began));
    }
  }
  return { ours: percentile(ours, 0.95), bare: percentile(bare, 0.95) };
}

/** The different values of a column of many records, counted; then after one of them changed. */
function distinct() {
  const model = new core.SheetModel();
  const column = { id: 'a', heading: 'A', kind: 'text', settings: {} };
  for (let n = 0; n < ROWS; n += 1) {
    const cells = { a: name(n % 1000) };
    model.add({ id: `r${n}`, orderKey: n + 1, revision: 1, cells });
  }
  const locale = core.localeFacts('en-GB');
  const count = () => {
    const began = performance.now();
    core.heldValues(model, column, locale);
    return since(began);
  };
  count();
  const rebuilt = Math.min(count(), count(), count());
  const texts = Array.from({ length: ROWS }, (_, n) => name(n % 1000));
  const began = performance.now();
  const bare = new Map();
  for (const text of texts) bare.set(text, (bare.get(text) ?? 0) + 1);
  const alone = since(began);
  const list = core.LiveList.of(
    {
      *[Symbol.iterator]() {
        for (const text of texts) yield { value: text };
      },
    },
    { show: String, order: 'rising', compare: new Intl.Collator('en').compare },
  );
  const edits = sized(1000, 10);
  const edited = performance.now();
  for (let n = 0; n < edits; n += 1)
    list.change({ value: texts[n] }, { value: `${texts[n]} new` }, false);
  return { rebuilt, alone, edit: since(edited) / edits };
}

/** Spellings of one name among many different values; the longest step others wait for. */
function folding() {
  const values = Array.from({ length: NAMES }, (_, n) => {
    const text = `${name(n).replace(/\d+$/, '')}${((n * 2654435761) % 1e6).toString(36)}`;
    return { text, count: 1 + (n % 50) };
  });
  const steps = core.variantsIn(values);
  let longest = 0;
  const began = performance.now();
  for (let step = { done: false }; !step.done;) {
    const from = performance.now();
    step = steps.next();
    longest = Math.max(longest, since(from));
  }
  return { all: since(began), longest };
}

/** From one changed cell of a large source until all open forms were told. */
async function telling(base, people, ask, workbookId, source, list) {
  const { seq } = await ask('GET', `/api/workbooks/${workbookId}`);
  await ask('GET', `/api/sheets/${list.id}/lists`);
  const stop = new AbortController();
  const told = [];
  await Promise.all(
    Array.from({ length: FORMS }, async (_, n) => {
      const { cookie } = people[n % people.length];
      const url = `${base}/api/workbooks/${workbookId}/events?after=${seq}`;
      const { body } = await fetch(url, { headers: { cookie }, signal: stop.signal });
      const reader = body.getReader();
      await reader.read();
      told.push(
        (async () => {
          const decoder = new TextDecoder();
          for (let text = ''; !text.includes('event: lists');) {
            const { value, done } = await reader.read();
            if (done) throw new Error('the stream of events ended');
            text += decoder.decode(value, { stream: true });
          }
        })(),
      );
    }),
  );
  const { records } = await ask('GET', `/api/sheets/${source.id}/rows?from=${SOURCE >> 1}&count=1`);
  const [record] = records;
  const began = performance.now();
  await ask('POST', `/api/sheets/${source.id}/cells`, {
    writeId: crypto.randomUUID(),
    revision: source.revision,
    records: [
      { id: record.id, revision: record.revision, answers: { [source.columns[0].id]: 'Changed' } },
    ],
  });
  await Promise.all(told);
  const took = since(began);
  stop.abort();
  return took;
}

/** A sheet of one column of text, brought in as a file is. */
async function sheetOf(ask, workbookId, name, lines) {
  const upload = await ask('POST', `/api/uploads?name=${name}.csv`, `${lines.join('\n')}\n`);
  const { sheetId } = await bringIn(ask, upload, workbookId, name);
  return ask('GET', `/api/sheets/${sheetId}`);
}

/** Between two keys of the fastest hands: 16 keys a second. */
const HAND_MS = 60;

/** From a key in an open dropdown of many items to the next paint, 95th percentile. */
async function typing(context, address, label, pause) {
  const page = await context.newPage();
  await page.goto(address);
  const field = page.getByRole('combobox', { name: label });
  await field.click();
  await page.waitForSelector('[role=option]');
  await watchPaints(page);
  const keys = ['h', 'e', 'r', 'o', 'n', ' ', 'w', '1', '2', ...Array(9).fill('Backspace')];
  for (let run = 0; run < sized(6, 1); run += 1) {
    for (const key of keys) {
      await page.keyboard.press(key);
      if (pause > 0) await page.waitForTimeout(pause);
    }
  }
  const paints = await paintsOf(page);
  await page.close();
  return percentile(paints, 0.95);
}

export async function measure() {
  const found = finding();
  const counted = distinct();
  const folded = folding();
  const live = await inFolder(async (folder) => {
    const { base, workbookId, people } = await startWithClerks(folder, PEOPLE);
    const { cookie, ask } = await signIn(base);
    const lines = Array.from({ length: SOURCE }, (_, n) => name(n % (ITEMS - 10)));
    const source = await sheetOf(ask, workbookId, 'Names', ['Name', ...lines]);
    const home = await sheetOf(ask, workbookId, 'Chosen', ['Choice', 'x']);
    const list = { source: `Names!'Name'`, order: 'rising' };
    await ask('PATCH', `/api/sheets/${home.id}/columns/${home.columns[0].id}`, {
      kind: 'oneChoice',
      settings: { list },
      revision: home.revision,
    });
    const writeId = crypto.randomUUID();
    const form = await ask('POST', `/api/sheets/${home.id}/forms`, { writeId });
    const took = await telling(base, people, ask, workbookId, source, home);
    const browser = await openBrowser();
    const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
    const [cookieName, value] = cookie.split('=');
    await context.addCookies([{ name: cookieName, value, url: base }]);
    const address = `${base}/workbooks/${workbookId}/forms/${form.id}`;
    const paint = await typing(context, address, 'Choice', HAND_MS);
    const rushed = await typing(context, address, 'Choice', 0);
    await browser.close();
    return { took, paint, rushed };
  });
  return [
    {
      what: `a key’s result among ${ITEMS} items, p95`,
      value: milliseconds(found.ours),
      target: '≤ 8 ms',
    },
    { what: '  ÷ going through the texts alone', value: ratio(found.ours, found.bare) },
    {
      what: `key to paint in a dropdown of ${ITEMS} items, p95`,
      value: milliseconds(live.paint),
      target: '≤ 50 ms',
    },
    { what: '    the same without any pause between keys', value: milliseconds(live.rushed) },
    {
      what: `a changed cell of ${SOURCE} rows told to ${FORMS} open forms`,
      value: milliseconds(live.took),
      target: '≤ 1,000 ms',
    },
    {
      what: `different values of ${ROWS} rows, counted`,
      value: milliseconds(counted.rebuilt),
      target: '≤ 150 ms',
    },
    { what: '  ÷ a bare map', value: ratio(counted.rebuilt, counted.alone) },
    {
      what: '  after one edit',
      value: `${(counted.edit * 1000).toFixed(0)} µs`,
      target: 'in proportion',
    },
    {
      what: `spellings folded among ${NAMES} values`,
      value: milliseconds(folded.all),
      target: '≤ 2,000 ms',
    },
    { what: '  the longest step others wait for', value: milliseconds(folded.longest) },
  ];
}
