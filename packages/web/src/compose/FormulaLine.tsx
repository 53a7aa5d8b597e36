import { Button } from '@chakra-ui/react';
import {
  comparedBySize,
  formulaProblem,
  sayFormulaProblem,
  sayOpenWhileBlank,
  withApostrophes,
} from '@varn/core';
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

/** A line for a formula, with what is wrong with it under it, and headings in apostrophes offered. */
export function FormulaLine(props: FormulaLineProps) {
  const { composing, label, hint, waits = false, value, onPut } = props;
  const problem = value === '' ? null : formulaProblem(value, composing.ground);
  const waitsFor = waits && value !== '' ? comparedBySize(value, composing.ground) : [];
  const about = [hint, waitsFor.length > 0 ? sayOpenWhileBlank(waitsFor) : undefined]
    .filter((each) => each !== undefined)
    .join(' ');
  const mended = problem && withApostrophes(value, composing.ground);
  return (
    <>
      <Line
        label={label}
        {...(about !== '' && { hint: about })}
        mono
        value={value}
        problem={problem ? sayFormulaProblem(problem) : undefined}
        onPut={(text) => onPut(text.trim().replace(/^=\s*/, ''))}
      />
      {mended !== null && (
        <Button size="xs" variant="outline" alignSelf="start" onClick={() => onPut(mended)}>
          Use {mended}
        </Button>
      )}
    </>
  );
}
