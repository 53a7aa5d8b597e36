import type { Column, Rule } from '../kinds';
import type { WeighedCheck } from '../records';
import { controlOf, type Control } from './controls';
import {
  isEntry,
  type Block,
  type ColumnsById,
  type FieldBlock,
  type FormDefinition,
  type GroupBlock,
} from './definition';
import { checksOf } from './limits';

/** What was typed, by input id. One that is absent was left blank. */
export type Answers = Readonly<Record<string, string>>;

/** One place to answer: a field, or one member of a group. It writes one column. */
export interface Input<F = string> {
  /** The field's id, or the member's. Answers are told by it. */
  readonly id: string;
  readonly column: Column;
  readonly label: string;
  readonly block: FieldBlock<F> | GroupBlock<F>;
  readonly control: Control;
  /** What an answer is held against besides its column's kind. */
  readonly checks: readonly WeighedCheck[];
  /** The column with the field's own rules added to its rules. */
  readonly ruled: Column;
}

/** The places to answer on a form whose columns are still in the sheet, in the order of the page. */
export function inputsOf<F>(definition: FormDefinition<F>, columns: ColumnsById): Input<F>[] {
  return definition.blocks.flatMap((block) => inputsOfBlock(block, columns));
}

/** What was made of a place before: drawn again at each change, it is the same while it may be. */
const made = new WeakMap<object, Input<never>>();

export function inputsOfBlock<F>(block: Block<F>, columns: ColumnsById): Input<F>[] {
  if (!isEntry(block)) return [];
  const places = block.is === 'field' ? [block] : block.members;
  return places.flatMap((place) => {
    const column = columns.get(place.columnId);
    if (!column) return [];
    const held = made.get(place) as Input<F> | undefined;
    if (held?.block === block && held.column === column) return [held];
    const own = place.label ?? column.heading;
    const label = isBoxes(block) ? `${block.label}: ${own}` : own;
    const control = controlOf(block, column);
    const checks = checksOf(control, block);
    const ruled = withRules(column, block.rules);
    const input = { id: place.id, column, label, block, control, checks, ruled };
    made.set(place, input as Input<never>);
    return [input];
  });
}

/** A column with rules besides its own. */
export function withRules(column: Column, rules: readonly Rule[] = []): Column {
  if (rules.length === 0) return column;
  const all = [...(column.settings.rules ?? []), ...rules];
  return { ...column, settings: { ...column.settings, rules: all } };
}

/** Whether a block writes one column for each of its ticks. */
export const isBoxes = <F>(block: Block<F>): block is GroupBlock<F> =>
  block.is === 'group' && block.as === 'boxes';
