let isDown = false;

addEventListener('pointerdown', () => (isDown = true), true);
for (const end of ['pointerup', 'pointercancel']) {
  addEventListener(end, () => (isDown = false), true);
}

/**
 * Does something that may move the page about, but not while the pointer is down on it: what was
 * pressed would slip away from under it, and the click be lost.
 */
export function afterPointer(work: () => void): void {
  if (!isDown) {
    work();
    return;
  }
  const later = new AbortController();
  for (const end of ['pointerup', 'pointercancel']) {
    addEventListener(
      end,
      () => {
        later.abort();
        // The click comes right after the pointer went up.
        setTimeout(work, 0);
      },
      { signal: later.signal },
    );
  }
}
