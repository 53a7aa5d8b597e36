import fastifyStatic from '@fastify/static';
import type { FastifyInstance } from 'fastify';
import { existsSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Refusal } from '@varn/contract';

const YEAR_SECONDS = 31_536_000;

/** Serves the built web application: its assets for good, its page for every other address. */
export async function serveWeb(fastify: FastifyInstance, folder: string | null): Promise<void> {
  if (folder === null || !existsSync(join(folder, 'index.html'))) return;
  const page = await readFile(join(folder, 'index.html'));
  await fastify.register(fastifyStatic, {
    root: join(folder, 'assets'),
    prefix: '/assets/',
    preCompressed: true,
    immutable: true,
    maxAge: YEAR_SECONDS * 1000,
    index: false,
  });
  fastify.get('/*', (request, reply) => {
    const path = request.url.split('?')[0] ?? '';
    // Ids in the address of a page may hold a dot, as names of files do.
    const isFile = /\.\w+$/.test(path) && !path.startsWith('/workbooks/');
    if (path.startsWith('/api') || path.startsWith('/assets') || isFile) {
      const missing: Refusal = {
        statusCode: 404,
        code: 'notFound',
        message: 'There is nothing here.',
      };
      return reply.status(404).send(missing);
    }
    // Asked for anew each time: it names the assets of this version.
    return reply.header('cache-control', 'no-cache').type('text/html; charset=utf-8').send(page);
  });
}
