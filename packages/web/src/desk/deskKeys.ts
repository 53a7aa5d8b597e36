import type { FormView } from '@varn/contract';
import type { KeyboardEvent } from 'react';
import { focusNextField } from '../form/focus';
import type { Desk } from './useDesk';
import type { DeskPlace } from './useDeskPlace';

interface DeskKeys {
  readonly form: FormView;
  readonly desk: Desk;
  readonly place: DeskPlace;
}

/**
 * Enter goes on to the next field, or submits; with Ctrl it submits from anywhere. PageUp and
 * PageDown step through the records, but in what uses these keys itself.
 */
export function deskKey(
  event: KeyboardEvent,
  { form: { definition }, desk, place }: DeskKeys,
): void {
  const target = event.target as HTMLElement;
  if (event.defaultPrevented) return;
  if (!usesPages(target) && stepByKey(event, desk, place)) return;
  if (event.key !== 'Enter') return;
  if (event.ctrlKey || event.metaKey) {
    event.preventDefault();
    if (event.repeat) return;
    if (event.shiftKey) desk.submitAndStep();
    else desk.submit();
  } else if (target.tagName !== 'TEXTAREA' && target.dataset['field'] !== undefined) {
    if (target.tagName === 'BUTTON') return;
    event.preventDefault();
    if (definition.entering?.enter === 'submits') desk.submit();
    else focusNextField(target);
  }
}

/** Steps back or on where that key was pressed. @returns whether it was */
export function stepByKey(
  event: Pick<globalThis.KeyboardEvent, 'key' | 'repeat' | 'preventDefault'>,
  { busy }: Desk,
  place: DeskPlace,
): boolean {
  if (event.key !== 'PageUp' && event.key !== 'PageDown') return false;
  event.preventDefault();
  if (!busy && !event.repeat) place.step(event.key === 'PageUp' ? 'back' : 'on');
  return true;
}

/** Whether what has the focus goes through pages of its own. */
const usesPages = (target: HTMLElement): boolean =>
  target.tagName === 'TEXTAREA' ||
  target.getAttribute('aria-expanded') === 'true' ||
  target.closest('[role=dialog], [role=grid], [role=listbox], [role=slider]') !== null;
