/**
 * Measures what docs/architecture.md promises. Every figure stands beside a baseline taken in the
 * same run, and beside the ratio to reach: `npm run bench`, or `npm run bench -- submits csv`.
 */
import { ensureBuilt } from './lib/build.mjs';
import { ensureChromium, ensureInstalled } from './lib/install.mjs';

ensureInstalled();
await ensureBuilt();
const BENCHES = ['start', 'submits', 'csv', 'formulas', 'largeSheet', 'browser', 'forms'];
const wanted = process.argv.slice(2);
for (const name of BENCHES) {
  if (wanted.length > 0 && !wanted.includes(name)) continue;
  if (name === 'browser' || name === 'forms') ensureChromium();
  console.log(`\n${name}`);
  const { measure } = await import(`./bench/${name}.mjs`);
  for (const { what, value, target = '' } of await measure()) {
    console.log(`  ${what.padEnd(62)} ${value.padStart(14)}   ${target}`);
  }
}
