import type { ErrorValue } from '../../values';

/**
 * What one evaluation of a formula may take. A step is about as long as reading one value and
 * comparing it; all of them together take a tenth of a second or so on a slow machine.
 */
export const MOST_STEPS = 2_000_000;
/** The most values a formula may make, in all its arrays together. */
export const MOST_MADE = 1_000_000;
/** The longest text a formula may make, in UTF-16 units, and the most of all its texts together. */
export const LONGEST_TEXT = 1_000_000;
const MOST_CHARACTERS = 4_000_000;

/** What a formula gives that would take longer than it may. */
export const TOO_LONG: ErrorValue = { error: '#NUM!', why: { code: 'tooLong' } };
/** What it gives where the formulas before it have taken what they may take together. */
export const TOO_LONG_TOGETHER: ErrorValue = {
  error: '#NUM!',
  why: { code: 'tooLongTogether' },
};
const LONG_TEXT: ErrorValue = { error: '#VALUE!', why: { code: 'longText', most: LONGEST_TEXT } };

/** Ends an evaluation from within a function's own loop, whatever stands around that. */
class OverBudget extends Error {}
/** Thrown again and again, for many records: it tells nothing of where it came from. */
const OVER_BUDGET = new OverBudget();

interface Share {
  steps: number;
  values: number;
  characters: number;
}

const wholeShare = (): Share => ({
  steps: MOST_STEPS,
  values: MOST_MADE,
  characters: MOST_CHARACTERS,
});

/** The evaluation under way. There is one at most: an evaluation waits for nothing. */
let share: Share | null = null;
/** What the evaluations of some work take together; `null` where each is on its own. */
let together: Budget | null = null;
let taken = 0;

/**
 * What all evaluations of some work may take together, however many there are: of a form's
 * formulas, of the records of a write.
 */
export class Budget {
  private steps: number;
  private isOver = false;

  /** @param evaluations how many of the longest there may be */
  constructor(evaluations = 1) {
    this.steps = evaluations * MOST_STEPS;
  }

  /** Whether an evaluation was ended because those before it had taken most there was. */
  get isSpent(): boolean {
    return this.isOver;
  }

  /** Runs work whose evaluations take of this budget, or of the one of the work it is part of. */
  run<T>(work: () => T): T {
    return together ? work() : takingOf(this, work);
  }

  /** What the next evaluation may take of it. */
  share(): Share {
    const whole = wholeShare();
    return { ...whole, steps: Math.min(whole.steps, this.steps) };
  }

  /** @param didEnd whether the evaluation was ended for what it took of its share */
  take(steps: number, didEnd: boolean): void {
    // One that would have been ended by itself too leaves the rest to others.
    if (didEnd && this.steps < MOST_STEPS) {
      this.isOver = true;
      this.steps = 0;
    } else this.steps -= steps;
  }
}

function takingOf<T>(budget: Budget, work: () => T): T {
  together = budget;
  try {
    return work();
  } finally {
    together = null;
  }
}

/** Evaluates within a budget of its own, or within the one of the evaluation it is part of. */
export function withinBudget<T>(evaluate: () => T): T | ErrorValue {
  if (share) return evaluate();
  const own = together?.share() ?? wholeShare();
  const { steps } = own;
  share = own;
  let didEnd = false;
  try {
    return evaluate();
  } catch (error) {
    if (!(error instanceof OverBudget)) throw error;
    didEnd = true;
    return steps < MOST_STEPS ? TOO_LONG_TOGETHER : TOO_LONG;
  } finally {
    taken += steps - own.steps;
    together?.take(steps - own.steps, didEnd);
    share = null;
  }
}

/** The steps that all evaluations have taken together, so that work can be parted by them. */
export const stepsTaken = (): number => taken;

/** Counts steps of a loop. Call it before a loop whose length is known. */
export function spend(steps: number): void {
  if (!share) return;
  // What is no number at all is over it too.
  if (!(steps <= share.steps)) throw OVER_BUDGET;
  share.steps -= steps;
}

/** What it takes to make a value and keep it, in steps; measured with arrays of half a million. */
const STEPS_A_VALUE = 3;

/** Counts values before an array is made of them. */
export function spendValues(count: number): void {
  spend(count * STEPS_A_VALUE);
  if (!share) return;
  share.values -= count;
  if (share.values < 0) throw OVER_BUDGET;
}

/** Counts the characters of a text before it is made; gives the error where it would be too long. */
export function spendText(length: number): ErrorValue | null {
  if (length > LONGEST_TEXT) return LONG_TEXT;
  if (!share) return null;
  share.characters -= length;
  if (share.characters < 0) throw OVER_BUDGET;
  spend(length >> 4);
  return null;
}
