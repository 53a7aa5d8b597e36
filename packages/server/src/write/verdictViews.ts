import type { VerdictView } from '@varn/contract';
import { sayProblem, type Verdict } from '@varn/core';

/** Verdicts as the API tells them, each with its sentence. */
export function verdictViews(verdicts: readonly Verdict[]): VerdictView[] {
  return verdicts.map(({ fieldId, columnId, problem, strictness }) => ({
    fieldId,
    columnId,
    code: problem.code,
    message: sayProblem(problem),
    strictness,
    ...(problem.code === 'keyTaken' && { row: problem.row }),
  }));
}
