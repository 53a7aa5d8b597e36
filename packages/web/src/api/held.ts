import type { ScopedMutator } from 'swr';
import { get } from './client';

type Change = (held: unknown) => unknown;

/** What changes while it is being read, by path: brought into the answer when it arrives. */
const underWay = new Map<string, Change[]>();

/** Reads what is to be held, with whatever was told of it in the meantime. */
export async function read<T>(path: string): Promise<T> {
  const changes: Change[] = [];
  underWay.set(path, changes);
  try {
    const answer: unknown = await get(path);
    return changes.reduce((held, change) => change(held), answer) as T;
  } finally {
    if (underWay.get(path) === changes) underWay.delete(path);
  }
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
  for (const [path, changes] of underWay) if (matches(path)) changes.push(change as Change);
  void mutate<T>(
    (key) => typeof key === 'string' && !underWay.has(key) && matches(key),
    (held) => held && change(held),
    { revalidate: false },
  );
}
