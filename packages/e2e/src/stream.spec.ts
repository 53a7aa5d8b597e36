import { expect, test } from './fixtures';

test.use({ own: 'stream' });

test('on a slow network one types on while records are sent: each is stored as it was typed', async ({
  page,
  desk,
}) => {
  await desk.open();
  const before = await page.locator('tr.stored').last().innerText();
  // Each submit takes as long as a poor connection takes, and not all the same.
  let n = 0;
  await page.route('**/submits', async (route) => {
    n += 1;
    await new Promise((resolve) => setTimeout(resolve, [1500, 300, 900][n % 3]));
    await route.continue();
  });
  const times = ['9:05', '10:15', '11:25', '12:35'];
  for (const time of times) {
    // Without a pause: from the first field on, as fast as keys come.
    await expect(desk.field('Date')).toBeFocused();
    await page.keyboard.type('12/11/2026');
    await page.keyboard.press('Enter');
    await page.keyboard.type(time);
    for (const [field, text] of Object.entries({
      River: 'Ash Beck',
      Station: 'AB-03',
      Observer: 'Edo Garrick',
      'Water temp': '7.5',
      pH: '7.2',
    })) {
      await desk.field(field).fill(text);
      await page.keyboard.press('Tab');
    }
    await page.keyboard.press('Control+Enter');
  }
  await expect(desk.status).toContainText('written to Samples', { timeout: 20_000 });
  const rows = page.locator('tr.stored');
  await expect(rows.last()).toContainText('12:35', { timeout: 20_000 });
  await expect(rows.last()).toContainText('12/11/2026');
  expect(await rows.last().innerText()).not.toBe(before);
  await expect(desk.field('Time')).toHaveValue('');
  await page.getByRole('button', { name: 'Last one' }).click();
  for (const time of times.toReversed()) {
    await expect(desk.field('Time')).toHaveValue(time.padStart(5, '0'));
    await expect(desk.field('Date')).toHaveValue('12/11/2026');
    await page.keyboard.press('PageUp');
  }
});
