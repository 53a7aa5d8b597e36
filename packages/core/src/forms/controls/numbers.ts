import { quote, type CellValue, type Problem, type Sentences } from '../../values';
import type { Control } from './control';

declare module '../../values/problem' {
  interface Problems {
    noStep: { readonly text: string; readonly from: number; readonly to: number };
  }
}

export const STEP_SENTENCES: Sentences<'noStep'> = {
  noStep: ({ text, from, to }) =>
    `${quote(text)} is not a step from ${from} to ${to}. Choose one of them.`,
};

export const number: Control = {
  id: 'number',
  label: 'Number with steps',
  kinds: ['number', 'wholeNumber', 'money'],
  takes: ['step'],
  ownCharacters: 10,
};

/** The ends of steps where the form says nothing. A scale has none: the form says them. */
export const USUAL_STEPS = { from: 1, to: 5 };
/** More steps than this would stand too close on a phone. */
export const MOST_STEPS = 20;

function stepProblem(value: CellValue, from: number, to: number): Problem | null {
  const step = typeof value === 'number' ? value : NaN;
  if (Number.isInteger(step) && step >= from && step <= to) return null;
  return { code: 'noStep', text: String(step), from, to };
}

export const steps: Control = {
  id: 'steps',
  label: 'Steps',
  kinds: ['wholeNumber', 'number'],
  takes: ['from', 'to', 'figures'],
  ownCharacters: 24,
  check: (value, { from = USUAL_STEPS.from, to = USUAL_STEPS.to }) => stepProblem(value, from, to),
};

export const scale: Control = {
  id: 'scale',
  label: 'Scale',
  kinds: ['wholeNumber', 'number'],
  takes: ['from', 'to', 'ends'],
  ownCharacters: 40,
  span: 6,
  check: (value, { from, to }) =>
    from === undefined || to === undefined ? null : stepProblem(value, from, to),
};
