/** The class by which Escape finds the bar. */
export const BAR = 'varn-bar';

/** Moves the focus to the bar of the place, where single keys act. */
export function focusBar(): void {
  document.querySelector<HTMLElement>(`.${BAR} button`)?.focus();
}

export const isBarFocused = (): boolean =>
  document.activeElement?.closest(`.${BAR}`) !== null && document.activeElement !== null;
