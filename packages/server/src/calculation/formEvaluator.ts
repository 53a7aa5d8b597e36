import type { CheckAnswers, Submit } from '@varn/contract';
import {
  Budget,
  fill,
  isSame,
  prepareForm,
  serialNow,
  stepsTaken,
  type Calculation,
  type Cells,
  type CellValue,
  type Column,
  type ColumnsById,
  type Computing,
  type Entered,
  type Evaluator,
  type Filling,
  type PreparedForm,
  type ReadingContext,
} from '@varn/core';
import type { WorkbookFacts } from '../store/catalog';
import type { FormFormula, StoredDefinition } from '../store/storedForm';

/** Computes a form's formulas where all of the workbook is at hand. */
export class FormEvaluator implements Evaluator<FormFormula> {
  private last: { cells: Cells; values: Record<string, CellValue> } | undefined;
  private readonly values: Known<CellValue> = new Map();
  private readonly decided: Known<readonly CellValue[]> = new Map();

  constructor(
    private readonly calculation: Calculation,
    private readonly sheetId: string,
    private readonly columns: readonly Column<FormFormula>[],
  ) {}

  value(formula: FormFormula, cells: Cells): CellValue {
    if ('unread' in formula) return { error: '#NAME?' };
    return this.once(this.values, formula, cells, () =>
      this.calculation.valueOver(this.sheetId, formula, cells),
    );
  }

  within<T>(work: () => T): T {
    return new Budget().run(work);
  }

  outcomes(formula: FormFormula, cells: Cells): readonly CellValue[] {
    if ('unread' in formula) return [{ error: '#NAME?' }];
    return this.once(this.decided, formula, cells, () =>
      this.calculation.outcomesOver(this.sheetId, formula, cells),
    );
  }

  computed(cells: Cells): Record<string, CellValue> {
    // Settling a form asks for the same again and again.
    if (this.last && isSame(this.last.cells, cells)) return this.last.values;
    const all: Record<string, CellValue> = { ...cells };
    const values: Record<string, CellValue> = {};
    for (const { id, formula } of this.inOrder()) {
      const value = this.value(formula, all);
      values[id] = value;
      all[id] = value;
    }
    this.last = { cells, values };
    return values;
  }

  reads(columnId: string): string[] {
    const formulas = new Map(this.columns.map(({ id, settings }) => [id, settings.formula]));
    const found = new Set<string>();
    const begun = new Set<string>();
    const put = (id: string): void => {
      const formula = formulas.get(id);
      if (!formula) found.add(id);
      else if (!begun.has(id)) {
        begun.add(id);
        readByRecord(formula).forEach(put);
      }
    };
    put(columnId);
    return [...found];
  }

  /** What took long is computed once for what it reads of the record. */
  private once<T>(known: Known<T>, formula: FormFormula, cells: Cells, compute: () => T): T {
    const key = (): string => JSON.stringify(readByRecord(formula).map((id) => cells[id] ?? null));
    const last = known.get(formula);
    if (last && last.of === key()) return last.value;
    const before = stepsTaken();
    const value = compute();
    if (stepsTaken() - before >= LONG_STEPS) known.set(formula, { value, of: key() });
    return value;
  }

  /** The computed columns, each after those it reads of the record. */
  private inOrder(): readonly ComputedColumn[] {
    const known = orders.get(this.columns);
    if (known) return known;
    const computed = new Map(
      this.columns.flatMap(({ id, settings: { formula } }) =>
        formula ? [[id, { id, formula }] as const] : [],
      ),
    );
    const order = new Set<ComputedColumn>();
    const begun = new Set<string>();
    const put = (column: ComputedColumn): void => {
      if (begun.has(column.id)) return;
      begun.add(column.id);
      for (const id of readByRecord(column.formula)) {
        const read = computed.get(id);
        if (read) put(read);
      }
      order.add(column);
    };
    for (const column of computed.values()) put(column);
    const found = [...order];
    orders.set(this.columns, found);
    return found;
  }
}

/** What took so many steps is worth keeping. */
const LONG_STEPS = 1000;

/** What formulas gave last, with what they had read of the record. */
type Known<T> = Map<FormFormula, { readonly value: T; readonly of: string }>;

interface ComputedColumn {
  readonly id: string;
  readonly formula: FormFormula;
}

/** By a sheet's columns: the computed ones in order. */
const orders = new WeakMap<readonly Column<FormFormula>[], readonly ComputedColumn[]>();

/** What the computed columns of a sheet come to; `null` where it has none. */
export function computingOf(
  sheetId: string,
  columns: readonly Column<FormFormula>[],
  calculation: Calculation | null,
): Computing | null {
  const computed = columns.filter(({ settings }) => settings.formula !== undefined);
  if (!calculation || computed.length === 0) return null;
  const isStored = computed.some(({ settings }) => settings.follows !== true);
  const evaluator = new FormEvaluator(calculation, sheetId, columns);
  return {
    values: (cells) => evaluator.computed(cells),
    reads: (columnId) => evaluator.reads(columnId),
    atWriting: (cells) => (isStored ? calculation.computedAtWriting(sheetId, cells) : NO_CELLS),
  };
}

const NO_CELLS: Cells = {};

/** The columns a formula reads of the record itself. */
const readByRecord = (formula: FormFormula): string[] =>
  'unread' in formula
    ? []
    : formula.references.flatMap((each) => (each.kind === 'field' ? [each.column] : []));

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
