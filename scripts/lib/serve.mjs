import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { ROOT } from './run.mjs';

/** Runs the built server until it ends, or until it is told to stop; then it stops in good order. */
export function serve(env) {
  const server = spawn(process.execPath, [join(ROOT, 'packages/server/dist/main.js')], {
    cwd: ROOT,
    stdio: 'inherit',
    env: { ...process.env, ...env },
  });
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'])
    process.on(signal, () => server.kill('SIGTERM'));
  server.on('exit', (code) => process.exit(code ?? 0));
}
