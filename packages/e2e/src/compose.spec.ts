import type { Page } from '@playwright/test';
import { expect, expectAccessible, goTo, openDemo, signIn, test } from './fixtures';
import { beginBlank, Hand } from './hand';

const NINE_LINES = [
  'Customer: text, required',
  'Price: money EUR',
  'Quantity: whole number, starts "1", counts',
  "Total: computed = 'Price' * 'Quantity'",
  'Date: date, starts today, counts',
  'Item: one of (Waders, Kick net, pH meter)',
  'Paid: radio of (Cash, Card), in a row',
  'Extras: several of (Bag, Case), in a row',
  'Care: steps 1..5',
  'Notes: lines',
];

/** Fills the nine fields in and submits them, with the keyboard alone. */
async function fillNine(page: Page, hand: Hand): Promise<void> {
  await expect(page.getByRole('textbox', { name: 'Customer', exact: true })).toBeFocused();
  await hand.type('Ada Fallow');
  await hand.press('Enter');
  await hand.type('12.50');
  await hand.press('Enter');
  await hand.type('3');
  // Quantity, then on past the date to the item.
  await hand.press('Enter', 'Enter');
  await hand.type('kick');
  await hand.press('Enter');
  await hand.press('Space', 'Enter');
  await hand.press('Space', 'Enter');
  await hand.press('ArrowRight', 'ArrowRight', 'ArrowRight', 'Enter');
  await hand.type('First of the day');
  await hand.press('Control+Enter');
  await expect(
    page.getByRole('status').filter({ hasText: 'written to Sale, row 2' }),
  ).toBeVisible();
}

test('nine fields from a blank workbook to the first stored record, in at most 60 strokes beyond the text', async ({
  page,
}) => {
  await signIn(page);
  const hand = new Hand(page);
  const began = Date.now();
  await beginBlank(page, hand, 'Shop');
  for (const line of NINE_LINES) {
    await hand.type(line);
    await hand.press('Enter');
  }
  await expect(page.locator('[data-frame]')).toHaveCount(NINE_LINES.length);
  await hand.click(/^Put to use/);
  await fillNine(page, hand);
  console.log(
    `nine fields: ${hand.count} strokes and clicks, ${((Date.now() - began) / 1000).toFixed(1)} s`,
  );
  expect(hand.count).toBeLessThanOrEqual(60);
  await page
    .getByRole('navigation', { name: 'Contents' })
    .getByRole('link', { name: 'Sale' })
    .first()
    .click();
  const cells = page.getByRole('row').filter({ hasText: 'Ada Fallow' });
  for (const text of ['12.50', '3', '37.50', 'Kick net', 'Cash', 'Bag', '3', 'First of the day']) {
    await expect(cells).toContainText(text);
  }
});

test('the same from an outline', async ({ page }) => {
  await signIn(page);
  const hand = new Hand(page);
  await beginBlank(page, hand, 'Shop by lines');
  await hand.click(/^Outline/);
  await page.getByRole('textbox', { name: 'Outline of the form' }).fill(NINE_LINES.join('\n'));
  await expect(page.getByText('Draft saved')).toBeVisible();
  await expectAccessible(page);
  await hand.click(/^Put to use/);
  await fillNine(page, hand);
  expect(hand.count).toBeLessThanOrEqual(60);
});

test('lines that can’t be read wait while the page is looked at; statements are listed by Enter; a form goes and comes back', async ({
  page,
}) => {
  await signIn(page);
  const hand = new Hand(page);
  await beginBlank(page, hand, 'Kit store');
  const line = page.getByRole('textbox', { name: 'Add a part' });
  for (const typed of [
    'How it feels: statements of (Yes, No)',
    'Easy to carry',
    'Reads clearly',
    '',
    'Seen: several of (Strap, Lid)',
  ]) {
    await page.keyboard.type(typed);
    await page.keyboard.press('Enter');
  }
  await expect(line).toHaveValue('');
  await page.getByRole('group', { name: /^Seen: field/ }).click();
  await page.getByLabel('Stored').selectOption('In a column for each choice');
  const strip = page.getByRole('group', { name: 'Heading of the sheet' });
  await expect(strip).toContainText('Easy to carry');
  await expect(strip).toContainText('Seen Lid');
  await hand.click(/^Outline/);
  const outline = page.getByRole('textbox', { name: 'Outline of the form' });
  await expect(outline).toHaveValue(/Seen: ticks\n {2}Strap\n {2}Lid/);
  await outline.press('Control+End');
  await page.keyboard.type('\nWeight: numbr 0..9');
  await expect(page.getByText('Did you mean ‘number’?')).toBeVisible();
  await hand.click(/^Page/);
  await hand.click(/^Outline/);
  await expect(outline).toHaveValue(/Weight: numbr 0\.\.9$/);
  await hand.click(/^Page/);
  await line.fill('Notes: lines');
  await line.press('Enter');
  await hand.click(/^Outline/);
  await expect(outline).toHaveValue(/Notes: lines\s+Weight: numbr 0\.\.9$/);
  await expect(page.getByText('stand at the end')).toBeVisible();

  // All that was typed into the outline at one sitting is taken back as one.
  await outline.press('Control+End');
  await page.keyboard.type('\nDepth: number\nWidth: number');
  await hand.click(/^Page/);
  await expect(page.getByRole('group', { name: /^Width: field/ })).toBeVisible();
  await hand.click(/^Undo/);
  await expect(page.getByRole('group', { name: /^Width: field/ })).toBeHidden();
  await expect(page.getByRole('group', { name: /^Depth: field/ })).toBeHidden();
  await expect(page.getByRole('group', { name: /^Notes: field/ })).toBeVisible();

  // Whoever leaves right after a change finds it there again.
  await line.fill('Weight: number');
  await line.press('Enter');
  await page.getByRole('link', { name: 'Kit store' }).click();
  await page.getByRole('link', { name: 'Compose Sale' }).click();
  await expect(page.getByRole('group', { name: /^Weight: field/ })).toBeVisible();

  await hand.click(/^Form details/);
  await page.getByRole('button', { name: 'Delete the form' }).click();
  await page.getByRole('button', { name: 'Restore Sale' }).click();
  await page.getByRole('link', { name: 'Compose Sale' }).click();
  await expect(page.getByRole('group', { name: /^Notes: field/ })).toBeVisible();
});

test('what is taken back while it is being kept is not kept', async ({ page }) => {
  await signIn(page);
  const hand = new Hand(page);
  await beginBlank(page, hand, 'Second thoughts');
  await hand.type('Weight: number');
  await hand.press('Enter');
  await expect(page.getByText('Draft saved')).toBeVisible();
  let arrive = (): void => undefined;
  const arrived = new Promise<void>((resolve) => (arrive = resolve));
  let isUnderWay = false;
  await page.route(/\/draft$/, async (route) => {
    if (route.request().method() === 'PUT' && !isUnderWay) {
      isUnderWay = true;
      await arrived;
    }
    await route.continue();
  });
  await hand.type('Depth: number');
  await hand.press('Enter');
  await expect.poll(() => isUnderWay).toBe(true);
  await hand.click(/^Undo/);
  arrive();
  await expect(page.getByText('Draft saved')).toBeVisible();
  await page.reload();
  await expect(page.getByRole('group', { name: /^Weight: field/ })).toBeVisible();
  await expect(page.getByRole('group', { name: /^Depth: field/ })).toBeHidden();
});

test('the same from a sheet, by one click, then laid out anew by keys alone', async ({ page }) => {
  await signIn(page);
  await openDemo(page);
  await page.getByRole('link', { name: 'Add a sheet' }).click();
  await page.getByRole('textbox', { name: 'Sheet name' }).fill('Meetings');
  await page.getByRole('textbox', { name: /^Headings/ }).fill('Day\nWho\nHours');
  await page.getByRole('button', { name: 'Create the sheet' }).click();
  await page.getByRole('button', { name: /^Make a form/ }).click();
  await expect(page.getByRole('textbox', { name: 'Day', exact: true })).toBeFocused();
  await page.keyboard.press('Escape');
  await page.keyboard.press('m');
  const frame = (name: string) => page.getByRole('group', { name: new RegExp(`^${name}: `) });
  await expect(page.getByRole('textbox', { name: 'Add a part' })).toBeFocused();
  await page.keyboard.type('Place: text, hint "Hall or hut"');
  await page.keyboard.press('Enter');
  await frame('Hours').focus();
  await page.keyboard.press('Alt+ArrowUp');
  await expect(frame('Hours')).toBeFocused();
  const order = async (): Promise<string[]> =>
    (await page.locator('[data-frame]').all()).reduce<Promise<string[]>>(
      async (names, each) => [
        ...(await names),
        (await each.getAttribute('aria-label'))?.split(':')[0] ?? '',
      ],
      Promise.resolve([]),
    );
  expect(await order()).toEqual(['Day', 'Hours', 'Who', 'Place']);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('complementary', { name: 'Field' })).toBeVisible();
  await page.getByRole('textbox', { name: 'Label', exact: true }).fill('Hours spent');
  await page.keyboard.press('Enter');
  await page.keyboard.press('Escape');
  await expect(frame('Hours spent')).toBeFocused();
  await page.keyboard.press('Delete');
  expect(await order()).toEqual(['Day', 'Who', 'Place']);
  await page.keyboard.press('Escape');
  await page.keyboard.press('z');
  expect(await order()).toEqual(['Day', 'Hours spent', 'Who', 'Place']);
  await expect(page.getByText('Draft saved')).toBeVisible();
  await page.keyboard.press('u');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('textbox', { name: 'Hours spent', exact: true })).toBeVisible();
  // What was there stays: the column keeps its heading and its place.
  await expect(page.getByRole('region', { name: 'Landing row' })).toContainText('Hours');
});

test('a heading is lifted from the strip, by the pointer to where it is dropped', async ({
  page,
}) => {
  await signIn(page);
  await openDemo(page);
  await goTo(page, 'Lend kit');
  await page.getByRole('button', { name: 'Compose' }).click();
  const open = page.getByRole('button', { name: 'Add Back to the form' });
  const goal = page.getByRole('group', { name: /^Out: / });
  const from = await open.boundingBox();
  const to = await goal.boundingBox();
  if (!from || !to) throw new Error('nothing to drag');
  await page.mouse.move(from.x + 10, from.y + 10);
  await page.mouse.down();
  await page.mouse.move(to.x + 40, to.y + to.height - 20, { steps: 12 });
  await page.mouse.move(to.x + 40, to.y + to.height - 4, { steps: 4 });
  await page.mouse.up();
  const names = page.locator('[data-frame]');
  await expect(names).toHaveCount(9);
  await expect(names.nth(6)).toHaveAttribute('aria-label', /^Back: /);
  await page.getByRole('button', { name: 'Add Condition to the form' }).press('Enter');
  await expect(names.nth(9)).toHaveAttribute('aria-label', /^Condition: /);
  await expectAccessible(page);
});

test('a trial lands for real, is marked, and goes; what keeps a form from use is cured by a click', async ({
  page,
}) => {
  await signIn(page);
  const hand = new Hand(page);
  await beginBlank(page, hand, 'Trials');
  for (const line of ['Nr: running number T-00', "A: text, shown when 'A' = 1", 'B: text']) {
    await hand.type(line);
    await hand.press('Enter');
  }
  await hand.click(/^Put to use/);
  await page.getByRole('button', { name: 'Remove the condition' }).click();
  await expect(page.getByText('Ready for use')).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: /^Preview/ }).click();
  await page.getByRole('textbox', { name: 'A', exact: true }).first().fill('tried');
  await page.getByRole('button', { name: 'Submit as a trial' }).click();
  await expect(page.getByText('Trial in row 2. 0 before, 1 now.')).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('link', { name: 'Look at it in the sheet' }).click();
  await expect(page.getByRole('row').filter({ hasText: 'tried' })).toContainText('trial');
  await page.goBack();
  await page.getByRole('button', { name: /^Preview/ }).click();
  await page.getByRole('button', { name: 'Remove all trials' }).click();
  await expect(page.getByText('1 trial record')).toBeHidden();
});
