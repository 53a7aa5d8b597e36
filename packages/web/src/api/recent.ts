import { useSyncExternalStore } from 'react';

/** How long a record that was just written stays marked. */
const MARKED_MS = 8000;

let recent: ReadonlySet<string> = new Set();
const listeners = new Set<() => void>();

function set(next: ReadonlySet<string>): void {
  recent = next;
  listeners.forEach((listener) => listener());
}

/** Marks a record as just written, here or elsewhere, for a moment. */
export function markRecent(recordId: string): void {
  set(new Set([...recent, recordId]));
  setTimeout(() => set(new Set([...recent].filter((id) => id !== recordId))), MARKED_MS);
}

/** The records that are marked. */
export function useRecent(): ReadonlySet<string> {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => recent,
  );
}
