import type { FastifyInstance } from 'fastify';
import helmet from 'helmet';
import { IncomingMessage, ServerResponse } from 'node:http';
import { Socket } from 'node:net';

/** An answer of the API is data: it is not to be guessed at, framed, or run. */
const FOR_DATA = new Set([
  'x-content-type-options',
  'cross-origin-resource-policy',
  'referrer-policy',
]);

const policy = helmet({
  strictTransportSecurity: false,
  contentSecurityPolicy: {
    useDefaults: false,
    directives: {
      defaultSrc: ["'self'"],
      // Emotion writes its styles into the page.
      styleSrc: ["'self'", "'unsafe-inline'"],
      imgSrc: ["'self'", 'data:'],
      objectSrc: ["'none'"],
      baseUri: ["'self'"],
      formAction: ["'self'"],
      frameAncestors: ["'none'"],
    },
  },
});

/** The headers helmet would set, worked out once: they are the same for every answer. */
function headersOfPolicy(): Record<string, string> {
  const request = new IncomingMessage(new Socket());
  const response = new ServerResponse(request);
  policy(request, response, (error) => {
    if (error instanceof Error) throw error;
  });
  return response.getHeaders() as Record<string, string>;
}

/** Sets the security headers: all of them on pages and assets, those for data on the API. */
export function secureHeaders(fastify: FastifyInstance): void {
  const forPages = headersOfPolicy();
  // What the API answers is of this moment, and one person's: no cache keeps it.
  const forData = {
    ...Object.fromEntries(Object.entries(forPages).filter(([name]) => FOR_DATA.has(name))),
    'cache-control': 'no-store',
  };
  fastify.addHook('onRequest', (request, reply, done) => {
    void reply.headers(request.url.startsWith('/api/') ? forData : forPages);
    done();
  });
}
