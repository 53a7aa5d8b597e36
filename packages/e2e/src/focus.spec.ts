import { paths, type FormView, type RowsView, type SheetView } from '@varn/contract';
import type { Browser, Page } from '@playwright/test';
import { expect, expectAccessible, goTo, openDemo, signIn, test } from './fixtures';
import { Sheet } from './grid';

test.use({ own: 'focus' });

/** Does something, and holds that the focus is on the page after it, where Escape leads to the bar. */
async function after(page: Page, what: string, act: () => Promise<unknown>): Promise<void> {
  await act();
  const at = () =>
    page.evaluate(() => {
      const { activeElement: active } = document;
      const isThere = active !== null && active !== document.body && active.isConnected;
      return isThere ? 'on the page' : 'nowhere';
    });
  await expect.poll(async () => `${what}: ${await at()}`).toBe(`${what}: on the page`);
  // So it is once all is drawn.
  await page.waitForTimeout(250);
  await expect.poll(async () => `${what}: ${await at()}`).toBe(`${what}: on the page`);
}

async function leavesForBar(page: Page): Promise<void> {
  await page.keyboard.press('Escape');
  await expect
    .poll(() => page.evaluate(() => document.activeElement?.closest('.varn-bar') !== null))
    .toBe(true);
}

/** What the API answers to whoever is signed in. */
async function ask<T>(page: Page, method: string, path: string, data?: object): Promise<T> {
  const headers = { origin: new URL(page.url()).origin };
  const answer = await page.request.fetch(path, { method, headers, ...(data && { data }) });
  expect([path, answer.ok()]).toEqual([path, true]);
  return (await answer.json()) as T;
}

const formAt = (page: Page): Promise<FormView> =>
  ask(page, 'GET', paths.form(/forms\/([^/?]+)/.exec(page.url())?.[1] ?? ''));

/** Another person deletes the last record. */
async function deleteLast(page: Page, browser: Browser): Promise<void> {
  const { sheet } = await formAt(page);
  const other = await browser.newContext({ baseURL: new URL(page.url()).origin });
  const theirs = await other.newPage();
  await signIn(theirs, 'Tom Okafor-Reed');
  const { count } = await ask<SheetView>(theirs, 'GET', paths.sheet(sheet.id));
  const { records } = await ask<RowsView>(theirs, 'GET', paths.rows(sheet.id, count - 1, 1));
  const { id = '', revision } = records[0] ?? {};
  await ask(theirs, 'POST', paths.removeRecord(sheet.id, id), {
    writeId: crypto.randomUUID(),
    revision,
  });
  await other.close();
}

test('at the desk something has the focus after every action, and Escape leads to the bar', async ({
  page,
  desk,
}) => {
  await desk.open();
  const press = (name: string | RegExp) => () =>
    page.getByRole('button', { name }).first().press('Enter');
  await desk.fillIn();
  await after(page, 'a submit', () => page.keyboard.press('Control+Enter'));
  await expect(desk.status).toContainText('written to Samples');
  await expect(desk.field('Date')).toBeFocused();
  await after(page, 'undo', press('Undo'));
  await expect(desk.status).toContainText('taken out of Samples');
  await after(page, 'put back', press('Put back'));
  await after(page, 'clear', press('Clear'));
  await after(page, 'brought back', press('Bring back what was typed'));
  await expect(desk.field('pH')).toHaveValue('7.2');
  await after(page, 'clear again', press('Clear'));
  await after(page, 'the last one', press('Last one'));
  await leavesForBar(page);
  await after(page, 'back', press('Back'));
  await after(page, 'on', () => page.keyboard.press('PageDown'));
  await after(page, 'history', press('History'));
  await leavesForBar(page);
  await after(page, 'closed', press('Close'));
  await after(page, 'delete asked', press('Delete'));
  await after(page, 'kept', press('Keep it'));
  await after(page, 'deleted', async () => {
    await press('Delete')();
    await press(/^Delete RW-/)();
  });
  await after(page, 'restored', press('Put it back'));
  // Whichever answer comes last, one is where one asked to go last.
  await page.route('**/records/*', async (route) => {
    await new Promise((resolve) => setTimeout(resolve, 600));
    await route.continue();
  });
  await after(page, 'duplicate', async () => {
    await press('Last one')();
    await press('Duplicate')();
  });
  await page.unrouteAll({ behavior: 'wait' });
  await after(page, 'clear', press('Clear'));
  // In the foot keys act as in the form.
  await page.getByRole('region', { name: 'Landing row' }).focus();
  await leavesForBar(page);
  await desk.fillIn();
  await page.getByRole('region', { name: 'Landing row' }).focus();
  await after(page, 'a submit from the landing row', () => page.keyboard.press('Control+Enter'));
  await expect(desk.status).toContainText('written to Samples');
  await after(page, 'a question', async () => {
    await press('Find')();
    await page.getByRole('combobox', { name: 'Find in Samples' }).fill('9:30 ash');
    await press(/^Show all/)();
    await expect(page.getByText(/^Match 1 of/)).toBeVisible();
  });
  await after(page, 'a question kept', async () => {
    await press('Keep it')();
    await page.getByRole('textbox', { name: 'Name of the question' }).fill('At half past nine');
    await page.keyboard.press('Enter');
    await expect(page.getByText('Kept as ‘At half past nine’')).toBeVisible();
  });
  await after(page, 'forgotten', press(/^Forget/));
  await after(page, 'no question', press('Clear it'));
});

test('what was opened while the form was on its way keeps the focus when the form comes', async ({
  page,
}) => {
  await signIn(page);
  await openDemo(page);
  const going = page.url();
  for (const [key, placeholder] of [
    ['f', 'Any words: 24 nov wyn'],
    ['/', 'Sheet, form, column, workbook or action…'],
  ] as const) {
    let letGo = (): void => undefined;
    const held = new Promise<void>((go) => (letGo = go));
    await page.route(/\/api\/.*lists/, async (route) => {
      await held;
      await route.continue();
    });
    await page.goto(going);
    await goTo(page, 'Lend kit');
    await expect(page.getByRole('toolbar', { name: 'Desk bar' })).toBeVisible();
    await page.keyboard.press('Escape');
    await page.keyboard.press(key);
    await page.keyboard.type('wad');
    const opened = page.getByPlaceholder(placeholder);
    await expect(opened).toHaveValue('wad');
    letGo();
    await expect(page.locator('[data-desk-form] [data-field]').first()).toBeVisible();
    await page.keyboard.type('ers', { delay: 50 });
    await expect(opened).toHaveValue('waders');
    await page.unrouteAll({ behavior: 'wait' });
  }
});

test('letters after Escape send and clear nothing; what was cleared comes back', async ({
  page,
  desk,
}) => {
  await desk.open();
  await desk.fillIn({ Notes: 'on the weir' });
  await page.keyboard.press('Escape');
  await page.keyboard.type('corrow');
  await expect(desk.field('Notes')).toHaveValue('on the weir');
  await expect(page.locator('[data-action=clear]')).toBeFocused();
  await page.keyboard.press('Escape');
  await page.keyboard.type('sewage');
  await expect(page.locator('[data-action=submit]')).toBeFocused();
  await expect(desk.field('Notes')).toHaveValue('on the weir');
  await expect(desk.status).toHaveText('');
  await page.keyboard.press('c');
  await page.keyboard.press('Enter');
  await expect(desk.status).toContainText('Cleared.');
  await expect(desk.field('Notes')).toHaveValue('');
  await desk.status.getByRole('button').press('Enter');
  await expect(desk.field('Notes')).toHaveValue('on the weir');
  await page.keyboard.press('Escape');
  await page.keyboard.press('c');
  await page.keyboard.press('Enter');
  await desk.field('Notes').fill('next');
  await expect(desk.status).toHaveText('');
});

test('of a record that was deleted meanwhile it is said who did it, and it is restored and updated', async ({
  page,
  desk,
  browser,
}) => {
  await desk.open();
  await page.getByRole('button', { name: 'Last one' }).click();
  await expect(page.locator('[data-place]')).toContainText('row');
  await desk.field('pH').fill('6.1');
  await deleteLast(page, browser);
  await expect(page.getByText(/^Tom Okafor-Reed deleted this record at /)).toBeVisible();
  await expect(page.getByText('Ready to update')).toBeHidden();
  await page.keyboard.press('Control+Enter');
  const restore = page.getByRole('button', { name: 'Restore and update' });
  await expect(restore).toBeFocused();
  await restore.press('Enter');
  await expect(desk.status).toContainText('updated in Samples');
  // Once more, and as a new one.
  await page.getByRole('button', { name: 'Last one' }).click();
  await expect(desk.field('pH')).toHaveValue('6.1');
  await desk.field('pH').fill('6.2');
  await deleteLast(page, browser);
  await page.getByRole('button', { name: 'Save as new' }).press('Enter');
  await expect(desk.field('pH')).toHaveValue('6.2');
  await page.keyboard.press('Control+Enter');
  await expect(desk.status).toContainText('written to Samples');
  // A correction that was begun and left does not come up where a new record is asked for.
  await page.getByRole('button', { name: 'Last one' }).click();
  await expect(page.locator('[data-place]')).toContainText('row');
  await desk.field('pH').fill('6.3');
  await desk.field('Notes').focus();
  await page.waitForTimeout(400);
  await goTo(page, 'Stations');
  await goTo(page, 'Log a sample');
  await expect(desk.field('Date')).toBeFocused();
  await expect(page.locator('[data-place]')).toBeHidden();
  await expect(page.getByText('1 other record you had begun waits here.')).toBeVisible();
});

test('what was typed into a field that is taken away is shown before the rest is sent', async ({
  page,
  desk,
}) => {
  await desk.open();
  await desk.fillIn({ Notes: 'heron by the weir' });
  const { sheet } = await formAt(page);
  const notes = sheet.columns.find(({ heading }) => heading === 'Notes')?.id ?? '';
  const revision = async (): Promise<number> =>
    (await ask<SheetView>(page, 'GET', paths.sheet(sheet.id))).revision;
  await ask(page, 'DELETE', `${paths.column(sheet.id, notes)}?revision=${await revision()}`);
  const left = page.locator('[data-left-behind]');
  await expect(left).toContainText('heron by the weir');
  await expect(left).toContainText('Notes');
  await expect(page.getByText('Ready to submit')).toBeHidden();
  await page.keyboard.press('Control+Enter');
  await expect(page.getByRole('button', { name: 'Copy Notes' })).toBeFocused();
  // Also after the page was closed meanwhile.
  await page.waitForTimeout(400);
  await page.reload();
  await expect(left).toContainText('heron by the weir');
  await after(page, 'left out', () =>
    page.getByRole('button', { name: 'Leave out Notes' }).press('Enter'),
  );
  await page.keyboard.press('Control+Enter');
  await expect(desk.status).toContainText('written to Samples');
  await ask(page, 'POST', `${paths.column(sheet.id, notes)}/put-back`, {
    revision: await revision(),
  });
});

test('on a form with pages Ctrl+Enter goes to the first page nobody has seen, and never past it', async ({
  page,
}) => {
  await signIn(page);
  await openDemo(page);
  await goTo(page, 'Report a sighting');
  await page.getByRole('radio').first().check();
  await page.keyboard.press('Control+Enter');
  await expect(page.getByText('Answer this question.').first()).toBeVisible();
  await page.getByRole('radio', { name: '3 of 5' }).check();
  await page.getByRole('textbox', { name: 'Where' }).fill('The lower bridge');
  await page.keyboard.press('Control+Enter');
  await expect(page.getByText('May we ask you more?')).toBeVisible();
  await expect(page.getByRole('radio', { name: 'Yes' })).toBeFocused();
  await after(page, 'a submit from page 2', () => page.keyboard.press('Control+Enter'));
  await expect(page.locator('footer')).toContainText('Thank you.');
  await expect(page.getByRole('radio').first()).toBeFocused();
});

test('in the grid, in Compose and in lists something has the focus after every action', async ({
  page,
}) => {
  const sheet = await Sheet.open(page, 'Kit loans');
  const press = (name: string | RegExp) => () =>
    page.getByRole('button', { name }).first().press('Enter');
  await sheet.at(3, 3);
  for (const keys of [['F2'], ['Escape'], ['Delete'], ['Control+z'], ['Shift+F10'], ['Escape']]) {
    await after(page, `grid ${keys.join()}`, () => sheet.press(...keys));
  }
  await after(page, 'details', press('Details'));
  await after(page, 'closed', press('Close'));
  await after(page, 'find', press('Find'));
  await after(page, 'found', () => page.keyboard.press('Escape'));
  await leavesForBar(page);
  await after(page, 'another place', () =>
    page.getByRole('link', { name: 'Ashbeck River Watch' }).first().press('Enter'),
  );
  await after(page, 'Compose', () =>
    page.getByRole('link', { name: 'Compose Lend kit' }).first().press('Enter'),
  );
  await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
  for (const name of ['Outline', 'Preview', 'Page', 'Form details', 'Close']) {
    await after(page, name, press(name));
  }
  await goTo(page, 'Lists');
  await after(page, 'a list', () =>
    page.getByRole('main').getByRole('link').first().press('Enter'),
  );
  await leavesForBar(page);
});

test('what is wrong with a field that was left, and the place one steps to, are read out; the calendar keeps Tab', async ({
  page,
  desk,
}) => {
  await desk.open();
  const said = page.locator('.varn-announced');
  await desk.field('Date').fill('99/99/2026');
  await page.keyboard.press('Tab');
  await expect(said).toHaveAttribute('data-says', /^Date: /);
  await desk.field('Date').fill('');
  await desk.field('Date').focus();
  await page.keyboard.press('Alt+ArrowDown');
  const calendar = page.getByRole('dialog');
  await expect(calendar.locator('[data-view=day][data-focus]').first()).toBeFocused();
  for (let n = 0; n < 8; n += 1) {
    await page.keyboard.press('Tab');
    await expect(calendar.locator(':focus')).toHaveCount(1);
  }
  await page.keyboard.press('Escape');
  await expect(calendar).toBeHidden();
  await page.keyboard.press('PageUp');
  await expect(said).toHaveAttribute('data-says', /^Record [\d,]+ of [\d,]+/);
});

test('in a low window the records that are found leave the form in view', async ({
  page,
  desk,
}) => {
  await page.setViewportSize({ width: 640, height: 400 });
  await signIn(page);
  await openDemo(page);
  await page
    .getByRole('main')
    .getByRole('link', { name: /Log a sample/ })
    .first()
    .click();
  await expect(desk.field('Date')).toBeVisible();
  await page.getByRole('button', { name: 'Find' }).click();
  await page.getByPlaceholder(/24 nov wyn/).fill('ash');
  await expect(page.getByRole('option').nth(7)).toBeAttached();
  const found = await page.getByRole('listbox', { name: 'Records found' }).boundingBox();
  const form = await page.locator('[data-desk-form]').boundingBox();
  expect((found?.y ?? 0) + (found?.height ?? 0)).toBeLessThan(400 - 60);
  expect(form?.y).toBeLessThan(400);
  await expectAccessible(page);
  for (let n = 0; n < 7; n += 1) await page.keyboard.press('ArrowDown');
  await expect(page.getByRole('option').nth(7)).toBeInViewport();
});
