import { paths, type ChangeEvent, type RecalculatedEvent } from '@varn/contract';
import {
  Controller,
  Get,
  Headers,
  Param,
  Query,
  Res,
  type OnApplicationShutdown,
} from '@nestjs/common';
import { ApiOkResponse, ApiTags } from '@nestjs/swagger';
import type { FastifyReply } from 'fastify';
import type { ServerResponse } from 'node:http';
import { For } from '../access/access';
import { ChangeLog } from './changeLog';
import { EventHub } from './eventHub';

/** Someone who missed more than this reads everything anew. */
const MOST_MISSED = 1000;
const BEAT_MS = 15_000;

/** Server-sent events (WHATWG HTML), resumed from the last sequence number seen. */
@ApiTags('events')
@Controller()
export class EventsController implements OnApplicationShutdown {
  private readonly open = new Set<ServerResponse>();

  constructor(
    private readonly hub: EventHub,
    private readonly changes: ChangeLog,
  ) {}

  /** Streams a workbook's changes after a sequence number: `after`, or `Last-Event-ID`. */
  @Get(paths.events(':workbookId'))
  @For('reader', 'workbookId')
  @ApiOkResponse({ content: { 'text/event-stream': {} } })
  async stream(
    @Param('workbookId') workbookId: string,
    @Query('after') after: string | undefined,
    @Headers('last-event-id') lastEventId: string | undefined,
    @Res() reply: FastifyReply,
  ): Promise<void> {
    reply.hijack();
    const response = reply.raw;
    response.writeHead(200, {
      'content-type': 'text/event-stream; charset=utf-8',
      'cache-control': 'no-cache, no-transform',
      'x-accel-buffering': 'no',
    });
    this.open.add(response);

    // Listening starts before the missed changes are read, so that none falls between.
    let sent = Number(lastEventId ?? after ?? 0) || 0;
    let held: (ChangeEvent | RecalculatedEvent)[] | null = [];
    const send = (event: ChangeEvent | RecalculatedEvent): void => {
      if (event.kind === 'recalculated') {
        response.write(`event: recalculated\ndata: ${JSON.stringify(event)}\n\n`);
        return;
      }
      if (event.seq <= sent) return;
      sent = event.seq;
      response.write(`id: ${event.seq}\ndata: ${JSON.stringify(event)}\n\n`);
    };
    const stopListening = this.hub.listen(workbookId, (event) => {
      if (held) held.push(event);
      else send(event);
    });
    const beat = setInterval(() => response.write(': here\n\n'), BEAT_MS);
    response.on('close', () => {
      clearInterval(beat);
      stopListening();
      this.open.delete(response);
    });

    response.write('retry: 1000\n\n');
    const missed = await this.changes.after(workbookId, sent, MOST_MISSED + 1);
    if (missed.length > MOST_MISSED) {
      sent = await this.changes.lastSeq(workbookId);
      response.write(`id: ${sent}\nevent: reload\ndata: {}\n\n`);
    } else missed.forEach(send);
    held.forEach(send);
    held = null;
  }

  /** Open streams would keep the server from stopping. */
  onApplicationShutdown(): void {
    for (const response of this.open) response.end();
  }
}
