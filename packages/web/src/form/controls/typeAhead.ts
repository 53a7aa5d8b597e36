import { foldText } from '@varn/core';
import { useRef, type KeyboardEvent } from 'react';

/** How long letters go on being one word, in milliseconds. */
const PAUSE_MS = 800;

/**
 * The choice that typed letters or figures mean: one that is just that, else the first that begins
 * with it, else, of a single figure, the choice at that place. One letter again and again goes
 * through all that begin with it.
 *
 * @param chosen the choice that stands now, -1 for none
 * @returns its place, or -1
 */
export function choiceTyped(choices: readonly string[], typed: string, chosen: number): number {
  const text = foldText(typed);
  const folded = choices.map(foldText);
  const exact = folded.indexOf(text);
  if (exact >= 0) return exact;
  const [letter = ''] = text;
  const isAgain = text.length > 1 && text === letter.repeat(text.length);
  const begins = (start: string, from: number): number =>
    folded.findIndex((choice, at) => at >= from && choice.startsWith(start));
  const found = begins(text, 0);
  if (found >= 0) return found;
  if (isAgain) {
    const next = begins(letter, chosen + 1);
    return next >= 0 ? next : begins(letter, 0);
  }
  const figure = /^[1-9]$/.test(text) ? Number(text) : 0;
  return figure > 0 && figure <= choices.length ? figure - 1 : -1;
}

/**
 * Answers a set of radio buttons by what is typed on it. To be heard on what holds them all.
 *
 * @param choices what each says, in their order
 */
export function useTypeAhead(
  choices: readonly string[],
  chosen: number,
  onPick: (at: number) => void,
): (event: KeyboardEvent) => void {
  const typed = useRef({ text: '', at: 0 });
  return (event) => {
    const { key, ctrlKey, metaKey, altKey, timeStamp } = event;
    if (key.length !== 1 || ctrlKey || metaKey || altKey) return;
    if ((event.target as HTMLInputElement).type !== 'radio') return;
    const before = timeStamp - typed.current.at < PAUSE_MS ? typed.current.text : '';
    if (key === ' ' && before === '') return;
    const text = before + key;
    const goingOn = choiceTyped(choices, text, chosen);
    const at = goingOn >= 0 || before === '' ? goingOn : choiceTyped(choices, key, chosen);
    typed.current = { text: goingOn >= 0 ? text : key, at: timeStamp };
    event.preventDefault();
    if (at < 0) return;
    onPick(at);
    event.currentTarget.querySelectorAll<HTMLElement>('input[type=radio]')[at]?.focus();
  };
}
