import { readFileSync } from 'node:fs';
import { expect, expectAccessible, goTo, openDemo, signIn, test } from './fixtures';

const KIT =
  'Kit list;;;\r\nId;Item;Out on;Price\r\n0007;"Meter; large";03/04/2026;12,50\r\n0012;Waders;28/04/2026;8,25\r\nTotal;;;20,75\r\n';

// Its counts are those of the demo that nobody has written to yet.
test.use({ own: 'journey' });

test('from the sign-in page to a form of one’s own, a record through it, and the file taken away', async ({
  page,
  server,
  desk,
}) => {
  await test.step('1: sign in with one click', async () => {
    await page.goto('/');
    await expect(page).toHaveURL(/sign-in/);
    await expectAccessible(page);
    await signIn(page);
    await expectAccessible(page);
  });

  await test.step('2: open the workbook and scroll its samples', async () => {
    await openDemo(page);
    await expectAccessible(page);
    await goTo(page, 'Samples');
    const grid = page.getByRole('grid', { name: 'Sheet Samples' });
    await expect(grid).toHaveAttribute('aria-rowcount', '2405');
    await expect(grid.getByRole('columnheader', { name: 'Running number Number' })).toBeVisible();
    await expect(grid.getByRole('gridcell', { name: 'RW-00001' })).toBeVisible();
    await expectAccessible(page);
    await grid.focus();
    await page.keyboard.press('Control+End');
    await expect(grid.getByRole('row').filter({ hasText: '2404' })).toBeVisible();
    await page.keyboard.press('Home');
    await expect(grid.getByRole('gridcell', { name: 'RW-02400' })).toBeVisible();
    await expect(grid.getByRole('gridcell', { name: 'RW-00001' })).toHaveCount(0);
  });

  await test.step('3 and 4: enter a sample by keyboard alone, see where it landed', async () => {
    await goTo(page, 'Log a sample');
    await expect(desk.field('Date')).toBeFocused();
    await expect(page.getByText('will be RW-02401').first()).toBeVisible();
    await expectAccessible(page);
    await page.keyboard.type('24 nov');
    await page.keyboard.press('Enter');
    await page.keyboard.type('9.30');
    await page.keyboard.press('Enter');
    await page.keyboard.type('ash');
    await page.keyboard.press('Enter');
    await page.keyboard.type('AB-03');
    await page.keyboard.press('Enter');
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('Enter');
    await page.keyboard.press('Enter');
    await page.keyboard.type('7.5');
    await page.keyboard.press('Enter');
    await page.keyboard.press('Enter');
    await page.keyboard.type('7.2');
    await expect(desk.landing).toContainText('24/11/2026');
    await expect(desk.landing).toContainText('09:30');
    await expect(desk.landing).not.toContainText('missing');
    await page.keyboard.press('Control+Enter');
    await expect(desk.status).toContainText(
      'RW-02401 written to Samples, row 2,405. 2,400 records before, 2,401 now.',
    );
    await expect(desk.field('Date')).toBeFocused();
    await expect(desk.field('Time')).toHaveValue('');
    await expect(page.locator('tr.stored.recent')).toContainText('RW-02401');
  });

  await test.step('6: bring a file in, make a form of it, enter a record, take it away', async () => {
    await page.goto('/bring-in');
    await page.setInputFiles('input[type=file]', {
      name: 'kit_list.csv',
      mimeType: 'text/csv',
      buffer: Buffer.from(KIT),
    });
    await expect(page.getByLabel('Heading of column B')).toHaveValue('Item');
    await expect(page.getByLabel('Kind of column A')).toHaveValue('text');
    await expect(page.getByLabel('Kind of column D')).toHaveValue('number');
    await expect(page.getByText('Left out as totals: row 5.')).toBeVisible();
    await expectAccessible(page);
    await page.getByLabel('Heading of column B').fill('Kit');
    await page.getByLabel('Name of the new workbook').fill('Kit 🧪 ערכה');
    await page.getByRole('button', { name: 'Bring in 2 records, 4 columns' }).click();
    await expect(page.getByRole('grid')).toHaveAttribute('aria-rowcount', '5');
    await expect(page.getByRole('gridcell', { name: '03/04/2026' })).toBeVisible();
    await page.getByRole('button', { name: 'Make a form', exact: true }).click();
    await expect(page.getByRole('textbox', { name: 'Id' })).toBeFocused();
    await page.keyboard.type('0099');
    await page.getByRole('textbox', { name: 'Kit', exact: true }).fill('=1+1');
    await page.getByRole('button', { name: 'Submit' }).click();
    await expect(desk.status).toHaveText(/written to kit list, row 5\. 2 records before, 3 now\.$/);
    await page
      .getByRole('navigation', { name: 'Contents' })
      .getByRole('link', { name: 'kit list' })
      .first()
      .click();
    await page.getByRole('button', { name: 'Take away' }).click();
    await expectAccessible(page);
    const download = page.waitForEvent('download');
    await page.getByRole('link', { name: 'Take away' }).click();
    const file = await download;
    expect(file.suggestedFilename()).toBe('kit list.csv');
    expect(readFileSync(await file.path(), 'utf8')).toBe(
      "Id,Kit,Out on,Price\r\n0007,Meter; large,2026-04-03,12.5\r\n0012,Waders,2026-04-28,8.25\r\n0099,'=1+1,,\r\n",
    );
  });

  await test.step('7: restart the server: all is there', async () => {
    expect(await server.stop()).toBe(0);
    await server.start();
    await page.goto('/');
    await expect(
      page
        .getByText('4 records · your role: owner')
        .or(page.getByText('3 records · your role: owner')),
    ).toBeVisible();
    await openDemo(page);
    await expect(page.getByRole('table', { name: 'Sheets and forms' })).toContainText('2,401');
  });
});
