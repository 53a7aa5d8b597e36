import { addLargeSheet } from './largeData.mjs';
import { inFolder, milliseconds, perSecond, ratio, signIn, startServer } from './server.mjs';
import { sized } from './size.mjs';
import { fire, quiet } from './submits.mjs';
import { until } from './waits.mjs';

const RECORDS = sized(100_000, 500);
const MANY = 32;
/** Cells of the summary: for each of twelve sorts a count, a sum, a mean, the least and the most. */
const SORTS = sized(12, 2);
const ROUNDS = sized(3, 1);
const ASKED = sized(40, 3);

const RANGE = (name) => `Large!'${name}'`;
const summaryRow = (n) => {
  const criteria = `${RANGE('Column 3')};"text ${n}";${RANGE('Column 2')};">=${n}"`;
  return [
    `=COUNTIFS(${criteria})`,
    ...['SUMIFS', 'AVERAGEIFS', 'MINIFS', 'MAXIFS'].map(
      (name) => `=${name}(${RANGE('Column 1')};${criteria})`,
    ),
  ];
};

/** A form of some columns of the large sheet, in use. */
async function formOver(ask, workbookId) {
  const writeId = () => crypto.randomUUID();
  const begun = { writeId: writeId(), name: 'Log', sheetId: 'large' };
  const { id } = await ask('POST', `/api/workbooks/${workbookId}/forms`, begun);
  const blocks = [0, 1, 2].map((n) => ({ is: 'field', id: `field-${n}`, columnId: `large.${n}` }));
  const draft = { definition: { blocks }, columns: [], revision: 1 };
  const { revision } = await ask('PUT', `/api/forms/${id}/draft`, draft);
  await ask('POST', `/api/forms/${id}/use`, { writeId: writeId(), revision });
  return id;
}

async function addSummary(ask, workbookId) {
  const writeId = () => crypto.randomUUID();
  const made = { writeId: writeId(), name: 'Totals', headings: [] };
  const { id } = await ask('POST', `/api/workbooks/${workbookId}/sheets`, made);
  const { revision } = await ask('GET', `/api/sheets/${id}`);
  const rows = Array.from({ length: SORTS }, (_, n) => ({
    row: n + 1,
    cells: Object.fromEntries(summaryRow(n).map((formula, column) => [column, formula])),
  }));
  await ask('POST', `/api/sheets/${id}/cells`, { writeId: writeId(), revision, rows });
  return id;
}

/** From the answer to a submit until the summary tells of it, at the 95th percentile. */
async function untilTrue(ask, submits, answers, summary) {
  const first = async () => {
    const told = await ask('GET', `/api/sheets/${summary}/free-rows?from=0&count=1`);
    return { count: told.rows[0].cells[0].value, computing: told.computing === true };
  };
  await until('the first totals', async () => !(await first()).computing);
  const times = [];
  for (let n = 0; n < ASKED; n += 1) {
    const { count } = await first();
    await ask('POST', submits, { writeId: crypto.randomUUID(), answers });
    const began = performance.now();
    await until('the totals of a submit', async () => (await first()).count !== count);
    times.push(performance.now() - began);
  }
  return times.sort((a, b) => a - b)[Math.floor(times.length * 0.95)];
}

const best = (all, by) => all.map(by).sort((a, b) => a - b);

export function measure() {
  return inFolder(async (folder) => {
    const seeding = await startServer(folder);
    const [{ id }] = await (await signIn(seeding.base)).ask('GET', '/api/workbooks');
    await seeding.stop();
    addLargeSheet(folder, id, RECORDS);
    const { base, stop } = await startServer(folder);
    const { cookie, ask } = await signIn(base);
    const formId = await formOver(ask, id);
    const path = `/api/forms/${formId}/submits`;
    const answers = { 'field-0': '7', 'field-1': '12.5', 'field-2': 'text 0' };
    const measured = async () => {
      const rounds = [];
      for (let n = 0; n < ROUNDS; n += 1) {
        const { rate } = await fire(base + path, cookie, answers, MANY);
        rounds.push({ rate, one: await quiet(base + path, cookie, answers) });
      }
      return {
        rate: best(rounds, ({ rate }) => rate).at(-1),
        one: best(rounds, ({ one }) => one)[0],
      };
    };
    await fire(base + path, cookie, answers, MANY);
    const without = await measured();
    const summary = await addSummary(ask, id);
    const shown = await untilTrue(ask, path, answers, summary);
    const withIt = await measured();
    await stop();
    const cells = SORTS * 5;
    return [
      {
        what: `one submit into ${RECORDS.toLocaleString('en')}, ${cells} conditional totals, p50`,
        value: milliseconds(withIt.one),
      },
      { what: '÷ without them', value: ratio(withIt.one, without.one), target: '≤ 1.10×' },
      { what: `submits, ${MANY} at once, with them`, value: perSecond(withIt.rate) },
      {
        what: 'without them ÷ with them',
        value: ratio(without.rate, withIt.rate),
        target: '≤ 1.10×',
      },
      {
        what: 'from a submit’s answer until they are true, p95',
        value: milliseconds(shown),
        target: '≤ 100 ms',
      },
    ];
  });
}
