import type { Kept } from '@varn/core';
import type { OwnStore } from '../api/ownStore';

const nameOf = (formId: string): string => `kept.${formId}`;

interface StoredKept {
  readonly day: number;
  readonly answers: Kept;
}

/** What was typed over starting values that are kept, until the day changes. */
export function readKept(own: OwnStore, formId: string, today: number): Kept {
  const held = own.read(nameOf(formId)) as StoredKept | null;
  return held?.day === today ? held.answers : {};
}

export function storeKept(own: OwnStore, formId: string, today: number, answers: Kept): void {
  const isEmpty = Object.keys(answers).length === 0;
  own.store(nameOf(formId), isEmpty ? null : { day: today, answers });
}
