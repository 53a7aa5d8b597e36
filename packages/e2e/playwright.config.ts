import { defineConfig } from '@playwright/test';
import { OFFICE_NAME } from './src/server';

const json = process.env['VARN_E2E_JSON'];

/** Real server, real database, Debian's Chromium. Each spec file has a server of its own. */
export default defineConfig({
  testDir: './src',
  outputDir: '../../test-results/e2e',
  workers: 2,
  fullyParallel: false,
  forbidOnly: true,
  retries: 0,
  timeout: 180_000,
  // Long, as speed is the bench's: a machine that stands still a while fails nothing.
  expect: { timeout: 20_000 },
  reporter: json === undefined ? [['list']] : [['list'], ['json', { outputFile: json }]],
  use: {
    viewport: { width: 1280, height: 800 },
    locale: 'en-GB',
    timezoneId: 'Europe/London',
    screenshot: 'only-on-failure',
    launchOptions: {
      executablePath: '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-background-networking',
        '--no-first-run',
        '--disable-component-update',
        `--host-resolver-rules=MAP ${OFFICE_NAME} 127.0.0.1`,
      ],
    },
  },
});
