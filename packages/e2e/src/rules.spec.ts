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
  await page.getByRole('button', { name: 'Details', exact: true }).click();
  await page.getByRole('tab', { name: 'Column' }).click();
}

test('a rule is written as a sentence, tried, switched on over old data, and holds in grid and form', async ({
  page,
}) => {
  await openColumn(page, 'Stations', /Depth/);
  await rules(page).getByRole('button', { name: 'Add a rule' }).press('Enter');
  const editor = page.getByRole('group', { name: 'A new rule' });
  await expect(editor.getByText('Fill in the minimum, the maximum, or both.')).toBeVisible();
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
  const form = page.locator('[data-desk-form]');
  await expect(form.getByText('5 at once? Ask the keeper first.')).toBeVisible();
  await expectAccessible(page);
});

test('of a hundred pasted rows seven break a rule: they wait in a strip, and are placed once they are right', async ({
  page,
  context,
}) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  await signIn(page);
  await openDemo(page);
  await goTo(page, 'Kit loans');
  const before = page.getByText(/^\d+ records in 9 columns$/);
  await expect(before).toBeVisible();
  const count = Number(/\d+/.exec(await before.innerText())?.[0]) - 1;
  const rows = Array.from({ length: 100 }, (_, n) => {
    return ['Edo Garrick', 'Waders', n % 15 === 3 ? '999' : '25', '1'].join('\t');
  });
  await page.evaluate((text) => navigator.clipboard.writeText(text), rows.join('\n'));
  await page.getByRole('grid').focus();
  await page.keyboard.press('Control+End');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Home');
  await page.keyboard.press('Control+v');
  const strip = page.getByRole('region', { name: 'Not written' });
  await expect(strip.getByText('7 cells were not written.')).toBeVisible();
  await expect(strip.getByText('‘£999.00’ must be from 2 to 250.').first()).toBeVisible();
  await expectAccessible(page);
  // A record above goes: each is named by where it stands now, and gone to there.
  const heading = /^[A-Z]+(\d+)$/.exec(
    (await strip.getByRole('listitem').first().getByRole('button').first().innerText()).trim(),
  );
  await page.keyboard.press('Control+Home');
  for (let n = 0; n < 3; n += 1) await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Shift+F10');
  await page.getByRole('menuitem', { name: /^Delete (?:1|the) record/ }).click();
  const [, row] = heading ?? [];
  const there = strip.getByRole('button', { name: `Go to Deposit in C${Number(row) - 1}` });
  await there.press('Enter');
  // Of its row all was written but the deposit.
  const active = page.locator('.grid-cell.active');
  await expect(active).toHaveText('');
  await page.getByRole('grid').focus();
  await page.keyboard.press('ArrowUp');
  await expect(active).toHaveText('£25.00');
  // Each is corrected where it waits; what is still wrong stays, with its reason.
  const first = strip.getByRole('textbox').first();
  await first.fill('300');
  await first.press('Enter');
  await expect(strip.getByText('‘£300.00’ must be from 2 to 250.')).toBeVisible();
  await first.fill('99');
  await first.press('Enter');
  await expect(strip.getByText('6 cells were not written.')).toBeVisible();
  for (const input of await strip.getByRole('textbox').all()) await input.fill('12');
  await strip.getByRole('button', { name: 'Place all' }).press('Enter');
  await expect(strip).toBeHidden();
  await expect(page.getByText(`${count + 100} records in 9 columns`)).toBeVisible();
});

test('a rule is adopted from the data; what breaks it is walked through and cured; rules that leave nothing are told', async ({
  page,
}) => {
  await openColumn(page, 'Stations', /Depth/);
  // A slip among what is stored.
  const grid = page.getByRole('grid');
  await grid.focus();
  await page.keyboard.press('Control+Home');
  await page.keyboard.press('ArrowDown');
  for (let n = 0; n < 5; n += 1) await page.keyboard.press('ArrowRight');
  await page.getByRole('columnheader', { name: /Depth/ }).click();
  for (const each of await rules(page)
    .getByRole('button', { name: /^Remove the rule/ })
    .all()) {
    await each.click();
  }
  await rules(page).getByRole('button', { name: 'Suggest rules' }).press('Enter');
  const suggested = rules(page).getByRole('group', { name: 'Suggested rules' });
  await expect(suggested.getByText(/Must be from [\d.]+ to [\d.]+\./)).toBeVisible();
  await expectAccessible(page);
  await suggested.getByRole('button', { name: /^Adopt the rule: must be from/ }).press('Enter');
  await expect(
    rules(page).getByText(/Depth must be from [\d.]+ to [\d.]+; otherwise refuse\./),
  ).toBeVisible();

  await rules(page).getByRole('button', { name: 'Add a rule' }).press('Enter');
  const editor = page.getByRole('group', { name: 'A new rule' });
  await editor.getByRole('button', { name: 'Write it as a sentence' }).press('Enter');
  await editor.getByLabel('The rule as a sentence').fill('be at least 40');
  await page.keyboard.press('Tab');
  await expect(
    editor.getByText(
      /No value can pass both: .*40.* passes the second only\.|No value can pass both/,
    ),
  ).toBeVisible();
  await editor.getByLabel('The rule as a sentence').fill('be at most 0.4 nonsense');
  await page.keyboard.press('Tab');
  await expect(editor.getByText(/It can’t be read from/)).toBeVisible();
  await editor.getByLabel('The rule as a sentence').fill('be at most 0.4; otherwise note');
  await page.keyboard.press('Tab');
  await editor.getByRole('button', { name: 'Add the rule' }).press('Enter');
  const broken = rules(page).getByText(/(\d+) records break a rule\./);
  await expect(broken).toBeVisible();
  const count = Number(/\d+/.exec(await broken.innerText())?.[0]);
  // Each is gone to, and says why where it stands.
  await rules(page).getByRole('button', { name: 'Next', exact: true }).press('Enter');
  await expect(page).toHaveURL(/row=\d+&column=/);
  await expect(page.getByText(/: ‘[\d.]+’ must be at most 0\.4\./)).toBeVisible();
  await grid.focus();
  await page.keyboard.type('0.4');
  await page.keyboard.press('Enter');
  await expect(rules(page).getByText(`${count - 1} records break a rule.`)).toBeVisible();
});

test('the rows of a file are held against the rules of a sheet; the refused are taken away', async ({
  page,
}) => {
  await signIn(page);
  await openDemo(page);
  await goTo(page, 'Bring in a file');
  const lines = [
    'ph,Observer,Date,Remark',
    '7.2,Edo Garrick,2026-03-01,a',
    '15,Edo Garrick,2026-03-02,b',
    '9.4,Edo Garrick,2026-03-03,c',
  ];
  await page.setInputFiles('input[type=file]', {
    name: 'more.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(lines.join('\n')),
  });
  await page.getByLabel('Bring in as').selectOption({ label: 'Rows of Samples' });
  await expect(page.getByLabel('ph', { exact: true })).toHaveValue('samples.ph');
  await expect(page.getByLabel('Remark', { exact: true })).toHaveValue('');
  await page.getByRole('button', { name: 'Check 3 rows' }).press('Enter');
  await expect(
    page.getByText('1 row passes, 1 is asked about, 1 is refused. Nothing is stored yet.'),
  ).toBeVisible();
  await expect(page.getByText('‘15’ must be from 0 to 14.')).toBeVisible();
  await expectAccessible(page);
  await page.getByText('Accept the row that was asked about').click();
  const kept = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Take away the 1 row left out' }).press('Enter');
  expect((await kept).suggestedFilename()).toBe('Samples left out.csv');
  await page.getByRole('button', { name: 'Add 2 rows to Samples' }).press('Enter');
  await expect(page.getByRole('grid')).toBeVisible();
  await expect(page.getByText(/^2,402 records in/)).toBeVisible();
});

test.describe('on a phone', () => {
  test.use({ viewport: { width: 390, height: 844 }, hasTouch: true });

  test('a rule asks where it was typed, and is answered by a yes', async ({ page }) => {
    await signIn(page);
    await openDemo(page);
    await page
      .getByRole('main')
      .getByRole('link', { name: 'Log a sample', exact: true })
      .last()
      .click();
    await page.getByRole('textbox', { name: 'pH' }).fill('9.6');
    await page.keyboard.press('Tab');
    await expect(page.getByText('9.6 is high. Rinse the meter and read again.')).toBeVisible();
    await expectAccessible(page);
  });
});

test('a secret word is set by the analyst, admits at the desk, and is left nowhere', async ({
  page,
}) => {
  await openColumn(page, 'Sightings', /Where/);
  await rules(page).getByRole('button', { name: 'Add a rule' }).click();
  const editor = page.getByRole('group', { name: 'A new rule' });
  await editor.getByRole('combobox', { name: 'Where must' }).selectOption('be a secret word');
  await editor.getByLabel('Name of the word').fill('Keepers');
  await page.keyboard.press('Enter');
  await expect(editor.getByText('No word is set yet, so nobody can pass.')).toBeVisible();
  await editor.getByRole('textbox', { name: 'Word', exact: true }).fill('Heron');
  await editor.getByRole('button', { name: 'Set the word' }).press('Enter');
  await expect(editor.getByText('The word for ‘Keepers’ is set.')).toBeVisible();
  await expect(editor.getByRole('checkbox', { name: /Don’t store/ })).toBeChecked();
  await expectAccessible(page);
  await editor.getByRole('button', { name: 'Add the rule' }).click();
  await expect(
    rules(page).getByText(
      'Where must match the secret word ‘Keepers’ (not stored); otherwise refuse.',
    ),
  ).toBeVisible();

  await goTo(page, 'Report a sighting');
  const note = page.getByRole('textbox', { name: 'Where' });
  await note.fill('stork');
  await page.keyboard.press('Tab');
  await expect(
    page
      .locator('[data-desk-form]')
      .getByText('That is not the secret word. Check it, or ask who gave it to you.'),
  ).toBeVisible();
  await expect(note).toHaveCSS('-webkit-text-security', 'disc');
  await page.getByRole('button', { name: 'Show', exact: true }).click();
  await expect(note).toHaveCSS('-webkit-text-security', 'none');
  await note.fill('heron');
  await page.keyboard.press('Tab');
  await expect(page.getByText(/not the secret word/)).toBeHidden();
  expect(await page.content()).not.toContain('Heron');
});
