import type { Page } from '@playwright/test';
import { expect, expectAccessible, goTo, openDemo, signIn, test } from './fixtures';

test.use({ own: 'rules' });

const rules = (page: Page) => page.getByRole('group', { name: 'Rules', exact: true });

/** The notes of a column, where its rules stand. */
async function openColumn(page: Page, sheet: string, heading: RegExp): Promise<void> {
  await signIn(page);
  await openDemo(page);
  await goTo(page, sheet);
  await page.getByRole('columnheader', { name: heading }).click();
  await page.getByRole('button', { name: 'Notes', exact: true }).click();
  await page.getByRole('tab', { name: 'Column' }).click();
}

test('a rule is written as a sentence, tried, switched on over old data, and holds in grid and form', async ({
  page,
}) => {
  await openColumn(page, 'Stations', /Depth/);
  await rules(page).getByRole('button', { name: 'Add a rule' }).press('Enter');
  const editor = page.getByRole('group', { name: 'A new rule' });
  await expect(editor.getByText('Fill in the least, the most, or both.')).toBeVisible();
  await editor.getByLabel('At least').fill('2');
  await editor.getByLabel('At most').fill('1');
  await page.keyboard.press('Enter');
  await expect(editor.getByText(/nothing would pass/)).toBeVisible();
  await editor.getByLabel('At least').fill('0.3');
  await page.keyboard.press('Enter');
  await expect(editor.getByText('Depth must be from 0.3 to 1; otherwise refuse.')).toBeVisible();
  await editor.getByLabel('Try a value').fill('1.4');
  await page.keyboard.press('Enter');
  await expect(editor.getByText('‘1.4’ must be from 0.3 to 1.')).toBeVisible();
  await editor.getByLabel('Try a value').fill('0.9');
  await page.keyboard.press('Enter');
  await expect(editor.getByText('It passes.')).toBeVisible();
  await expect(editor.getByText(/\d+ records would break it\./)).toBeVisible();
  await expectAccessible(page);
  await editor.getByRole('button', { name: 'Add the rule' }).press('Enter');
  await expect(
    rules(page).getByText(/Depth must be from 0\.3 to 1; otherwise refuse\./),
  ).toBeVisible();

  await expect(rules(page).getByText(/\d+ records break a rule\./)).toBeVisible();

  // What is stored stays; what is typed from now on is held against it.
  await rules(page).getByRole('button', { name: 'Show them' }).press('Enter');
  const first = rules(page).getByRole('listitem').first();
  await expect(first).toContainText('must be from 0.3 to 1.');
  await first.getByRole('link').press('Enter');
  await expect(page).toHaveURL(/row=\d+/);
  await expectAccessible(page);
  const grid = page.getByRole('grid');
  await grid.focus();
  await page.keyboard.press('Control+Home');
  await page.keyboard.press('ArrowDown');
  for (let n = 0; n < 5; n += 1) await page.keyboard.press('ArrowRight');
  await page.keyboard.type('2.5');
  await page.keyboard.press('Enter');
  await expect(page.getByText('‘2.5’ must be from 0.3 to 1.')).toBeVisible();
});

test('a rule that asks is answered by a yes, at the desk, and one that compares says so', async ({
  page,
}) => {
  await openColumn(page, 'Kit loans', /Quantity/);
  await rules(page).getByRole('button', { name: 'Add a rule' }).click();
  const editor = page.getByRole('group', { name: 'A new rule' });
  await editor.getByLabel('At most').fill('3');
  await editor.getByLabel('Otherwise').selectOption('ask');
  await editor.getByLabel('Say instead').fill('{value} at once? Ask the keeper first.');
  await page.keyboard.press('Enter');
  await editor.getByRole('button', { name: 'Add the rule' }).click();
  await expect(rules(page).getByText(/otherwise ask and say/)).toBeVisible();
  await goTo(page, 'Lend kit');
  await page
    .getByRole('spinbutton', { name: 'Quantity' })
    .or(page.getByRole('textbox', { name: 'Quantity' }))
    .first()
    .fill('5');
  await page.keyboard.press('Tab');
  await expect(page.getByText('5 at once? Ask the keeper first.')).toBeVisible();
  await expectAccessible(page);
});
