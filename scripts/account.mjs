/** Adds an account: `npm run account -- "Name" name@place.example`; the password is asked for. */
import { join } from 'node:path';
import { ensureBuilt } from './lib/build.mjs';
import { ensureInstalled } from './lib/install.mjs';
import { must, ROOT } from './lib/run.mjs';

ensureInstalled();
await ensureBuilt();
must(
  'Adding the account',
  process.execPath,
  [join(ROOT, 'packages/server/dist/accounts/addAccount.js'), ...process.argv.slice(2)],
  {
    VARN_DATA: process.env.VARN_DATA ?? join(ROOT, 'data/own'),
  },
);
