import type { Column } from '../kinds';

/** What was made of a planned column before; the same while it is. */
const made = new WeakMap<Column, { readonly of: Column; readonly column: Column<never> }>();

/**
 * The columns of a sheet as they are with those a draft plans. One that is in the sheet keeps its
 * heading, kind and place, and its formula unless the draft has another.
 */
export function plannedColumns<F>(
  columns: readonly Column<F>[],
  planned: readonly Column<F>[],
): Column<F>[] {
  const byId = new Map(planned.map((column) => [column.id, column]));
  const changed = columns.map((column) => {
    const plan = byId.get(column.id);
    if (!plan) return column;
    const held = made.get(plan);
    if (held?.of === column) return held.column;
    const { formula } = column.settings;
    const changed = {
      ...column,
      settings: { ...(formula !== undefined && { formula }), ...plan.settings },
    };
    made.set(plan, { of: column, column: changed as Column<never> });
    return changed;
  });
  const held = new Set(columns.map(({ id }) => id));
  return [...changed, ...planned.filter(({ id }) => !held.has(id))];
}
