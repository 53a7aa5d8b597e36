/**
 * Whether the session ended while one worked. What was typed stays where it is; what was sent
 * waits until one is signed in again.
 */
let isOut = false;
const listeners = new Set<() => void>();

export function setSignedOut(out: boolean): void {
  if (isOut === out) return;
  isOut = out;
  for (const listener of [...listeners]) listener();
}

export const isSignedOut = (): boolean => isOut;

export function onSignedOut(listener: () => void): () => void {
  listeners.add(listener);
  return () => void listeners.delete(listener);
}

export function untilSignedIn(): Promise<void> {
  if (!isOut) return Promise.resolve();
  return new Promise((resolve) => {
    const stop = onSignedOut(() => {
      stop();
      resolve();
    });
  });
}
