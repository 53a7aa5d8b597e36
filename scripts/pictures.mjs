/** Takes the pictures of record (docs/screenshots) from the demo: `npm run pictures`. */
import { chromium } from '@playwright/test';
import { join } from 'node:path';
import { inFolder, startServer } from './bench/server.mjs';
import { ensureBuilt } from './lib/build.mjs';
import { ensureChromium, ensureInstalled } from './lib/install.mjs';
import { ROOT } from './lib/run.mjs';

ensureInstalled();
ensureChromium();
await ensureBuilt();

const KIT = `Kit returns;;;;;
Season 2026;;;;;

Id;Item;;Returned on;Deposit;Deposit
0007;Meter;;03/04/2026;12,50;x
0012;Waders;;04/04/2026;30,00;y
;;;;;
0013;Net;;05/06/2026;8,25;
Subtotal;;;;50,75;
0014;"Flask, large";;06/06/2026;15,00;z;extra
Total;;;;65,75;
`;

/** Rows as they are pasted, some of which break rules. */
const LOANS = Array.from({ length: 20 }, (_, n) => {
  return ['Edo Garrick', n === 9 ? 'Boat' : 'Waders', n % 6 === 3 ? '999' : '25', '1'].join('\t');
}).join('\n');

await inFolder(async (folder) => {
  const { base, stop } = await startServer(folder);
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'],
  });
  const pageWith = async (options = {}) => {
    const context = await browser.newContext({
      baseURL: base,
      viewport: { width: 1280, height: 800 },
      locale: 'en-GB',
      ...options,
    });
    return context.newPage();
  };
  const take = (page, name) =>
    page.screenshot({ path: join(ROOT, 'docs/screenshots', `${name}.png`) });
  const open = async (page, ...links) => {
    await page.goto('/sign-in');
    await page.getByRole('button', { name: 'Ines Halloran' }).click();
    for (const link of links)
      await page.getByRole('main').getByRole('link', { name: link, exact: true }).first().click();
    await page.waitForTimeout(700);
  };
  const begin = async (page) => {
    const answers = {
      Time: '9.30',
      River: 'Ash Beck',
      Station: 'AB-03',
      'Water temp': '7.5',
      pH: '7,2',
    };
    for (const [name, text] of Object.entries(answers)) {
      const field = page.getByRole('combobox', { name, exact: true });
      if ((await field.count()) > 0 && !(await field.isEditable())) {
        await field.tap();
        await page.getByRole('dialog').getByRole('combobox').fill(text);
        await page.getByRole('option').first().tap();
        continue;
      }
      await page.getByRole('textbox', { name, exact: true }).or(field).fill(text);
      await page.keyboard.press('Tab');
    }
    await page.waitForTimeout(200);
  };

  const page = await pageWith();
  await page.goto('/sign-in');
  await page.getByRole('button', { name: 'Ines Halloran' }).waitFor();
  await take(page, 'sign-in');
  await open(page);
  await take(page, 'workbooks');
  await open(page, 'Ashbeck River Watch', 'Samples');
  await page.getByRole('gridcell', { name: 'RW-00001' }).waitFor();
  await take(page, 'sheet');
  await open(page, 'Ashbeck River Watch', 'Kit loans');
  await page.getByRole('grid').focus();
  const keys = ['Control+Home', 'ArrowRight', 'ArrowRight', 'ArrowRight'];
  for (const key of keys) await page.keyboard.press(key);
  await page.keyboard.type("=SUM('Kit loans'!'Quantity')/COUNT(A4:A313;");
  await page.waitForTimeout(900);
  await take(page, 'formula');
  await page.keyboard.press('Escape');
  await open(page, 'Ashbeck River Watch', 'Log a sample');
  await begin(page);
  await take(page, 'desk');
  await page.locator('[data-action=clear]').click();
  await page.getByRole('combobox', { name: 'River', exact: true }).fill('Corrow Water');
  await page.keyboard.press('Tab');
  await page.getByRole('combobox', { name: 'Station', exact: true }).click();
  await page.waitForTimeout(400);
  await take(page, 'dropdown');
  await page.keyboard.press('Escape');
  await page.getByRole('navigation').getByRole('link', { name: 'Lists' }).click();
  await page.getByText('All is well.').or(page.getByText('62 choices')).first().waitFor();
  await take(page, 'lists');
  await page.getByRole('link', { name: "Stations!'Code'" }).click();
  await page.getByRole('link', { name: /^Values stored/ }).click();
  await page.waitForTimeout(900);
  await take(page, 'values');
  await open(page, 'Ashbeck River Watch', 'Log a sample');
  await page.locator('[data-action=find]').click();
  await page.getByRole('button', { name: 'Ask by example' }).click();
  const question = page.getByRole('search', { name: 'Question' });
  await question.getByRole('combobox', { name: 'River' }).fill('Ash Beck');
  await question.getByRole('textbox', { name: 'pH', exact: true }).fill('>= 8');
  await question.getByRole('textbox', { name: 'Date', exact: true }).fill('2025-06..2026-08');
  await page.waitForTimeout(800);
  await take(page, 'question');
  await page.keyboard.press('Enter');
  await page.waitForTimeout(900);
  await page.keyboard.press('PageDown');
  await page.waitForTimeout(900);
  await page.getByRole('textbox', { name: 'pH', exact: true }).fill('8.31');
  await page.waitForTimeout(300);
  await page.keyboard.press('Control+Enter');
  await page.waitForTimeout(1200);
  await page.getByRole('button', { name: 'History', exact: true }).click();
  await page.waitForTimeout(600);
  await take(page, 'record');
  await page.getByRole('button', { name: 'Delete', exact: true }).click();
  await page.keyboard.press('Enter');
  await page.waitForTimeout(1000);
  await page.getByRole('link', { name: 'History', exact: true }).click();
  await page.waitForTimeout(700);
  await take(page, 'history');
  await open(page, 'Ashbeck River Watch', 'Compose Log a sample');
  await page.getByRole('group', { name: /^pH: / }).click();
  await page.waitForTimeout(300);
  await take(page, 'compose');
  await open(page, 'Ashbeck River Watch', 'Compose Report a sighting');
  await page.locator('[data-action=outline]').click();
  await page.waitForTimeout(500);
  await take(page, 'outline');
  await page.goto('/bring-in');
  const file = { name: 'kit_returns.csv', mimeType: 'text/csv', buffer: Buffer.from(KIT) };
  await page.setInputFiles('input[type=file]', file);
  await page.getByLabel('Heading of column B').waitFor();
  await take(page, 'bring-in');

  await open(page, 'Ashbeck River Watch', 'Stations');
  await page.getByRole('columnheader', { name: /Depth/ }).click();
  await page.getByRole('button', { name: 'Details', exact: true }).click();
  await page.getByRole('tab', { name: 'Column' }).click();
  const rules = page.getByRole('group', { name: 'Rules', exact: true });
  await rules.getByRole('button', { name: 'Add a rule' }).click();
  const editor = page.getByRole('group', { name: 'A new rule' });
  await editor.getByLabel('At least').fill('0.3');
  await editor.getByLabel('At most').fill('1');
  await editor.getByLabel('Otherwise').selectOption('ask');
  await editor.getByLabel('Try a value').fill('1.4');
  await page.waitForTimeout(700);
  await editor.getByRole('status').first().scrollIntoViewIfNeeded();
  await editor.getByRole('button', { name: 'Add the rule' }).scrollIntoViewIfNeeded();
  await take(page, 'column');
  await editor.getByRole('button', { name: 'Add the rule' }).click();
  await rules.getByRole('button', { name: 'Show them' }).click();
  await rules.getByRole('button', { name: 'Next', exact: true }).click();
  await page.waitForTimeout(700);
  await take(page, 'broken');
  await open(page, 'Ashbeck River Watch', 'Kit loans');
  await page.getByRole('grid').focus();
  for (const key of ['Control+End', 'ArrowDown', 'Home']) await page.keyboard.press(key);
  await page.evaluate((pasted) => {
    const clipboardData = new DataTransfer();
    clipboardData.setData('text/plain', pasted);
    const event = new ClipboardEvent('paste', { clipboardData, bubbles: true, cancelable: true });
    document.querySelector('[role=grid]')?.dispatchEvent(event);
  }, LOANS);
  await page.getByRole('region', { name: 'Not written' }).waitFor();
  await page.waitForTimeout(700);
  await take(page, 'kept');

  const dark = await pageWith({ colorScheme: 'dark' });
  await open(dark, 'Ashbeck River Watch', 'Log a sample');
  await begin(dark);
  await take(dark, 'desk-dark');

  const phone = await pageWith({
    viewport: { width: 390, height: 844 },
    isMobile: true,
    hasTouch: true,
  });
  await open(phone, 'Ashbeck River Watch', 'Log a sample');
  await begin(phone);
  await take(phone, 'desk-phone');
  await browser.close();
  await stop();
});
