import type { FastifyInstance } from 'fastify';
import { Refused } from './refused';

const LOOPBACK = ['localhost', '127.0.0.1', '[::1]'];

/**
 * Takes requests only under the names the server is known by: a page of another site that had its
 * name point here (DNS rebinding) gets nothing. Behind a proxy, VARN_ORIGIN tells what is ours.
 */
export function checkHosts(fastify: FastifyInstance, listened: string): void {
  const known = new Set([...LOOPBACK, listened.includes(':') ? `[${listened}]` : listened]);
  fastify.addHook('onRequest', (request, _reply, done) => {
    const name = (request.headers.host ?? '').replace(/:\d+$/, '').toLowerCase();
    if (known.has(name)) done();
    else done(Refused.misdirected(name.slice(0, 100)));
  });
}
