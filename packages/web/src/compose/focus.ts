/** Goes to a block's frame once it is there. */
export function focusFrameOf(blockId: string): void {
  requestAnimationFrame(() =>
    document.querySelector<HTMLElement>(`[data-frame="${CSS.escape(blockId)}"]`)?.focus(),
  );
}

/** Goes to an empty line: the one at the end, or the one after a block. */
export function focusAddLine(at: string): void {
  requestAnimationFrame(() =>
    document.querySelector<HTMLElement>(`[data-add-line="${at}"]`)?.focus(),
  );
}
