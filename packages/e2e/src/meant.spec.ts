import type { Browser, Page } from '@playwright/test';
import type { FormView, SheetView, WorkbookView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { expect, expectAccessible, goTo, openDemo, signIn, test } from './fixtures';
import { beginBlank, Hand } from './hand';
import type { Server } from './server';

test.use({ own: 'what is stored is what was meant' });

const status = (page: Page) => page.locator('footer').getByRole('status');
const field = (page: Page, name: string) => page.getByRole('textbox', { name, exact: true });

/** Lays a form out of an outline in a workbook of its own, and puts it to use. */
async function useOutline(page: Page, name: string, lines: readonly string[]): Promise<void> {
  const hand = new Hand(page);
  await beginBlank(page, hand, name);
  await hand.click(/^Outline/);
  await page.getByRole('textbox', { name: 'Outline of the form' }).fill(lines.join('\n'));
  await expect(page.getByText('Draft saved')).toBeVisible();
  await hand.click(/^Put to use/);
  await expect(page.getByRole('button', { name: 'Submit' })).toBeVisible();
}

const get = async <T>(page: Page, path: string): Promise<T> =>
  (await page.request.get(path)).json() as Promise<T>;

/** The sheet of a form at the desk, by the address of the page. */
async function sheetAt(page: Page): Promise<SheetView> {
  const formId = /forms\/([^/?]+)/.exec(page.url())?.[1] ?? '';
  return (await get<FormView>(page, paths.form(formId))).sheet;
}

test('a date from lists asks for a day that the month does not have; years follow the limits', async ({
  page,
}) => {
  await signIn(page);
  await useOutline(page, 'Dates', ['Born: date from lists 2019-03-01..2026-12-31', 'Note: text']);
  const list = (name: string) => page.getByRole('combobox', { name, exact: true });
  const years = await list('Year').locator('option').allTextContents();
  expect(years).toEqual(['Year', '2026', '2025', '2024', '2023', '2022', '2021', '2020', '2019']);
  await list('Day').selectOption('31');
  await list('Month').selectOption('March');
  await list('Year').selectOption('2024');
  await expect(page.locator('tr.landing-row')).toContainText('31/03/2024');
  await list('Month').selectOption('April');
  await expect(list('Day')).toHaveValue('');
  await field(page, 'Note').fill('x');
  await page.keyboard.press('Control+Enter');
  await expect(page.locator('[data-desk-form]').getByText('Choose the day as well.')).toBeVisible();
  await list('Day').selectOption('29');
  await list('Month').selectOption('February');
  await expect(list('Day')).toHaveValue('29');
  await list('Year').selectOption('2025');
  await expect(list('Day')).toHaveValue('');
  await expectAccessible(page);
  await list('Day').selectOption('28');
  await page.keyboard.press('Control+Enter');
  await expect(status(page)).toContainText('written to');
});

test('what is suggested looks so and is no answer; a beginning stays; a number goes on and can be typed over', async ({
  page,
}) => {
  await signIn(page);
  await useOutline(page, 'Starts', [
    'Code: text, starts with "WQ-"',
    'Day: date, starts today, as a suggestion',
    'No.: text, starts next "K-000"',
  ]);
  await expect(field(page, 'Code')).toBeFocused();
  await page.keyboard.type('123');
  await expect(field(page, 'Code')).toHaveValue('WQ-123');
  await page.keyboard.press('Tab');
  await page.keyboard.press('Shift+Tab');
  await page.keyboard.type('7');
  await expect(field(page, 'Code')).toHaveValue('WQ-7');
  await expect(field(page, 'Day')).toHaveValue('');
  await expect(field(page, 'Day')).toHaveAttribute('placeholder', /^\d\d\/\d\d\/\d{4}$/);
  await expect(field(page, 'No.')).toHaveValue('K-001');
  await expectAccessible(page);
  await page.keyboard.press('Control+Enter');
  await expect(status(page)).toContainText('written to');
  await expect(page.locator('tr.stored').last()).toContainText('WQ-7');
  await expect(page.locator('tr.stored').last()).not.toContainText('20');
  await expect(field(page, 'No.')).toHaveValue('K-002');
  await field(page, 'Day').focus();
  await page.keyboard.press('Alt+u');
  await expect(field(page, 'Day')).toHaveValue(/^\d\d\/\d\d\/\d{4}$/);
  await field(page, 'No.').fill('k-001');
  await page.keyboard.press('Control+Enter');
  // The next one has begun: what was refused waits to be corrected, with its message.
  const refused = page.getByRole('status').filter({ hasText: 'was not written' });
  await expect(refused).toContainText('‘k-001’ is already taken by WQ-7, in row 2.');
  await expect(field(page, 'Code')).toBeFocused();
  await expectAccessible(page);
  await refused.getByRole('button', { name: 'Correct it' }).press('Enter');
  await expect(status(page)).toContainText('‘k-001’ is already taken by WQ-7, in row 2.');
  await expect(field(page, 'No.')).toHaveAttribute('aria-invalid', 'true');
  await expect(field(page, 'No.')).toBeFocused();
  await field(page, 'No.').fill('k-004');
  await expect(field(page, 'No.')).not.toHaveAttribute('aria-invalid', 'true');
  // Who has the key already is opened here; what was begun waits, and is back by a key.
  await page.locator('footer').getByText('Open row 2').click();
  await expect(page.locator('[data-place]')).toHaveText('Record 1 of 1 · row 2');
  await expect(field(page, 'Code')).toHaveValue('WQ-7');
  await page.keyboard.press('PageDown');
  await expect(field(page, 'No.')).toHaveValue('k-004');
});

test('a session that ends while one types: all stands, and signing in goes on there', async ({
  page,
}) => {
  await signIn(page);
  await useOutline(page, 'Sessions', ['A: text, required', 'B: text']);
  await field(page, 'A').fill('kept');
  await page.context().clearCookies();
  await page.keyboard.press('Control+Enter');
  const alert = page.getByRole('alert').filter({ hasText: 'You are signed out.' });
  await expect(alert).toContainText('What you typed is kept.');
  await expect(page.getByText('1 record waits to be sent, kept in this browser.')).toBeVisible();
  await expectAccessible(page);
  await alert.getByRole('button', { name: 'Sign in' }).click();
  const dialog = page.getByRole('dialog', { name: 'Sign in to go on' });
  await expect(dialog.getByRole('button', { name: /^Ines Halloran/ })).toBeVisible();
  await expectAccessible(page);
  await dialog.getByRole('button', { name: /^Ines Halloran/ }).click();
  // What waited for it is written, once.
  await expect(status(page)).toContainText('written to');
  await expect(alert).toBeHidden();
  expect((await sheetAt(page)).count).toBe(1);
});

test('a correction that was begun is back after its tab was closed', async ({ page }) => {
  await signIn(page);
  await useOutline(page, 'Corrected', ['entering: opens on the last record', 'A: text', 'B: text']);
  const form = page.url();
  await field(page, 'A').fill('first');
  await page.keyboard.press('Control+Enter');
  await expect(status(page)).toContainText('written to');
  const context = page.context();
  const beside = await context.newPage();
  await beside.goto(form);
  await expect(beside.getByText('Stored record in row 2')).toBeVisible();
  await field(beside, 'B').fill('begun');
  await expect(beside.locator('tr.landing-row')).toContainText('begun');
  await beside.close();
  await page.reload();
  await expect(page.getByText('Stored record in row 2')).toBeVisible();
  await expect(field(page, 'A')).toHaveValue('first');
  await expect(field(page, 'B')).toHaveValue('begun');
  await page.keyboard.press('Control+Enter');
  await expect(page.locator('tr.stored').last()).toContainText('begun');
  expect((await sheetAt(page)).count).toBe(1);
});

test('the landing row follows columns that are renamed and moved, and shows what is computed', async ({
  page,
}) => {
  await signIn(page);
  await openDemo(page);
  await goTo(page, 'Lend kit');
  const landing = page.getByRole('region', { name: 'Landing row' });
  await expect(landing.getByRole('columnheader', { name: /Quantity/ })).toBeVisible();
  const sheet = await sheetAt(page);
  const column = (heading: string): string =>
    sheet.columns.find((each) => each.heading === heading)?.id ?? '';
  const change = (columnId: string, body: object) =>
    page.request.patch(paths.column(sheet.id, columnId), { data: body });
  await change(column('Quantity'), { revision: sheet.revision, heading: 'Pieces' });
  await expect(landing.getByRole('columnheader', { name: /Pieces/ })).toBeVisible();
  await change(column('Back'), { revision: sheet.revision + 1, place: 0 });
  await expect(landing.getByRole('columnheader').nth(1)).toContainText('Back');
  await expect(landing.getByRole('columnheader').nth(1)).toContainText('A');
  // Total is computed: it comes to the row that was just written.
  await page.keyboard.type('wyn');
  await page.keyboard.press('Enter');
  await page.keyboard.type('wad');
  await page.keyboard.press('Enter');
  await page.getByRole('textbox', { name: 'Pieces' }).fill('3');
  await page.keyboard.press('Control+Enter');
  await expect(status(page)).toContainText('written to');
  await expect(page.locator('tr.stored.recent').last()).toContainText('£75.00');
});

/** A window of someone else with a role, on a page. */
async function windowOf(browser: Browser, server: Server, url: string): Promise<Page> {
  const page = await (await browser.newContext({ baseURL: server.base })).newPage();
  await signIn(page);
  await page.goto(url);
  return page;
}

test('two analysts in one draft: nobody’s work is lost, whichever way it is settled', async ({
  page,
  browser,
  server,
}) => {
  await signIn(page);
  await useOutline(page, 'Contested', ['A: text', 'B: text']);
  await page.keyboard.press('Escape');
  await page
    .getByRole('button', { name: /Create the form|Compose/ })
    .first()
    .click();
  await expect(page.getByText(/Version 1 in use|Draft saved/)).toBeVisible();
  const other = await windowOf(browser, server, page.url());
  await expect(other.getByText('Version 1 in use')).toBeVisible();
  const outlineOf = async (at: Page, lines: readonly string[]): Promise<void> => {
    const outline = at.getByRole('textbox', { name: 'Outline of the form' });
    if (!(await outline.isVisible())) await new Hand(at).click(/^Outline/);
    await outline.fill(lines.join('\n'));
  };
  await outlineOf(page, ['A: text, hint "theirs"', 'B: text']);
  await expect(page.getByText('Draft saved')).toBeVisible();
  await outlineOf(other, ['A: text', 'B: text', 'C: number']);
  const contest = other.getByRole('group', { name: 'Someone else changed this form' });
  await expect(contest).toBeVisible();
  await contest.getByRole('button', { name: 'See what differs' }).click();
  await expect(contest).toContainText('‘A’ differs: hint.');
  await expect(contest).toContainText('‘C’ is only in yours.');
  await expectAccessible(other);
  await contest.getByRole('button', { name: 'Keep editing mine' }).click();
  await expect(other.getByText('Draft saved')).toBeVisible();
  // Now the first one is contested: a copy keeps theirs beside it.
  await outlineOf(page, ['A: text, hint "mine"', 'B: text']);
  const again = page.getByRole('group', { name: 'Someone else changed this form' });
  await again.getByRole('button', { name: 'Keep mine as a copy' }).click();
  await expect(page.getByRole('link', { name: 'Sale, copy' }).first()).toBeVisible();
  await new Hand(page).click(/^Outline/);
  await expect(page.getByRole('textbox', { name: 'Outline of the form' })).toHaveValue(
    /hint "mine"/,
  );
  await other.reload();
  await new Hand(other).click(/^Outline/);
  await expect(other.getByRole('textbox', { name: 'Outline of the form' })).toHaveValue(
    /C: number/,
  );
  await other.close();
});

test('a column that is used is deleted only after it was told what uses it', async ({ page }) => {
  await signIn(page);
  await openDemo(page);
  await goTo(page, 'Kit loans');
  const grid = page.getByRole('grid', { name: /^Sheet / });
  await grid.getByRole('columnheader', { name: 'Item' }).click();
  await page.keyboard.press('Shift+F10');
  await page.getByRole('menuitem', { name: 'Delete column Item' }).click();
  const asked = page.getByRole('group', { name: 'What uses The column Item' });
  await expect(asked).toContainText('The field Item of Lend kit is taken off the form');
  await expect(asked).toContainText('The starting value of Deposit in Lend kit is left blank');
  await expectAccessible(page);
  await asked.getByRole('button', { name: 'Cancel' }).click();
  await expect(asked).toBeHidden();
  await expect(grid.getByRole('columnheader', { name: 'Item' })).toBeVisible();
});

test('a record begun in the grid is its person’s own, and goes when they sign out', async ({
  page,
}) => {
  await signIn(page);
  await openDemo(page);
  await goTo(page, 'Volunteers');
  const grid = page.getByRole('grid', { name: /^Sheet / });
  await expect(grid.getByRole('gridcell').first()).toBeVisible();
  await grid.focus();
  await page.keyboard.press('Control+End');
  await page.keyboard.press('Home');
  await page.keyboard.type('9999');
  await page.keyboard.press('Tab');
  const begun = grid.locator('.grid-row.draft.begun');
  await expect(begun).toContainText('9999');
  await page.reload();
  await expect(grid.getByRole('gridcell').first()).toBeVisible();
  await grid.focus();
  await page.keyboard.press('Control+End');
  await expect(begun).toContainText('9999');
  const workbook = /workbooks\/([^/]+)/.exec(page.url())?.[1] ?? '';
  const { sheets } = await get<WorkbookView>(page, paths.workbook(workbook));
  const before = sheets.find(({ name }) => name === 'Volunteers')?.records;
  await page.getByRole('button', { name: 'Ines Halloran: menu' }).click();
  await page.getByRole('menuitem', { name: 'Sign out' }).click();
  const asking = page.getByRole('alertdialog', { name: 'Sign out?' });
  await asking.getByRole('button', { name: 'Sign out' }).click();
  await expect(page.getByRole('heading', { name: 'Varn', level: 1 })).toBeVisible();
  expect(await page.evaluate(() => JSON.stringify([localStorage, sessionStorage]))).not.toContain(
    '9999',
  );
  await signIn(page, 'Tom Okafor-Reed');
  await openDemo(page);
  await goTo(page, 'Volunteers');
  await expect(grid.getByRole('gridcell').first()).toBeVisible();
  await grid.focus();
  await page.keyboard.press('Control+End');
  await expect(grid.locator('.grid-row.draft')).toBeVisible();
  await expect(begun).toHaveCount(0);
  expect(
    (await get<WorkbookView>(page, paths.workbook(workbook))).sheets.find(
      ({ name }) => name === 'Volunteers',
    )?.records,
  ).toBe(before);
});
