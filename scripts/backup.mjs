/** `npm run backup -- FOLDER` and `npm run restore -- FOLDER`: see the README. */
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { ensureBuilt } from './lib/build.mjs';
import { ensureInstalled } from './lib/install.mjs';
import { ROOT } from './lib/run.mjs';

ensureInstalled();
await ensureBuilt();
const command = join(ROOT, 'packages/server/dist/store/backupCommand.js');
const { status } = spawnSync(process.execPath, [command, ...process.argv.slice(2)], {
  // Folders are named from where one stands.
  cwd: process.env.INIT_CWD ?? process.cwd(),
  stdio: 'inherit',
  env: { ...process.env, VARN_DATA: process.env.VARN_DATA ?? join(ROOT, 'data/own') },
});
process.exit(status ?? 1);
