import {
  atOnce,
  keyConflicts,
  showValue,
  takenBy,
  toldApartBy,
  TRIAL_MARK,
  type Cells,
  type Column,
  type KeyChange,
  type KeyGround,
  type PreparedForm,
  type Verdict,
} from '@varn/core';
import type { FormFormula } from '../store/storedForm';
import type { Decision, RecordDecision, WriteSite } from './decision';

/** The records of a write's sheet, among which a key is one record's. */
export const keyGround = ({
  sheet,
  model,
  rows,
}: Pick<WriteSite, 'sheet' | 'model' | 'rows'>): KeyGround => ({
  block: { headingRow: rows.count + 1, columns: sheet.columns },
  model,
  locale: sheet.workbook.locale,
});

/** Numbers that a form goes on with, typed over by one that another record has. */
export function givenTwice(
  form: PreparedForm<FormFormula>,
  cells: Cells,
  recordId: string,
  site: WriteSite,
): Verdict[] {
  return form.inputs.flatMap(({ id, column, block }): Verdict[] => {
    const value = cells[column.id] ?? null;
    if (block.start?.kind !== 'next' || value === null) return [];
    const after = { [column.id]: value };
    const index = site.model.keyIndex([column.id]);
    const [conflict] = atOnce(keyConflicts(index, [{ id: recordId, before: null, after }]));
    if (!conflict) return [];
    const text = showValue(value, column, site.sheet.workbook.locale);
    const problem = takenBy(keyGround(site), conflict.holderId, { text, columns: [column] });
    return [{ fieldId: id, columnId: column.id, problem, strictness: 'refuse' }];
  });
}

/** What a write's decisions do to records. */
export function keyChangesOf(decisions: readonly Decision[]): KeyChange[] {
  return decisions.flatMap((decision) =>
    decision.part === 'record' && decision.kind !== 'recordMoved'
      ? [{ id: decision.record.id, before: decision.before, after: decision.after }]
      : [],
  );
}

/** What a large write does to keys: gathered as it is decided, without the rest of the records. */
export class KeysAhead {
  private readonly gathered: KeyChange[] = [];
  private readonly columnIds: readonly string[];
  private comes = false;

  constructor(columns: readonly Column[]) {
    const told = [...toldApartBy(columns)];
    this.columnIds = told.length > 0 ? [...told, TRIAL_MARK] : [];
  }

  take(decision: RecordDecision): void {
    if (this.columnIds.length === 0 || decision.kind === 'recordMoved') return;
    const { id } = decision.record;
    const [before, after] = [this.keyPart(decision.before), this.keyPart(decision.after)];
    // One that keeps its key is in nobody's way; one that goes leaves it to others.
    if (after === null) this.gathered.push({ id, before: null, after: null });
    else if (before === null || this.columnIds.some((key) => before[key] !== after[key])) {
      this.gathered.push({ id, before, after });
      this.comes = true;
    }
  }

  /** The changes to be judged; none where nothing takes a key. */
  get changes(): readonly KeyChange[] {
    return this.comes ? this.gathered : [];
  }

  private keyPart(cells: Cells | null): Cells | null {
    if (cells === null) return null;
    return Object.fromEntries(this.columnIds.map((id) => [id, cells[id] ?? null]));
  }
}
