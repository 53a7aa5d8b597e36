import { Desk, expect, expectAccessible, goTo, openDemo, signIn, test } from './fixtures';
import { beginBlank, Hand } from './hand';

test('conditions, messages, pages and starting values at the desk', async ({ page }) => {
  await signIn(page);
  await openDemo(page);
  await goTo(page, 'Report a sighting');
  const said = page.getByRole('textbox', { name: 'Please say what you saw' });
  await expect(said).toBeHidden();
  await page.getByRole('radio', { name: 'Something else' }).check();
  await expect(said).toBeVisible();
  await page.getByRole('button', { name: 'Next' }).click();
  await expect(said).toBeFocused();
  await page.getByRole('radio', { name: 'Foam' }).check();
  await expect(said).toBeHidden();
  await page.getByRole('radio', { name: '4 of 5' }).check();
  await page.getByRole('textbox', { name: 'Where' }).fill('AB-01');
  await page.getByRole('button', { name: 'Next' }).click();
  await expect(page.getByText('With a number we can act today.')).toBeVisible();
  await page.getByRole('radio', { name: 'Yes' }).check();
  await expect(page.getByText('We ring or write within two days.')).toBeVisible();
  await page.getByRole('radio', { name: 'Phone' }).check();
  await page.getByRole('button', { name: 'Back' }).click();
  await expect(page.getByRole('textbox', { name: 'Where' })).toHaveValue('AB-01');
  // A message on another page is a jump.
  await page.getByRole('button', { name: 'Phone', exact: true }).click();
  await expect(page.getByRole('textbox', { name: 'Phone' })).toBeFocused();
  await page.keyboard.type('07700 900123');
  await expectAccessible(page);
  await page.keyboard.press('Control+Enter');
  await expect(
    page.getByText(/We look at every report.*written to Sightings, row 182/),
  ).toBeVisible();

  await goTo(page, 'Lend kit');
  await page.getByRole('combobox', { name: 'Item' }).fill('pH meter');
  await expect(page.getByRole('textbox', { name: 'Deposit' })).toHaveValue('60');
  await page.getByRole('textbox', { name: 'Quantity' }).fill('2');
  await expect(page.getByRole('note', { name: 'Total' })).toHaveText('£120.00');
  await page.getByRole('button', { name: 'More' }).click();
  await expect(page.getByRole('note', { name: 'Total' })).toHaveText('£180.00');
  const out = page.getByRole('textbox', { name: 'Out' });
  await out.fill('1/11/2026');
  await out.press('Alt+t');
  await expect(out).not.toHaveValue('1/11/2026');
  await out.fill('1/11/2026');
  await page.getByRole('combobox', { name: 'Borrower' }).click();
  await page.getByRole('option').first().click();
  await page.keyboard.press('Control+Enter');
  await expect(page.getByRole('status').filter({ hasText: 'written to Kit loans' })).toBeVisible();
  await expect(out).toHaveValue('1/11/2026');
  await expect(page.getByText('kept', { exact: true })).toBeVisible();
});

test('what is typed stays when the form is removed, and is written when it is back; choices come from the column, a field from a check', async ({
  page,
  context,
}) => {
  await signIn(page);
  await openDemo(page);
  await goTo(page, 'Lend kit');
  const deposit = page.getByRole('textbox', { name: 'Deposit', exact: true });
  await page.getByRole('combobox', { name: 'Borrower' }).click();
  await page.getByRole('option').first().click();
  await page.getByRole('combobox', { name: 'Item' }).click();
  await page.getByRole('option').first().click();
  await deposit.fill('12.50');

  const other = await context.newPage();
  await other.goto(`${page.url()}/compose`);
  await other.getByRole('group', { name: /^Item: field/ }).click();
  await other.getByLabel('Choices come from').selectOption('Typed here');
  const choices = other.getByRole('textbox', { name: 'Choices' });
  await choices.fill('Waders');
  await choices.blur();
  await other.getByRole('button', { name: 'Add the column’s values' }).click();
  await expect(other.getByText(/choices? added, the most frequent first/)).toBeVisible();
  const held = ['Kick net', 'Oxygen meter', 'Sample case', 'Throw bag', 'Turbidity tube', 'Waders'];
  expect((await choices.inputValue()).split('\n').sort()).toEqual([...held, 'pH meter'].sort());
  await other.getByRole('button', { name: /^Form details/ }).click();
  await other.getByRole('button', { name: 'Delete the form' }).click();
  await expect(other.getByRole('button', { name: 'Restore Lend kit' })).toBeVisible();

  await expect(page.getByText('This form was deleted.')).toBeVisible();
  await expect(deposit).toHaveValue('12.50');
  await expectAccessible(page);
  await other.getByRole('button', { name: 'Restore Lend kit' }).click();
  await expect(page.getByText('This form was deleted.')).toBeHidden();
  await expect(deposit).toHaveValue('12.50');
  await page.getByRole('button', { name: /^Submit/ }).click();
  await expect(page.getByRole('status').filter({ hasText: 'written to Kit loans' })).toBeVisible();

  await page.getByRole('link', { name: 'Create a form' }).click();
  await page.getByRole('textbox', { name: 'Form name' }).fill('Empty');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: /problem to solve first/ }).click();
  await page.getByRole('button', { name: 'Add a field' }).click();
  await expect(page.getByRole('textbox', { name: 'Add a part' })).toBeFocused();
});

test('a form that is put to use anew is told of at an open desk, which goes on', async ({
  page,
  context,
}) => {
  const desk = new Desk(page);
  await desk.open();
  await desk.field('pH').fill('7');
  const other = await context.newPage();
  await other.goto(`${page.url()}/compose`);
  await other.getByRole('textbox', { name: 'Add a part' }).fill('note: Rinse twice');
  await other.keyboard.press('Enter');
  await expect(other.getByText('Draft saved')).toBeVisible();
  await other.getByRole('button', { name: /^Put to use/ }).click();
  await expect(other.getByText('Rinse twice')).toBeVisible();
  await expect(page.getByText('This form was changed.')).toBeVisible();
  await expect(desk.field('pH')).toHaveValue('7');
  await expect(page.getByText('Rinse twice')).toBeHidden();
  await page.getByRole('button', { name: 'Use the new version' }).click();
  await expect(page.getByText('Rinse twice')).toBeVisible();

  // While one types, and once more: the submit goes on, and its word stays to be read.
  await desk.fillIn();
  await other.goto(`${page.url()}/compose`);
  await other.getByRole('textbox', { name: 'Add a part' }).fill('note: Label each bottle');
  await other.keyboard.press('Enter');
  await expect(other.getByText('Draft saved')).toBeVisible();
  await other.getByRole('button', { name: /^Put to use/ }).click();
  await expect(page.getByText('This form was changed.')).toBeVisible();
  await page.keyboard.press('Control+Enter');
  await expect(desk.status).toContainText('written to Samples');
  await expect(page.getByText('Label each bottle')).toBeVisible();
  await expect(desk.status).toContainText('written to Samples');
  await expect(desk.field('Date')).toBeFocused();
  await page.keyboard.press('Escape');
  await page.keyboard.press('z');
  await page.keyboard.press('Enter');
  await expect(desk.status).toContainText('taken out of Samples');
});

test('a form that opens on the last record corrects it; what an update would erase is told first; early is held back', async ({
  page,
}) => {
  await signIn(page);
  const hand = new Hand(page);
  await beginBlank(page, hand, 'Corrections');
  await hand.click(/^Outline/);
  const lines = [
    'entering: held back until ready, opens on the last record',
    'after: keep (A), go to the record',
    'A: text, required',
    'B: text, required',
    'C: text, shown when \'A\' = "x"',
  ];
  await page.getByRole('textbox', { name: 'Outline of the form' }).fill(lines.join('\n'));
  await expect(page.getByText('Draft saved')).toBeVisible();
  await hand.click(/^Put to use/);
  const field = (name: string) => page.getByRole('textbox', { name, exact: true });
  await field('A').fill('x');
  await page.keyboard.press('Control+Enter');
  await expect(
    page.getByRole('alert').filter({ hasText: /Held back:\s*1 of 2 still needed:\s*B/ }),
  ).toBeVisible();
  await field('B').fill('1');
  await field('C').fill('2');
  await page.keyboard.press('Control+Enter');
  await expect(page.getByRole('gridcell', { name: 'x', exact: true })).toHaveAttribute(
    'aria-selected',
    'true',
  );
  await page
    .getByRole('navigation', { name: 'Contents' })
    .getByRole('link', { name: 'Sale' })
    .last()
    .click();
  await expect(page.getByText('Stored record in row 2')).toBeVisible();
  await expect(field('C')).toHaveValue('2');
  await field('A').fill('y');
  await page.keyboard.press('Control+Enter');
  await expect(page.getByText('This update erases what is stored in C')).toBeVisible();
  await page.getByRole('button', { name: 'Update anyway' }).click();
  await expect(page.getByRole('row').filter({ hasText: 'y' }).last()).toBeVisible();
  await expect(page.getByRole('gridcell', { name: '2', exact: true })).toBeHidden();
});

const PNG = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg==',
  'base64',
);

test('the controls that no form of the demo has each write what is answered with them', async ({
  page,
}) => {
  await signIn(page);
  const hand = new Hand(page);
  await beginBlank(page, hand, 'Controls');
  await hand.click(/^Outline/);
  const lines = [
    'Born: date from lists',
    'Seen: date',
    'Colour: radio of (Clear, Peaty), own answer after "Other: "',
    'Finds: several of (Shell, Bone), own answer',
    'Agreed: confirmed',
    'Rank: steps 1..3, as figures',
    'Depth: number with steps, by 0.5',
    'Smell: ticks',
    '  Earthy',
    '  Sewage',
    'Catch: whole number, repeated 2 times',
    'Photo: file, only images',
  ];
  await page.getByRole('textbox', { name: 'Outline of the form' }).fill(lines.join('\n'));
  // At once: what was typed last is put to use, however far the drawing has come.
  await hand.click(/^Put to use/);
  await page.getByLabel('Year').selectOption('2024');
  await page.getByLabel('Month').selectOption('2');
  // 2024 was a leap year.
  await expect(page.getByLabel('Day', { exact: true }).locator('option')).toHaveCount(30);
  await page.getByLabel('Day', { exact: true }).selectOption('29');
  await page.getByRole('textbox', { name: 'Seen' }).fill('2026-03-01');
  await page.getByRole('button', { name: 'Pick from a calendar' }).click();
  await page.getByRole('button', { name: /\b28 March|March 28/ }).click();
  await page.getByRole('radio', { name: 'Another' }).check();
  await page.getByRole('textbox', { name: 'An answer of your own' }).first().fill('oily');
  await page.getByRole('checkbox', { name: 'Bone' }).check();
  await page.getByRole('textbox', { name: 'An answer of your own' }).last().fill('a; b');
  await page.getByRole('checkbox', { name: 'Agreed' }).check();
  await page.getByRole('radio', { name: '2 of 3' }).check();
  await page.getByRole('textbox', { name: 'Depth' }).press('ArrowUp');
  await page.getByRole('checkbox', { name: 'Sewage' }).check();
  await page.getByRole('textbox', { name: 'Catch 2' }).fill('7');
  const chosen = { name: 'a.svg', mimeType: 'image/svg+xml', buffer: Buffer.from('<svg/>') };
  await page.setInputFiles('input[type=file]', chosen);
  await expect(page.getByText('can hold script')).toBeVisible();
  await page.setInputFiles('input[type=file]', {
    name: 'weir.png',
    mimeType: 'image/png',
    buffer: PNG,
  });
  await expect(page.getByRole('link', { name: 'weir.png' })).toBeVisible();
  await expectAccessible(page);
  await page.keyboard.press('Control+Enter');
  const told = page.locator('tr.stored.recent td');
  await expect(told.last()).toHaveText('weir.png');
  expect(await told.allInnerTexts()).toEqual([
    expect.stringMatching(/29/),
    expect.stringMatching(/28/),
    'Other: oily',
    'Bone; "a; b"',
    'yes',
    '2',
    '0.5',
    'no',
    'yes',
    '',
    '7',
    'weir.png',
  ]);
});
