import type { ScopedMutator } from 'swr';
import { get } from './client';
import { loadKnowledgeFor } from './knowledge';

type Change = (held: unknown) => unknown;

/** A place that is being read. */
interface Reading {
  /** What is told of it in the meantime: brought into the answer when it arrives. */
  readonly changes: Change[];
  /** Reads it once more, where more was told than could be brought in. */
  again?: () => void;
}

const underWay = new Map<string, Reading>();

/** Reads what is to be held, with whatever was told of it in the meantime. */
export async function read<T>(path: string): Promise<T> {
  const reading: Reading = { changes: [] };
  underWay.set(path, reading);
  try {
    const answer: unknown = await get(path);
    await loadKnowledgeFor(answer);
    return reading.changes.reduce((held, change) => change(held), answer) as T;
  } finally {
    if (underWay.get(path) === reading) underWay.delete(path);
    // What arrived is held first: under a stream of events it would never be.
    if (reading.again) setTimeout(reading.again);
  }
}

/**
 * Reads the paths that match anew. What is being read just now is read once more when it is here,
 * so that a slow server is not asked faster than it answers.
 */
export function readAgain(mutate: ScopedMutator, matches: (path: string) => boolean): void {
  for (const [path, reading] of underWay) {
    if (matches(path)) reading.again = () => readAgain(mutate, (other) => other === path);
  }
  void mutate((key) => typeof key === 'string' && !underWay.has(key) && matches(key));
}

/**
 * Changes what is held of the paths that match. What is being read just now is changed once it is
 * here: SWR would drop the answer, which under a stream of events may be every answer.
 *
 * @param change given what the answer may hold of it already, gives the same
 */
export function amend<T>(
  mutate: ScopedMutator,
  matches: (path: string) => boolean,
  change: (held: T) => T,
): void {
  for (const [path, { changes }] of underWay) if (matches(path)) changes.push(change as Change);
  void mutate<T>(
    (key) => typeof key === 'string' && !underWay.has(key) && matches(key),
    (held) => held && change(held),
    { revalidate: false },
  );
}
