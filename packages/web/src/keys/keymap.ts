import { useSyncExternalStore } from 'react';

/** Something that can be done in a place, by a button or a single key of its bar. */
export interface KeyAction {
  readonly id: string;
  readonly label: string;
  /** The key it has until someone changes it. */
  readonly key: string;
  /** Whether it writes, clears or deletes: its key goes to its button, and Enter presses that. */
  readonly isWrite?: boolean;
}

const STORED = 'varn.keys';
const listeners = new Set<() => void>();

type Changed = Readonly<Record<string, string>>;

let changed = read();

function read(): Changed {
  try {
    return JSON.parse(localStorage.getItem(STORED) ?? '{}') as Changed;
  } catch {
    return {};
  }
}

/** The keys people changed, by action id. */
export function useChangedKeys(): Changed {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => changed,
  );
}

export function keyOf(action: KeyAction, changedKeys: Changed): string {
  return changedKeys[action.id] ?? action.key;
}

/**
 * Gives an action another key.
 *
 * @returns the action of the same bar that has the key already, and then nothing is changed
 */
export function changeKey(
  action: KeyAction,
  key: string,
  bar: readonly KeyAction[],
): KeyAction | null {
  const taken = bar.find((other) => other.id !== action.id && keyOf(other, changed) === key);
  if (taken) return taken;
  changed = { ...changed, [action.id]: key };
  localStorage.setItem(STORED, JSON.stringify(changed));
  listeners.forEach((listener) => listener());
  return null;
}

/** A key as a button shows it. */
export function showKey(key: string): string {
  return key.length === 1 ? key.toUpperCase() : key;
}
