/**
 * Whether the server asked to come again later, as it has more to do than it can keep in line.
 * Nothing of what was asked was begun, so it is asked again by itself.
 */
let waiting = 0;
const listeners = new Set<() => void>();

function count(change: number): void {
  waiting += change;
  for (const listener of [...listeners]) listener();
}

/** Waits as long as the server asked for, and a little more, so that not all come at once. */
export async function waitWhileBusy(seconds: number): Promise<void> {
  count(1);
  await new Promise((resolve) => setTimeout(resolve, seconds * 1000 * (1 + Math.random() / 2)));
  count(-1);
}

export const isBusy = (): boolean => waiting > 0;

export function onBusy(listener: () => void): () => void {
  listeners.add(listener);
  return () => void listeners.delete(listener);
}
