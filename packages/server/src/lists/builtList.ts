import { LiveList, type ErrorValue } from '@varn/core';
import type { Asker } from '../turns/asker';
import { Pace } from '../turns/turns';
import { TooMuchWork, type Source } from './sourceRows';

export interface BuiltList {
  /** `null` where there is nothing to offer for a reason. */
  readonly live: LiveList | null;
  readonly problem: ErrorValue | null;
  /** How long it took, in milliseconds, what others did meanwhile left out. */
  readonly spent: number;
}

/** Builds a list from its source as it stands, in turns with others; gives up what takes too long. */
export async function builtList(source: Source, asker: Asker | null = null): Promise<BuiltList> {
  const problem = source.problem();
  if (problem) return { live: null, problem, spent: 0 };
  const pace = new Pace(asker);
  const steps = LiveList.build(source.rows(), source.shape);
  try {
    for (;;) {
      const step = steps.next();
      await pace.keep();
      if (step.done === true) return { live: step.value, problem: null, spent: pace.spent };
    }
  } catch (error) {
    if (!(error instanceof TooMuchWork)) throw error;
    const { done, rows } = error;
    const seconds = Math.max(1, Math.round((pace.spent / 1000) * (rows / done)));
    const why = { code: 'slowList', seconds, rows } as const;
    return { live: null, problem: { error: '#NUM!', why }, spent: pace.spent };
  }
}
