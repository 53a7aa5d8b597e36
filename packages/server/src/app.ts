import 'reflect-metadata';
import '@varn/core/patterns';
import '@varn/core/phones';
import { paths } from '@varn/contract';
import { DiscoveryService, MetadataScanner, NestFactory, Reflector } from '@nestjs/core';
import { FastifyAdapter, type NestFastifyApplication } from '@nestjs/platform-fastify';
import { Logger } from 'nestjs-pino';
import type { FastifyInstance, FastifyRequest } from 'fastify';
import type { KnownRequest } from './access/access';
import { AccessGuard } from './access/accessGuard';
import { Sessions } from './access/sessions';
import { doorOf, doorsOf, type Doors } from './access/doors';
import { AppModule } from './app.module';
import { Admission } from './http/admission';
import { checkHosts } from './http/hosts';
import { readJson } from './http/jsonBody';
import { answerMisrouted, answerUnreadable } from './http/misrouted';
import { logRequests } from './http/requestLog';
import { serveOpenApi } from './http/openapi';
import { secureHeaders } from './http/securityHeaders';
import { serveWeb } from './http/webFiles';
import type { Settings } from './settings';
import { Costs } from './turns/costs';

/** Longest part of an address that stands for something. */
const LONGEST_PARAMETER = 200;

/** What is sent with a write that goes before others is not longer than this. */
const MOST_LITTLE_BYTES = 64 * 1024;

/** Makes the application, ready to listen. */
export async function createApp(settings: Settings): Promise<NestFastifyApplication> {
  const adapter = new FastifyAdapter({
    forceCloseConnections: true,
    trustProxy: settings.proxies > 0 ? settings.proxies : false,
    routerOptions: { maxParamLength: LONGEST_PARAMETER },
    frameworkErrors: answerMisrouted,
    clientErrorHandler: answerUnreadable,
  });
  const app = await NestFactory.create<NestFastifyApplication>(AppModule.with(settings), adapter, {
    bufferLogs: true,
    abortOnError: false,
    bodyParser: false,
    forceCloseConnections: true,
  });
  app.useLogger(app.get(Logger));
  app.flushLogs();
  app.enableShutdownHooks([], { useProcessExit: true });
  const fastify = app.getHttpAdapter().getInstance();
  secureHeaders(fastify);
  logRequests(fastify);
  if (settings.origin === null) checkHosts(fastify, settings.host);
  const doors = doorsOf(app.get(DiscoveryService), app.get(MetadataScanner), app.get(Reflector));
  letIn(app, fastify, doors);
  openDoors(app, fastify, doors);
  readJson(fastify);
  // A file is read where it is kept, which has a limit of its own.
  fastify.addContentTypeParser(
    'application/octet-stream',
    (_request: unknown, body: unknown, done: (error: null, body: unknown) => void) =>
      done(null, body),
  );
  serveOpenApi(app);
  await serveWeb(fastify, settings.web);
  return app;
}

/** Has requests wait for their turn, by what their headers tell. Health waits for nobody. */
function letIn(app: NestFastifyApplication, fastify: FastifyInstance, doors: Doors): void {
  const sessions = app.get(Sessions);
  const costs = app.get(Costs);
  app.get(Admission).guard(fastify, (request) => {
    if (request.url === paths.health) return null;
    const person = sessions.knownPersonOf(request.headers.cookie);
    const door = doorOf(doors, request);
    return {
      who: person === null ? `address ${request.ip}` : `person ${person}`,
      isUrgent: isLittle(request) && door?.isUrgent === true,
      isLate: person !== null && door?.isCostly === true && costs.isMuch(person),
    };
  });
}

const isLittle = ({ headers }: FastifyRequest): boolean =>
  Number(headers['content-length']) <= MOST_LITTLE_BYTES;

/** Decides of each request to the API who may, before its body is read, and how long that may be. */
function openDoors(app: NestFastifyApplication, fastify: FastifyInstance, doors: Doors): void {
  const guard = app.get(AccessGuard);
  fastify.addHook('onRoute', (route) => {
    const door = doors.get(`${String(route.method)} ${route.url}`);
    if (door) route.bodyLimit = door.bodyBytes;
  });
  fastify.addHook('onRequest', async (request: KnownRequest) => {
    const door = doorOf(doors, request);
    if (door) await guard.admit(request, door);
  });
}
