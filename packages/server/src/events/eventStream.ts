import type { ChangeEvent } from '@varn/contract';
import { once } from 'node:events';
import type { ServerResponse } from 'node:http';
import type { Signal } from './eventHub';

/** What may wait for one reader, in bytes. A browser that is cut off comes back where it was. */
const MOST_WAITING = 1024 * 1024;

/** Events as they are sent: made once, for all who are told. */
const texts = new WeakMap<ChangeEvent | Signal, string>();

function textOf(event: ChangeEvent | Signal): string {
  let text = texts.get(event);
  if (text === undefined) {
    const head = 'seq' in event ? `id: ${event.seq}` : `event: ${event.kind}`;
    text = `${head}\ndata: ${JSON.stringify(event)}\n\n`;
    texts.set(event, text);
  }
  return text;
}

/** One reader's stream of events. Who does not keep up is cut off, and nothing more is kept for. */
export class EventStream {
  private sent = 0;

  constructor(private readonly response: ServerResponse) {
    response.writeHead(200, {
      'content-type': 'text/event-stream; charset=utf-8',
      'cache-control': 'no-store, no-transform',
      'x-accel-buffering': 'no',
    });
    this.write('retry: 1000\n\n');
  }

  get isOpen(): boolean {
    return !this.response.destroyed && !this.response.writableEnded;
  }

  /** Sends only what comes after a sequence number. */
  begin(after: number): void {
    this.sent = after;
  }

  /** Sends what happened, in one piece. */
  send(events: readonly (ChangeEvent | Signal)[]): void {
    const news = events.filter((event) => {
      if (!('seq' in event)) return true;
      if (event.seq <= this.sent) return false;
      this.sent = event.seq;
      return true;
    });
    if (news.length > 0) this.write(news.map(textOf).join(''));
  }

  /** Tells to read everything anew, and to go on from a sequence number. */
  reload(seq: number): void {
    this.sent = seq;
    this.write(`id: ${seq}\nevent: reload\ndata: {}\n\n`);
  }

  /** Ends it for a newer one of the same person: it is not to be opened again by itself. */
  giveWay(): void {
    this.write('event: gaveWay\ndata: {}\n\n');
    this.end();
  }

  beat(): void {
    this.write(': here\n\n');
  }

  /** Waits until the reader has taken what was sent, or is gone. */
  async drained(): Promise<void> {
    if (!this.isOpen || !this.response.writableNeedDrain) return;
    const either = new AbortController();
    const { signal } = either;
    // Who waits for the other no longer listens: a stream is waited for again and again.
    await Promise.race(['drain', 'close'].map((name) => once(this.response, name, { signal })));
    either.abort();
  }

  onClose(closed: () => void): void {
    this.response.on('close', closed);
  }

  end(): void {
    if (this.isOpen) this.response.end();
  }

  private write(text: string): void {
    if (!this.isOpen) return;
    this.response.write(text);
    if (this.response.writableLength > MOST_WAITING) this.response.destroy();
  }
}
