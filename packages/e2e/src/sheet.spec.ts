import { columnOf, headingRow, Sheet } from './grid';
import { Desk, expect, expectAccessible, goTo, openDemo, signIn, test } from './fixtures';

test('a total above its column follows a submit in another window, all by keys', async ({
  page,
  browser,
  server,
}) => {
  const sheet = await Sheet.open(page, 'Samples');
  const column = await columnOf(sheet, 'Water temp');
  const heading = await headingRow(sheet);
  await sheet.at(2, column);
  await sheet.type("=SUM(Samples!'Water temp')");
  await expect(sheet.cell(2, column)).toHaveText(/^[\d.]+$/);
  const before = Number(await sheet.cell(2, column).textContent());

  const other = await (await browser.newContext({ baseURL: server.base })).newPage();
  const desk = new Desk(other);
  await desk.open();
  await desk.fillIn({ 'Water temp': '7.5' });
  await desk.field('pH').press('Control+Enter');
  await expect(desk.status.first()).toContainText('written to Samples');
  await expect(async () => {
    expect(Number(await sheet.cell(2, column).textContent())).toBeCloseTo(before + 7.5, 6);
  }).toPass();
  // The record that came from the other window stands at the end, and is marked.
  await sheet.press('Control+End', 'ArrowUp');
  await expect(sheet.grid.locator('.grid-row.recent')).toHaveCount(1);

  // Made by the menu too: a row of its own is put in where there is no room.
  await sheet.at(heading, column);
  await sheet.take('Total of Water temp above the heading');
  await expect(sheet.grid.getByRole('columnheader').first()).toBeVisible();
  await expect(sheet.cell(heading, column)).toHaveText(/^[\d.]+$/);
  await other.close();
});

test('a computed column: help while it is typed, what it would change, follows and as of writing', async ({
  page,
}) => {
  const sheet = await Sheet.open(page, 'Kit loans');
  const amount = await columnOf(sheet, 'Quantity');
  await sheet.at(4, amount);
  await sheet.notes('Column');
  await page.getByRole('textbox', { name: /^Add a column after it/ }).focus();
  await sheet.type('Half');
  await expect(sheet.grid.getByRole('columnheader', { name: 'Half' })).toBeVisible();
  await sheet.grid.focus();
  await sheet.press('ArrowRight');
  await expect(page.getByRole('textbox', { name: 'Heading', exact: true })).toHaveValue('Half');
  await page.getByRole('button', { name: 'Compute it' }).press('Enter');
  const formula = page.getByRole('textbox', { name: 'Formula for every record' });
  await formula.focus();
  await sheet.press('Control+A');
  await page.keyboard.type("=ROU('Quantity'/2;0)");
  await expect(page.getByText('There is no function ROU')).toBeVisible();
  await expect(page.getByRole('button', { name: 'See what it would change' })).toBeDisabled();
  await sheet.press('Control+A');
  await page.keyboard.type("=ROUND('Quantity'/2");
  await expect(page.getByText('The parenthesis of ROUND is not closed')).toBeVisible();
  await page.keyboard.type(';1)');
  await expect(page.getByText(/^Gives/)).toBeVisible();
  await sheet.press('Enter');
  const region = page.getByRole('region', { name: 'What would change' });
  await expect(region).toContainText(/\d+ values would change, 0 stay/);
  await region.getByRole('button', { name: 'Change it' }).press('Enter');
  await expect(sheet.cell(4, amount + 1)).toHaveText('0.5');

  // What it is computed of changes: so does it.
  await sheet.at(4, amount);
  await sheet.type('5');
  await expect(sheet.cell(4, amount + 1)).toHaveText('2.5');
  await expectAccessible(page);

  // Comparing a text with a number is pointed out, and a column that is gone is told by name.
  await sheet.at(1, amount);
  await page.keyboard.type(`=COUNTIF('Kit loans'!'Half';">1")&IF("2"=2;"a";"b")`);
  await expect(page.getByText('they are never equal', { exact: false })).toBeVisible();
  await sheet.press('Enter');
  await expect(sheet.cell(1, amount)).toHaveText(/b$/);
  await sheet.at(3, amount + 1);
  await sheet.choose('Delete column Half');
  const asked = page.getByRole('group', { name: 'What uses The column Half' });
  await expect(asked).toContainText('gives #REF!');
  await expect(asked.getByRole('button', { name: 'Cancel' })).toBeFocused();
  await asked.getByRole('button', { name: 'Delete anyway' }).press('Enter');
  await sheet.grid.focus();
  await expect(sheet.cell(1, amount)).toHaveText('#REF!');
  await expect(sheet.cell(1, amount)).toHaveAttribute('title', /Half/);
  await sheet.press('Control+z');
  await expect(sheet.cell(1, amount)).toHaveText(/b$/);
});

test('a range goes to the clipboard and comes from another program, and what can’t be placed is shown', async ({
  page,
  context,
}) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  const sheet = await Sheet.open(page, 'Kit loans');
  const deposit = await columnOf(sheet, 'Deposit');
  await sheet.at(4, deposit);
  await sheet.press('Shift+ArrowRight', 'Shift+ArrowDown');
  await expect(page.getByRole('contentinfo')).toContainText('count 4');
  await sheet.press('Control+c');
  const copied = await page.evaluate(() => navigator.clipboard.readText());
  expect(copied.split('\r\n').map((line) => line.split('\t').length)).toEqual([2, 2]);

  await page.evaluate(() => navigator.clipboard.writeText('12.50\t2\r\nmany\t3\r\n"8"\t"4"\r\n'));
  await sheet.at(4, deposit);
  await sheet.press('Control+v');
  await expect(sheet.said).toContainText('5 cells written. 1 cell could not be placed: ‘many’');
  await expect(sheet.cell(4, deposit)).toHaveText('£12.50');
  await expect(sheet.cell(5, deposit)).toHaveText('many');
  await expect(sheet.cell(5, deposit)).toHaveAttribute('aria-invalid', 'true');
  await expect(sheet.cell(6, deposit + 1)).toHaveText('4');
  await page.getByRole('button', { name: 'See which' }).press('Enter');
  await expect(page.getByRole('complementary')).toContainText('‘many’');

  // Formulas go along within a workbook, their references moved; a range is filled down.
  await goTo(page, 'Summary');
  await sheet.at(40, 1);
  await sheet.type('3', 'Tab');
  await sheet.type('=A40*2');
  await expect(sheet.cell(40, 2)).toHaveText('6');
  await sheet.at(40, 1);
  await sheet.press('Shift+ArrowRight', 'Control+c', 'ArrowDown', 'Control+v');
  await expect(sheet.cell(41, 2)).toHaveText('6');
  await sheet.at(41, 1);
  await sheet.type('5');
  await expect(sheet.cell(41, 2)).toHaveText('10');
  await sheet.at(41, 1);
  await sheet.press('Shift+ArrowRight', 'Shift+ArrowDown', 'Shift+ArrowDown');
  await sheet.take('Fill down');
  await expect(sheet.cell(43, 2)).toHaveText('10');
  // Two chosen cells go on, as one write.
  await sheet.at(46, 1);
  await sheet.type('Mon', 'Tab');
  await sheet.type('AB-03');
  await sheet.at(47, 1);
  await sheet.type('Wed', 'Tab');
  await sheet.type('AB-05');
  await sheet.at(46, 1);
  await sheet.press('Shift+ArrowRight', 'Shift+ArrowDown', 'Shift+ArrowDown', 'Shift+ArrowDown');
  await sheet.take('Continue the series down');
  await expect(sheet.cell(49, 1)).toHaveText('Sun');
  await expect(sheet.cell(49, 2)).toHaveText('AB-09');
  await sheet.press('Control+z');
  await expect(sheet.cell(49, 1)).toHaveText('');
  await expect(sheet.cell(47, 2)).toHaveText('AB-05');
});

test('the ranges of a formula above the records are outlined among the records, each by its letter', async ({
  page,
}) => {
  const sheet = await Sheet.open(page, 'Kit loans');
  await sheet.at(1, 5);
  await page.keyboard.type('=SUM(C4:C8;D4..)');
  const outlines = sheet.grid.locator('.grid-body .grid-outline');
  await expect(outlines).toHaveText(['a', 'b']);
  await page.keyboard.press('Escape');
  await expect(outlines).toHaveCount(0);
  // As other programs write a range that goes on down, it is told how it is written here.
  await sheet.at(1, 5);
  await page.keyboard.type('=SUM(D4:D');
  await expect(page.getByText('A range that goes on down is written D4..')).toBeVisible();
});

test('a range gets a name that formulas know, picked in a grid of its own', async ({ page }) => {
  const sheet = await Sheet.open(page, 'Choices');
  await sheet.at(4, 6);
  await sheet.press('Shift+ArrowDown', 'Shift+ArrowDown');
  await sheet.take('Name this range');
  const name = page.getByRole('textbox', { name: 'Name of the range' });
  await expect(page.getByRole('textbox', { name: 'Range', exact: true })).toHaveValue('F4:F6');
  await name.focus();
  await sheet.type('F4');
  await expect(sheet.said).toContainText('could be mistaken');
  await name.focus();
  await sheet.press('Control+A');
  await sheet.type('first_deposits');
  await expect(page.getByRole('complementary')).toContainText('first_deposits');
  await page.getByRole('button', { name: 'Pick' }).press('Enter');
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByRole('gridcell').first()).toBeVisible();
  await dialog.getByRole('grid').focus();
  await sheet.press('Control+Home', 'ArrowDown', 'Shift+ArrowDown', 'Shift+ArrowRight');
  await dialog.getByRole('button', { name: 'Use it' }).press('Enter');
  await expect(page.getByRole('textbox', { name: 'Range', exact: true })).toHaveValue('A2:B3');
  await sheet.at(20, 1);
  await sheet.type('=SUM(first_deposits)');
  await expect(sheet.cell(20, 1)).toHaveText('103');

  // Ranges are pointed out in the grid while a formula is typed.
  await sheet.at(24, 1);
  await page.keyboard.type('=SUM(');
  await sheet.cell(4, 6).hover();
  await page.mouse.down();
  await sheet.cell(6, 6).hover();
  await page.mouse.up();
  await page.keyboard.type(')');
  await expect(sheet.grid.locator('.grid-outline')).toBeVisible();
  await sheet.press('Enter');
  await expect(sheet.cell(24, 1)).toHaveText('103');

  // An array that has no room says which cell is in its way.
  await sheet.at(22, 1);
  await sheet.type('in the way');
  await sheet.at(21, 1);
  await sheet.type('=SEQUENCE(3)');
  await expect(sheet.cell(21, 1)).toHaveAttribute('title', /A22/);
  await expectAccessible(page);
});

test('what one wrote is taken back after a reload; if others changed it since, both are shown', async ({
  page,
  browser,
  server,
}) => {
  const sheet = await Sheet.open(page, 'Stations');
  // Rows come a moment after the grid.
  await expect(sheet.cell(4, 3)).not.toHaveText('');
  const text = await sheet.cell(4, 3).textContent();
  await sheet.at(4, 3);
  await sheet.type('Renamed here');
  await expect(sheet.cell(4, 3)).toHaveText('Renamed here');
  await expect(page.getByRole('button', { name: 'Undo' })).toBeEnabled();
  await page.reload();
  await expect(sheet.cell(4, 3)).toHaveText('Renamed here');
  await sheet.grid.focus();
  await sheet.press('Control+z');
  await expect(sheet.cell(4, 3)).toHaveText(text ?? '');
  await expect(sheet.said).toContainText('Undone');
  await sheet.press('Control+Shift+z');
  await expect(sheet.cell(4, 3)).toHaveText('Renamed here');

  const other = await (await browser.newContext({ baseURL: server.base })).newPage();
  const theirs = await Sheet.open(other, 'Stations', 'Tom Okafor-Reed');
  await theirs.at(4, 3);
  await theirs.type('Renamed by Tom');
  await expect(sheet.cell(4, 3)).toHaveText('Renamed by Tom');
  await sheet.press('Control+z');
  await expect(sheet.said).toContainText('yours Renamed here, now Renamed by Tom');
  await page.getByRole('button', { name: 'Undo anyway' }).press('Enter');
  await expect(theirs.cell(4, 3)).toHaveText(text ?? '');
  await other.close();
});

test('a record begun in the grid is a draft until its row is left, and stays if it is refused', async ({
  page,
}) => {
  const sheet = await Sheet.open(page, 'Kit loans', 'Tom Okafor-Reed');
  await sheet.grid.focus();
  await sheet.press('Control+End', 'Home', 'ArrowRight');
  const foot = page.getByRole('contentinfo');
  await expect(foot).toContainText(/\d records/);
  const before = Number(/(\d+) records/.exec((await foot.textContent()) ?? '')?.[1]);
  await sheet.type('Wad', 'ArrowDown');
  await sheet.press('Tab');
  await sheet.type('nine', 'Tab');
  await sheet.press('ArrowLeft', 'Delete');
  await expect(sheet.grid.locator('.grid-row.draft.begun')).toContainText('Waders');
  await sheet.type('twenty', 'Tab');
  await sheet.type('1');
  await expect(page.getByRole('contentinfo')).toContainText('The new record is not written');
  await expect(sheet.grid.locator('.grid-row.draft.begun')).toContainText('twenty');
  await sheet.press('Home', 'ArrowRight', 'ArrowRight');
  await sheet.type('25.005', 'Tab');
  await sheet.press('ArrowUp');
  await expect(page.getByRole('contentinfo')).toContainText('finer than GBP is counted');
  // Asked about: put in once more as it is, it is meant.
  await sheet.press('Control+End', 'Home', 'ArrowRight', 'ArrowRight', 'F2', 'Enter');
  await expect(foot).toContainText(`${before + 1} records`);
  await expect(sheet.grid.locator('.grid-row.recent')).toContainText('Waders');
});

test('a record that comes while one types pushes the line down, and nothing that is typed is lost', async ({
  page,
}) => {
  const sheet = await Sheet.open(page, 'Stations');
  await page.getByRole('link', { name: 'Add a sheet' }).press('Enter');
  await page.getByRole('textbox', { name: 'Sheet name' }).fill('Fords');
  await page.getByRole('textbox', { name: /^Headings/ }).fill('Place\nDepth');
  await page.getByRole('button', { name: 'Create the sheet' }).press('Enter');
  await expect(page.getByRole('heading', { name: 'Fords', level: 1 })).toBeVisible();
  await sheet.grid.focus();
  await sheet.press('Control+End', 'Home');
  await page.keyboard.type('Low');

  const other = await page.context().newPage();
  await other.goto(page.url());
  const there = new Sheet(other);
  await there.grid.focus();
  await there.press('Control+End', 'Home');
  await there.type('Upper', 'Tab');
  await there.type('2');

  await expect(page.getByRole('contentinfo')).toContainText('1 record');
  await page.keyboard.type('er');
  await sheet.press('Tab');
  await sheet.type('1');
  await expect(page.getByRole('contentinfo')).toContainText('2 records');
  await expect(sheet.cell(2, 1)).toHaveText('Upper');
  await expect(sheet.cell(3, 1)).toHaveText('Lower');
  await page.getByRole('button', { name: 'Details' }).click();
  await page.getByRole('tab', { name: 'Sheet' }).click();
  await page.getByRole('button', { name: 'Delete the sheet' }).press('Enter');
  await other.close();
});

test('one’s own view sorts and filters, the totals at the foot follow it, and find goes through it', async ({
  page,
}) => {
  const sheet = await Sheet.open(page, 'Samples');
  const river = await columnOf(sheet, 'River');
  const ph = await columnOf(sheet, 'pH');
  const heading = await headingRow(sheet);
  await sheet.at(heading + 1, ph);
  await sheet.notes('Column');
  await page.getByLabel('Total at the bottom').selectOption('MIN');
  const totals = page.getByRole('rowgroup', { name: /^Totals over/ });
  await expect(totals).toContainText('Minimum');
  await sheet.at(heading + 1, river);
  await sheet.notes('View');
  await page.getByRole('textbox', { name: /^Show only records where River/ }).fill('mereling');
  await sheet.press('Enter');
  const strip = page.getByRole('region', { name: 'Your view' });
  await expect(strip).toContainText(/of 2,40\d records/);
  await expect(page.getByRole('rowgroup', { name: 'Totals over the records found' })).toBeVisible();
  await expect(sheet.cell(heading + 1, river)).toHaveText('Mereling');
  await sheet.at(heading + 1, ph);
  await sheet.take('Sort by pH, descending');
  await expect(strip).toContainText('by pH, descending');
  await expectAccessible(page);
  await sheet.grid.focus();
  await sheet.press('Escape', 'f');
  await page.keyboard.type('ME-1');
  await sheet.press('Enter');
  await expect(page.getByRole('search')).toContainText(/\d+ of \d+, in [A-Z]+\d+/);
  await expect(sheet.active).toContainText('ME-1');
  await strip.getByRole('button', { name: 'Show all, in sheet order' }).press('Enter');
  await sheet.at(heading + 1, 1);
  await expect(sheet.cell(heading + 1, 1)).toHaveText('RW-00001');
});

test('sheets, rows and columns come, move and go, and a change of kind tells first what it does', async ({
  page,
}) => {
  const sheet = await Sheet.open(page, 'Stations');
  await page.getByRole('link', { name: 'Add a sheet' }).press('Enter');
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Create the sheet' }).press('Enter');
  await expect(page.getByRole('alert')).toContainText('no name yet');
  await page.getByRole('textbox', { name: 'Sheet name' }).fill('Hut meetings');
  await page.getByRole('textbox', { name: /^Headings/ }).fill('Day\nWho\nHours');
  await page.getByRole('button', { name: 'Create the sheet' }).press('Enter');
  await expect(page.getByRole('heading', { name: 'Hut meetings', level: 1 })).toBeVisible();
  await sheet.grid.focus();
  await sheet.press('Control+End', 'Home');
  for (const [day, who, hours] of [
    ['2026-03-01', 'Nell', '2'],
    ['2026-03-08', 'Jory', 'two'],
  ] as const) {
    await sheet.type(day, 'Tab');
    await sheet.type(who, 'Tab');
    await sheet.type(hours);
  }
  await expect(page.getByRole('contentinfo')).toContainText('2 records');
  await sheet.at(2, 3);
  await sheet.notes('Column');
  await page.getByLabel('Kind').selectOption('number');
  const region = page.getByRole('region', { name: 'What would change' });
  await expect(region).toContainText('1 value would change');
  await expect(region).toContainText('1 value doesn’t fit the new kind: it stays as text, marked.');
  await region.getByRole('button', { name: 'Change it' }).press('Enter');
  await expect(sheet.cell(3, 3)).toHaveClass(/kept/);

  await sheet.at(2, 3);
  await sheet.take('Move column Hours left');
  await expect(sheet.grid.getByRole('columnheader').nth(1)).toContainText('Hours');
  await sheet.at(3, 1);
  await sheet.take('Move 1 record up');
  await expect(sheet.cell(2, 3)).toHaveText('Jory');
  await sheet.at(3, 1);
  await sheet.take('Insert a record above row 3');
  await expect(page.getByRole('contentinfo')).toContainText('goes above row 3');
  await sheet.type('2026-03-04', 'Tab');
  await sheet.type('1');
  await expect(sheet.cell(3, 1)).toHaveText('2026-03-04');
  await sheet.press('Control+z');
  await expect(page.getByRole('contentinfo')).toContainText('2 records');
  await sheet.at(2, 1);
  await sheet.take('Delete 1 record');
  await expect(page.getByRole('contentinfo')).toContainText('1 record');
  await sheet.press('Control+z');
  await expect(page.getByRole('contentinfo')).toContainText('2 records');

  await sheet.notes('Sheet');
  await expectAccessible(page);
  await page.getByLabel('Columns that stay in view').selectOption('1');
  await page.getByRole('textbox', { name: 'Name of the sheet' }).fill('Gatherings');
  await sheet.press('Enter');
  const contents = page.getByRole('navigation', { name: 'Contents' });
  await expect(contents.getByRole('link', { name: /Gatherings/ })).toBeVisible();
  await page.getByRole('button', { name: 'Delete the sheet' }).press('Enter');
  await expect(contents.getByRole('link', { name: /Gatherings/ })).toBeHidden();
  await goTo(page, 'Stations');
  await expect(page.getByRole('button', { name: 'Undo' })).toBeEnabled();
  await page.getByRole('button', { name: 'Undo' }).press('Enter');
  await expect(contents.getByRole('link', { name: /Gatherings/ })).toBeVisible();
});

test('a reader looks on; at 390 px the grid stays within the screen', async ({
  browser,
  server,
}) => {
  const page = await (
    await browser.newContext({ baseURL: server.base, viewport: { width: 390, height: 844 } })
  ).newPage();
  await signIn(page, 'Wen Lindqvist');
  await openDemo(page);
  await page.getByRole('main').getByRole('link', { name: 'Summary' }).click();
  const sheet = new Sheet(page);
  await expect(sheet.cell(1, 1)).toHaveText('The seasons in numbers');
  await sheet.at(1, 1);
  await page.keyboard.type('x');
  await expect(sheet.said).toContainText('Only the workbook’s analysts');
  await expect(page.getByRole('button', { name: 'Undo' })).toBeHidden();
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  await expectAccessible(page);
  await page.close();
});
