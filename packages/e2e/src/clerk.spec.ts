import type { Page } from '@playwright/test';
import { expect, expectAccessible, goTo, openDemo, signIn, test } from './fixtures';

test.use({ own: 'clerk' });
test.beforeEach(({ desk }) => desk.open());

const place = (page: Page) => page.locator('[data-place]');
const question = (page: Page) => page.getByRole('search', { name: 'Question' });
const contents = (page: Page) => page.getByRole('navigation', { name: 'Contents' });
const focused = (page: Page) =>
  page.evaluate(() => {
    const { value, selectionStart, selectionEnd } = document.activeElement as HTMLInputElement;
    return { value, selected: value.slice(selectionStart ?? 0, selectionEnd ?? 0) };
  });

async function ask(page: Page, conditions: Record<string, string>): Promise<void> {
  await page.locator('[data-action=find]').press('Enter');
  await page.getByRole('button', { name: 'Ask by example' }).press('Enter');
  for (const [heading, says] of Object.entries(conditions)) {
    await question(page)
      .getByRole('combobox', { name: heading, exact: true })
      .or(question(page).getByRole('textbox', { name: heading, exact: true }))
      .fill(says);
  }
}

test('a record of twelve fields takes at most seventy keys, its text among them', async ({
  page,
  desk,
}) => {
  const texts = ['', '9.10', 'ash', 'ab3', 'wyn c', '', '7.5', '4', '7.2', '11.2', '6', '1.2'];
  let keys = 0;
  for (const [at, text] of texts.entries()) {
    await page.keyboard.type(text);
    keys += text.length;
    if (at === texts.length - 1) continue;
    await page.keyboard.press('Enter');
    keys += 1;
  }
  await page.keyboard.press('Control+Enter');
  keys += 2;
  await expect(desk.status).toContainText('written to Samples');
  await expect(page.locator('tr.stored').last()).toContainText('AB-03');
  console.log(`keys for a record of ${texts.length} fields, its text among them: ${keys}`);
  expect(keys).toBeLessThanOrEqual(70);
});

test('the calendar by keyboard: on the day of the field, by day, week and month; Enter takes, Escape goes back', async ({
  page,
  desk,
}) => {
  await desk.field('Date').fill('24/11/2026');
  const day = (name: string) => page.getByRole('button', { name: new RegExp(name) });
  await page.keyboard.press('Alt+ArrowDown');
  await expect(day('24 November 2026')).toBeFocused();
  await expectAccessible(page);
  // The steps of the ARIA date picker pattern; weeks begin on Monday.
  const steps = {
    ArrowRight: '25 November 2026',
    ArrowDown: '2 December 2026',
    Home: '30 November 2026',
    End: '6 December 2026',
    PageUp: '6 November 2026',
    PageDown: '6 December 2026',
    ArrowLeft: '5 December 2026',
  };
  for (const [key, name] of Object.entries(steps)) {
    await page.keyboard.press(key);
    await expect(day(`\\b${name}`)).toBeFocused();
  }
  await page.keyboard.press('Enter');
  await expect(desk.field('Date')).toHaveValue('05/12/2026');
  await expect(desk.field('Date')).toBeFocused();
  await page.keyboard.press('Alt+ArrowDown');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Escape');
  await expect(desk.field('Date')).toBeFocused();
  await expect(desk.field('Date')).toHaveValue('05/12/2026');
});

test('figures and letters answer what is in sight; a key that is stored is offered while it is typed', async ({
  page,
}) => {
  await contents(page).getByRole('link', { name: 'Season survey', exact: true }).click();
  const statement = (choice: string) =>
    page.getByRole('radio', { name: `The kit I was given works: ${choice}` });
  await statement('Agree').focus();
  await page.keyboard.press('2');
  await expect(statement('Slightly disagree')).toBeChecked();
  await page.keyboard.press('n');
  await expect(statement('Neither')).toBeChecked();
  await expect(statement('Neither')).toBeFocused();
  await page.keyboard.press('Backspace');
  await expect(statement('Neither')).not.toBeChecked();

  await goTo(page, 'Register a volunteer');
  const id = page.getByRole('textbox', { name: 'Id', exact: true });
  await id.fill('0001');
  await expect(page.getByText('0001 is stored already, in row')).toBeVisible();
  await expectAccessible(page);
  await id.fill('9999');
  await expect(page.getByText('is stored already')).toHaveCount(0);
  await id.fill('0001');
  await page.getByRole('button', { name: 'Open 0001' }).click();
  await expect(place(page)).toHaveText(/^Record 1 of/);
});

test('a starting value is selected after a back-dated record, after Clear, and on another form', async ({
  page,
  desk,
}) => {
  await desk.fillIn({ Date: '25/11/2026' });
  await page.keyboard.press('Control+Enter');
  await expect(desk.status).toContainText('written to Samples');
  await expect(desk.field('Date')).toBeFocused();
  const { value, selected } = await focused(page);
  expect([selected, value]).toEqual([value, expect.stringMatching(/^\d\d\/\d\d\/\d{4}$/)]);
  await desk.field('pH').fill('7');
  await page.getByRole('button', { name: 'Clear' }).click();
  await expect.poll(async () => (await focused(page)).selected).toBe(value);
});

test('Submit by its button and by Ctrl+Enter on it; an undo brings the text back; what is missing is named in full', async ({
  page,
  desk,
}) => {
  await page.getByRole('button', { name: 'and 1 more' }).press('Enter');
  await expect(
    page.locator('footer').getByRole('button', { name: 'pH', exact: true }),
  ).toBeVisible();
  // Units stand beside figures, and not over them.
  await desk.field('Water temp').fill('123456.789');
  const apart = await desk.field('Water temp').evaluate((input: HTMLInputElement) => {
    const unit = document.createRange();
    unit.selectNodeContents(input.nextElementSibling ?? input);
    const end =
      input.getBoundingClientRect().right - parseFloat(getComputedStyle(input).paddingRight);
    return unit.getBoundingClientRect().left - end;
  });
  expect(apart).toBeGreaterThanOrEqual(0);
  await desk.fillIn({ Notes: 'to be taken back' });
  await page.locator('[data-action=submit]').focus();
  await page.keyboard.press('Control+Enter');
  await expect(desk.status).toContainText('written to Samples');
  await page.keyboard.press('Escape');
  await page.keyboard.press('z');
  await page.keyboard.press('Enter');
  await expect(desk.status).toContainText('taken out of Samples');
  await expect(desk.field('Notes')).toHaveValue('to be taken back');
  await expect(desk.field('Date')).toBeFocused();
});

test('a question is kept by name, for all; its columns are chosen; it is opened from the contents; printed clean', async ({
  page,
  desk,
  browser,
  server,
}, testInfo) => {
  await ask(page, { River: 'Ash Beck', pH: '>= 7.8' });
  await question(page).getByRole('textbox', { name: 'Date', exact: true }).fill('>= ');
  await page.keyboard.press('Alt+ArrowDown');
  await expect(page.locator('[data-part=table-cell-trigger]:focus')).toBeVisible();
  for (const key of ['PageUp', 'PageUp', 'Home', 'Enter']) await page.keyboard.press(key);
  await expect(question(page).getByRole('textbox', { name: 'Date', exact: true })).toHaveValue(
    /^>= \d\d\/\d\d\/\d{4}$/,
  );
  await question(page).getByRole('button', { name: 'Show matches' }).click();
  await page.getByRole('button', { name: 'Columns' }).click();
  for (const heading of ['Time', 'Observer', 'Training']) {
    await page.getByRole('checkbox', { name: heading }).press('Space');
  }
  await page.getByRole('button', { name: 'Move pH to the left' }).click();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Done' }).click();
  await page.getByRole('button', { name: 'Keep it' }).click();
  await page.getByRole('textbox', { name: 'Name of the question' }).fill('Alkaline');
  await page.getByText('For everyone in the workbook').click();
  await page.keyboard.press('Tab');
  await page.getByRole('button', { name: 'Keep', exact: true }).click();
  await expect(page.getByText('Kept as ‘Alkaline’, for everyone')).toBeVisible();

  const theirs = await (await browser.newContext({ baseURL: server.base })).newPage();
  await signIn(theirs, 'Wen Lindqvist');
  await openDemo(theirs);
  await contents(theirs).getByRole('link', { name: 'Alkaline' }).click();
  const headings = theirs.getByRole('region', { name: /^Matches:/ }).getByRole('columnheader');
  const shown = [
    'A Number',
    'B Date',
    'D River',
    'E Station',
    'H Water temp',
    'J pH',
    'I Air temp',
  ];
  await expect.poll(async () => (await headings.allTextContents()).slice(0, 7)).toEqual(shown);
  await expect(
    theirs.getByText(/Samples where River is Ash Beck, pH is at least 7.8/),
  ).toBeVisible();
  // It is not theirs to change.
  await expect(theirs.getByRole('button', { name: 'Forget' })).toHaveCount(0);

  // On paper: the matches, then a record, and nothing that stands around them.
  await page.getByRole('button', { name: 'Print', exact: true }).last().click();
  await page.emulateMedia({ media: 'print' });
  await expect(
    page.getByRole('heading', { name: /^Samples where River is Ash Beck/ }),
  ).toBeVisible();
  await expect(page.getByRole('toolbar')).toBeHidden();
  await page.screenshot({ path: testInfo.outputPath('matches-printed.png') });
  await page.emulateMedia({ media: 'screen' });
  await page.getByRole('button', { name: 'Clear it' }).click();
  await page.keyboard.press('Escape');
  await page.keyboard.press('l');
  await expect(place(page)).toHaveText(/^Record/);
  await page.emulateMedia({ media: 'print' });
  await expect(page.getByRole('heading', { name: /^RW-\d{5}$/, level: 1 })).toBeVisible();
  await expect(page.getByRole('rowheader', { name: 'Water temp' })).toBeVisible();
  await page.screenshot({ path: testInfo.outputPath('record-printed.png') });
  await page.emulateMedia({ media: 'screen' });
  await expect(desk.field('Date')).toBeVisible();
  await contents(page).getByRole('link', { name: 'Alkaline' }).click();
  await page.getByRole('button', { name: 'Forget ‘Alkaline’' }).click();
  await expect(contents(page).getByRole('link', { name: 'Alkaline' })).toHaveCount(0);
});

test('update and step on by one key; many are deleted only when their count is typed; all of it in the dark', async ({
  page,
  desk,
}) => {
  await page.getByRole('button', { name: 'Switch to dark' }).click();
  await ask(page, { River: 'Mereling', 'Any column': '2026' });
  await expectAccessible(page);
  await page.keyboard.press('Enter');
  await expect(place(page)).toHaveText(/^Match 1 of/);
  await desk.field('Notes').fill('looked at again');
  await page.keyboard.press('Control+Shift+Enter');
  await expect(desk.status).toContainText('updated in Samples');
  await expect(place(page)).toHaveText(/^Match 2 of/);
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Delete all' }).click();
  const count = (await page.getByText(/^[\d,]+ matches$/).textContent())?.replace(/\D/g, '') ?? '';
  expect(Number(count)).toBeGreaterThan(100);
  const remove = page.getByRole('button', { name: /^Delete [\d,]+ records$/ });
  await expect(remove).toBeDisabled();
  await page.getByRole('textbox', { name: /^Type [\d,]+ to delete them$/ }).fill(count);
  await remove.click();
  await expect(page.getByText(/records deleted|deleted from/i).first()).toBeVisible();
  await page.locator('footer').getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText(/^[\d,]+ matches$/)).toHaveText(
    `${Number(count).toLocaleString('en')} matches`,
  );
  for (const name of ['Bin', 'History']) {
    await goTo(page, name);
    await expectAccessible(page);
  }
  await page.getByRole('button', { name: 'Switch to light' }).click();
});

test('low windows leave most of their height to the form, and the field one is in stands in view', async ({
  page,
  desk,
}) => {
  for (const [width, height] of [
    [844, 390],
    [853, 533],
    [320, 256],
  ] as const) {
    await page.setViewportSize({ width, height });
    for (const name of ['Time', 'pH', 'Notes']) {
      await desk.field(name).focus();
      await desk.field(name).scrollIntoViewIfNeeded();
      await expect(desk.field(name)).toBeInViewport({ ratio: name === 'Notes' ? 0.5 : 1 });
    }
    const share = await page.evaluate(
      () => (document.querySelector('main')?.clientHeight ?? 0) / innerHeight,
    );
    expect(share).toBeGreaterThanOrEqual(0.6);
  }
  // The matches fold too, and leave their height to the record among them.
  await page.setViewportSize({ width: 844, height: 390 });
  await desk.field('Time').focus();
  await page.keyboard.press('Escape');
  await page.keyboard.press('f');
  await page.keyboard.type('mereling');
  await page.getByRole('button', { name: /^Show all/ }).click();
  await expect(page.locator('[data-place]')).toHaveText(/^Match 1 of/);
  await desk.field('pH').scrollIntoViewIfNeeded();
  await expect(desk.field('pH')).toBeInViewport({ ratio: 1 });
  const matches = page.getByRole('region', { name: /^Matches:/ });
  await expect(matches).toBeHidden();
  await page.getByRole('button', { name: /^\d+ matches$/ }).click();
  await expect(matches.getByRole('row').nth(1)).toBeInViewport();
  await expectAccessible(page);
});
