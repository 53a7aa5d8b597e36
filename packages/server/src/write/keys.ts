import {
  keyColumnsOf,
  keyConflicts,
  rowOfPosition,
  showValue,
  type Cells,
  type KeyChange,
  type PreparedForm,
  type Problem,
  type Verdict,
} from '@varn/core';
import type { FormFormula } from '../store/storedForm';
import type { Decision, WriteSite } from './decision';

/** A record of a write whose key is another's. */
export interface TakenKey {
  /** Which of the changes. */
  readonly at: number;
  readonly columnId: string;
  readonly problem: Problem;
}

const LONGEST_NAME = 40;

/** What stands in the way: whose the value is, and where. */
function takenBy(
  { sheet, model, rows }: Pick<WriteSite, 'sheet' | 'model' | 'rows'>,
  holderId: string,
  text: string,
): Problem {
  const isStored = model.has(holderId);
  const cells = isStored ? model.get(holderId).cells : {};
  // A record is called by its first text that is not its key.
  const named = sheet.columns.find(({ id, settings }) => {
    return settings.key !== true && typeof cells[id] === 'string' && cells[id] !== text;
  });
  const { locale } = sheet.workbook;
  const holder = named ? showValue(cells[named.id] ?? null, named, locale) : '';
  const position = isStored ? model.positionOf(holderId) : model.count;
  const row = rowOfPosition({ headingRow: rows.count + 1 }, position);
  return { code: 'keyTaken', text, holder: shortened(holder), row };
}

/** Numbers that a form goes on with, typed over by one that another record has. */
export function givenTwice(
  form: PreparedForm<FormFormula>,
  cells: Cells,
  recordId: string,
  site: Pick<WriteSite, 'sheet' | 'model' | 'rows'>,
): Verdict[] {
  return form.inputs.flatMap(({ id, column, block }): Verdict[] => {
    const value = cells[column.id] ?? null;
    if (block.start?.kind !== 'next' || value === null) return [];
    const after = { [column.id]: value };
    const index = site.model.keyIndex([column.id]);
    const [conflict] = keyConflicts(index, [{ id: recordId, before: null, after }]);
    if (!conflict) return [];
    const text = showValue(value, column, site.sheet.workbook.locale);
    const problem = takenBy(site, conflict.holderId, text);
    return [{ fieldId: id, columnId: column.id, problem }];
  });
}

/** The changes of a write that would give two records of its sheet one key, each with why. */
export function takenKeys(
  { sheet, model, rows }: Pick<WriteSite, 'sheet' | 'model' | 'rows'>,
  changes: readonly KeyChange[],
): TakenKey[] {
  const columns = keyColumnsOf(sheet.columns);
  const [first] = columns;
  if (!first || changes.length === 0) return [];
  const index = model.keyIndex(columns.map(({ id }) => id));
  const { locale } = sheet.workbook;
  return keyConflicts(index, changes).map(({ at, holderId }) => {
    const after = changes[at]?.after ?? {};
    const text = columns
      .map((column) => showValue(after[column.id] ?? null, column, locale))
      .filter((each) => each !== '')
      .join(', ');
    const problem = takenBy({ sheet, model, rows }, holderId, text);
    return { at, columnId: first.id, problem };
  });
}

const shortened = (name: string): string =>
  name.length > LONGEST_NAME ? `${name.slice(0, LONGEST_NAME - 1)}…` : name;

/** What a write's decisions do to records. */
export function keyChangesOf(decisions: readonly Decision[]): KeyChange[] {
  return decisions.flatMap((decision) =>
    decision.part === 'record' && decision.kind !== 'recordMoved'
      ? [{ id: decision.record.id, before: decision.before, after: decision.after }]
      : [],
  );
}
