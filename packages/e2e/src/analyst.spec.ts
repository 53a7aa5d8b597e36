import { columnOf, headingRow, Sheet } from './grid';
import { readFileSync } from 'node:fs';
import { expect, expectAccessible, goTo, openDemo, signIn, test } from './fixtures';
import { pressAfterTyping } from './pressing';

test.use({ own: 'analyst' });

test('a sheet is sorted by two columns, and filtered by values that are ticked', async ({
  page,
}) => {
  const sheet = await Sheet.open(page, 'Samples');
  const [river, ph] = [await columnOf(sheet, 'River'), await columnOf(sheet, 'pH')];
  const first = (await headingRow(sheet)) + 1;
  const strip = page.getByRole('region', { name: 'Your view' });
  await sheet.at(first, river);
  await sheet.take('Sort by River, descending');
  await expect(strip).toContainText('by River, descending');
  await sheet.at(first, ph);
  await sheet.take('Sort by River, then by pH, ascending');
  await expect(strip).toContainText('then by pH, ascending');
  const heads = sheet.grid.getByRole('columnheader');
  await expect(heads.nth(river - 1)).toHaveAttribute('aria-sort', 'descending');
  await expect(heads.nth(ph - 1)).toHaveAttribute('aria-sort', 'ascending');
  const shown = async (): Promise<[string, number][]> => {
    const rows = Array.from({ length: 12 }, (_, n) => first + n);
    return Promise.all(
      rows.map(async (row): Promise<[string, number]> => [
        await sheet.cell(row, river).innerText(),
        Number(await sheet.cell(row, ph).innerText()),
      ]),
    );
  };
  await expect(async () => {
    const rows = await shown();
    const sorted = rows.toSorted(([a, one], [b, other]) => b.localeCompare(a) || one - other);
    expect(rows).toEqual(sorted);
  }).toPass();

  // The values of a column, ticked from their counts.
  await sheet.at(first, river);
  await sheet.choose('Show by values of River…');
  await expect(
    page.getByRole('textbox', { name: /^Show only records where River is/ }),
  ).toBeFocused();
  const values = page.getByRole('group', { name: 'Values of River' });
  const beck = values.getByRole('checkbox', { name: /^Ash Beck/ });
  const counted = /Ash Beck ([\d,]+)/.exec(await values.innerText())?.[1] ?? '';
  await beck.press('Space');
  await expect(strip).toContainText(`${counted} of `);
  await expect(strip).toContainText('River is Ash Beck');
  await values.getByRole('checkbox', { name: /^Mereling/ }).press('Space');
  await expect(strip).toContainText('River is Ash Beck or Mereling');
  await expectAccessible(page);
  await beck.press('Space');
  await expect(strip).toContainText('River is Mereling');
  await strip.getByRole('button', { name: 'Drop: then by pH, ascending' }).press('Enter');
  await expect(strip).not.toContainText('then by');
  await strip.getByRole('button', { name: 'Show all, in sheet order' }).press('Enter');
  await expect(strip).toBeHidden();
});

test('a text is replaced in one cell, then in all that may take it, as one write', async ({
  page,
}) => {
  const sheet = await Sheet.open(page, 'Sightings');
  const first = (await headingRow(sheet)) + 1;
  await sheet.at(first, 1);
  await sheet.press('Escape', 'f');
  const search = page.getByRole('search');
  await page.keyboard.type('bridge');
  await sheet.press('Enter');
  await expect(search).toContainText(/1 of \d+, in [A-Z]+\d+/);
  const found = await sheet.active.getAttribute('id');
  const held = await sheet.active.innerText();
  await search.getByRole('button', { name: 'Replace', exact: true }).press('Enter');
  await search.getByRole('textbox', { name: 'Replace with' }).fill('ford');
  await sheet.press('Enter');
  // It goes on to the next.
  await expect(sheet.active).not.toHaveAttribute('id', found ?? '');
  const was = page.locator(`[id="${found ?? ''}"]`);
  await expect(was).toHaveText(held.replace(/bridge/i, 'ford'));

  await search.getByRole('button', { name: 'Replace all…' }).press('Enter');
  const all = search.getByRole('region', { name: 'Replace all' });
  await expect(all).toContainText(/‘bridge’ stands in \d+ cells of the records\./);
  await expectAccessible(page);
  await all.getByRole('button', { name: /^Replace in \d+ records$/ }).press('Enter');
  await expect(search).toContainText(/‘bridge’ replaced in \d+ records\..*Undo takes it back\./);
  await search.getByRole('textbox', { name: 'Find in this sheet' }).press('Enter');
  await expect(search).toContainText('Nothing matches ‘bridge’.');
  await sheet.grid.focus();
  await sheet.press('Control+z');
  await search.getByRole('textbox', { name: 'Find in this sheet' }).press('Enter');
  await expect(search).toContainText(/\d+ of \d+, in/);

  // What rules refuse stays as it is, and is told with why.
  await search.getByRole('textbox', { name: 'Find in this sheet' }).fill('2026');
  await search.getByRole('textbox', { name: 'Replace with' }).fill('20x6');
  await search.getByRole('button', { name: 'Replace all…' }).press('Enter');
  await expect(all).toContainText(/none of which can change/);
  await expect(all.getByRole('region', { name: 'Records left as they are' })).toBeVisible();
});

test('cells stand out by a mark and its sign; a rule asks when another column is over a number', async ({
  page,
}) => {
  const sheet = await Sheet.open(page, 'Samples');
  const ph = await columnOf(sheet, 'pH');
  const first = (await headingRow(sheet)) + 1;
  await sheet.at(first, ph);
  await sheet.notes('Column');
  const marks = page.getByRole('group', { name: 'Marks' });
  await marks.getByRole('button', { name: 'Mark by a condition' }).press('Enter');
  await marks.getByRole('textbox', { name: 'Mark where pH is' }).fill('> 7');
  await sheet.press('Enter');
  const marked = sheet.grid.locator('.grid-cell.marked');
  await expect(marked.first()).toHaveAttribute('aria-label', /pH is over 7\./);
  for (const cell of await marked.all()) {
    expect(Number(await cell.innerText())).toBeGreaterThan(7);
  }
  await marks.getByRole('combobox', { name: 'With' }).selectOption({ label: '◆ Red' });
  await expect(marked.first()).toHaveClass(/back-madder/);
  await marks.getByRole('textbox', { name: 'Mark where pH is' }).fill('> x');
  await sheet.press('Enter');
  await expect(marks).toContainText('x');
  await sheet.press('Escape');
  await expectAccessible(page);

  await page.getByRole('button', { name: 'Add a rule' }).press('Enter');
  const rule = page.getByRole('group', { name: 'A new rule' });
  await rule.getByRole('textbox', { name: 'At most' }).fill('9');
  await rule.getByRole('combobox', { name: 'When' }).selectOption({ label: 'Water temp' });
  await rule.getByRole('combobox', { name: 'How' }).selectOption({ label: 'is more than' });
  await rule.getByRole('textbox', { name: 'Value', exact: true }).fill('20');
  await expect(rule).toContainText('when Water temp is more than 20');
});

test('copy and paste stand in the menu, and columns are as wide as what they show', async ({
  page,
  context,
}) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  const sheet = await Sheet.open(page, 'Sightings');
  const first = (await headingRow(sheet)) + 1;
  const where = await columnOf(sheet, 'Where');
  await sheet.at(first, where);
  const held = await sheet.active.innerText();
  await sheet.take('Copy');
  await expect(page.getByRole('status').filter({ hasText: 'Close' })).toContainText('Copied 1 row');
  await expect.poll(() => page.evaluate(() => navigator.clipboard.readText())).toBe(held);
  await sheet.press('ArrowDown');
  const before = await sheet.active.innerText();
  expect(before).not.toBe(held);
  await sheet.take('Paste');
  await expect(sheet.active).toHaveText(held);
  await sheet.press('Control+z');
  await expect(sheet.active).toHaveText(before);

  const width = async (): Promise<number> => (await sheet.active.boundingBox())?.width ?? 0;
  await sheet.type('A name that is longer than its column is wide, by far', 'Enter');
  await sheet.press('ArrowUp');
  const narrow = await width();
  await sheet.take('Fit the width');
  await expect.poll(width).toBeGreaterThan(narrow);
  await expect(sheet.active).toHaveText('A name that is longer than its column is wide, by far');
});

test('a copied table is pasted where files are brought in, and free cells become records', async ({
  page,
  context,
}) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  await signIn(page);
  const copy = (text: string): Promise<void> =>
    page.evaluate((copied) => navigator.clipboard.writeText(copied), text);
  await copy('Boat\tBuilt\tPrice\r\nCorrow\t3/5/2019\t1,200\r\nTern\t1/6/2021\t950\r\n');
  const preview = page.getByRole('main').getByRole('table').first();
  for (const open of [
    () => Promise.resolve(),
    async () => {
      await page.getByRole('button', { name: 'Bring in a file' }).first().click();
      await expect(page.getByText(/paste a copied table/)).toBeVisible();
    },
    async () => {
      await openDemo(page);
      await page.getByRole('link', { name: 'Add a sheet' }).click();
      await page.getByRole('textbox', { name: 'Headings' }).focus();
    },
  ]) {
    await page.goto('/');
    await expect(page.getByRole('link', { name: 'Ashbeck River Watch' }).first()).toBeVisible();
    await open();
    await page.keyboard.press('Control+v');
    await expect(preview).toContainText('Corrow');
    await expect(page.getByRole('main')).toContainText('Boat');
  }

  // Cells of a sheet without records, with a heading row.
  await page.goto('/');
  await openDemo(page);
  await goTo(page, 'Choices');
  const sheet = new Sheet(page);
  await expect(sheet.grid.getByRole('gridcell').first()).toBeVisible();
  await sheet.at(45, 1);
  await sheet.type('Boat', 'Tab');
  await sheet.type('Price', 'Enter');
  await sheet.at(46, 1);
  await sheet.type('Corrow', 'Tab');
  await sheet.type('1200', 'Enter');
  await sheet.at(45, 1);
  await sheet.press('Shift+ArrowDown', 'Shift+ArrowRight');
  await sheet.choose('Make records of this…');
  await expect(preview).toContainText('Corrow');
  await page
    .getByRole('button', { name: /^Bring in/ })
    .last()
    .click();
  await expect(sheet.grid.getByRole('columnheader', { name: 'Boat' })).toBeVisible();

  const contents = page.getByRole('navigation', { name: 'Contents' });
  await contents.getByRole('link', { name: 'Choices', exact: true }).click();
  await expect(page.getByRole('grid', { name: 'Sheet Choices', exact: true })).toBeVisible();
  await page.getByRole('button', { name: 'Take away' }).click();
  const file = page.waitForEvent('download');
  await page.getByRole('dialog').getByRole('link', { name: 'Take away' }).click();
  expect(readFileSync(await (await file).path(), 'utf8')).toContain('Corrow,1200');
});

test('a press after typing in the details of a sheet reaches the button it was aimed at', async ({
  page,
}) => {
  const sheet = await Sheet.open(page, 'Kit loans');
  const first = (await headingRow(sheet)) + 1;
  const margin = page.getByRole('complementary', { name: 'Details' });
  const parts = ['Column', 'View', 'Sheet', 'Names'] as const;
  const tried: number[] = [];
  for (const [part, then] of [
    ...parts.map((each) => [each, ''] as const),
    ['Column', 'Add a rule'] as const,
  ]) {
    const pressed = await pressAfterTyping(page, margin, async () => {
      await sheet.press('Escape', 'Escape');
      await sheet.at(first, await columnOf(sheet, 'Quantity'));
      await sheet.notes(part);
      if (then !== '') await margin.getByRole('button', { name: then }).press('Enter');
    });
    expect(pressed.missed).toEqual([]);
    tried.push(pressed.tried);
  }
  expect(tried.reduce((sum, each) => sum + each, 0)).toBeGreaterThan(10);
});

test('a press after typing in the details of a form reaches the button it was aimed at', async ({
  page,
}) => {
  await signIn(page);
  await openDemo(page);
  await goTo(page, 'Log a sample');
  await page.getByRole('button', { name: 'Compose' }).press('Enter');
  const frames = page.locator('[data-frame]');
  const margin = page.getByRole('complementary', { name: /^(?:Field|The form)$/ });
  await expect(frames.first()).toBeVisible();
  const names = await frames.evaluateAll((all) => all.map((each) => each.ariaLabel ?? ''));
  const tried: number[] = [];
  for (const [field, then] of [
    ['pH', ''],
    ['pH', 'Add a rule'],
    ['Station', ''],
    ['Weather', 'Add a rule'],
    ['Notes', ''],
  ] as const) {
    const pressed = await pressAfterTyping(page, margin, async () => {
      const close = margin.getByRole('button', { name: 'Close' });
      if (await close.isVisible()) await close.press('Enter');
      await frames.nth(names.findIndex((each) => each.startsWith(`${field}:`))).focus();
      await page.keyboard.press('Enter');
      await expect(margin).toBeVisible();
      if (then !== '') await margin.getByRole('button', { name: then }).press('Enter');
    });
    expect(pressed.missed).toEqual([]);
    tried.push(pressed.tried);
  }
  expect(tried.reduce((sum, each) => sum + each, 0)).toBeGreaterThan(10);
});
