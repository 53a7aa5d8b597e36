/** Installs what is missing, builds, loads the demo on its first start, and serves it. */
import { join } from 'node:path';
import { ensureBuilt } from './lib/build.mjs';
import { ensureInstalled } from './lib/install.mjs';
import { ROOT } from './lib/run.mjs';
import { serve } from './lib/serve.mjs';

ensureInstalled();
await ensureBuilt();
serve({
  VARN_DEMO: '1',
  VARN_DATA: process.env.VARN_DATA ?? join(ROOT, 'data/demo'),
  VARN_LOG: process.env.VARN_LOG ?? 'warn',
});
