import type { Locator, Page } from '@playwright/test';

/** How long a button is held down: long enough for what follows from leaving a field to be drawn. */
const HELD = 60;

/** What leads away from what is tried, or takes it away. */
const LEAVES = /^(?:Delete|Remove|Close|Put back|Pick|Cancel)\b/;

export interface Pressed {
  readonly tried: number;
  /** The buttons that got no click though they were pressed and let go at one spot. */
  readonly missed: readonly string[];
}

/**
 * Presses each button of a part of the page after typing into a text field above it: into the one
 * right above, and into another of them.
 *
 * @param open brings the part up as it was, after each press
 */
export async function pressAfterTyping(
  page: Page,
  part: Locator,
  open: () => Promise<void>,
): Promise<Pressed> {
  await page.evaluate(() => {
    document.addEventListener('click', ({ target }) => {
      const button = target instanceof Element ? target.closest('button') : null;
      document.body.dataset['pressed'] = button?.dataset['aim'] ?? '';
    });
  });
  await open();
  const count = await part.getByRole('button').count();
  const missed: string[] = [];
  let tried = 0;
  for (let n = 0; n < count; n += 1) {
    for (const isNearest of [true, false]) {
      const button = part.getByRole('button').nth(n);
      if ((await button.count()) === 0 || !(await button.isEnabled())) break;
      const name = (await button.getAttribute('aria-label')) ?? (await button.innerText());
      if (LEAVES.test(name)) break;
      const fields = await fieldsAbove(part, button);
      const at = isNearest ? fields.length - 1 : n % Math.max(1, fields.length - 1);
      const field = fields[at];
      if (!field || (!isNearest && fields.length < 2)) break;
      const held = await field.inputValue();
      const label = await field.evaluate((each: HTMLInputElement) =>
        [each.ariaLabel, each.labels?.[0]?.textContent].find((says) => says != null),
      );
      await field.fill(/\d$/.test(held) ? `${held}1` : `${held} x`);
      await button.scrollIntoViewIfNeeded();
      const box = await button.boundingBox();
      if (!box) break;
      const aim = `${n} ${name}`;
      await button.evaluate((element, says) => (element.dataset['aim'] = says), aim);
      await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
      tried += 1;
      await page.mouse.down();
      await page.waitForTimeout(HELD);
      await page.mouse.up();
      const pressed = await page.evaluate(() => document.body.dataset['pressed']);
      if (pressed !== aim) missed.push(`${name}, after typing into ${label}`);
      await open();
    }
  }
  return { tried, missed };
}

async function fieldsAbove(part: Locator, button: Locator): Promise<Locator[]> {
  const below = (await button.boundingBox())?.y ?? 0;
  const fields = await part.getByRole('textbox').all();
  const places = await Promise.all(fields.map((field) => field.boundingBox()));
  return fields.filter((_, n) => (places[n]?.y ?? Infinity) < below);
}
