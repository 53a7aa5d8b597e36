import type { Refusal } from '@varn/contract';
import type { FastifyError, FastifyReply, FastifyRequest } from 'fastify';
import { STATUS_CODES } from 'node:http';
import type { Socket } from 'node:net';
import { refusalOfStatus } from './refusalFilter';

/** Answers what the router can't read: an address with broken escapes, or a part that is too long. */
export function answerMisrouted(
  error: FastifyError,
  request: FastifyRequest,
  reply: FastifyReply,
): void {
  const refusal = refusalOfStatus(error.statusCode ?? 400, request) ?? {
    statusCode: 400,
    code: 'badRequest',
    message: 'The address can’t be read. Check it.',
  };
  void reply.status(refusal.statusCode).type('application/json; charset=utf-8').send(refusal);
}

/** Answers what is no HTTP, or has headers that are too long, before there is a request. */
export function answerUnreadable(error: NodeJS.ErrnoException, socket: Socket): void {
  if (error.code === 'ECONNRESET' || !socket.writable) return void socket.destroy();
  const isTooLong = error.code === 'HPE_HEADER_OVERFLOW';
  const refusal: Refusal = isTooLong
    ? { statusCode: 431, code: 'tooLarge', message: 'The address or the headers are too long.' }
    : { statusCode: 400, code: 'badRequest', message: 'The request can’t be read.' };
  const body = JSON.stringify(refusal);
  const { statusCode } = refusal;
  socket.end(
    `HTTP/1.1 ${statusCode} ${STATUS_CODES[statusCode] ?? ''}\r\ncontent-type: application/json; charset=utf-8\r\ncontent-length: ${Buffer.byteLength(body)}\r\nconnection: close\r\n\r\n${body}`,
  );
}
