import type { ChangeEvent, RecalculatedEvent } from '@varn/contract';
import { Injectable } from '@nestjs/common';

type Listener = (event: ChangeEvent | RecalculatedEvent) => void;

/** Tells whoever looks at a workbook of its changes, after they are on disk. */
@Injectable()
export class EventHub {
  private readonly listeners = new Map<string, Set<Listener>>();

  publish(workbookId: string, event: ChangeEvent): void {
    this.listeners.get(workbookId)?.forEach((listener) => listener(event));
  }

  /** Tells of what is not in the log: nobody misses it who reads anew. */
  signal(workbookId: string, event: RecalculatedEvent): void {
    this.listeners.get(workbookId)?.forEach((listener) => listener(event));
  }

  /** Listens to a workbook until the function given back is called. */
  listen(workbookId: string, listener: Listener): () => void {
    const listeners = this.listeners.get(workbookId) ?? new Set();
    this.listeners.set(workbookId, listeners.add(listener));
    return () => {
      listeners.delete(listener);
      if (listeners.size === 0) this.listeners.delete(workbookId);
    };
  }
}
