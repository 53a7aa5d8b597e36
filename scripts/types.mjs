/** Checks the types of every package, tests and scripts of theirs included. */
import { existsSync } from 'node:fs';
import { must } from './lib/run.mjs';

for (const name of ['core', 'contract', 'files', 'server', 'web', 'e2e']) {
  const config = `packages/${name}/tsconfig.json`;
  if (existsSync(config)) must(`Checking the types of ${name}`, 'npx', ['tsc', '-p', config]);
}
