import { Injectable } from '@nestjs/common';
import { setImmediate as nextTurn } from 'node:timers/promises';

/** Runs pieces of work one after the other, each in a turn of its own, others answered between. */
@Injectable()
export class Turns {
  private last: Promise<unknown> = Promise.resolve();

  /** @returns what the work gives, when its turn has come */
  take<T>(work: () => T): Promise<T> {
    const turn = this.last.then(() => nextTurn()).then(work);
    // What one throws is told to whoever asked, and holds nobody up.
    this.last = turn.catch(() => undefined);
    return turn;
  }
}
