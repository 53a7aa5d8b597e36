import { spawnSync } from 'node:child_process';
import { dirname, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';

/** The project's root folder. */
export const ROOT = resolve(dirname(fileURLToPath(import.meta.url)), '../..');

/** Runs a command in the project's root, its output shown; gives its exit code. */
export function run(command, args, env = {}) {
  const done = spawnSync(command, args, {
    cwd: ROOT,
    stdio: 'inherit',
    env: { ...process.env, ...env },
  });
  if (done.error) throw done.error;
  return done.status ?? 1;
}

/** Runs a command that must succeed: otherwise ends with what it was for. */
export function must(what, command, args, env = {}) {
  const code = run(command, args, env);
  if (code === 0) return;
  console.error(`\n${what} failed (${command} ended with ${code}). Its words are above.`);
  process.exit(code);
}
