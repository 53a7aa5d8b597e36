import type { CheckAnswers, Submit } from '@varn/contract';
import {
  fill,
  prepareForm,
  serialNow,
  type Calculation,
  type Cells,
  type CellValue,
  type Column,
  type ColumnsById,
  type Entered,
  type Evaluator,
  type Filling,
  type PreparedForm,
  type ReadingContext,
} from '@varn/core';
import type { WorkbookFacts } from '../store/catalog';
import type { FormFormula, StoredDefinition } from './storedForm';

/** Computes a form's formulas where all of the workbook is at hand. */
export class FormEvaluator implements Evaluator<FormFormula> {
  /** @param formulas of computed columns that are in no sheet yet, by column id */
  constructor(
    private readonly calculation: Calculation,
    private readonly sheetId: string,
    private readonly columns: readonly Column[],
    private readonly formulas: Readonly<Record<string, FormFormula>> = {},
  ) {}

  value(formula: FormFormula, cells: Cells): CellValue {
    if ('unread' in formula) return { error: '#NAME?' };
    return this.calculation.valueOver(this.sheetId, formula, cells);
  }

  outcomes(formula: FormFormula, cells: Cells): readonly CellValue[] {
    if ('unread' in formula) return [{ error: '#NAME?' }];
    return this.calculation.outcomesOver(this.sheetId, formula, cells);
  }

  /** Columns that read others come after them: as often as they are deep is enough. */
  computed(cells: Cells): Record<string, CellValue> {
    const computed = this.columns.flatMap(({ id, settings }) => {
      const formula = this.formulas[id] ?? settings.formula;
      return formula ? [{ id, formula }] : [];
    });
    let values: Record<string, CellValue> = {};
    for (let round = 0; round < computed.length; round += 1) {
      const all = { ...cells, ...values };
      const next = Object.fromEntries(
        computed.map(({ id, formula }) => [id, this.value(formula, all)]),
      );
      const isSettled = computed.every(({ id }) => next[id] === values[id]);
      values = next;
      if (isSettled) break;
    }
    return values;
  }
}

const prepared = new WeakMap<
  StoredDefinition,
  { columns: ColumnsById; form: PreparedForm<FormFormula> }
>();

/** A form made ready, and kept so while neither it nor its sheet's columns change. */
export function preparedForm(
  definition: StoredDefinition,
  columns: ColumnsById,
): PreparedForm<FormFormula> {
  const held = prepared.get(definition);
  if (held?.columns === columns) return held.form;
  const form = prepareForm(definition, columns);
  prepared.set(definition, { columns, form });
  return form;
}

/** What was filled in, as core takes it. */
export const enteredIn = ({
  answers,
  untouched = [],
  meant = [],
}: Submit | CheckAnswers): Entered => ({
  answers,
  untouched: new Set(untouched),
  meant: new Set(meant),
});

/** By how much a browser's clock may be ahead before it is not believed. */
const AHEAD_MS = 60_000;

/** The serial of the moment Submit was pressed, or else of now, in the workbook's zone. */
export function momentOf(
  { pressedAt = Infinity }: Pick<Submit, 'pressedAt'>,
  { timeZone }: WorkbookFacts,
): number {
  const now = Date.now();
  return serialNow(pressedAt > now + AHEAD_MS ? now : pressedAt, timeZone);
}

/** What a filled form comes to, formulas that read other cells included. */
export function fillStored(
  form: PreparedForm<FormFormula>,
  entered: Entered,
  context: ReadingContext,
  evaluator: FormEvaluator | null,
): Filling {
  return fill(form, entered, context, form.hasFormulas ? evaluator : null);
}
