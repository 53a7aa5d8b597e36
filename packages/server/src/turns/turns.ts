import { Injectable } from '@nestjs/common';
import type { Asker } from './asker';
import { FairLines } from './fairLines';
import { SharedTurns } from './sharedTurns';

/** How long work goes on before others are answered: all of it together, whoever asked for it. */
const TURN_MS = 4;

const waiting = new FairLines<() => void>();
const shared = new SharedTurns(TURN_MS, () => waiting.take());
/** Pieces of work that are done for all stand each in a line of its own. */
let piecesForAll = 0;

/**
 * Waits until others were answered, and until the long work that waited before has had its turn.
 *
 * @param asker who waits for what it comes to; absent where it is for all
 */
export function nextTurn(asker: Asker | null = null): Promise<void> {
  return new Promise((resolve) => {
    waiting.add(asker?.who ?? `all ${(piecesForAll += 1)}`, resolve, asker?.isLate);
    shared.wake();
  });
}

/** Parts long work into turns between which others are answered. */
export class Pace {
  /** How long the work has taken so far, in milliseconds, the pauses left out. */
  spent = 0;
  private began = performance.now();

  /** @param asker who waits for what it comes to: it ends when they have gone */
  constructor(private readonly asker: Asker | null = null) {}

  /** Goes on at once, or after others, when a turn is over. @throws AskerGone */
  async keep(): Promise<void> {
    if (performance.now() - this.began >= TURN_MS) await this.pause();
  }

  /** Goes on after others. @throws AskerGone */
  async pause(): Promise<void> {
    this.end();
    await this.goOn();
  }

  /** Counts what the work has taken since it went on last. */
  end(): void {
    const took = performance.now() - this.began;
    this.spent += took;
    this.asker?.spend(took);
  }

  /** Goes on after others, and after whatever was waited for since the end. @throws AskerGone */
  async goOn(): Promise<void> {
    await nextTurn(this.asker);
    this.asker?.stillWaits();
    this.began = performance.now();
  }
}

/**
 * Runs a generator to its end, others answered between its steps.
 *
 * @param asker who waits for what it comes to, and nobody else
 */
export async function inTurns<T>(
  steps: Generator<void, T>,
  asker: Asker | null = null,
): Promise<T> {
  const pace = new Pace(asker);
  for (;;) {
    const step = steps.next();
    if (step.done === true) {
      pace.end();
      return step.value;
    }
    await pace.keep();
  }
}

/** Runs work that takes turns itself one after the other: the next begins when one is done. */
@Injectable()
export class Turns {
  private last: Promise<unknown> = Promise.resolve();

  /** @returns what the work gives, when its turn has come */
  take<T>(work: () => Promise<T>): Promise<T> {
    const turn = this.last.then(work);
    // What one throws is told to whoever asked, and holds nobody up.
    this.last = turn.catch(() => undefined);
    return turn;
  }
}
