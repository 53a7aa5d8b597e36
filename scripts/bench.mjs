/**
 * Measures what docs/architecture.md promises. Every figure stands beside a baseline taken in the
 * same run, and beside the ratio to reach: `npm run bench`, or `npm run bench -- submits csv`. With
 * `--tiny` each is run through once, at a size that tells nothing but that it still runs.
 */
import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { ensureBuilt } from './lib/build.mjs';
import { ensureChromium, ensureInstalled } from './lib/install.mjs';
import { ROOT } from './lib/run.mjs';

const BENCHES = [
  'start',
  'submits',
  'totals',
  'reliability',
  'holds',
  'crowd',
  'csv',
  'formulas',
  'largeSheet',
  'search',
  'lists',
  'rules',
  'browser',
  'forms',
  'firstLoad',
];
/** The longest one of them may take. */
const MOST_MS = 15 * 60_000;
const IN_BROWSER = new Set(['browser', 'forms', 'lists', 'firstLoad']);

const asked = process.argv.slice(2);
const wanted = asked.filter((name) => !name.startsWith('--'));
if (asked.includes('--tiny')) process.env.VARN_BENCH_TINY = '1';

ensureInstalled();
await ensureBuilt();
const { within } = await import('./bench/waits.mjs');
const { stopAll } = await import('./bench/server.mjs');
for (const signal of ['SIGINT', 'SIGTERM']) {
  process.on(signal, () => void stopAll().finally(() => process.exit(1)));
}
const counts = { passed: 0, failed: 0 };
for (const name of BENCHES) {
  if (wanted.length > 0 && !wanted.includes(name)) continue;
  if (IN_BROWSER.has(name)) ensureChromium();
  console.log(`\n${name}`);
  try {
    const { measure } = await import(`./bench/${name}.mjs`);
    for (const { what, value, target = '' } of await within(`${name} to end`, measure(), MOST_MS)) {
      console.log(`  ${what.padEnd(62)} ${value.padStart(14)}   ${target}`);
    }
    counts.passed += 1;
  } catch (error) {
    // The others are still worth running.
    console.error(error);
    counts.failed += 1;
  } finally {
    await stopAll();
  }
}
mkdirSync(join(ROOT, 'test-results'), { recursive: true });
writeFileSync(join(ROOT, 'test-results/bench.json'), JSON.stringify(counts));
process.exit(counts.failed === 0 && counts.passed > 0 ? 0 : 1);
