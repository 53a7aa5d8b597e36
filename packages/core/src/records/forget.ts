import type { Column } from '../kinds';
import type { Cells } from '../values';

/** Whether a column, or a field with its rules, takes a secret word. */
export const isSecret = ({ settings: { rules = [] } }: Column): boolean =>
  rules.some(({ must }) => must.is === 'secretWord');

const forgets = ({ settings: { rules = [] } }: Column): boolean =>
  rules.some(({ must }) => must.is === 'secretWord' && must.forgotten === true);

/** A record that has passed, without secret words that are not to be stored. */
export function withoutForgotten(cells: Cells, columns: readonly Column[]): Cells {
  const forgotten = columns.filter((column) => column.id in cells && forgets(column));
  if (forgotten.length === 0) return cells;
  const kept = { ...cells };
  for (const { id } of forgotten) Reflect.deleteProperty(kept, id);
  return kept;
}
