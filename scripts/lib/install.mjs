import { createHash } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { must, ROOT, run } from './run.mjs';

const STAMP = join(ROOT, 'node_modules/.varn-lock');
const CHROMIUM = '/usr/bin/chromium';

/** Installs the packages of package-lock.json, unless just these are installed. */
export function ensureInstalled() {
  const [major, minor] = process.versions.node.split('.').map(Number);
  if (major < 20 || (major === 20 && minor < 19)) {
    console.error(`Varn needs Node.js 20.19 or newer; this is ${process.version}.`);
    process.exit(1);
  }
  const lock = createHash('sha256')
    .update(readFileSync(join(ROOT, 'package-lock.json')))
    .digest('hex');
  if (existsSync(STAMP) && readFileSync(STAMP, 'utf8') === lock) return;
  for (const tool of ['python3', 'make', 'g++']) {
    if (spawnSync(tool, ['--version']).error) {
      console.error(
        `${tool} is missing: SQLite's driver is compiled from source. On Debian: apt-get install python3 make g++`,
      );
      process.exit(1);
    }
  }
  console.log('Installing packages (the database driver is compiled: about two minutes)…');
  must('Installing', 'npm', ['ci', '--no-fund', '--no-audit'], {
    npm_config_build_from_source: 'true',
    // node-gyp compiles with all cores.
    JOBS: 'max',
  });
  writeFileSync(STAMP, lock);
}

/** Installs Debian's Chromium for the end-to-end tests, and fonts for what it draws. */
export function ensureChromium() {
  if (existsSync(CHROMIUM)) return;
  const asRoot = process.getuid?.() === 0 ? [] : ['sudo'];
  const apt = (args) => {
    const [command, ...rest] = [...asRoot, 'apt-get', ...args];
    return run(command, rest, { DEBIAN_FRONTEND: 'noninteractive' });
  };
  console.log('Installing Chromium for the end-to-end tests…');
  apt(['update', '-qq']);
  if (
    apt([
      'install',
      '-y',
      '-qq',
      '--no-install-recommends',
      'chromium',
      'fonts-noto-color-emoji',
    ]) !== 0
  ) {
    console.error('Chromium could not be installed. On Debian: apt-get install chromium');
    process.exit(1);
  }
}
