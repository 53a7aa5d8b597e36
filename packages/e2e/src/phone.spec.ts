import { expect, expectAccessible, OFFICE, openDemo, signIn, test } from './fixtures';

// By a name on the office's network, so without what browsers give to secure pages alone.
test.use({ viewport: { width: 390, height: 844 }, own: OFFICE });

test('a form is filled in, statements and a scale included', async ({ page }) => {
  await signIn(page);
  await openDemo(page);
  await page
    .getByRole('main')
    .getByRole('link', { name: 'Season survey', exact: true })
    .last()
    .click();
  for (const name of ['The kit I was given works', 'What I report is looked at']) {
    await page.getByRole('radio', { name: `${name}: Agree` }).check();
  }
  await page.getByRole('radio', { name: '6', exact: true }).check();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Submit' }).click();
  await expect(page.getByText('Answer this question.').first()).toBeVisible();
  await page.getByRole('radio', { name: 'I was trained well enough to read it: Neither' }).check();
  await page.getByRole('button', { name: 'Submit' }).click();
  await expect(page.getByText(/Thank you for the season/)).toBeVisible();
  const width = await page.evaluate(() => document.documentElement.scrollWidth);
  expect(width).toBeLessThanOrEqual(390);
  expect(await page.evaluate(() => isSecureContext)).toBe(false);
});
