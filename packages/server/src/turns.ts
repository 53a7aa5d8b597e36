import { Injectable } from '@nestjs/common';
import { SharedTurns } from './sharedTurns';

/** How long work goes on before others are answered: all of it together, whoever asked for it. */
const TURN_MS = 4;

const waiting: (() => void)[] = [];
const shared = new SharedTurns(TURN_MS, () => waiting.shift());

/** Waits until others were answered, and until the long work that waited before has had its turn. */
export function nextTurn(): Promise<void> {
  return new Promise((resolve) => {
    waiting.push(resolve);
    shared.wake();
  });
}

/** Parts long work into turns between which others are answered. */
export class Pace {
  /** How long the work has taken so far, in milliseconds, the pauses left out. */
  spent = 0;
  private began = performance.now();

  /** Goes on at once, or after others, when a turn is over. */
  async keep(): Promise<void> {
    const took = performance.now() - this.began;
    if (took < TURN_MS) return;
    this.spent += took;
    await nextTurn();
    this.began = performance.now();
  }
}

/** Runs a generator to its end, others answered between its steps. */
export async function inTurns<T>(steps: Generator<void, T>): Promise<T> {
  const pace = new Pace();
  for (;;) {
    const step = steps.next();
    if (step.done === true) return step.value;
    await pace.keep();
  }
}

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

  /** The same of work that takes turns itself: the next begins when it is done. */
  takeAll<T>(work: () => Promise<T>): Promise<T> {
    const turn = this.last.then(work);
    this.last = turn.catch(() => undefined);
    return turn;
  }
}
