import { readFileSync } from 'node:fs';
import { join } from 'node:path';

/** Varn's version, as its package says. */
export const VERSION = (
  JSON.parse(readFileSync(join(__dirname, '../package.json'), 'utf8')) as { version: string }
).version;
