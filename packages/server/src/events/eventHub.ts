import type { ChangeEvent, ListsEvent, RecalculatedEvent } from '@varn/contract';
import { Injectable } from '@nestjs/common';

/** What is told and stands in no log: nobody misses it who reads anew. */
export type Signal = RecalculatedEvent | ListsEvent;
type Listener = (event: ChangeEvent | Signal) => void;

/** Tells whoever looks at a workbook of its changes, after they are on disk. */
@Injectable()
export class EventHub {
  private readonly listeners = new Map<string, Set<Listener>>();
  private readonly inside: ((workbookId: string, event: RecalculatedEvent) => void)[] = [];

  publish(workbookId: string, event: ChangeEvent): void {
    this.listeners.get(workbookId)?.forEach((listener) => listener(event));
  }

  /** Tells of what is not in the log: nobody misses it who reads anew. */
  signal(workbookId: string, event: Signal): void {
    if (event.kind === 'recalculated') for (const told of this.inside) told(workbookId, event);
    this.listeners.get(workbookId)?.forEach((listener) => listener(event));
  }

  /** Tells the server's own parts when formulas of any workbook gave other results. */
  onRecalculated(told: (workbookId: string, event: RecalculatedEvent) => void): void {
    this.inside.push(told);
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
