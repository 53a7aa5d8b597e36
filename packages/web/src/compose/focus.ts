/** Goes to a block's frame once it is there. */
export function focusFrameOf(blockId: string): void {
  requestAnimationFrame(() =>
    document.querySelector<HTMLElement>(`[data-frame="${CSS.escape(blockId)}"]`)?.focus(),
  );
}

/** Scrolls to a block that was added, where it is out of view; the focus stays. */
export function showFrameOf(blockId: string): void {
  requestAnimationFrame(() =>
    document
      .querySelector(`[data-frame="${CSS.escape(blockId)}"]`)
      ?.scrollIntoView({ block: 'nearest' }),
  );
}

/** Goes to an empty line: the one at the end, or the one after a block. */
export function focusAddLine(at: string): void {
  requestAnimationFrame(() =>
    document.querySelector<HTMLElement>(`[data-add-line="${at}"]`)?.focus(),
  );
}
