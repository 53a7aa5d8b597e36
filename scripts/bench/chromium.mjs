import { chromium } from '@playwright/test';
import { toBeStopped } from './server.mjs';

/** Debian's Chromium, closed by itself should its bench fail. */
export async function openBrowser() {
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'],
  });
  const close = toBeStopped(() => browser.close());
  return { newContext: (options) => browser.newContext(options), close };
}
