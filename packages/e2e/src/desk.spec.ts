import type { Browser, Page } from '@playwright/test';
import { Desk, expect, expectAccessible, goTo, openDemo, signIn, test } from './fixtures';
import type { Server } from './server';

test.beforeEach(({ desk }) => desk.open());

/** A window of someone else, who reads only, on the demo's workbook. */
async function reader(browser: Browser, server: Server): Promise<Page> {
  const page = await (await browser.newContext({ baseURL: server.base })).newPage();
  await signIn(page, 'Wen Lindqvist');
  await openDemo(page);
  return page;
}

/** How many records the desk says there are. */
async function recordsOf(page: Page): Promise<number> {
  const says = await page.getByText(/records in Samples/).textContent();
  return Number((says ?? '').replace(/\D/g, ''));
}

test('a message stands at a field on leaving it, never before, and goes as soon as it is cured', async ({
  page,
  desk,
}) => {
  await expect(desk.form.getByText('Answer this question.')).toHaveCount(0);
  await desk.field('Date').fill('31/2/2026');
  await expect(desk.form.getByText('There is no 31 February')).toHaveCount(0);
  await page.keyboard.press('Tab');
  await expect(
    desk.form.getByText('There is no 31 February 2026: the month has 28 days. Check the day.'),
  ).toBeVisible();
  await desk.field('pH').fill('7,2');
  await page.keyboard.press('Enter');
  await expect(desk.form.getByText('‘7,2’ has another decimal sign. Write 7.2.')).toBeVisible();
  await expect(desk.landing).toContainText('not right yet');
  await desk.field('Date').fill('28/2/2026');
  await expect(desk.form.getByText('There is no 31 February')).toHaveCount(0);

  const before = await page.getByText(/records in Samples/).textContent();
  await page.keyboard.press('Control+Enter');
  await expect(desk.field('Time')).toBeFocused();
  await expect(desk.form.getByText('Answer this question.')).toHaveCount(5);
  await expect(desk.field('pH')).toHaveValue('7,2');
  expect(await page.getByText(/records in Samples/).textContent()).toBe(before);
  await expectAccessible(page);
});

test('Enter goes on from field to field and breaks the line in several lines; keys answer yes and no', async ({
  page,
  desk,
}) => {
  await desk.field('Notes').click();
  await page.keyboard.type('one');
  await page.keyboard.press('Enter');
  await page.keyboard.type('two');
  await expect(desk.field('Notes')).toHaveValue('one\ntwo');
  await desk.field('Flow').click();
  await page.keyboard.press('Escape');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('radio', { name: 'Yes' })).toBeFocused();
  await page.keyboard.press('y');
  await expect(page.getByRole('radio', { name: 'Yes' })).toBeChecked();
  await page.keyboard.press('Backspace');
  await expect(page.getByRole('radio', { name: 'Yes' })).not.toBeChecked();
});

test('submit, undo and put back by the bar’s keys; the number leaves a gap and comes back', async ({
  page,
  desk,
}) => {
  await desk.fillIn();
  await page.keyboard.press('Escape');
  await page.keyboard.press('s');
  await page.keyboard.press('Enter');
  await expect(desk.status).toContainText('written to Samples');
  const number = (await page.locator('tr.stored.recent td').first().textContent()) ?? '';
  await page.keyboard.press('Escape');
  await page.keyboard.press('z');
  await page.keyboard.press('Enter');
  await expect(desk.status).toContainText('taken out of Samples');
  await expect(page.locator('tr.stored').filter({ hasText: number })).toHaveCount(0);
  const next = `will be RW-${String(Number(number.slice(3)) + 1).padStart(5, '0')}`;
  await expect(desk.landing).toContainText(next);
  await page.getByRole('button', { name: 'Put back' }).click();
  await expect(page.locator('tr.stored').filter({ hasText: number })).toHaveCount(1);
});

test('clear brings back the starting values and can be undone', async ({ page, desk }) => {
  await desk.field('Date').fill('1/3/2026');
  await desk.field('pH').fill('6.9');
  await page.getByRole('button', { name: 'Clear' }).click();
  await expect(desk.field('pH')).toHaveValue('');
  await expect(desk.field('Date')).toHaveValue(/^\d\d\/\d\d\/\d{4}$/);
  await expect(desk.field('Date')).toBeFocused();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(desk.field('pH')).toHaveValue('6.9');
  await expect(desk.field('Date')).toHaveValue('1/3/2026');
});

test('with the server stopped: submits wait in line, counted, and are written in order, once, when it is back', async ({
  page,
  desk,
  server,
}) => {
  const counted = await recordsOf(page);
  const line = page.getByRole('status', { name: 'Records that wait to be sent' });
  await desk.fillIn({ Notes: 'first in line' });
  await server.stop();
  await page.keyboard.press('Control+Enter');
  await expect(desk.status).toContainText(
    'Not written yet. The server does not answer. This record waits in line and is sent as soon as the server answers.',
  );
  await expect(line).toContainText('1 record waits to be sent, kept in this browser.');
  // One goes on with the next, which goes behind it.
  await expect(desk.field('Notes')).toHaveValue('');
  await expect(desk.field('Date')).toBeFocused();
  await desk.fillIn({ Notes: 'second in line' });
  await page.keyboard.press('Control+Enter');
  await expect(line).toContainText('2 records wait to be sent');
  await expectAccessible(page);
  await server.start();
  await page.reload();
  await expect(line).toHaveCount(0, { timeout: 20_000 });
  await expect(page.locator('tr.stored').nth(-2)).toContainText('first in line');
  await expect(page.locator('tr.stored').last()).toContainText('second in line');
  expect(await recordsOf(page)).toBe(counted + 2);
});

test('an answer that is lost on its way: the record was written once', async ({ page, desk }) => {
  const counted = await recordsOf(page);
  let lost = 0;
  await page.route('**/submits', async (route) => {
    if (lost > 0) return route.continue();
    lost += 1;
    // The server writes it; the network ends before it is told.
    await route.fetch();
    return route.abort();
  });
  await desk.fillIn({ Notes: 'answer lost' });
  await page.keyboard.press('Control+Enter');
  await expect(desk.status).toContainText('written to Samples', { timeout: 15_000 });
  await expect(page.locator('tr.stored').filter({ hasText: 'answer lost' })).toHaveCount(1);
  expect(await recordsOf(page)).toBe(counted + 1);
});

test('with the clock of the computer a day ahead, days are those of the workbook', async ({
  page,
  desk,
}) => {
  const today = await desk.field('Date').inputValue();
  await page.clock.install({ time: Date.now() + 86_400_000 });
  await page.reload();
  await expect(desk.field('Date')).toHaveValue(today);
  await desk.fillIn({ Notes: 'a day ahead' });
  await page.keyboard.press('Control+Enter');
  await expect(desk.status).toContainText('written to Samples');
  const stored = page.locator('tr.stored').filter({ hasText: 'a day ahead' });
  await expect(stored).toContainText(today);
  await expect(page.getByRole('group', { name: 'Today' })).toContainText(/Today: [1-9]\d* by you/);
});

test('what was begun is back after the window was closed; a submit without an answer is sent again, once', async ({
  page,
  desk,
  server,
}) => {
  const context = page.context();
  const form = page.url();
  await desk.fillIn({ Notes: 'Heron at the weir' });
  await goTo(page, 'Samples');
  await goTo(page, 'Log a sample');
  await expect(page.getByText('Your unfinished record is back')).toBeVisible();
  await expect(desk.field('Notes')).toHaveValue('Heron at the weir');
  await desk.field('Notes').fill('Two herons');
  await expect(page.getByText('Your unfinished record is back')).toBeHidden();

  // Each window has work of its own, and both give back what was begun.
  const beside = new Desk(await context.newPage());
  await beside.page.goto(form);
  await expect(beside.field('Notes')).toHaveValue('');
  await beside.field('Notes').fill('An otter');
  await expect(beside.landing).toContainText('An otter');
  await beside.page.close();
  await page.close();

  const again = new Desk(await context.newPage());
  await again.page.goto(form);
  await expect(again.field('Notes')).toHaveValue('Two herons');
  await expect(again.page.getByText('1 other record you had begun waits here.')).toBeVisible();
  const other = new Desk(await context.newPage());
  await other.page.goto(form);
  await expect(other.field('Notes')).toHaveValue('An otter');
  await other.page.getByRole('button', { name: 'Clear' }).click();
  await expect(other.field('Notes')).toHaveValue('');
  await other.page.close();
  await expect(again.landing).toContainText('Two herons');
  await expectAccessible(again.page);
  const counted = await recordsOf(again.page);
  await server.stop();
  await again.page.keyboard.press('Control+Enter');
  await expect(again.status).toContainText('Not written');
  await again.page.close();
  await server.start();

  const last = new Desk(await context.newPage());
  await last.page.goto(form);
  await expect(last.page.locator('tr.stored').last()).toContainText('Two herons');
  await expect(last.field('Notes')).toHaveValue('');
  await last.page.reload();
  await expect(last.field('Date')).toBeFocused();
  await expect(last.field('Notes')).toHaveValue('');
  expect(await recordsOf(last.page)).toBe(counted + 1);

  // Computers are shared: with whoever signs out goes what they had begun.
  await last.field('Notes').fill('Not for others');
  await last.page.getByRole('button', { name: 'Ines Halloran: menu' }).click();
  await last.page.getByRole('menuitem', { name: 'Sign out' }).click();
  const asking = last.page.getByRole('alertdialog', { name: 'Sign out?' });
  await expect(asking).toContainText('1 record or cell you began is not written yet.');
  await asking.getByRole('button', { name: 'Stay' }).click();
  await expect(last.field('Notes')).toHaveValue('Not for others');
  await last.page.getByRole('button', { name: 'Ines Halloran: menu' }).click();
  await last.page.getByRole('menuitem', { name: 'Sign out' }).click();
  await asking.getByRole('button', { name: 'Sign out' }).click();
  await expect(last.page.getByRole('heading', { name: 'Varn', level: 1 })).toBeVisible();
  await expect
    .poll(() => last.page.evaluate(() => JSON.stringify(localStorage)))
    .not.toContain('Not for');
  await last.open();
  await expect(last.field('Notes')).toHaveValue('');
});

test('what one enters is marked in another’s open window', async ({
  page,
  desk,
  browser,
  server,
}) => {
  const other = await reader(browser, server);
  await goTo(other, 'Samples');
  await other.getByRole('grid').focus();
  await other.keyboard.press('Control+End');
  await other.keyboard.press('Home');
  await desk.fillIn();
  await page.keyboard.press('Control+Enter');
  await expect(other.locator('.grid-row.recent')).toBeVisible();
  await expect(desk.status).toContainText('written to Samples');
  await other.close();
});

test('a sheet that is being read while another writes into it opens all the same', async ({
  page,
  desk,
  browser,
  server,
}) => {
  const other = await reader(browser, server);
  let arrive = (): void => undefined;
  const arrived = new Promise<void>((resolve) => (arrive = resolve));
  let held = false;
  await other.route(/\/api\/sheets\/[^/]+$/, async (route) => {
    const response = await route.fetch();
    if (!held) {
      held = true;
      await arrived;
    }
    await route.fulfill({ response });
  });
  await desk.open();
  const contents = other.getByRole('navigation', { name: 'Contents' });
  await contents.getByRole('link', { name: 'Samples' }).click();
  await expect.poll(() => held).toBe(true);
  const counts = contents.getByRole('link', { name: 'Samples' });
  const before = await counts.textContent();
  await desk.fillIn();
  await page.keyboard.press('Control+Enter');
  await expect(counts).not.toHaveText(before ?? '');
  arrive();
  await expect(other.getByRole('heading', { name: 'Samples', level: 1 })).toBeVisible();
  await other.close();
});

test('a reader sees the form and can’t write through it', async ({ browser, server }) => {
  const page = await reader(browser, server);
  await goTo(page, 'Log a sample');
  await expect(page.getByText('Read only')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Submit' })).toBeDisabled();
  await expect(page.getByRole('textbox', { name: 'pH' })).not.toBeEditable();
  await page.close();
});

test('the landing row keeps the focused field’s column in view and marked', async ({
  page,
  desk,
}) => {
  const heading = page
    .getByRole('region', { name: 'Landing row' })
    .getByRole('columnheader', { name: /Notes/ });
  await expect(heading).not.toBeInViewport();
  await desk.field('Notes').focus();
  await expect(heading).toBeInViewport({ ratio: 1 });
  await expect(heading).toHaveClass(/here/);
  await expect(page.getByRole('region', { name: 'Landing row' })).not.toHaveAttribute(
    'aria-live',
    /.*/,
  );
});

test('the finder goes anywhere; the keys are shown and can be changed', async ({ page, desk }) => {
  // Slow to come: who types and presses Enter meanwhile is taken there all the same.
  await page.route('**/api/places', async (route) => {
    await new Promise((resolve) => setTimeout(resolve, 1500));
    await route.continue();
  });
  await page.keyboard.press('Escape');
  await page.keyboard.press('/');
  await page.keyboard.type('volunt');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Volunteers', level: 1 })).toBeVisible();
  await goTo(page, 'Log a sample');
  await expect(desk.field('Date')).toBeFocused();
  await page.keyboard.press('Escape');
  await page.keyboard.press('?');
  const dialog = page.getByRole('dialog');
  await expect(dialog).toContainText('Keys in Desk');
  await expectAccessible(page);
  await dialog.getByRole('button', { name: 'Change the key of Clear, now c' }).click();
  await page.keyboard.press('s');
  await expect(dialog).toContainText('S is the key of Submit. Choose another.');
  await page.keyboard.press('x');
  await page.keyboard.press('Escape');
  await desk.field('pH').fill('6');
  await page.keyboard.press('Escape');
  await page.keyboard.press('x');
  await page.keyboard.press('Enter');
  await expect(desk.field('pH')).toHaveValue('');
});
