import type { Page } from '@playwright/test';
import { expect, expectAccessible, goTo, openDemo, signIn, test } from './fixtures';

test.use({ own: 'lists' });

const combobox = (page: Page, name: string) => page.getByRole('combobox', { name, exact: true });
const options = (page: Page) => page.getByRole('option');
const contents = (page: Page) => page.getByRole('navigation', { name: 'Contents' });

async function openPlace(page: Page, name: string, who?: string): Promise<void> {
  await signIn(page, who);
  await openDemo(page);
  await goTo(page, name);
}

/** The sheet that is shown. */
async function sheetAt(page: Page) {
  const sheetId = /sheets\/([\w-]+)/.exec(page.url())?.[1] ?? '';
  const sheet = (await (await page.request.get(`/api/sheets/${sheetId}`)).json()) as {
    revision: number;
    columns: { id: string; heading: string; kind: string; settings: object }[];
  };
  const idOf = (heading: string): string =>
    sheet.columns.find((each) => each.heading === heading)?.id ?? '';
  return { ...sheet, sheetId, idOf };
}

/** The list that feeds a column, from the Lists place. */
async function openList(page: Page, source: string, title: string): Promise<void> {
  await contents(page).getByRole('link', { name: 'Lists' }).press('Enter');
  await page.getByRole('link', { name: source }).press('Enter');
  await expect(page.getByRole('heading', { name: title, level: 1 })).toBeVisible();
}

test('a volunteer who registers is offered at once in a window that was open before; a station fills its river and is narrowed by it', async ({
  page,
  browser,
  server,
}) => {
  await openPlace(page, 'Log a sample', 'Tom Okafor-Reed');
  await combobox(page, 'Observer').click();
  await page.keyboard.type('vantong');
  await expect(options(page)).toHaveText(['Not on the list']);
  const other = await (await browser.newContext({ baseURL: server.origin })).newPage();
  await openPlace(other, 'Register a volunteer');
  await other.getByRole('textbox', { name: 'Name', exact: true }).fill('Aaron Vantongren');
  await other.getByRole('radio', { name: 'Sampler', exact: true }).check();
  await other.locator('[data-action=submit]').click();
  // Nobody reads anything anew: it is there within a second.
  await expect(options(page)).toHaveText(['Aaron Vantongren'], { timeout: 1500 });
  await page.keyboard.press('Enter');
  await expect(combobox(page, 'Observer')).toHaveValue('Aaron Vantongren');
  await other.close();

  await combobox(page, 'Station').click();
  await page.keyboard.type('cw3');
  await page.keyboard.press('Enter');
  await expect(combobox(page, 'Station')).toHaveValue('CW-03');
  await expect(combobox(page, 'River')).toHaveValue('Corrow Water');
  await combobox(page, 'Station').click();
  await page.keyboard.press('Control+a');
  await page.keyboard.type('ab');
  await expect(options(page)).toHaveText(['Not on the list']);
  await page.keyboard.press('Control+a');
  await page.keyboard.type('weir');
  await expect(options(page).first()).toContainText(/CW-\d\d.*Weir/);
  await expect(options(page).first()).toHaveAttribute('aria-posinset', '1');
  await page.keyboard.press('ArrowDown');
  await expect(options(page).nth(1)).toHaveAttribute(
    'id',
    (await combobox(page, 'Station').getAttribute('aria-activedescendant')) ?? '',
  );
  await expectAccessible(page);
});

test('all choices of a form are fed from one sheet in one go', async ({ page }) => {
  await openPlace(page, 'Choices');
  await contents(page).getByRole('link', { name: 'Create a form' }).click();
  await page.getByRole('textbox', { name: 'Form name' }).fill('River walk');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('textbox', { name: 'Add a part' })).toBeFocused();
  for (const line of [
    'Weather today: one of',
    'Flow: one of',
    'Smel: several of',
    'Bank: one of (Left, Right)',
    'Day: date',
  ]) {
    await page.keyboard.type(line);
    await page.keyboard.press('Enter');
  }
  await page.getByRole('button', { name: /^Form details/ }).click();
  await page.getByRole('button', { name: 'Pick the block' }).click();
  const picker = page.getByRole('dialog');
  await picker.locator('.grid').focus();
  await page.keyboard.press('Control+Home');
  for (const key of ['ArrowDown', 'ArrowDown']) await page.keyboard.press(key);
  for (let n = 0; n < 7; n += 1) await page.keyboard.press('Shift+ArrowRight');
  for (let n = 0; n < 4; n += 1) await page.keyboard.press('Shift+ArrowDown');
  await picker.getByRole('button', { name: 'Use it' }).click();
  const pairs = page.getByRole('group', { name: 'Feed choices from a sheet' });
  await expect(pairs.getByLabel('Weather')).toHaveValue('0');
  await expect(pairs.getByLabel('Smell')).toHaveValue('2');
  await expect(pairs.getByLabel('Colour')).toHaveValue('');
  await expectAccessible(page);
  await pairs.getByRole('button', { name: 'Feed 3 fields' }).click();
  await expect(pairs.getByRole('status')).toHaveText(
    '3 fields fed. Left out: Bank (no heading was given to it), Day (neither text nor a choice).',
  );
  await expect(page.getByRole('checkbox', { name: 'Rotten eggs' })).toBeVisible();
  await page.getByRole('button', { name: 'Outline' }).click();
  await expect(page.getByRole('textbox', { name: /outline/i })).toHaveValue(
    /Weather today: one of Choices!A4\.\.[^]*Smel: several of Choices!C4\.\./,
  );
});

test('a broken source is told of in the outbox, and mended from there', async ({ page }) => {
  await openPlace(page, 'Stations');
  const { sheetId, revision, idOf } = await sheetAt(page);
  await page.request.delete(`/api/sheets/${sheetId}/columns/${idOf('Code')}?revision=${revision}`);
  await expect(contents(page).getByRole('link', { name: /Outbox/ })).toContainText('1');
  await contents(page)
    .getByRole('link', { name: /Outbox/ })
    .press('Enter');
  await expect(page.getByText('The list of Station in Samples is broken')).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('link', { name: 'Look at it' }).press('Enter');
  await expect(page.getByRole('alert')).toContainText('Code');
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Put the column back' }).press('Enter');
  await expect(page.getByText('All is well.')).toBeVisible();
  await expect(page.getByText(/^46 choices/)).toBeVisible();
  await expect(contents(page).getByRole('link', { name: /Outbox/ })).not.toContainText('1');
});

test('an item that is renamed in its source is carried into the records, and taken back', async ({
  page,
}) => {
  await openPlace(page, 'Stations');
  const grid = page.getByRole('grid');
  await grid.focus();
  await page.keyboard.press('Control+Home');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.type('AB-01x');
  await page.keyboard.press('Enter');
  // Offered where it is done, and in nobody's way: the next cell can be typed into.
  const offer = page.getByRole('group', { name: 'Change stored values' });
  await expect(offer).toContainText(/\d+ records of Samples hold ‘AB-01’\. Change them/);
  await expect(grid).toBeFocused();
  await expectAccessible(page);
  await openList(page, "Stations!'Code'", 'Station in Samples');
  const unlisted = page.getByRole('region', { name: 'Stored but not on the list' });
  await expect(unlisted).toContainText('AB-01');
  await expectAccessible(page);
  await unlisted.getByRole('button', { name: /^Now called ‘AB-01x’/ }).press('Enter');
  const asked = page.getByRole('alertdialog', { name: 'Change stored values' });
  await expect(asked).toContainText(/‘AB-01’ becomes ‘AB-01x’ in \d+ records/);
  await page.keyboard.press('Enter');
  await expect(page.getByText(/\d+ records changed\./)).toBeVisible();
  await expect(unlisted).toBeHidden();
  await page.getByRole('button', { name: 'Undo' }).press('Enter');
  await expect(unlisted).toContainText('AB-01');
  await expect(page.getByRole('region', { name: 'Its history' })).toContainText(
    '‘AB-01’ was renamed to ‘AB-01x’',
  );
});

test('an answer of one’s own is added to the source, and offered in another window', async ({
  page,
  browser,
  server,
}) => {
  await openPlace(page, 'Kit loans');
  const { sheetId, revision, idOf } = await sheetAt(page);
  const settings = { own: '', list: { source: 'Choices!E4..', adds: true } };
  const path = `/api/sheets/${sheetId}/columns/${idOf('Item')}`;
  await page.request.patch(path, { data: { settings, revision } });
  await goTo(page, 'Lend kit');
  const other = await (await browser.newContext({ baseURL: server.origin })).newPage();
  await openPlace(other, 'Lend kit', 'Tom Okafor-Reed');
  await combobox(other, 'Item').click();
  await expect(options(other).first()).toBeVisible();
  await combobox(page, 'Borrower').click();
  await page.keyboard.type('ada');
  await page.keyboard.press('Enter');
  await page.keyboard.type('Drone');
  await page.keyboard.press('Control+Enter');
  await expect(options(other).filter({ hasText: 'Drone' })).toHaveCount(1, { timeout: 3000 });
  await other.close();
});

test('a brought column is kept current instead, once it is seen what becomes of it', async ({
  page,
}) => {
  await openPlace(page, 'Kit loans');
  await page.getByRole('columnheader', { name: /Borrower/ }).click();
  await page.getByRole('button', { name: 'Details', exact: true }).click();
  await page.getByRole('tab', { name: 'Column' }).click();
  const fills = page.getByRole('group', { name: 'Fills other fields' });
  await fills.getByRole('button', { name: 'Fill another field as well' }).click();
  await fills.getByLabel('Put').selectOption('Mail');
  await fills.getByLabel('into').selectOption('Deposit');
  await fills.getByRole('button', { name: 'Keep Deposit current instead' }).click();
  const change = page.getByRole('region', { name: 'What would change' });
  await expect(change).toContainText('values would change');
  await expectAccessible(page);
  await change.getByRole('button', { name: 'Cancel' }).click();
  await fills.getByLabel('into').selectOption('Item');
  await fills.getByRole('button', { name: 'Keep Item current instead' }).click();
  await change.getByRole('button', { name: 'Change it' }).click();
  await expect(fills.getByLabel('into')).toBeHidden();
  const { columns } = await sheetAt(page);
  const kept = columns.find(({ heading }) => heading === 'Item');
  expect(kept).toMatchObject({
    kind: 'computed',
    settings: { formula: `=XLOOKUP('Borrower';Volunteers!'Name';Volunteers!'Mail';"")` },
  });
});

test('a country narrows its parts, which come with the product', async ({ page }) => {
  await openPlace(page, 'Choices');
  await contents(page).getByRole('link', { name: 'Create a form' }).click();
  await page.getByRole('textbox', { name: 'Form name' }).fill('Members abroad');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('textbox', { name: 'Add a part' })).toBeFocused();
  for (const line of ['Country: one of (Norway, Sweden)', 'Province: one of']) {
    await page.keyboard.type(line);
    await page.keyboard.press('Enter');
  }
  await page.getByRole('group', { name: /^Province: / }).focus();
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Use parts of a country' }).click();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Of all countries, narrowed by Country' }).click();
  await expect(page.getByText(/^\d,\d{3} choices$/)).toBeVisible();
  await page.getByRole('button', { name: /^Put to use/ }).click();
  await contents(page).getByRole('link', { name: 'Members abroad', exact: true }).click();
  await combobox(page, 'Country').fill('nor');
  await page.keyboard.press('Enter');
  await page.keyboard.press('ArrowDown');
  await expect(options(page).filter({ hasText: 'Vestland' })).toHaveCount(1);
  await expect(options(page).filter({ hasText: 'Skåne' })).toHaveCount(0);
});

test('spellings of one name are folded by keys alone; every value has its count', async ({
  page,
}) => {
  await openPlace(page, 'Sightings');
  const { sheetId, revision, idOf } = await sheetAt(page);
  const where = idOf('Where');
  const texts = ['Heron Steps', 'Heron Steps', 'heron  steps', 'Heron Stpes'];
  const added = texts.map((text) => ({ answers: { [where]: text } }));
  const writeId = await page.evaluate(() => crypto.randomUUID());
  await page.request.post(`/api/sheets/${sheetId}/cells`, { data: { writeId, revision, added } });
  const workbookId = /workbooks\/([\w-]+)/.exec(page.url())?.[1] ?? '';
  await page.goto(`/workbooks/${workbookId}/values/${sheetId}/${where}`);
  const group = page.getByRole('group', { name: 'Spellings of Heron Steps' });
  // What may be another name is not folded unless one says so.
  await expect(group.getByRole('checkbox', { name: /Heron Stpes/ })).not.toBeChecked();
  await group.getByRole('checkbox', { name: /Heron Stpes/ }).press('Space');
  await expectAccessible(page);
  await group.getByRole('button', { name: 'Fold into Heron Steps' }).press('Enter');
  await expect(page.getByRole('alertdialog')).toContainText(
    '2 spellings become ‘Heron Steps’ in 2 records.',
  );
  await page.keyboard.press('Enter');
  await expect(page.getByText('2 records changed.')).toBeVisible();
  await expect(group).toBeHidden();
  await page.getByRole('button', { name: 'Undo' }).press('Enter');
  await expect(group).toBeVisible();
});

test('a column is fed from its notes in the grid, and says at once what it offers', async ({
  page,
}) => {
  await openPlace(page, 'Sightings');
  await page.getByRole('columnheader', { name: /River/ }).click();
  await page.getByRole('button', { name: 'Details', exact: true }).click();
  await page.getByRole('tab', { name: 'Column' }).click();
  await page.getByLabel('Choices come from').selectOption('column');
  await page.getByRole('combobox', { name: 'Sheet', exact: true }).selectOption('Stations');
  await page.getByRole('combobox', { name: 'Column', exact: true }).selectOption('River');
  await expect(page.getByText('3 choices')).toBeVisible();
  await expectAccessible(page);
});

test.describe('on a phone', () => {
  test.use({ viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true });

  test('a list comes from below, with the same find', async ({ page }) => {
    await signIn(page);
    await openDemo(page);
    await page.getByRole('main').getByRole('link', { name: 'Log a sample', exact: true }).click();
    await combobox(page, 'Station').tap();
    const sheet = page.getByRole('dialog', { name: 'Station' });
    await expect(sheet.getByRole('combobox')).toBeFocused();
    await sheet.getByRole('combobox').fill('pool');
    await expectAccessible(page);
    await sheet.getByRole('option', { name: /Pool/ }).first().tap();
    await expect(sheet).toBeHidden();
    await expect(combobox(page, 'Station')).toHaveValue(/^[A-Z]{2}-\d\d$/);
    await combobox(page, 'Station').tap();
    await page.keyboard.press('Escape');
    await expect(sheet).toBeHidden();
  });
});
