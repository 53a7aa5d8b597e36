let isDown = false;
const ENDS = ['pointerup', 'pointercancel'] as const;

addEventListener('pointerdown', () => (isDown = true), true);
for (const end of ENDS) addEventListener(end, () => (isDown = false), true);

/**
 * Does something that may move the page about, but not while the pointer is down on it: what was
 * pressed would slip away from under it, and the click be lost.
 */
export function afterPointer(work: () => void): void {
  // The click comes right after the pointer went up.
  onceUp(() => setTimeout(work, 0), work);
}

/**
 * The same where the click is about what is done: it happens as the pointer goes up, when it is
 * settled already what was pressed, and before that acts.
 */
export function beforeClick(work: () => void): void {
  onceUp(work, work);
}

function onceUp(then: () => void, atOnce: () => void): void {
  if (!isDown) {
    atOnce();
    return;
  }
  const later = new AbortController();
  const up = (): void => {
    later.abort();
    then();
  };
  for (const end of ENDS) addEventListener(end, up, { signal: later.signal, capture: true });
}
