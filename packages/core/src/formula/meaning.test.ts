import type { Column } from '../kinds';
import {
  bindFormula,
  Calculation,
  resultKind,
  typeWarnings,
  type StoredColumn,
  type StoredFormula,
} from '.';
import { FreeRows, SheetModel } from '../sheet';
import { MOMENT } from './testing/engines';

const NOTATION = { decimal: '.' };
const column = (
  heading: string,
  kind: Column['kind'],
  settings: StoredColumn['settings'] = {},
): StoredColumn => ({
  id: heading,
  heading,
  kind,
  settings,
});
const sheet = {
  id: 's',
  name: 'Kit loans',
  columns: [
    column('Item', 'text'),
    column('Lent on', 'date'),
    column('Due', 'date'),
    column('At', 'time'),
    column('Price', 'money', { currency: 'EUR' }),
    column('Pieces', 'wholeNumber'),
    column('Weight', 'number', { decimals: 2 }),
    column('Back', 'yesNo'),
    column('Entered', 'writtenAt'),
    column('Days', 'computed', { shownAs: 'number', decimals: 1 }),
    column('Unsaid', 'computed'),
  ],
  looseColumns: [],
  hasRecords: true,
  rows: new FreeRows<StoredFormula>([
    {
      id: 'top',
      orderKey: 1,
      revision: 1,
      cells: { Due: { value: 45_000, kind: 'date' }, Weight: { value: 3 } },
    },
  ]),
  records: new SheetModel(),
  lost: new Map(),
};
sheet.records.add({ id: 'r', orderKey: 1, revision: 1, cells: {} });
const price = { kind: 'column', sheet: 's', column: 'Price' } as const;
const names = [{ id: 'n', name: 'Prices', reference: price }];
const calculation = new Calculation({ sheets: [sheet], names, lost: new Map() }, MOMENT);

function bound(text: string) {
  const grid = calculation.sheet('s');
  if (!grid) throw new Error('no grid');
  const made = bindFormula(text, { sheet: grid, inRecord: true }, calculation, NOTATION);
  if (!made.ok) throw new Error(JSON.stringify(made.problem));
  return made.expression;
}

test.each<[formula: string, shownAs: string | null]>([
  ["'Lent on'", 'date'],
  ["'Lent on' + 14", 'date'],
  ["14 + 'Lent on'", 'date'],
  ["'Due' - 'Lent on'", null],
  ["14 - 'Lent on'", null],
  ["'Entered'", 'moment'],
  ["'Entered' + 1", 'moment'],
  ["'At'", 'time'],
  ["'Price'", 'money EUR'],
  ["'Price' * 'Pieces'", 'money EUR'],
  ["'Price' / 2", 'money EUR'],
  ["'Price' / 'Price'", null],
  ["'Price' + 'Price'", 'money EUR'],
  ['\'Price\' & ""', null],
  ["'Price' = 3", null],
  ["'Weight'", 'number .2'],
  ["'Days'", 'number .1'],
  ["'Unsaid'", null],
  ["'Item'", null],
  ["'Pieces'", null],
  ["MAX('Kit loans'!'Due')", 'date'],
  ['SUM(Prices)', 'money EUR'],
  ["SUMIF('Kit loans'!'Item';\"net\";'Kit loans'!'Price')", 'money EUR'],
  ["SUMIF('Kit loans'!'Weight';\">1\")", 'number .2'],
  ["IF('Back';'Price';0)", 'money EUR'],
  ["IFERROR('Price';0)", 'money EUR'],
  ["XLOOKUP('Item';'Kit loans'!'Item';'Kit loans'!'Due')", 'date'],
  ['TODAY()', 'date'],
  ['NOW()', 'moment'],
  ['TIME(1;2;3)', 'time'],
  ["COUNT('Kit loans'!'Due')", null],
  ["YEAR('Due')", null],
  // A cell above the heading is shown as it is said to be, not as the column below it.
  ['C1', 'date'],
  ['G1', null],
  ['E3', 'money EUR'],
  ['-3', null],
])('%s is shown as %s', (formula, shownAs) => {
  const shown = resultKind(bound(formula), calculation);
  const { currency = null, decimals = null, ...rest } = shown?.settings ?? {};
  expect(rest).toEqual({});
  const said = [shown?.kind, currency, decimals === null ? null : `.${decimals}`].filter(
    (part) => part !== null && part !== undefined,
  );
  expect(said.length > 0 ? said.join(' ') : null).toBe(shownAs);
});

test.each<[formula: string, about: string[], advice?: string]>([
  ['\'Pieces\' = "3"', ['\'Pieces\' = "3"'], 'Leave out the quotation marks.'],
  ["'Item' = 3", ["'Item' = 3"], 'Convert one of them with VALUE or TEXT.'],
  ['IF(\'Back\' = "yes";1;2)', ['\'Back\' = "yes"']],
  ["'Item' & 1 > 3", ["'Item' & 1 > 3"]],
  ["-'Weight' < LEFT('Item';1)", ["-'Weight' < LEFT('Item';1)"]],
  ["('Pieces' > 1) = 1", ["('Pieces' > 1) = 1"]],
  [
    "IF('Item' <> 1;'Days' = \"x\";Prices > TRIM('Item'))",
    ["'Item' <> 1", '\'Days\' = "x"', "Prices > TRIM('Item')"],
  ],
  ['E3 = "a"', ['E3 = "a"']],
  // Never said of what may well be the same.
  ["'Pieces' = 3", []],
  ["'Due' > 'Lent on'", []],
  ['\'Item\' = ""', []],
  ['\'Pieces\' = ""', []],
  ['\'Unsaid\' = "x"', []],
  ['IFERROR(\'Pieces\';"none") = "none"', []],
  ['G1 = "x"', []],
  ["'Pieces' + 3", []],
])('%s is warned of at %j', (formula, about, advice = '') => {
  const warnings = typeWarnings(bound(formula), calculation);
  expect(warnings.map(({ from, to }) => formula.slice(from, to))).toEqual(about);
  for (const { message } of warnings) expect(message).toContain(advice);
});
