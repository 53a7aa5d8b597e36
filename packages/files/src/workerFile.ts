import { join } from 'node:path';

/** The compiled thread in which files are read. Tests run from the sources have one of their own. */
export const WORKER_FILE = join(__dirname, 'worker.js');
