import type { Page } from '@playwright/test';
import { expect } from './fixtures';

/** Counts what a person does beyond typing: keys that are no text, and clicks. */
export class Hand {
  count = 0;

  constructor(readonly page: Page) {}

  async press(...keys: string[]): Promise<void> {
    for (const key of keys) {
      this.count += 1;
      await this.page.keyboard.press(key);
    }
  }

  async type(text: string): Promise<void> {
    await this.page.keyboard.type(text);
  }

  async click(name: string | RegExp, role: 'button' | 'link' = 'button'): Promise<void> {
    this.count += 1;
    await this.page
      .getByRole('main')
      .or(this.page.getByRole('toolbar'))
      .getByRole(role, { name })
      .first()
      .click();
  }
}

/** From the list of workbooks to the composing of a new form in a blank workbook. */
export async function beginBlank(page: Page, hand: Hand, name: string): Promise<void> {
  const named = (what: string) => page.getByRole('textbox', { name: `${what} name` });
  await hand.click('Start a blank workbook');
  await expect(named('Workbook')).toBeFocused();
  await hand.type(name);
  await hand.press('Enter');
  await expect(page.getByRole('heading', { name, level: 1 })).toBeVisible();
  await hand.click('Create a form');
  await expect(named('Form')).toBeFocused();
  await hand.type('Sale');
  await hand.press('Enter');
  await expect(page.getByRole('textbox', { name: 'Add a part' })).toBeFocused();
}
