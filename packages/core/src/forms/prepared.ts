import { ruledColumns } from '../rules';
import type { Cells, CellValue } from '../values';
import { isErrorValue } from '../values';
import { isEntry, type ColumnsById, type FormDefinition } from './definition';
import { formulasOf } from './formulas';
import { inputsOf, type Input } from './inputs';

/** Computes a form's formulas over the cells of the record that is being filled in. */
export interface Evaluator<F> {
  value(formula: F, cells: Cells): CellValue;
  /**
   * All that a condition or a message can come to: one value when it is decided, several or none
   * while it compares an answer by size that is still blank.
   */
  outcomes(formula: F, cells: Cells): readonly CellValue[];
  /** What the computed columns of the sheet give for these cells, by column id. */
  computed(cells: Cells): Record<string, CellValue>;
  /** The typed columns that a computed one is made of. */
  reads(columnId: string): readonly string[];
  /**
   * Whether what is known of a formula is older than these cells: it reads elsewhere, or reads one
   * of the columns that wait. Absent where all is at hand.
   */
  waits?(formula: F, cells: Cells, waiting: ReadonlySet<string>): boolean;
  /** The computed columns of which that is so. */
  waitingColumns?(cells: Cells, waiting: ReadonlySet<string>): string[];
  /** Runs work done at each key, and in a write: its formulas together take no more than one may. */
  within<T>(work: () => T): T;
}

/** A form made ready to be filled in again and again. */
export interface PreparedForm<F> {
  readonly definition: FormDefinition<F>;
  readonly columns: ColumnsById;
  readonly inputs: readonly Input<F>[];
  /** The sheet's columns, with the rules of fields added to those they write. */
  readonly ruled: ColumnsById;
  /** The conditions that must hold for a block to be there: its own, its section's, its page's. */
  readonly conditions: ReadonlyMap<string, readonly F[]>;
  /** Whether it is filled in with formulas: its own, or of computed columns that rules read. */
  readonly hasFormulas: boolean;
}

/** Looks through a form once for all that filling it in needs. */
export function prepareForm<F>(
  definition: FormDefinition<F>,
  columns: ColumnsById,
): PreparedForm<F> {
  const inputs = inputsOf(definition, columns);
  const ruled = new Map(columns);
  for (const { column, ruled: withOwn } of inputs) ruled.set(column.id, withOwn);
  const readsComputed = ruledColumns(ruled).some(({ computed }) => computed.length > 0);
  return {
    definition,
    columns,
    inputs,
    ruled,
    conditions: conditionsOf(definition),
    hasFormulas: formulasOf(definition).length > 0 || readsComputed,
  };
}

/**
 * A heading's condition holds for all that stands under it, to the next heading or page; a page's
 * for all of the page.
 */
function conditionsOf<F>({ blocks }: FormDefinition<F>): Map<string, readonly F[]> {
  const conditions = new Map<string, readonly F[]>();
  let page: readonly F[] = [];
  let section: readonly F[] = [];
  for (const block of blocks) {
    const own = block.shownWhen === undefined ? [] : [block.shownWhen];
    if (block.is === 'page') {
      page = own;
      section = [];
    } else if (block.is === 'heading') section = own;
    const around = block.is === 'page' ? [] : block.is === 'heading' ? page : [...page, ...section];
    const all = [...around, ...own];
    if (all.length > 0) conditions.set(block.id, all);
  }
  return conditions;
}

/** Whether a condition lets its block be there. One that fails hides nothing; one that is not decided yet does. */
function lets<F>(condition: F, cells: Cells, evaluator: Evaluator<F>): boolean {
  const outcomes = evaluator.outcomes(condition, cells);
  return outcomes.length > 0 && outcomes.every((value) => isErrorValue(value) || holds(value));
}

function holds(value: CellValue): boolean {
  return typeof value === 'string'
    ? value !== ''
    : value !== null && value !== 0 && value !== false;
}

/** The blocks whose conditions hold over these cells. */
export function shownBlocks<F>(
  { definition, conditions }: PreparedForm<F>,
  cells: Cells,
  evaluator: Evaluator<F> | null,
): Set<string> {
  const shown = new Set<string>();
  for (const { id } of definition.blocks) {
    const wanted = conditions.get(id) ?? [];
    if (!evaluator || wanted.every((each) => lets(each, cells, evaluator))) shown.add(id);
  }
  return shown;
}

/** Whether an answer is needed in a block while these cells stand. */
export function isRequired<F>(
  { block }: Input<F>,
  cells: Cells,
  evaluator: Evaluator<F> | null,
  waiting: ReadonlySet<string>,
): boolean {
  if (!isEntry(block)) return false;
  if (block.required) return true;
  if (block.requiredWhen === undefined || !evaluator) return false;
  // Whoever decides at the write knows; what is known here may be of other answers.
  if (evaluator.waits?.(block.requiredWhen, cells, waiting)) return false;
  const outcomes = evaluator.outcomes(block.requiredWhen, cells);
  return outcomes.length > 0 && outcomes.every((value) => !isErrorValue(value) && holds(value));
}
