import { formulaProblem, sayFormulaProblem } from '@varn/core';
import { Line } from '../ui/controls';
import type { Composing } from './useCompose';

interface FormulaLineProps {
  readonly composing: Composing;
  readonly label: string;
  readonly hint?: string;
  readonly value: string;
  readonly onPut: (formula: string) => void;
}

/** A line for a formula, with what is wrong with it under it. */
export function FormulaLine({ composing, label, hint, value, onPut }: FormulaLineProps) {
  const problem = value === '' ? null : formulaProblem(value, composing.ground);
  return (
    <Line
      label={label}
      {...(hint !== undefined && { hint })}
      mono
      value={value}
      problem={problem ? sayFormulaProblem(problem) : undefined}
      onPut={(text) => onPut(text.trim().replace(/^=\s*/, ''))}
    />
  );
}
