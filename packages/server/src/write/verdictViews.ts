import type { VerdictView } from '@varn/contract';
import { sayProblem, type Verdict } from '@varn/core';
import { Refused } from '../http/refused';

/** Verdicts that are told of one write. */
const MOST_TOLD = 100;

/** The judge's word on what a write does as a whole. @throws Refused 422 where a key is another's */
export function refuseTaken(verdicts: readonly Verdict[]): void {
  if (verdicts.length > 0) throw Refused.byVerdicts(verdictViews(verdicts.slice(0, MOST_TOLD)));
}

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
