import type { KeyboardEvent } from 'react';

const STOPS = 'input, button, select, textarea, [tabindex="0"]';

/** Keeps Tab within a part of the page: behind its last stop comes the first. */
export function tabWithin(event: KeyboardEvent, part: HTMLElement | null): void {
  if (event.key !== 'Tab' || !part) return;
  event.preventDefault();
  const stops = [...part.querySelectorAll<HTMLElement>(STOPS)].filter(
    (stop) => stop.tabIndex >= 0 && !stop.matches(':disabled') && stop.checkVisibility(),
  );
  const at = stops.indexOf(document.activeElement as HTMLElement);
  stops[(at + (event.shiftKey ? -1 : 1) + stops.length) % stops.length]?.focus();
}
