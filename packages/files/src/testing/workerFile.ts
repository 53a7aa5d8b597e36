import { join } from 'node:path';

/** The thread as it was compiled for the tests, which themselves run from the sources. */
export const WORKER_FILE = join(__dirname, '../../dist/worker.js');
