import { useMemo } from 'react';
import { useSession } from './resources';

/** What this browser keeps for one person, by name. It goes when they sign out. */
export interface OwnStore {
  readonly read: (name: string) => unknown;
  /** @param value `null` to keep nothing under this name */
  readonly store: (name: string, value: object | null) => void;
  readonly forgetAll: () => void;
}

export function ownStore(personId: string, storage: Storage = localStorage): OwnStore {
  const prefix = `varn.own.${personId}.`;
  return {
    read: (name) => JSON.parse(storage.getItem(prefix + name) ?? 'null') as unknown,
    store: (name, value) => {
      if (value === null) storage.removeItem(prefix + name);
      else storage.setItem(prefix + name, JSON.stringify(value));
    },
    forgetAll: () => {
      const names = Array.from({ length: storage.length }, (_, n) => storage.key(n) ?? '');
      names.filter((name) => name.startsWith(prefix)).forEach((name) => storage.removeItem(name));
    },
  };
}

export function useOwnStore(): OwnStore {
  const personId = useSession().data?.person?.id ?? '';
  return useMemo(() => ownStore(personId), [personId]);
}
