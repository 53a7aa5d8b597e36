import type { Value } from './area';
import type { LineIndex } from './lineIndex';

/** What one pass over many records holds: indexes by what they are of, values that are the same for all. */
export class Held {
  readonly indexes = new Map<string, LineIndex>();
  readonly values = new Map<object, Value>();
}

let held: Held | null = null;

/**
 * Evaluates with the indexes a pass has used so far, although what they are of may have changed
 * since: a pass is begun anew for what changed, and would else make them anew at each change.
 */
export function holding<T>(pass: Held, evaluate: () => T): T {
  const before = held;
  held = pass;
  try {
    return evaluate();
  } finally {
    held = before;
  }
}

/** The index a pass holds under a key, or the one that is made. */
export function heldIndex(key: string, make: () => LineIndex): LineIndex {
  if (!held) return make();
  const index = held.indexes.get(key) ?? make();
  held.indexes.set(key, index);
  return index;
}

/** What is the same for all records of a pass, computed once in it. @param key what tells it */
export function heldValue(key: object, evaluate: () => Value): Value {
  if (!held) return evaluate();
  const known = held.values.get(key);
  if (known !== undefined) return known;
  const value = evaluate();
  held.values.set(key, value);
  return value;
}
