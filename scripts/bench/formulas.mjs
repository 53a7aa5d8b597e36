import { createRequire } from 'node:module';
import { sized } from './size.mjs';
import { milliseconds, ratio } from './server.mjs';

const require = createRequire(import.meta.url);
const core = require('@varn/core');

const RECORDS = sized(100_000, 500);
const TOTALS = ['SUM', 'AVERAGE', 'MIN', 'MAX', 'COUNT'];

const since = (from) => performance.now() - from;

/** The two typed columns of a record: the same numbers for both engines. */
const record = (n) => [((n * 7919) % 1000) / 10, 1 + (n % 12)];

/** A sheet of records with one computed column and five totals over it. */
function ownSheet(records) {
  const column = (id, formula) => ({
    id,
    heading: id,
    kind: formula ? 'computed' : 'number',
    settings: formula ? { formula, follows: true } : {},
  });
  const field = (id) => ({ kind: 'field', sheet: 's', column: id });
  const formula = { text: 'ROUND(⟨0⟩*⟨1⟩*1.2;2)', references: [field('price'), field('amount')] };
  const model = new core.SheetModel();
  for (let n = 0; n < records; n += 1) {
    const [price, amount] = record(n);
    model.add({
      id: `r${n}`,
      orderKey: model.nextOrderKey(),
      revision: 1,
      cells: { price, amount },
    });
  }
  const cells = Object.fromEntries(
    TOTALS.map((name, n) => [
      ['price', 'amount', 'total', 'l1', 'l2'][n],
      {
        formula: {
          text: `${name}(⟨0⟩)`,
          references: [{ kind: 'column', sheet: 's', column: 'total' }],
        },
      },
    ]),
  );
  const sheet = {
    id: 's',
    name: 'S',
    columns: [column('price'), column('amount'), column('total', formula)],
    looseColumns: ['l1', 'l2'],
    hasRecords: true,
    rows: new core.FreeRows([{ id: 'f', orderKey: 1, revision: 1, cells }]),
    records: model,
    lost: new Map(),
  };
  return { sheet, model };
}

const moment = () => ({ locale: core.localeFacts('en-GB'), now: () => 46_000 });

/** The mean time of an edit of one record, in milliseconds. */
function editsOf(calculation, model, count) {
  const from = performance.now();
  for (let n = 0; n < count; n += 1) {
    const at = model.at((n * 7877) % model.count);
    const cells = { ...at.cells, price: (n % 97) / 10 };
    model.update({ ...at, revision: at.revision + 1, cells });
    calculation.touchRecord('s', model.slotOf(at.id), ['price'], false);
    calculation.settle();
  }
  return since(from) / count;
}

/** A full pass and one edit, ours and those of the development-only reference engine. */
export function measure() {
  const { sheet, model } = ownSheet(RECORDS);
  let from = performance.now();
  const calculation = new core.Calculation(
    { sheets: [sheet], names: [], lost: new Map() },
    moment(),
  );
  calculation.settle();
  const full = since(from);
  const edit = editsOf(calculation, model, 2000);
  const { HyperFormula } = require('hyperformula');
  const rows = Array.from({ length: RECORDS }, (_, n) => [
    ...record(n),
    `=ROUND(A${n + 1}*B${n + 1}*1.2,2)`,
  ]);
  TOTALS.forEach((name, n) => rows[n].push(`=${name}(C1:C${RECORDS})`));
  from = performance.now();
  const other = HyperFormula.buildFromArray(rows, {
    licenseKey: 'gpl-v3',
    maxRows: 2 * RECORDS,
  });
  const otherFull = since(from);
  const otherEdits = 10;
  from = performance.now();
  for (let n = 0; n < otherEdits; n += 1) {
    other.setCellContents({ sheet: 0, row: (n * 7877) % RECORDS, col: 0 }, n);
  }
  const otherEdit = since(from) / otherEdits;
  const many = ownSheet(10 * RECORDS);
  const larger = new core.Calculation(
    { sheets: [many.sheet], names: [], lost: new Map() },
    moment(),
  );
  larger.settle();
  const largeEdit = editsOf(larger, many.model, 200);
  return [
    {
      what: `full pass over ${RECORDS} computed cells and 5 totals, ms`,
      value: milliseconds(full),
    },
    { what: 'the reference engine, building the same', value: milliseconds(otherFull) },
    { what: '  ours ÷ the reference', value: ratio(full, otherFull), target: '≤ 1' },
    { what: 'one edit and all that follows, µs', value: (edit * 1000).toFixed(0) },
    { what: 'the same among 1,000,000 records, µs', value: (largeEdit * 1000).toFixed(0) },
    { what: '  a tenfold sheet ÷ this one', value: ratio(largeEdit, edit), target: 'about 1' },
    { what: '  the reference, one edit ÷ ours', value: ratio(otherEdit, edit) },
  ];
}
