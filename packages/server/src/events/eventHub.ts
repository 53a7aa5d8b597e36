import type { ChangeEvent, ListsEvent, RecalculatedEvent } from '@varn/contract';
import { Injectable } from '@nestjs/common';
import { nextTurn } from '../turns/turns';

/** What is told and stands in no log: nobody misses it who reads anew. */
export type Signal = RecalculatedEvent | ListsEvent;
type Event = ChangeEvent | Signal;
type Listener = (events: readonly Event[]) => void;

/** How many are told before others have their turn. */
const TOLD_AT_ONCE = 100;
/** After telling, so many times as long is left to other work; what happens meanwhile is told at once. */
const REST_FACTOR = 4;
const MOST_REST_MS = 250;

/** Those who look at a workbook, and what they are still to be told. */
interface Audience {
  readonly listeners: Set<Listener>;
  pending: Event[];
  isTelling: boolean;
}

/** Tells whoever looks at a workbook of its changes, after they are on disk. */
@Injectable()
export class EventHub {
  private readonly audiences = new Map<string, Audience>();
  private readonly inside: ((workbookId: string, event: RecalculatedEvent) => void)[] = [];

  publish(workbookId: string, event: ChangeEvent): void {
    this.tell(workbookId, event);
  }

  /** Tells of what is not in the log: nobody misses it who reads anew. */
  signal(workbookId: string, event: Signal): void {
    if (event.kind === 'recalculated') for (const told of this.inside) told(workbookId, event);
    this.tell(workbookId, event);
  }

  /** Tells the server's own parts when formulas of any workbook gave other results. */
  onRecalculated(told: (workbookId: string, event: RecalculatedEvent) => void): void {
    this.inside.push(told);
  }

  /** Listens to a workbook until the function given back is called. */
  listen(workbookId: string, listener: Listener): () => void {
    const audience = this.audiences.get(workbookId) ?? {
      ...{ listeners: new Set(), pending: [], isTelling: false },
    };
    this.audiences.set(workbookId, audience);
    audience.listeners.add(listener);
    return () => {
      audience.listeners.delete(listener);
      if (audience.listeners.size === 0 && this.audiences.get(workbookId) === audience) {
        this.audiences.delete(workbookId);
      }
    };
  }

  private tell(workbookId: string, event: Event): void {
    const audience = this.audiences.get(workbookId);
    if (!audience) return;
    audience.pending.push(event);
    if (!audience.isTelling) void this.tellAll(audience);
  }

  /** Tells all of what happened, and then of what happened while they were told and after. */
  private async tellAll(audience: Audience): Promise<void> {
    audience.isTelling = true;
    while (audience.pending.length > 0) {
      const { pending } = audience;
      audience.pending = [];
      let spent = 0;
      let began = performance.now();
      let told = 0;
      for (const listener of audience.listeners) {
        if (told > 0 && told % TOLD_AT_ONCE === 0) {
          spent += performance.now() - began;
          await nextTurn();
          began = performance.now();
        }
        listener(pending);
        told += 1;
      }
      spent += performance.now() - began;
      const rest = Math.min(spent * REST_FACTOR, MOST_REST_MS);
      if (rest >= 1) await later(rest);
    }
    audience.isTelling = false;
  }
}

const later = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));
