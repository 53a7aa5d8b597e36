import type { Page } from '@playwright/test';
import { Desk, expect, expectAccessible, goTo, openDemo, signIn, test } from './fixtures';

test.use({ own: 'records' });
test.beforeEach(({ desk }) => desk.open());

const place = (page: Page) => page.locator('[data-place]');
const input = (page: Page, name: string) => page.getByRole('combobox', { name }).first();

/** Looks for records from the bar, by keys alone. */
async function find(page: Page, text: string): Promise<void> {
  await expect(page.locator('[data-desk-form] [data-field]').first()).toBeVisible();
  await page.keyboard.press('Escape');
  await page.keyboard.press('f');
  await expect(page.getByRole('combobox', { name: 'Find in Samples' })).toBeFocused();
  await page.keyboard.type(text);
}

/** Twelve samples, each with as few keys as it takes; gives the keys beyond the text per record. */
async function enterSamples(page: Page, desk: Desk, many: number): Promise<number> {
  let keys = 0;
  const press = async (...all: string[]): Promise<void> => {
    for (const key of all) {
      keys += 1;
      await page.keyboard.press(key);
    }
  };
  for (let n = 0; n < many; n += 1) {
    await expect(desk.field('Date')).toBeFocused();
    const texts = ['25/11/2026', `9:${10 + n}`, 'ash', 'ab3', 'wyn c', '', '7.5', '', '7.2'];
    for (const [at, text] of texts.entries()) {
      await page.keyboard.type(text);
      if (at < texts.length - 1) await press('Enter');
    }
    await press('Control+Enter');
    await expect(desk.status).toContainText('written to Samples');
  }
  return keys / many;
}

test('a clerk’s morning by keyboard: enter, find by example and correct, find by key and delete, put back', async ({
  page,
  desk,
}) => {
  const keys = await enterSamples(page, desk, 12);
  console.log(`keys beyond the text for a record of nine fields: ${keys}`);
  expect(keys).toBeLessThanOrEqual(12);
  await expect(page.getByText('Answer this question.')).toHaveCount(0);

  // A second press belongs to the record that was written: the next one stays untouched.
  await page.keyboard.press('Control+Enter');
  await expect(desk.status).toContainText('written to Samples');
  await expect(page.getByText('Answer this question.')).toHaveCount(0);

  // The record just written, by one key; the one before it by another.
  await page.keyboard.press('Escape');
  await page.keyboard.press('l');
  await expect(place(page)).toHaveText('Record 2,412 of 2,412 · row 2,416');
  await page.keyboard.press('PageUp');
  await expect(place(page)).toHaveText('Record 2,411 of 2,412 · row 2,415');

  // By example: the form becomes a question.
  await find(page, '');
  await page.getByRole('button', { name: 'Ask by example' }).press('Enter');
  const question = page.getByRole('search', { name: 'Question' });
  await question.getByRole('combobox', { name: 'Station' }).fill('AB-03');
  await question.getByRole('textbox', { name: 'Time' }).fill('>= 9:20');
  await question.getByRole('textbox', { name: 'Date' }).fill('soon');
  await expect(question.getByText('‘soon’ is not a date')).toBeVisible();
  await question.getByRole('textbox', { name: 'Date' }).fill('nov 2026');
  await expect(question.getByRole('status')).toHaveText(
    /^Samples where Station is AB-03, Time is on or after 09:20 and Date is in November 2026: 2 of 2,412 records\.$/,
  );
  await expectAccessible(page);
  await page.keyboard.press('Enter');
  await expect(place(page)).toHaveText(/^Match 1 of 2 · row 2,4\d\d$/);
  await expectAccessible(page);

  // What differs is marked at its field, and goes back by a key.
  await desk.field('pH').fill('8.1');
  await expect(page.getByRole('button', { name: 'was 7.2' })).toBeVisible();
  await desk.field('pH').press('Alt+b');
  await expect(desk.field('pH')).toHaveValue('7.2');
  await desk.field('pH').fill('8.3');
  await page.keyboard.press('Control+Enter');
  await expect(desk.status).toContainText('updated in Samples');
  await expect(place(page)).toHaveText(/^Match 1 of 2/);
  await expect(desk.field('Date')).toBeFocused();
  await page.getByRole('button', { name: 'Clear it' }).press('Enter');

  // By its key: found, deleted after one question, and put back.
  await find(page, 'RW-00007');
  await expect(page.getByRole('option')).toHaveCount(1);
  await page.keyboard.press('Enter');
  await expect(place(page)).toHaveText('Record 7 of 2,412 · row 11');
  await page.getByRole('button', { name: 'Delete', exact: true }).press('Enter');
  await expect(page.getByRole('alertdialog')).toContainText('Delete RW-00007 in row 11?');
  await expectAccessible(page);
  await page.keyboard.press('Enter');
  await expect(desk.status).toContainText(
    /RW-\d+ deleted from Samples, row 11\. It is in the bin\./,
  );
  await expect(place(page)).toHaveText('Record 7 of 2,411 · row 11');
  await page.keyboard.press('Escape');
  await page.keyboard.press('z');
  await page.keyboard.press('Enter');
  await expect(desk.status).toContainText('restored to Samples');
  await expect(place(page)).toHaveText('Record 7 of 2,412 · row 11');

  // A key that no record has is offered as a new one’s, where people type it; here it is not found.
  await find(page, 'RW-99999');
  await expect(page.getByText('No record contains ‘RW-99999’.')).toBeVisible();
});

test('two who correct one record: told while one types, settled field by field, nothing lost', async ({
  page,
  desk,
  browser,
  server,
}) => {
  await find(page, 'RW-00003');
  await expect(page.getByRole('option')).toHaveCount(1);
  await page.keyboard.press('Enter');
  await expect(place(page)).toHaveText(/^Record 3 of/);
  const address = page.url();
  await page.waitForURL(/record=/);

  const theirs = await (await browser.newContext({ baseURL: server.base })).newPage();
  await signIn(theirs, 'Tom Okafor-Reed');
  await theirs.goto(page.url());
  const other = new Desk(theirs);
  await expect(place(theirs)).toHaveText(/^Record 3 of/);

  await desk.field('pH').fill('8.55');
  await desk.field('Turbidity').fill('77');
  await other.field('pH').fill('8.44');
  await other.field('Nitrate').fill('1.5');
  await theirs.keyboard.press('Control+Enter');
  await expect(other.status).toContainText('updated in Samples');

  await expect(
    page.getByText(/changed this record at .* Their values are used for Nitrate\./),
  ).toBeVisible();
  await expect(desk.field('Nitrate')).toHaveValue('1.5');
  await expect(desk.field('pH')).toHaveValue('8.55');
  await desk.field('pH').press('Control+Enter');
  await expect(page.getByText('Not updated yet. First choose')).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Keep mine: 8.55' }).click();
  await desk.field('pH').press('Control+Enter');
  await expect(desk.status).toContainText('updated in Samples');

  await page.goto(address.split('?')[0] ?? address);
  await find(page, 'RW-00003');
  await expect(page.getByRole('option')).toHaveCount(1);
  await page.keyboard.press('Enter');
  await expect(desk.field('pH')).toHaveValue('8.55');
  await expect(desk.field('Nitrate')).toHaveValue('1.5');
  await expect(desk.field('Turbidity')).toHaveValue('77');

  // Its history tells of both, and of what it came with, and an older state comes back.
  await page.getByRole('button', { name: 'History', exact: true }).click();
  const history = page.getByRole('complementary', { name: 'History of the record' });
  await expect(history.getByRole('listitem')).toHaveCount(3);
  await expect(history.getByRole('listitem').last()).toContainText('brought it in');
  await expectAccessible(page);
  await history.getByRole('button', { name: 'Put back as it was then' }).first().click();
  await expect(desk.field('pH')).toHaveValue('8.44');
});

test('stepping away keeps a begun correction; a copy begins afresh; all matches are changed at once and taken back', async ({
  page,
  desk,
}) => {
  await page.keyboard.press('PageUp');
  await expect(place(page)).toHaveText(/^Record ([\d,]+) of \1 /);
  await desk.field('Notes').fill('half done');
  await page.keyboard.press('Shift+Tab');
  await page.keyboard.press('PageUp');
  await expect(desk.field('Notes')).toHaveValue('');
  await page.keyboard.press('PageDown');
  await expect(desk.field('Notes')).toHaveValue('half done');
  await expect(page.getByText('1 change', { exact: true })).toBeVisible();
  await desk.field('Notes').fill('');
  await page.getByRole('button', { name: 'Duplicate' }).click();
  await expect(
    page.getByText(/^Copied from RW-\d+\. Keys, running numbers and dates start fresh\.$/),
  ).toBeVisible();
  await expect(desk.field('River')).not.toHaveValue('');

  await find(page, 'mereling');
  await page.getByRole('button', { name: /^Show all/ }).click();
  await expect(place(page)).toHaveText(/^Match 1 of/);
  const matches = page.getByRole('region', { name: /^Matches:/ });
  const weather = matches.getByRole('row').nth(2).getByRole('cell').nth(12);
  const before = await weather.textContent();
  await page.getByRole('button', { name: 'Change all' }).click();
  await input(page, 'In all').selectOption({ label: 'Notes' });
  await page.getByRole('textbox', { name: /^to a value/ }).fill('=\'Station\'&" seen"');
  await expect(page.getByText(/→ ME-\d+ seen/).first()).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: /^Change [\d,]+ records$/ }).click();
  await expect(page.getByText(/^Notes changed in [\d,]+ records\.$/)).toBeVisible();
  await expect(desk.field('Notes')).toHaveValue(/^ME-\d+ seen$/);
  await page
    .getByRole('main')
    .or(page.locator('footer'))
    .getByRole('button', { name: 'Undo' })
    .last()
    .click();
  await expect(desk.field('Notes')).toHaveValue('');
  expect(await weather.textContent()).toBe(before);

  // In order of a column, by its heading; Enter opens the one that is marked.
  await matches.getByRole('button', { name: 'Sort by pH', exact: true }).click();
  await expect(
    matches.getByRole('columnheader', { name: 'Sort by pH', exact: true }),
  ).toHaveAttribute('aria-sort', 'ascending');
  await matches.focus();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await expect(place(page)).toHaveText(/^Match 2 of/);
});

test('the bin and the history of the workbook: what went, who did what, and the way back', async ({
  page,
  desk,
}) => {
  await find(page, 'RW-00005');
  await expect(page.getByRole('option')).toHaveCount(1);
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Delete', exact: true }).click();
  await page.getByRole('button', { name: 'Delete RW-00005' }).click();
  await expect(desk.status).toContainText('deleted from Samples');
  await goTo(page, 'Bin');
  const item = page.getByRole('listitem').filter({ hasText: 'RW-00005' });
  await expect(item).toContainText('from Samples deleted');
  await item.getByText('Look at it').click();
  await expect(item).toContainText('River:');
  await expectAccessible(page);
  await item.getByRole('button', { name: 'Put back RW-00005' }).click();
  await expect(page.getByRole('status')).toContainText('RW-00005 is back in Samples.');
  await expect(item).toHaveCount(0);

  await goTo(page, 'History');
  const [newest, second] = [page.getByRole('listitem').first(), page.getByRole('listitem').nth(1)];
  await expect(newest).toContainText('record restored in Samples, row 9');
  await expect(second).toContainText('record deleted in Samples');
  await page.getByRole('combobox', { name: 'Sheet' }).selectOption({ label: 'Volunteers' });
  await expect(page.getByText('record restored')).toHaveCount(0);
  await page.getByRole('button', { name: 'Show all' }).click();
  await expectAccessible(page);
  await newest.getByRole('link', { name: /Samples/ }).click();
  await expect(place(page)).toHaveText(/^Record 5 of 2,4\d\d · row 9$/);
});

test('a correction outlives a killed server, and the page that was closed meanwhile', async ({
  page,
  desk,
  server,
}) => {
  await find(page, 'RW-00011');
  await expect(page.getByRole('option')).toHaveCount(1);
  await page.keyboard.press('Enter');
  await expect(place(page)).toHaveText(/^Record 11 of/);
  await desk.field('Turbidity').fill('88');
  await server.stop('SIGKILL');
  await page.keyboard.press('Control+Enter');
  await expect(desk.status).toContainText('Not written yet. The server does not answer.');
  await expect(desk.field('Turbidity')).toHaveValue('88');
  const form = page.url().split('?')[0] ?? '';
  const context = page.context();
  await page.close();
  await server.start();
  const again = new Desk(await context.newPage());
  await again.page.goto(form);
  // What was sent and not answered is sent again, as it was.
  await expect(again.status).toContainText('updated in Samples', { timeout: 20_000 });
  await find(again.page, 'RW-00011');
  await expect(again.page.getByRole('option')).toHaveCount(1);
  await again.page.keyboard.press('Enter');
  await expect(again.field('Turbidity')).toHaveValue('88');
  await expect(again.page.getByText('1 change', { exact: true })).toHaveCount(0);
});

test('on a phone: found, opened from a card, stepped with two thumbs', async ({
  browser,
  server,
}) => {
  const page = await (
    await browser.newContext({
      baseURL: server.base,
      viewport: { width: 390, height: 844 },
      hasTouch: true,
      isMobile: true,
    })
  ).newPage();
  await signIn(page);
  await openDemo(page);
  await page.getByRole('link', { name: 'Log a sample', exact: true }).first().click();
  await page.locator('[data-action=find]').click();
  await page.getByRole('combobox', { name: 'Find in Samples' }).fill('ash');
  await page.getByRole('button', { name: /^Show all/ }).click();
  await expect(place(page)).toHaveText(/^Match 1 of/);
  await page
    .getByRole('region', { name: /^Matches:/ })
    .getByRole('button')
    .nth(1)
    .click();
  await expect(place(page)).toHaveText(/^Match 2 of/);
  await page.locator('footer').getByRole('button', { name: 'Next', exact: true }).click();
  await expect(place(page)).toHaveText(/^Match 3 of/);
  // The question as chips: one is left out by a tap.
  const chips = page.getByRole('group', { name: 'Conditions' });
  await expect(chips).toContainText('any column holds ‘ash’');
  await expectAccessible(page);
  await chips.getByRole('button', { name: 'Leave out: any column holds ‘ash’' }).click();
  await expect(place(page)).toHaveText(/^Record/);
  const wide = await page.evaluate(() => document.documentElement.scrollWidth > innerWidth);
  expect(wide).toBe(false);
});
