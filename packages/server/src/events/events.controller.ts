import { paths, type ChangeEvent } from '@varn/contract';
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
import { CurrentPerson, For } from '../access/access';
import { Sessions } from '../access/sessions';
import { Catalog } from '../store/catalog';
import type { Writer } from '../access/access';
import { ChangeLog } from '../log/changeLog';
import { EventHub, type Signal } from './eventHub';
import { EventStream } from './eventStream';
import { OpenStreams } from './openStreams';

/** Someone who missed more than this reads everything anew. */
const MOST_MISSED = 1000;
/** Missed changes read at a time. */
const PAGE = 50;
const BEAT_MS = 15_000;

type Event = ChangeEvent | Signal;

/** Server-sent events (WHATWG HTML), resumed from the last sequence number seen. */
@ApiTags('events')
@Controller()
export class EventsController implements OnApplicationShutdown {
  private readonly open = new OpenStreams();

  constructor(
    private readonly hub: EventHub,
    private readonly changes: ChangeLog,
    private readonly sessions: Sessions,
    private readonly catalog: Catalog,
  ) {}

  /** Streams a workbook's changes after a sequence number: `after`, or `Last-Event-ID`. */
  @Get(paths.events(':workbookId'))
  @For('reader', 'workbookId')
  @ApiOkResponse({ content: { 'text/event-stream': {} } })
  async stream(
    @Param('workbookId') workbookId: string,
    @Query('after') after: string | undefined,
    @Headers('last-event-id') lastEventId: string | undefined,
    @Headers('cookie') cookie: string | undefined,
    @CurrentPerson() { id }: Writer,
    @Res() reply: FastifyReply,
  ): Promise<void> {
    reply.hijack();
    const stream = new EventStream(reply.raw);
    this.open.add(id, stream);

    // Listening starts before the missed changes are read, so that none falls between.
    const seen = Number(lastEventId ?? after ?? 0) || 0;
    let held: Event[] | null = [];
    const isStillIn = (): boolean => this.catalog.role(workbookId, id) !== undefined;
    const pass = (events: readonly Event[]): void => {
      if (!isStillIn()) stream.end();
      else if (held) held.push(...events);
      else stream.send(events);
    };
    const stopListening = this.hub.listen(workbookId, pass);
    const stopWatching = this.sessions.onEnd(cookie, () => stream.end());
    const beat = setInterval(() => void this.beat(stream, cookie, isStillIn), BEAT_MS);
    stream.onClose(() => {
      clearInterval(beat);
      stopListening();
      stopWatching();
      this.open.remove(id, stream);
    });

    await this.catchUp(stream, workbookId, seen);
    stream.send(held);
    held = null;
  }

  /** Open streams would keep the server from stopping. */
  onApplicationShutdown(): void {
    this.open.endAll();
  }

  /** Tells what was missed, or to read everything anew where that is too much or unknown here. */
  private async catchUp(stream: EventStream, workbookId: string, seen: number): Promise<void> {
    const last = await this.changes.lastSeq(workbookId);
    const missed = await this.changes.countAfter(workbookId, seen, MOST_MISSED + 1);
    if (seen > last || missed > MOST_MISSED) {
      stream.reload(last);
      return;
    }
    stream.begin(seen);
    for (let from = seen; stream.isOpen;) {
      const page = await this.changes.after(workbookId, from, PAGE);
      stream.send(page);
      from = page.at(-1)?.seq ?? from;
      if (page.length < PAGE) return;
      await stream.drained();
    }
  }

  private async beat(
    stream: EventStream,
    cookie: string | undefined,
    isStillIn: () => boolean,
  ): Promise<void> {
    if (isStillIn() && (await this.sessions.personOf(cookie))) stream.beat();
    else stream.end();
  }
}
