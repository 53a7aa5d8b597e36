/** Builds everything: the server and what it stands on, and the web application. */
import { buildAll } from './lib/build.mjs';
import { ensureInstalled } from './lib/install.mjs';

ensureInstalled();
await buildAll();
