import { expect, expectAccessible, goTo, openDemo, signIn, test } from './fixtures';

const forty = Array.from({ length: 40 }, (_, n) => `Reading ${n + 1}`).join(',');

test('a sheet of 40 columns: at least 24 fields at once, and nothing scrolls sideways', async ({
  page,
}) => {
  await signIn(page);
  await page.goto('/bring-in');
  const buffer = Buffer.from(`${forty}\n${forty.replace(/Reading /g, '1.')}\n`);
  await page.setInputFiles('input[type=file]', { name: 'forty.csv', mimeType: 'text/csv', buffer });
  await page.getByRole('button', { name: /Bring in 1 record, 40 columns/ }).click();
  await page.getByRole('button', { name: 'Make a form', exact: true }).click();
  await expect(page.getByRole('textbox', { name: 'Reading 1', exact: true })).toBeFocused();
  const seen = await page.evaluate(() => {
    const { bottom } = document.querySelector('main')?.getBoundingClientRect() ?? { bottom: 0 };
    const fields = [...document.querySelectorAll('[data-field]')].filter(
      (field) => field.getBoundingClientRect().bottom <= bottom,
    );
    const wide = [document.documentElement, document.querySelector('main')].some(
      (each) => each && each.scrollWidth > each.clientWidth,
    );
    return { fields: fields.length, wide };
  });
  expect(seen.fields).toBeGreaterThanOrEqual(24);
  expect(seen.wide).toBe(false);

  // Enter goes on from field to field, and from the last to Submit, which it does not press.
  await page.getByRole('textbox', { name: 'Reading 39', exact: true }).focus();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('textbox', { name: 'Reading 40', exact: true })).toBeFocused();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: 'Submit' })).toBeFocused();
  await expect(page.getByRole('status')).toHaveText('');
});

for (const colorScheme of ['light', 'dark'] as const) {
  test(`each view is accessible in ${colorScheme}`, async ({ browser, server }) => {
    const page = await (
      await browser.newContext({ baseURL: server.base, colorScheme, locale: 'en-GB' })
    ).newPage();
    await page.goto('/sign-in');
    await expect(page.getByRole('button', { name: 'Ines Halloran' })).toBeVisible();
    await expectAccessible(page);
    await signIn(page);
    await expectAccessible(page);
    await openDemo(page);
    await expectAccessible(page);
    await goTo(page, 'Samples');
    await expect(page.getByRole('gridcell', { name: 'RW-00001' })).toBeVisible();
    await expectAccessible(page);
    await goTo(page, 'Log a sample');
    await page.getByRole('textbox', { name: 'pH' }).fill('x');
    await page.getByRole('combobox', { name: 'Station' }).click();
    await expectAccessible(page);
    await goTo(page, 'Lists');
    await expect(page.getByText(/^46 choices/)).toBeVisible();
    await expectAccessible(page);
    await page.getByRole('link', { name: "Stations!'Code'" }).click();
    await expect(page.getByText('All is well.')).toBeVisible();
    await expectAccessible(page);
    await page.getByRole('link', { name: /^Values stored/ }).click();
    await expect(page.getByText('46 different values')).toBeVisible();
    await expectAccessible(page);
    await goTo(page, 'Outbox');
    await expectAccessible(page);
    await page.goto('/bring-in');
    await page.setInputFiles('input[type=file]', {
      name: 'a.csv',
      mimeType: 'text/csv',
      buffer: Buffer.from('Day,Depth,\n03/04/2026,1.5,x\n'),
    });
    await expect(page.getByText('Could be either: choose one')).toBeVisible();
    await expectAccessible(page);
    await page.close();
  });
}

test('at 390 px each view fits, and a record is entered with the landing row folded to a list', async ({
  browser,
  server,
}) => {
  const page = await (
    await browser.newContext({
      baseURL: server.base,
      viewport: { width: 390, height: 844 },
      isMobile: true,
      hasTouch: true,
    })
  ).newPage();
  const expectFits = async (): Promise<void> => {
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(
      390,
    );
    expect(
      await page.evaluate(() => document.querySelector('main')?.scrollWidth ?? 0),
    ).toBeLessThanOrEqual(390);
  };
  await signIn(page, 'Tom Okafor-Reed');
  await expectFits();
  await openDemo(page);
  await expectFits();
  await page.getByRole('main').getByRole('link', { name: 'Log a sample' }).click();
  await expect(page.getByRole('textbox', { name: 'Date' })).toBeVisible();
  await expectFits();
  await expectAccessible(page);
  const answers = { Time: '0930', 'Water temp': '7', pH: '7' };
  for (const [name, text] of Object.entries(answers)) {
    await page.getByRole('textbox', { name, exact: true }).fill(text);
  }
  for (const [name, text] of [
    ['River', 'mere'],
    ['Station', 'me1'],
  ] as const) {
    await page.getByRole('combobox', { name, exact: true }).tap();
    await page.getByRole('dialog').getByRole('combobox').fill(text);
    await page.getByRole('option').first().tap();
  }
  await page.getByRole('combobox', { name: 'Observer' }).tap();
  await page.getByRole('option').nth(2).tap();
  await page.getByText('not written yet').tap();
  await expect(page.locator('.landing-list dl')).toContainText('09:30');
  await expectFits();
  await page.getByRole('button', { name: 'Submit' }).tap();
  await expect(page.locator('footer').getByRole('status')).toContainText('written to Samples');
  await page.close();
});

test('a wrong password, a wrong file and a wrong address each say what and what to do', async ({
  page,
}) => {
  await page.goto('/sign-in');
  await page.getByLabel('Mail address').fill('ines');
  await page.getByLabel('Password').fill('x');
  await page.getByRole('button', { name: 'Sign in', exact: true }).click();
  await expect(page.getByText('Write the address like name@place.example')).toBeVisible();
  await page.getByLabel('Mail address').fill('ines@riverwatch.example');
  await page.getByRole('button', { name: 'Sign in', exact: true }).click();
  await expect(page.getByRole('alert')).toHaveText(
    'The address or the password is not right. Check both and try again.',
  );
  await signIn(page);
  await page.goto('/bring-in');
  await page.setInputFiles('input[type=file]', {
    name: 'open.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from('a,b\n1,"2\n'),
  });
  await expect(page.getByRole('alert')).toContainText('A quoted cell is never closed');
  await page.goto('/workbooks/none/sheets/none');
  await expect(page.getByRole('alert')).toContainText('There is no such sheet.');
});
