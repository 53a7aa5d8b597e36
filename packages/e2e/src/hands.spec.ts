import { expect, expectAccessible, goTo, openDemo, signIn, test } from './fixtures';
import { columnOf, headingRow, Sheet } from './grid';

test.use({ own: 'hands' });

test('a heading is renamed in place, columns are inserted, cells filled by a letter, a text found with its count', async ({
  page,
}) => {
  const sheet = await Sheet.open(page, 'Kit loans');
  const row = await headingRow(sheet);
  const column = await columnOf(sheet, 'Condition');
  await sheet.at(row, column);
  await sheet.press('F2');
  await expectAccessible(page);
  await sheet.press('Control+A');
  await sheet.type('State');
  await expect(sheet.grid.getByRole('columnheader', { name: 'State' })).toBeVisible();

  await sheet.at(row, column);
  await sheet.take('Insert a column right of State');
  await expect(sheet.grid.getByRole('columnheader', { name: 'New column' })).toBeVisible();
  await expect(sheet.active).toHaveText('New column');
  await sheet.type('Checked by');
  await expect(sheet.grid.getByRole('columnheader', { name: 'Checked by' })).toBeVisible();

  await sheet.at(row + 1, column + 1);
  await sheet.type('Zq1');
  await sheet.at(row + 1, column + 1);
  await page.keyboard.down('Shift');
  await sheet.press('ArrowDown', 'ArrowDown');
  await page.keyboard.up('Shift');
  await page.locator('[data-action="find"]').focus();
  await sheet.press('d');
  await expect(sheet.cell(row + 3, column + 1)).toHaveText('Zq1');

  await page.locator('[data-action="find"]').focus();
  await sheet.press('f');
  await sheet.type('zq1');
  const find = page.getByRole('search');
  await expect(find.getByRole('status')).toHaveText(/^[1-3] of 3, in [A-Z]+\d+$/);
  const first = await find.getByRole('status').innerText();
  await find.getByRole('button', { name: 'Previous' }).press('Enter');
  await expect(find.getByRole('status')).not.toHaveText(first);
  await expectAccessible(page);
  await sheet.press('Escape');
  // Keys are the grid's again: a letter types into a cell.
  await expect(sheet.grid).toBeFocused();
  await sheet.press('Control+End', 'Control+Home');
  await expect(sheet.active).toHaveText('Kit on loan');
  await expect(sheet.active).toBeInViewport();
});

test('the locale of a workbook is changed, once it is seen what changes', async ({ page }) => {
  await signIn(page);
  await openDemo(page);
  await goTo(page, 'Settings');
  await page.getByLabel('Dates and numbers as in').selectOption('de-DE');
  await page.getByLabel('Usual currency').selectOption('EUR');
  await expect(page.getByText(/^After saving: .*1\.234,5.*12,50\s€/)).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Save' }).press('Enter');
  await expect(page.getByText('Settings saved.')).toBeVisible();
  await goTo(page, 'Samples');
  await expect(page.getByRole('gridcell', { name: '01.11.2024' }).first()).toBeVisible();
  await expect(page.getByRole('gridcell', { name: '7,3' }).first()).toBeVisible();
  await goTo(page, 'Settings');
  await page.getByLabel('Dates and numbers as in').selectOption('en-GB');
  await page.getByRole('button', { name: 'Save' }).press('Enter');
  await expect(page.getByText('Settings saved.')).toBeVisible();
});

test('rows of a file are left out before it is brought in; what it holds twice is told', async ({
  page,
}) => {
  const lines = Array.from({ length: 60 }, (_, n) => `K-${n === 50 ? 7 : n},${n}.5`);
  await signIn(page);
  await page.goto('/bring-in');
  await page.setInputFiles('input[type=file]', {
    name: 'kit.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(['Kit,Weight', ...lines].join('\n')),
  });
  await expect(page.getByText('Kit has values that occur more than once: K-7.')).toBeVisible();
  await expect(page.getByRole('row', { name: /^45 / })).toHaveCount(0);
  await page.getByRole('button', { name: 'Show all rows' }).press('Enter');
  const rows = page.getByRole('region', { name: 'What the file becomes' });
  await rows.focus();
  await page.keyboard.press('End');
  await expect(rows.getByRole('cell', { name: 'K-59' })).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Show fewer rows' }).press('Enter');
  await page.getByRole('checkbox', { name: 'Bring in row 61' }).focus();
  await page.keyboard.press('Space');
  await expect(page.getByText('left out 61')).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Bring in 59 records, 2 columns' }).press('Enter');
  await expect(page.getByText('59 records in 2 columns')).toBeVisible();
  await expect(page.getByRole('gridcell', { name: '0.5' }).first()).toBeVisible();
});

test('cells outside of the records are made to stand out, all by keys, and undone', async ({
  page,
}) => {
  const sheet = await Sheet.open(page, 'Summary');
  const title = sheet.cell(1, 1);
  await expect(title).toHaveText('The seasons in numbers');
  await expect(title).toHaveCSS('font-weight', '700');
  await expect(sheet.cell(10, 1)).toHaveText('Nov 2025');
  await sheet.at(27, 1);
  await sheet.type('Counts are live: they follow what is written into Samples, whoever writes it.');
  await sheet.at(27, 1);
  await sheet.notes('Cell');
  await page.getByRole('checkbox', { name: 'Wrap text' }).press('Space');
  await expect(sheet.cell(27, 1)).toHaveClass(/wrapped/);
  // It runs down over the blank cells below it, within its column.
  const box = await sheet.cell(27, 1).boundingBox();
  expect(box?.height).toBeGreaterThan(100);
  await page.getByLabel('Background').selectOption('Green');
  await expect(sheet.cell(27, 1)).toHaveClass(/back-pine/);
  await expectAccessible(page);
  await page.locator('[data-action="undo"]').press('Enter');
  await expect(sheet.cell(27, 1)).not.toHaveClass(/back-pine/);
  await expect(sheet.cell(27, 1)).toHaveClass(/wrapped/);
});

test('what a line can go on with is offered; its column comes beside its neighbour’s', async ({
  page,
}) => {
  await signIn(page);
  await openDemo(page);
  await page.getByRole('link', { name: 'Compose Register a volunteer' }).press('Enter');
  const line = page.getByRole('textbox', { name: 'Add a part' });
  await expect(line).toBeFocused();
  await page.locator('.frame', { hasText: 'Mail' }).focus();
  await page.keyboard.press('+');
  await page.keyboard.type('Second mail: em');
  await expect(page.getByRole('option', { name: 'email' })).toBeVisible();
  await page.keyboard.press('ArrowDown');
  await expectAccessible(page);
  await page.keyboard.press('Enter');
  await page.keyboard.type(', req');
  await page.keyboard.press('Enter');
  await page.keyboard.press('Enter');
  const headings = page.getByRole('group', { name: 'Heading of the sheet' }).getByRole('button');
  await expect(headings).toHaveText([
    /^Id/,
    /^Name/,
    /^Mail/,
    /^Second mail.*required/,
    /^Phone/,
    /^Training level/,
    /^Kit no\./,
  ]);
  await line.focus();
  await page.keyboard.type('Twice: computed = kit no. * 2');
  await expect(page.getByRole('option', { name: "'Kit no.' * 2" })).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(line).toHaveValue("Twice: computed = 'Kit no.' * 2");
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: 'Ready for use' })).toBeVisible();
  await page.getByRole('button', { name: 'Put to use' }).press('Enter');
  await expect(page.getByRole('heading', { name: 'Register a volunteer', level: 1 })).toBeVisible();
  await goTo(page, 'Volunteers');
  const columns = page.getByRole('grid').getByRole('columnheader');
  await expect(columns.nth(3)).toHaveText(/Second mail/);
});

test('any place is found by any of its words, and an action of the place by its name', async ({
  page,
}) => {
  await signIn(page);
  await openDemo(page);
  await page.locator('[data-action="finder"]').press('Enter');
  // On a slow machine the list may get the focus first.
  await page.getByRole('listbox', { name: 'Places' }).focus();
  await page.keyboard.type('turbid', { delay: 500 });
  await expect(page.getByRole('option')).toHaveText([/Turbidity/]);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Samples', level: 1 })).toBeVisible();
  await expect(page.locator('.grid-cell.active')).toHaveText(/Turbidity/);
  await page.locator('[data-action="finder"]').press('Enter');
  await page.keyboard.type('zzz');
  await expect(page.getByText('Nothing matches ‘zzz’.')).toBeVisible();
  await page.keyboard.press('Control+A');
  await page.keyboard.type('take aw');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('dialog')).toContainText('Take the sheet away as CSV');
});

test('the keyboard skips to the page, and contents tell what came in', async ({ page }) => {
  await signIn(page);
  await openDemo(page);
  await expect(page.getByRole('table', { name: 'Sheets and forms' })).toContainText('2,400');
  await page.reload();
  await expect(page.getByRole('table', { name: 'Sheets and forms' })).toBeVisible();
  await page.keyboard.press('Tab');
  await expect(page.getByRole('link', { name: 'Skip to the page' })).toBeFocused();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('main')).toBeFocused();
  await expectAccessible(page);
});

test.describe('on a phone', () => {
  test.use({ viewport: { width: 390, height: 844 }, isMobile: true, hasTouch: true });

  test('a number is made negative by a key of its own', async ({ page }) => {
    await signIn(page);
    await openDemo(page);
    await page.getByRole('main').getByRole('link', { name: 'Log a sample' }).click();
    const air = page.getByRole('textbox', { name: 'Air temp' });
    await air.fill('3.5');
    await page
      .locator('.field', { has: air })
      .getByRole('button', { name: 'Change the sign' })
      .tap();
    await expect(air).toHaveValue('-3.5');
    await expectAccessible(page);
  });
});
