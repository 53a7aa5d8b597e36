import { Logger } from '@nestjs/common';
import type { FastifyInstance } from 'fastify';

/** Answers that took longer are worth a line. */
const SLOW_MS = 1000;

/** Logs requests that were refused, failed or slow: what one looks for, at next to no cost. */
export function logRequests(fastify: FastifyInstance): void {
  const logger = new Logger('request');
  fastify.addHook('onResponse', (request, reply, done) => {
    const ms = Math.round(reply.elapsedTime);
    const { statusCode } = reply;
    if (statusCode >= 400 || (ms > SLOW_MS && !request.url.endsWith('/events'))) {
      logger.log({ method: request.method, url: request.url.slice(0, 200), statusCode, ms });
    }
    done();
  });
}
