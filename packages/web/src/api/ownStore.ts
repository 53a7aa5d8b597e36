import { useMemo } from 'react';
import { useSession } from './resources';

/** What this browser keeps for one person, by name, for all of its windows. It goes when they sign out. */
export interface OwnStore {
  readonly read: (name: string) => unknown;
  /** @param value `null` to keep nothing under this name */
  readonly store: (name: string, value: object | null) => void;
  /** The names that begin with these letters. */
  readonly names: (start: string) => string[];
  readonly forgetAll: () => void;
}

/** People who signed out in this window or another: what is begun of theirs is kept no more. */
const signedOut = new Set<string>();
const OUT = 'varn.out.';

/** Hears of those who sign out in another window of this browser. */
export function hearOfSignOuts(storage: Storage = localStorage): void {
  window.addEventListener('storage', ({ key, newValue }) => {
    if (!key?.startsWith(OUT) || newValue === null) return;
    const personId = key.slice(OUT.length);
    signedOut.add(personId);
    ownStore(personId, storage).forgetAll();
  });
}

/** Whoever is signed in again has their things kept again. */
export const signedIn = (personId: string): void => void signedOut.delete(personId);

export function ownStore(personId: string, storage: Storage = localStorage): OwnStore {
  const prefix = `varn.own.${personId}.`;
  const names = (start: string): string[] =>
    Array.from({ length: storage.length }, (_, n) => storage.key(n) ?? '')
      .filter((name) => name.startsWith(prefix + start))
      .map((name) => name.slice(prefix.length));
  const forget = (): void => names('').forEach((name) => storage.removeItem(prefix + name));
  return {
    read: (name) => JSON.parse(storage.getItem(prefix + name) ?? 'null') as unknown,
    store: (name, value) => {
      if (value === null) storage.removeItem(prefix + name);
      else if (!signedOut.has(personId)) storage.setItem(prefix + name, JSON.stringify(value));
    },
    names,
    forgetAll: () => {
      forget();
      if (signedOut.has(personId)) return;
      signedOut.add(personId);
      // Other windows hear of it; the mark itself says nothing and is not kept.
      storage.setItem(OUT + personId, String(Date.now()));
      storage.removeItem(OUT + personId);
    },
  };
}

export function useOwnStore(): OwnStore {
  const personId = useSession().data?.person?.id ?? '';
  return useMemo(() => ownStore(personId), [personId]);
}
