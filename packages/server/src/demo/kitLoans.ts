import { serialOfDate, type CellValue, type Rule } from '@varn/core';
import { demoColumn, type DemoSheet } from './demoSheet';
import type { Random } from './random';

/** What is lent, with its deposit in pounds. */
export const KIT: readonly (readonly [item: string, deposit: number])[] = [
  ['Waders', 25],
  ['Kick net', 18],
  ['pH meter', 60],
  ['Oxygen meter', 120],
  ['Turbidity tube', 15],
  ['Throw bag', 12],
  ['Sample case', 22.5],
];

const LOANS = 310;
const FIRST_DAY = serialOfDate({ year: 2025, month: 1, day: 6 });
const DAYS = 680;
const CONDITIONS = ['As lent', 'Cleaned', 'Worn', 'Damaged'];

export const DUE_DAYS = 14;

const BACK_AFTER_OUT: Rule = {
  must: { is: 'compared', by: '>=', columnId: 'kit-loans.out' },
};

/** Kit lent to volunteers. Total and due follow from the other columns. */
export function kitLoansSheet(random: Random, borrowers: readonly string[]): DemoSheet {
  const column = (
    heading: string,
    ...rest: [Parameters<typeof demoColumn>[2], Parameters<typeof demoColumn>[3]?]
  ): ReturnType<typeof demoColumn> => demoColumn('Kit loans', heading, ...rest);
  return {
    name: 'Kit loans',
    topMatter: [['Kit on loan'], ['Totals']],
    columns: [
      column('Borrower', 'oneChoice', { choices: borrowers }),
      column('Item', 'oneChoice', { choices: KIT.map(([item]) => item) }),
      column('Deposit', 'money', { currency: 'GBP', decimals: 2 }),
      column('Quantity', 'wholeNumber'),
      column('Total', 'money', { currency: 'GBP', decimals: 2 }),
      column('Out', 'date', { datePattern: 'd mmm yyyy' }),
      column('Due', 'date'),
      column('Back', 'date', { datePattern: 'd mmm yyyy', rules: [BACK_AFTER_OUT] }),
      column('Condition', 'oneChoice', { choices: CONDITIONS }),
    ],
    records: loans(random, borrowers),
  };
}

function* loans(random: Random, borrowers: readonly string[]): Generator<CellValue[]> {
  for (let n = 0; n < LOANS; n += 1) {
    const out = FIRST_DAY + Math.floor((n * DAYS) / LOANS);
    const [item, deposit] = random.pick(KIT);
    const isBack = n < LOANS - 24 || random.chance(0.4);
    const back = isBack ? Math.min(out + random.whole(2, 22), FIRST_DAY + DAYS) : null;
    yield [
      random.pick(borrowers),
      item,
      deposit,
      random.chance(0.8) ? 1 : random.whole(2, 4),
      null,
      out,
      null,
      back,
      back === null ? null : random.pick(CONDITIONS),
    ];
  }
}
