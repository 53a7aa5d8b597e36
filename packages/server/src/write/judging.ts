import type { CellNote } from '@varn/contract';
import {
  filledAhead,
  isNote,
  sayProblem,
  type Cells,
  type Judged,
  type RecordGround,
  type Verdict,
} from '@varn/core';
import { newId } from '../ids';
import { added, type CellsDecision, type WriteSite } from './decision';

/** What is told of one write; more than a few say no more. */
const MOST_NOTES = 5;

/** What every door has the judge hold a record against. */
export const groundOf = ({ sheet, context }: WriteSite): RecordGround => ({
  columns: sheet.columnsById,
  context,
});

/** Who writes a new record, and what it says of its door. */
export interface Origin {
  readonly by: string;
  readonly door: string;
}

/** What Varn fills in of a new record, before it is known whether it gets numbers. */
export const filledOf = ({ sheet, now }: WriteSite, { by, door }: Origin): Cells =>
  filledAhead(sheet.columns, { by, at: now, door });

/** A record that the judge let through, as it is first written; a trial takes no number. */
export function newRecord(
  { sheet, context, now, takeNumber }: WriteSite,
  judged: Judged,
  orderKey: number,
  { by, door, trial = false }: Origin & { readonly trial?: boolean },
): CellsDecision {
  const facts = { by, at: now, door, nextNumber: trial ? null : takeNumber };
  const whole = judged.asNew(sheet.columns, facts, context.computing, trial);
  return added(whole, { id: newId(), orderKey });
}

/** A few of the things that are noted of what is stored all the same. */
export class Notes {
  readonly told: CellNote[] = [];

  take(verdicts: readonly Verdict[]): void {
    for (const { columnId: column, problem } of verdicts.filter(isNote)) {
      if (this.told.length >= MOST_NOTES) return;
      const message = sayProblem(problem);
      const isTold = this.told.some((note) => note.message === message);
      if (!isTold) this.told.push({ column, message });
    }
  }
}
