import type { Column, Computing, WrittenFacts } from '../kinds';
import { asTrial } from '../sheet';
import type { Cells, CellValue } from '../values';
import { filledByVarn } from './varn';
import type { Verdict } from './verdict';

interface Facts {
  /** The record as it would be stored: without what is not taken. Blanks are left out. */
  readonly cells: Cells;
  /** As it is stored now; `null` for a new one. */
  readonly before: Cells | null;
  readonly verdicts: readonly Verdict[];
  /** The columns that were given and are taken. */
  readonly taken: ReadonlySet<string>;
}

/**
 * A record that the judge has let through. Nothing else can be stored, and nobody but the judge
 * makes one: its part is private, so that nothing alike is taken for it, a copy neither.
 */
export class Judged {
  private constructor(private readonly facts: Facts) {}

  static of(facts: Facts): Judged {
    return new Judged(facts);
  }

  get cells(): Cells {
    return this.facts.cells;
  }

  get before(): Cells | null {
    return this.facts.before;
  }

  /** What stands in the way, or is noted. Where something does, nothing of it is among the cells. */
  get verdicts(): readonly Verdict[] {
    return this.facts.verdicts;
  }

  get taken(): ReadonlySet<string> {
    return this.facts.taken;
  }

  /** A new record with what Varn fills in, and what is computed of all that as of writing. */
  asNew(
    columns: Iterable<Column>,
    facts: WrittenFacts,
    computing: Computing | undefined,
    isTrial = false,
  ): Judged {
    const filled = { ...this.cells, ...filledByVarn(columns, facts) };
    const judged = new Judged({ ...this.facts, cells: isTrial ? asTrial(filled) : filled });
    return judged.computedAnew(computing);
  }

  /** The same with what is computed as of writing, computed now. */
  computedAnew(computing: Computing | undefined): Judged {
    if (!computing) return this;
    const values = Object.entries(computing.atWriting(this.cells));
    if (values.length === 0) return this;
    const cells: Record<string, CellValue> = { ...this.cells };
    for (const [id, value] of values) {
      if (value === null) Reflect.deleteProperty(cells, id);
      else cells[id] = value;
    }
    return new Judged({ ...this.facts, cells });
  }
}

/** What Varn fills in of a new record before its numbers are taken: what rules may read of it. */
export const filledAhead = (columns: Iterable<Column>, facts: Omit<WrittenFacts, 'nextNumber'>) =>
  filledByVarn(
    [...columns].filter(({ kind }) => kind !== 'runningNumber'),
    { ...facts, nextNumber: null },
  );
