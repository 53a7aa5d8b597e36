import { Injectable } from '@nestjs/common';
import type { FastifyInstance, FastifyReply, FastifyRequest } from 'fastify';
import { SharedTurns } from '../turns/sharedTurns';
import { FairLines } from '../turns/fairLines';
import { Refused } from './refused';

/** How long requests are begun in a turn of the event loop. */
const TURN_MS = 8;
/** How many turns in a row may be left to those who knock. */
const MOST_KNOCKS = 100;
/** How many who write go before one who reads. */
const WRITES_A_READ = 1;
/** How many requests may wait, of all and of one person. */
const BOUNDS = { ofAll: 2000, ofOne: 500 };

interface Waiting {
  readonly since: number;
  /** Begins it; nothing where whoever asked has gone. */
  readonly begin: () => void;
}

/** What a request is, as far as its headers tell. */
export interface Asked {
  /** Who shares a line: a person, else an address. */
  readonly who: string;
  /** Whether it writes a little that someone waits for, and goes before what reads. */
  readonly isUrgent: boolean;
  /** Whether others go first: it may take long, and they have asked for much lately. */
  readonly isLate: boolean;
}

/** How many requests wait to be begun, and since when. */
export interface WaitingView {
  readonly waiting: number;
  /** How long the oldest of them has waited, in milliseconds. */
  readonly oldest: number;
}

/**
 * Lets requests in, a few at each turn of the event loop, one person after the other. A socket that
 * listens takes one connection a turn, so a turn that served all who are ready would keep those out
 * who have just come (docs/decisions/0031).
 */
@Injectable()
export class Admission {
  private readonly writes = new FairLines<Waiting>();
  private readonly reads = new FairLines<Waiting>();
  private readonly turns = new SharedTurns(
    TURN_MS,
    () => this.take()?.begin,
    () => this.isKnockedAt(),
  );
  private hasKnocked = false;
  private knocks = 0;
  private written = 0;

  /** How many wait, and how long the oldest has. */
  view(): WaitingView {
    const now = performance.now();
    let oldest = 0;
    for (const lines of [this.writes, this.reads]) {
      for (const { since } of lines) oldest = Math.max(oldest, now - since);
    }
    return { waiting: this.writes.size + this.reads.size, oldest: Math.round(oldest) };
  }

  /**
   * Stands in front of all that comes later.
   *
   * @param asked what a request is; `null` for one that waits for nobody
   * @param bounds how many may wait
   */
  guard(
    fastify: FastifyInstance,
    asked: (request: FastifyRequest) => Asked | null,
    bounds = BOUNDS,
  ): void {
    fastify.server.on('connection', () => (this.hasKnocked = true));
    fastify.addHook('onRequest', (request, reply, done) => {
      const what = asked(request);
      if (!what) done();
      else if (this.isFull(what, bounds)) this.turnAway(reply, done);
      else this.enter(request, what, done);
    });
  }

  private enter(request: FastifyRequest, { who, isUrgent, isLate }: Asked, done: () => void): void {
    const begin = (): void => {
      if (!request.raw.destroyed) done();
    };
    (isUrgent ? this.writes : this.reads).add(who, { since: performance.now(), begin }, isLate);
    this.turns.wake();
  }

  private isFull({ who }: Asked, { ofAll, ofOne }: typeof BOUNDS): boolean {
    const { writes, reads } = this;
    if (writes.size + reads.size >= ofAll) return true;
    return writes.sizeOf(who) + reads.sizeOf(who) >= ofOne;
  }

  private turnAway(reply: FastifyReply, done: (error: Error) => void): void {
    const seconds = 1 + Math.ceil(this.view().oldest / 1000);
    void reply.header('retry-after', String(seconds));
    done(Refused.busy(seconds));
  }

  private take(): Waiting | undefined {
    const isWrite = this.reads.size === 0 || this.written < WRITES_A_READ;
    this.written = isWrite && this.writes.size > 0 ? this.written + 1 : 0;
    const [first, then] = isWrite ? [this.writes, this.reads] : [this.reads, this.writes];
    return first.take() ?? then.take();
  }

  /** A turn without work is over at once, and hears the next who knocks. */
  private isKnockedAt(): boolean {
    const isHeld = this.hasKnocked && this.knocks < MOST_KNOCKS;
    this.knocks = isHeld ? this.knocks + 1 : 0;
    this.hasKnocked = false;
    return isHeld;
  }
}
