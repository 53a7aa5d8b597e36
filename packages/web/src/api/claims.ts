/**
 * Which window of the browser works on what. A claim ends with its window, however that ends: it
 * is a lock of the platform's. Over plain connections browsers give no locks; there a window says
 * again and again that it is there, and what nobody spoke for is free.
 */
export interface Claims {
  /** Whether this window works on it now; `false` while another does. */
  readonly claim: (id: string) => Promise<boolean>;
  readonly release: (id: string) => void;
  /** Those of these that no window works on. */
  readonly unclaimed: (ids: readonly string[]) => Promise<string[]>;
}

const nameOf = (id: string): string => `varn.begun.${id}`;

function byLocks(locks: LockManager): Claims {
  const leave = new Map<string, () => void>();
  /** Locks that were let go of and may be held a moment more. */
  const leaving = new Map<string, Promise<unknown>>();
  return {
    async claim(id) {
      if (leave.has(id)) return true;
      await leaving.get(id);
      return new Promise((resolve) => {
        const held = locks.request(nameOf(id), { ifAvailable: true }, (lock) => {
          resolve(lock !== null);
          if (!lock) return undefined;
          return new Promise<void>((done) => leave.set(id, done));
        });
        leaving.set(id, held);
      });
    },
    release(id) {
      leave.get(id)?.();
      leave.delete(id);
    },
    async unclaimed(ids) {
      const { held = [] } = await locks.query();
      const names = new Set(held.map(({ name }) => name));
      return ids.filter((id) => !names.has(nameOf(id)));
    },
  };
}

const SPEAKS_EACH_MS = 1500;
const SILENT_AFTER_MS = 5000;

function bySpeaking(storage: Storage): Claims {
  const speaking = new Map<string, ReturnType<typeof setInterval>>();
  const speak = (id: string): void => storage.setItem(nameOf(id), String(Date.now()));
  const isSilent = (id: string): boolean =>
    Date.now() - Number(storage.getItem(nameOf(id)) ?? 0) > SILENT_AFTER_MS;
  return {
    claim(id) {
      if (speaking.has(id)) return Promise.resolve(true);
      if (!isSilent(id)) return Promise.resolve(false);
      speak(id);
      speaking.set(
        id,
        setInterval(() => speak(id), SPEAKS_EACH_MS),
      );
      return Promise.resolve(true);
    },
    release(id) {
      clearInterval(speaking.get(id));
      speaking.delete(id);
      storage.removeItem(nameOf(id));
    },
    unclaimed: (ids) => Promise.resolve(ids.filter((id) => !speaking.has(id) && isSilent(id))),
  };
}

/** @param locks the platform's, `undefined` where it gives none */
export const makeClaims = (locks: LockManager | undefined, storage: Storage): Claims =>
  locks ? byLocks(locks) : bySpeaking(storage);

let claims: Claims | undefined;

/** The claims of this window. */
export const ownClaims = (): Claims => (claims ??= makeClaims(navigator.locks, localStorage));
