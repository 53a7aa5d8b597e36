import type { CellNote } from '@varn/contract';
import { fieldProblem, sayProblem, type ColumnsById } from '@varn/core';
import { preparedForm } from '../calculation/formEvaluator';
import type { FormFacts } from '../store/catalog';
import type { Decision, WriteSite } from './decision';

/** What is told of one write; more than a few say no more. */
const MOST_NOTES = 5;
/** Cells that are looked at for it. */
const MOST_LOOKED_AT = 20_000;

/** Values that a write of the grid brings and that a form of the sheet, in use, would not take. */
export function formNotes(
  forms: readonly FormFacts[],
  { sheet, now }: Pick<WriteSite, 'sheet' | 'now'>,
  decisions: readonly Decision[],
): CellNote[] {
  const fields = fieldsOf(forms, sheet.columnsById);
  if (fields.size === 0) return [];
  const context = { locale: sheet.workbook.locale, now };
  const notes: CellNote[] = [];
  const said = new Set<string>();
  let looked = 0;
  for (const decision of decisions) {
    if (decision.part !== 'record' || decision.kind === 'recordMoved' || !decision.after) continue;
    for (const [column, value] of Object.entries(decision.after)) {
      if (value === null || value === decision.before?.[column]) continue;
      for (const { form, input } of fields.get(column) ?? []) {
        looked += 1;
        if (looked > MOST_LOOKED_AT || notes.length >= MOST_NOTES) return notes;
        const problem = fieldProblem(input, value, context);
        const message = problem ? `‘${form}’ would not take it: ${sayProblem(problem)}` : '';
        if (message === '' || said.has(message)) continue;
        said.add(message);
        notes.push({ column, message });
      }
    }
  }
  return notes;
}

type FormField = {
  readonly form: string;
  readonly input: ReturnType<typeof preparedForm>['inputs'][number];
};

/** The fields that have something to say, by their column. */
function fieldsOf(forms: readonly FormFacts[], columns: ColumnsById): Map<string, FormField[]> {
  const fields = new Map<string, FormField[]>();
  for (const { name, version, definition } of forms) {
    if (version === 0) continue;
    for (const input of preparedForm(definition, columns).inputs) {
      if (!input.control.check && !input.block.limits) continue;
      const held = fields.get(input.column.id) ?? [];
      fields.set(input.column.id, held);
      held.push({ form: name, input });
    }
  }
  return fields;
}
