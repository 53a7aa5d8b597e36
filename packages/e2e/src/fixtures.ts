import AxeBuilder from '@axe-core/playwright';
import { expect, test as base, type Locator, type Page } from '@playwright/test';
import { OFFICE_NAME, Server } from './server';

/** Asks for a server that people call by a name on the office's network. */
export const OFFICE = 'office';

/**
 * Specs that run after one another share a server, unless one asks for its own by a word; every
 * page starts signed out of it.
 */
export const test = base.extend<{ desk: Desk }, { own: string; server: Server }>({
  own: ['', { scope: 'worker', option: true }],
  server: [
    // A spec that asks for its own gets a worker of its own, and with it another server.
    async ({ own }, use) => {
      const server = await Server.withDemo({}, own === OFFICE ? OFFICE_NAME : undefined);
      await use(server);
      await server.remove();
    },
    { scope: 'worker' },
  ],
  baseURL: async ({ server }, use) => use(server.origin),
  desk: async ({ page }, use) => use(new Desk(page)),
});

export { expect };

export async function signIn(page: Page, name = 'Ines Halloran'): Promise<void> {
  await page.goto('/sign-in');
  await page.getByRole('button', { name }).click();
  await expect(page.getByRole('heading', { name: 'Workbooks', level: 1 })).toBeVisible();
}

/** Goes somewhere by the contents at the left. */
export async function goTo(page: Page, name: string): Promise<void> {
  await page.getByRole('navigation', { name: 'Contents' }).getByRole('link', { name }).click();
  await expect(page.getByRole('heading', { name, level: 1 })).toBeVisible();
}

export async function openDemo(page: Page): Promise<void> {
  await page.getByRole('main').getByRole('link', { name: 'Ashbeck River Watch' }).click();
  await expect(page.getByRole('heading', { name: 'Ashbeck River Watch', level: 1 })).toBeVisible();
}

/** The form *Log a sample* at the desk. */
export class Desk {
  constructor(readonly page: Page) {}

  async open(): Promise<void> {
    await signIn(this.page);
    await openDemo(this.page);
    await goTo(this.page, 'Log a sample');
    await expect(this.field('Date')).toBeFocused();
  }

  /** The form itself, with what is said at its fields. */
  get form(): Locator {
    return this.page.locator('[data-desk-form]');
  }

  field(name: string): Locator {
    return this.page
      .getByRole('textbox', { name, exact: true })
      .or(this.page.getByRole('combobox', { name, exact: true }));
  }

  /** The line under a field: its message, or its hint. */
  about(name: string): Locator {
    return this.page.locator('[data-desk-form] > div > div > div').filter({ hasText: name }).last();
  }

  get status(): Locator {
    return this.page.locator('footer').getByRole('status');
  }

  /** The row about to be written, cell by cell. */
  get landing(): Locator {
    return this.page.getByRole('region', { name: 'Landing row' }).locator('tr.landing-row');
  }

  async fillIn(rest: Record<string, string> = {}): Promise<void> {
    const answers = {
      Time: '9.30',
      River: 'Ash Beck',
      Station: 'AB-03',
      'Water temp': '7.5',
      pH: '7.2',
      ...rest,
    };
    for (const [name, text] of Object.entries(answers)) await this.field(name).fill(text);
    if (!('Observer' in rest)) {
      await this.field('Observer').click();
      await this.page.getByRole('option').first().click();
    }
  }
}

/**
 * No rule of WCAG 2.2 AA is broken, nor one of good practice, as far as axe can tell. Like every
 * other expectation it waits: a page that is still being drawn is looked at again.
 */
export async function expectAccessible(page: Page): Promise<void> {
  let found = await foundByAxe(page);
  for (let again = 0; found.length > 0 && again < 3; again += 1) {
    await page.waitForTimeout(1000);
    found = await foundByAxe(page);
  }
  expect(found).toEqual([]);
}

async function foundByAxe(page: Page): Promise<unknown[]> {
  await settled(page);
  const { violations } = await new AxeBuilder({ page })
    .withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice'])
    .analyze();
  return violations.map(({ id, nodes }) => [id, nodes.map(({ html }) => html.slice(0, 200))]);
}

/** What fades in has done so: half faded, no text has its contrast. */
async function settled(page: Page): Promise<void> {
  await page.evaluate(async () => {
    const finite = document
      .getAnimations()
      .filter(({ effect }) => effect?.getComputedTiming().endTime !== Infinity);
    // What is taken off the page while it fades never finishes.
    const longest = new Promise((resolve) => setTimeout(resolve, 3000));
    await Promise.race([Promise.allSettled(finite.map(({ finished }) => finished)), longest]);
  });
}
