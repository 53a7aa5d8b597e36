import { createReadStream, createWriteStream, existsSync, readdirSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { constants, createBrotliCompress, createGzip } from 'node:zlib';
import { must, ROOT } from './run.mjs';

const ASSETS = join(ROOT, 'packages/web/dist/assets');
const SOURCES = ['core', 'contract', 'files', 'server', 'web'].map((name) =>
  join(ROOT, 'packages', name),
);

/** Builds the server and the web application into their `dist` folders. */
export async function buildAll() {
  must('Building the server', 'npx', ['tsc', '-b', 'packages/server/tsconfig.build.json']);
  must('Building the web application', 'npx', [
    'vite',
    'build',
    'packages/web',
    '--logLevel',
    'warn',
  ]);
  for (const name of readdirSync(ASSETS)) {
    if (/\.(js|css|svg)$/.test(name)) await compress(join(ASSETS, name));
  }
}

/** Assets are compressed once, here, and never while they are asked for. */
async function compress(path) {
  const size = { [constants.BROTLI_PARAM_SIZE_HINT]: statSync(path).size };
  const ways = { gz: createGzip({ level: 9 }), br: createBrotliCompress({ params: size }) };
  for (const [ending, way] of Object.entries(ways)) {
    await pipeline(createReadStream(path), way, createWriteStream(`${path}.${ending}`));
  }
}

/** Builds unless what was built is newer than every source. */
export async function ensureBuilt() {
  const built = join(ROOT, 'packages/web/dist/index.html');
  const server = join(ROOT, 'packages/server/dist/main.js');
  if (!existsSync(built) || !existsSync(server)) return buildAll();
  const newest = Math.max(...SOURCES.map((folder) => newestIn(folder)));
  if (newest > statSync(built).mtimeMs) await buildAll();
}

function newestIn(folder) {
  return Math.max(
    0,
    ...readdirSync(folder, { withFileTypes: true })
      .filter(({ name }) => !['dist', 'node_modules'].includes(name))
      .map((entry) => {
        const path = join(folder, entry.name);
        return entry.isDirectory() ? newestIn(path) : statSync(path).mtimeMs;
      }),
  );
}
