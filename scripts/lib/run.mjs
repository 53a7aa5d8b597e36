import { spawn, spawnSync } from 'node:child_process';
import { once } from 'node:events';
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

/** Runs a command beside others; gives its exit code and all it printed, to be shown in its turn. */
export async function runBeside(command, args) {
  const child = spawn(command, args, { cwd: ROOT, stdio: ['ignore', 'pipe', 'pipe'] });
  const said = [];
  child.stdout.on('data', (chunk) => said.push(chunk));
  child.stderr.on('data', (chunk) => said.push(chunk));
  const [code] = await once(child, 'close');
  return { code: code ?? 1, said: Buffer.concat(said).toString() };
}

/** Runs a command that must succeed: otherwise ends with what it was for. */
export function must(what, command, args, env = {}) {
  const code = run(command, args, env);
  if (code === 0) return;
  console.error(`\n${what} failed (${command} ended with ${code}). Its words are above.`);
  process.exit(code);
}
