import type { Kept } from '@varn/core';

const keyOf = (formId: string): string => `varn.kept.${formId}`;

interface StoredKept {
  readonly day: number;
  readonly answers: Kept;
}

/** What was typed over starting values that are kept, until the day changes. */
export function readKept(formId: string, today: number): Kept {
  const text = localStorage.getItem(keyOf(formId));
  if (text === null) return {};
  const { day, answers } = JSON.parse(text) as StoredKept;
  return day === today ? answers : {};
}

export function storeKept(formId: string, today: number, answers: Kept): void {
  if (Object.keys(answers).length === 0) localStorage.removeItem(keyOf(formId));
  else localStorage.setItem(keyOf(formId), JSON.stringify({ day: today, answers }));
}
