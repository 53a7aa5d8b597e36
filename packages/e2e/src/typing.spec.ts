import type { FormView, RowsView, WorkbookView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import type { Page } from '@playwright/test';
import { expect, goTo, openDemo, signIn, test } from './fixtures';

/** Two items of the demo's price list: what is typed to find one, and its deposit. */
const WADERS = { typed: 'wad', name: 'Waders', deposit: 25 };
const METER = { typed: 'oxy', name: 'Oxygen meter', deposit: 120 };

const get = async <T>(page: Page, path: string): Promise<T> =>
  (await page.request.get(path)).json() as Promise<T>;

/** The loans that were written last, the newest last: item and deposit. */
async function lastLoans(page: Page, count: number): Promise<[unknown, unknown][]> {
  const [workbook] = await get<{ id: string }[]>(page, paths.workbooks);
  const { sheets } = await get<WorkbookView>(page, paths.workbook(workbook?.id ?? ''));
  const formId = sheets.find(({ name }) => name === 'Kit loans')?.forms[0]?.id ?? '';
  const { sheet } = await get<FormView>(page, paths.form(formId));
  const from = sheet.count - count;
  const { records } = await get<RowsView>(page, paths.rows(sheet.id, from, count));
  const at = (heading: string): number =>
    sheet.columns.findIndex((column) => column.heading === heading);
  return records.map(({ cells }) => [cells[at('Item')], cells[at('Deposit')]]);
}

/** A loan as a clerk types it: borrower, an item, then another item after all. */
async function lend(page: Page, delay: number, first: string, then: string): Promise<void> {
  const { keyboard } = page;
  const press = async (key: string): Promise<void> => {
    await keyboard.press(key);
    if (delay > 0) await page.waitForTimeout(delay);
  };
  await keyboard.type('wyn', { delay });
  await press('Enter');
  await keyboard.type(first, { delay });
  await press('Enter');
  await press('Shift+Tab');
  await press('Control+a');
  await keyboard.type(then, { delay });
  await press('Enter');
  await press('Control+Enter');
}

test('at whatever speed one types, each loan is stored with the deposit of its own item', async ({
  page,
}) => {
  await signIn(page);
  await openDemo(page);
  await goTo(page, 'Lend kit');
  const borrower = page.getByRole('combobox', { name: 'Borrower' });
  const expected: [string, number][] = [];
  for (const delay of [0, 60, 120, 200]) {
    for (let n = 0; n < 4; n += 1) {
      const [first, then] = n % 2 === 0 ? [WADERS, METER] : [METER, WADERS];
      await expect(borrower).toBeFocused();
      await expect(borrower).toHaveValue('');
      await lend(page, delay, first.typed, then.typed);
      await expect(page.locator('footer').getByRole('status')).toContainText(
        'written to Kit loans',
      );
      expected.push([then.name, then.deposit]);
    }
  }
  expect(await lastLoans(page, expected.length)).toEqual(expected);
});

test('what is looked up is told as on its way, and what came otherwise than it was seen is said', async ({
  page,
}) => {
  await signIn(page);
  await openDemo(page);
  await goTo(page, 'Lend kit');
  await expect(page.getByRole('combobox', { name: 'Borrower' })).toBeFocused();
  await page.keyboard.type('wyn');
  await page.keyboard.press('Enter');
  await page.keyboard.type('wad');
  await page.keyboard.press('Enter');
  const deposit = page.getByRole('textbox', { name: 'Deposit' });
  await expect(deposit).toHaveValue('25');
  // No answer comes of what is looked up from here on.
  await page.route('**/checks', () => undefined);
  await page.keyboard.press('Shift+Tab');
  await page.keyboard.type('oxy');
  await page.keyboard.press('Enter');
  await expect(deposit).toHaveValue('');
  await expect(deposit).toHaveAttribute('placeholder', '…');
  await expect(page.locator('tr.landing-row')).toContainText('…');
  await page.keyboard.press('Control+Enter');
  await expect(page.locator('footer').getByRole('status')).toContainText('Deposit became £120.00.');
});
