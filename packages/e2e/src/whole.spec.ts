import { paths, type SheetView, type WorkbookView } from '@varn/contract';
import type { Rule } from '@varn/core';
import type { Page } from '@playwright/test';
import { readFileSync } from 'node:fs';
import { expect, expectAccessible, goTo, openDemo, signIn, test } from './fixtures';

test.use({ own: 'whole' });

const field = (page: Page, name: string) =>
  page
    .getByRole('textbox', { name, exact: true })
    .or(page.getByRole('combobox', { name, exact: true }));

const said = (page: Page) => page.locator('[data-desk-form]').getByText(/must/);

async function lend(page: Page): Promise<void> {
  await signIn(page);
  await openDemo(page);
  await goTo(page, 'Lend kit');
}

/** Opens the oldest loan of waders. */
async function openFirst(page: Page): Promise<void> {
  await expect(field(page, 'Borrower')).toBeFocused();
  await page.getByRole('button', { name: 'Find' }).click();
  await page.getByRole('combobox', { name: 'Find in Kit loans' }).fill('waders');
  await page.getByRole('button', { name: /^Show all/ }).click();
  await expect(page.getByText(/^Match 1 of/)).toBeVisible();
  await expect(field(page, 'Deposit')).not.toHaveValue('');
}

/** The sheet of loans, as the API tells it to whoever is signed in. */
async function loans(page: Page): Promise<SheetView> {
  const [workbook] = (await (await page.request.get(paths.workbooks)).json()) as { id: string }[];
  const { sheets } = (await (
    await page.request.get(paths.workbook(workbook?.id ?? ''))
  ).json()) as WorkbookView;
  const id = sheets.find(({ name }) => name === 'Kit loans')?.id ?? '';
  return (await (await page.request.get(paths.sheet(id))).json()) as SheetView;
}

async function rule(page: Page, heading: string, rules: (sheet: SheetView) => Rule[]) {
  const sheet = await loans(page);
  const column = sheet.columns.find((each) => each.heading === heading);
  const data = { revision: sheet.revision, settings: { ...column?.settings, rules: rules(sheet) } };
  const headers = { origin: new URL(page.url()).origin };
  const path = paths.column(sheet.id, column?.id ?? '');
  expect((await page.request.patch(path, { data, headers })).status()).toBe(200);
}

test('a form without a column holds the rules of it, and does not hold the clerk up by them', async ({
  page,
}) => {
  await lend(page);
  // A loan that is back since long: it can't have gone out after that.
  await openFirst(page);
  const out = await field(page, 'Out').inputValue();
  await field(page, 'Out').fill('1/6/2030');
  await page.keyboard.press('Control+Enter');
  await expect(said(page)).toHaveText(/^Back ‘.*’ must be on or after Out\.$/);
  await expect(field(page, 'Out')).toBeFocused();
  await expectAccessible(page);
  await field(page, 'Out').fill(out);
  await expect(said(page)).toHaveCount(0);

  // What another rule says of the rest, which the form does not show, is none of this change's.
  await rule(page, 'Quantity', (sheet) => [
    {
      must: { is: 'between', to: 0 },
      when: {
        columnId: sheet.columns.find(({ heading }) => heading === 'Back')?.id ?? '',
        holds: 'blank',
      },
    },
  ]);
  await page.reload();
  await openFirst(page);
  await field(page, 'Deposit').fill('33');
  await page.keyboard.press('Control+Enter');
  await expect(page.locator('footer').getByRole('status')).toContainText('updated in Kit loans');
  await rule(page, 'Quantity', () => []);
});

test('a change of all matches says how many can’t take it and why, leaves those, and is undone', async ({
  page,
}) => {
  await lend(page);
  await expect(field(page, 'Borrower')).toBeFocused();
  await page.keyboard.press('Escape');
  await page.keyboard.press('f');
  await page.keyboard.type('waders');
  await page.getByRole('button', { name: /^Show all/ }).click();
  await page.getByRole('button', { name: 'Change all' }).click();
  await page.getByRole('combobox', { name: /^In all/ }).selectOption({ label: 'Out' });
  await page.getByRole('textbox', { name: /^to a value/ }).fill("='Out'+9");
  const left = page.getByRole('region', { name: 'Records left as they are' });
  await expect(left.getByRole('row').nth(1)).toContainText(/Back ‘.*’ must be on or after Out\./);
  const cant = page.getByText(/records can’t take it: they stay as they are\./);
  const refused = Number(/^([\d,]+)/.exec((await cant.textContent()) ?? '')?.[1]);
  expect(refused).toBeGreaterThan(1);
  await expectAccessible(page);

  const file = page.waitForEvent('download');
  await page.getByRole('button', { name: `Take away the ${refused} records left out` }).click();
  const lines = readFileSync(await (await file).path(), 'utf8')
    .trim()
    .split('\r\n');
  expect(lines[0]).toBe('Row,Record,Out,Why');
  expect(lines).toHaveLength(refused + 1);

  const change = page.getByRole('button', { name: /^Change [\d,]+ records?$/ });
  const changed = /[\d,]+/.exec((await change.textContent()) ?? '')?.[0] ?? '';
  await change.click();
  const done = `Out changed in ${changed} records. ${refused} left as they were.`;
  await expect(page.getByText(done)).toBeVisible();
  await page.locator('footer').getByRole('button', { name: 'Undo' }).last().click();
  await expect(page.getByText(done)).toHaveCount(0);
});
