import 'reflect-metadata';
import { paths } from '@varn/contract';
import { NestFactory } from '@nestjs/core';
import { FastifyAdapter, type NestFastifyApplication } from '@nestjs/platform-fastify';
import { Logger } from 'nestjs-pino';
import { AppModule } from './app.module';
import { logRequests } from './http/requestLog';
import { serveOpenApi } from './http/openapi';
import { secureHeaders } from './http/securityHeaders';
import { serveWeb } from './http/webFiles';
import type { Settings } from './settings';

/** The largest JSON body; files come in as streams and have a limit of their own. */
const MOST_JSON_BYTES = 2 * 1024 * 1024;
/** The largest paste into the grid. */
const MOST_CELLS_BYTES = 32 * 1024 * 1024;

/** Makes the application, ready to listen. */
export async function createApp(settings: Settings): Promise<NestFastifyApplication> {
  const adapter = new FastifyAdapter({
    bodyLimit: MOST_JSON_BYTES,
    forceCloseConnections: true,
    trustProxy: settings.origin !== null,
  });
  const app = await NestFactory.create<NestFastifyApplication>(AppModule.with(settings), adapter, {
    bufferLogs: true,
    abortOnError: false,
    forceCloseConnections: true,
  });
  app.useLogger(app.get(Logger));
  app.flushLogs();
  app.enableShutdownHooks([], { useProcessExit: true });

  const fastify = app.getHttpAdapter().getInstance();
  fastify.addContentTypeParser(
    'application/octet-stream',
    { bodyLimit: settings.mostUploadBytes },
    (_request: unknown, body: unknown, done: (error: null, body: unknown) => void) =>
      done(null, body),
  );
  fastify.addHook('onRoute', (route) => {
    if (route.url === paths.cells(':sheetId')) route.bodyLimit = MOST_CELLS_BYTES;
  });
  secureHeaders(fastify);
  logRequests(fastify);
  serveOpenApi(app);
  await serveWeb(fastify, settings.web);
  return app;
}
