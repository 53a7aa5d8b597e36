/** Serves the production build, which is made first where it is missing. */
import { join } from 'node:path';
import { ensureBuilt } from './lib/build.mjs';
import { ensureInstalled } from './lib/install.mjs';
import { ROOT } from './lib/run.mjs';
import { serve } from './lib/serve.mjs';

ensureInstalled();
await ensureBuilt();
serve({ NODE_ENV: 'production', VARN_DATA: process.env.VARN_DATA ?? join(ROOT, 'data/own') });
