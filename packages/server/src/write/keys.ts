import {
  keyConflicts,
  showValue,
  takenBy,
  type Cells,
  type KeyChange,
  type KeyGround,
  type PreparedForm,
  type Verdict,
} from '@varn/core';
import type { FormFormula } from '../store/storedForm';
import type { Decision, WriteSite } from './decision';

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
    const [conflict] = keyConflicts(index, [{ id: recordId, before: null, after }]);
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
