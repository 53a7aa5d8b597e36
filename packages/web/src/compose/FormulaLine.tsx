import { comparedBySize, formulaProblem, sayFormulaProblem, sayOpenWhileBlank } from '@varn/core';
import { Line } from '../ui/controls';
import type { Composing } from './useCompose';

interface FormulaLineProps {
  readonly composing: Composing;
  readonly label: string;
  readonly hint?: string;
  /** Whether it is a condition or a message, which wait for what they compare. */
  readonly waits?: boolean;
  readonly value: string;
  readonly onPut: (formula: string) => void;
}

/** A line for a formula, with what is wrong with it under it. */
export function FormulaLine(props: FormulaLineProps) {
  const { composing, label, hint, waits = false, value, onPut } = props;
  const problem = value === '' ? null : formulaProblem(value, composing.ground);
  const waitsFor = waits && value !== '' ? comparedBySize(value, composing.ground) : [];
  const about = [hint, waitsFor.length > 0 ? sayOpenWhileBlank(waitsFor) : undefined]
    .filter((each) => each !== undefined)
    .join(' ');
  return (
    <Line
      label={label}
      {...(about !== '' && { hint: about })}
      mono
      value={value}
      problem={problem ? sayFormulaProblem(problem) : undefined}
      onPut={(text) => onPut(text.trim().replace(/^=\s*/, ''))}
    />
  );
}
