import type { Locator, Page } from '@playwright/test';
import { expect, goTo, openDemo, signIn } from './fixtures';

/** A sheet's grid, used with the keyboard alone. */
export class Sheet {
  constructor(readonly page: Page) {}

  static async open(page: Page, name: string, person?: string): Promise<Sheet> {
    await signIn(page, person);
    await openDemo(page);
    await goTo(page, name);
    const sheet = new Sheet(page);
    await expect(sheet.grid.getByRole('gridcell').first()).toBeVisible();
    return sheet;
  }

  get grid(): Locator {
    return this.page.getByRole('grid', { name: /^Sheet / });
  }

  get active(): Locator {
    return this.grid.locator('.grid-cell.active');
  }

  get said(): Locator {
    return this.page.getByRole('contentinfo').getByRole('status');
  }

  /** Goes to a cell by its row and column, both from 1, with keys. */
  async at(row: number, column: number): Promise<void> {
    await this.grid.focus();
    await this.page.keyboard.press('Control+Home');
    for (let n = 1; n < row; n += 1) await this.page.keyboard.press('ArrowDown');
    for (let n = 1; n < column; n += 1) await this.page.keyboard.press('ArrowRight');
  }

  async type(text: string, end = 'Enter'): Promise<void> {
    await this.page.keyboard.type(text);
    await this.page.keyboard.press(end);
  }

  async press(...keys: string[]): Promise<void> {
    for (const key of keys) await this.page.keyboard.press(key);
  }

  /** Opens the menu of what is chosen, and takes something of it by the keys of its name. */
  async take(label: string | RegExp): Promise<void> {
    await this.choose(label);
    await expect(this.grid).toBeFocused();
  }

  /** The same, where something is asked first. */
  async choose(label: string | RegExp): Promise<void> {
    await this.press('Shift+F10');
    const item = this.page.getByRole('menuitem', { name: label });
    await expect(item).toBeVisible();
    for (let n = 0; n < 45; n += 1) {
      if ((await item.getAttribute('data-highlighted')) !== null) break;
      await this.press('ArrowDown');
    }
    await this.press('Enter');
    await expect(item).toBeHidden();
  }

  /** Opens a part of the details by keys. */
  async notes(part: 'Cell' | 'Column' | 'View' | 'Names' | 'Sheet'): Promise<void> {
    const wanted = this.page.getByRole('tab', { name: part });
    if (!(await wanted.isVisible())) {
      await this.grid.focus();
      await this.press('Escape', 'i');
    }
    await wanted.press('Enter');
    await expect(wanted).toHaveAttribute('aria-selected', 'true');
  }

  cell(row: number, column: number): Locator {
    return this.grid.locator(`[data-line="${row - 1}"][data-column="${column - 1}"]`);
  }
}

/** The row of the heading, from 1. */
export async function headingRow({ grid }: Sheet): Promise<number> {
  const header = grid.getByRole('columnheader').first();
  return Number(await header.getAttribute('data-line')) + 1;
}

export async function columnOf({ grid }: Sheet, heading: string): Promise<number> {
  const header = grid.getByRole('columnheader', { name: heading });
  return Number(await header.first().getAttribute('aria-colindex'));
}
