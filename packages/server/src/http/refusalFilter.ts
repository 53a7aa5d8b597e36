import type { Refusal } from '@varn/contract';
import {
  Catch,
  HttpException,
  Logger,
  type ArgumentsHost,
  type ExceptionFilter,
} from '@nestjs/common';
import type { FastifyReply, FastifyRequest } from 'fastify';
import { AskerGone } from '../turns/asker';
import { Refused } from './refused';

/** Turns whatever was thrown into a refusal; only what nobody foresaw is a 500, and is logged. */
@Catch()
export class RefusalFilter implements ExceptionFilter {
  private readonly logger = new Logger('http');

  catch(error: unknown, host: ArgumentsHost): void {
    const http = host.switchToHttp();
    const reply = http.getResponse<FastifyReply>();
    const request = http.getRequest<FastifyRequest>();
    const refusal = this.refusalOf(error, request);
    if (reply.sent) return;
    // What is left of a body that is not wanted is read and let go, so that the answer gets through
    // and the connection can be used again.
    request.raw.resume();
    void reply.status(refusal.statusCode).type('application/json; charset=utf-8').send(refusal);
  }

  private refusalOf(error: unknown, request: FastifyRequest): Refusal {
    if (error instanceof Refused) return error.getResponse() as Refusal;
    // Nobody reads it.
    if (error instanceof AskerGone) return { statusCode: 499, code: 'gone', message: 'Gone.' };
    if (isDiskFull(error)) return Refused.diskFull().getResponse() as Refusal;
    const statusCode = error instanceof HttpException ? error.getStatus() : statusOf(error);
    const known = refusalOfStatus(statusCode, request);
    if (known) return known;
    if (statusCode >= 400 && statusCode < 500) {
      return { statusCode, code: 'badRequest', message: messageOf(error) };
    }
    this.logger.error(error instanceof Error ? (error.stack ?? error.message) : String(error));
    return {
      statusCode: 500,
      code: 'failed',
      message: 'The server could not do this. Nothing was written; try again.',
    };
  }
}

/** What is said of a status that speaks for itself. */
export function refusalOfStatus(statusCode: number, request: FastifyRequest): Refusal | null {
  switch (statusCode) {
    case 404:
      return {
        statusCode,
        code: 'notFound',
        message: `There is nothing at ${request.url.slice(0, 200)}.`,
      };
    case 413: {
      const most = Math.round(request.routeOptions.bodyLimit / 1024);
      const limit = most >= 1024 ? `${Math.round(most / 1024)} MB` : `${most} kB`;
      return {
        statusCode,
        code: 'tooLarge',
        message: `The request is over ${limit}. Send less at once; bring larger files in as files.`,
      };
    }
    case 414:
      return { statusCode, code: 'tooLarge', message: 'The address is too long.' };
    default:
      return null;
  }
}

const FULL = new Set(['SQLITE_FULL', 'ENOSPC', 'EDQUOT']);

/** Whether an error, or what caused it, is that nothing more fits on the disk. */
function isDiskFull(error: unknown): boolean {
  if (typeof error !== 'object' || error === null) return false;
  const { code, cause } = error as { code?: unknown; cause?: unknown };
  return FULL.has(String(code)) || (cause !== undefined && isDiskFull(cause));
}

/** Fastify's own errors carry their status. */
function statusOf(error: unknown): number {
  const status = (error as { statusCode?: unknown } | null)?.statusCode;
  return typeof status === 'number' ? status : 500;
}

function messageOf(error: unknown): string {
  return error instanceof Error ? error.message : 'The request can’t be read.';
}
