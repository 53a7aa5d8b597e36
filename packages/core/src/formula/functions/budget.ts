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
const LONG_TEXT: ErrorValue = { error: '#VALUE!', why: { code: 'longText', most: LONGEST_TEXT } };

/** Ends an evaluation from within a function's own loop, whatever stands around that. */
class OverBudget extends Error {}
/** Thrown again and again, for many records: it tells nothing of where it came from. */
const OVER_BUDGET = new OverBudget();

interface Budget {
  steps: number;
  values: number;
  characters: number;
}

/** The evaluation under way. There is one at most: an evaluation waits for nothing. */
let budget: Budget | null = null;
let taken = 0;

/** Evaluates within a budget of its own, or within the one of the evaluation it is part of. */
export function withinBudget<T>(evaluate: () => T): T | ErrorValue {
  if (budget) return evaluate();
  const own = { steps: MOST_STEPS, values: MOST_MADE, characters: MOST_CHARACTERS };
  budget = own;
  try {
    return evaluate();
  } catch (error) {
    if (error instanceof OverBudget) return TOO_LONG;
    throw error;
  } finally {
    taken += MOST_STEPS - own.steps;
    budget = null;
  }
}

/** The steps that all evaluations have taken together, so that work can be parted by them. */
export const stepsTaken = (): number => taken;

/** Counts steps of a loop. Call it before a loop whose length is known. */
export function spend(steps: number): void {
  if (!budget) return;
  // What is no number at all is over it too.
  if (!(steps <= budget.steps)) throw OVER_BUDGET;
  budget.steps -= steps;
}

/** What it takes to make a value and keep it, in steps; measured with arrays of half a million. */
const STEPS_A_VALUE = 2;

/** Counts values before an array is made of them. */
export function spendValues(count: number): void {
  spend(count * STEPS_A_VALUE);
  if (!budget) return;
  budget.values -= count;
  if (budget.values < 0) throw OVER_BUDGET;
}

/** Counts the characters of a text before it is made; gives the error where it would be too long. */
export function spendText(length: number): ErrorValue | null {
  if (length > LONGEST_TEXT) return LONG_TEXT;
  if (!budget) return null;
  budget.characters -= length;
  if (budget.characters < 0) throw OVER_BUDGET;
  spend(length >> 4);
  return null;
}
