import type { Column } from '../kinds';

/** What was made of a planned column before; the same while it is. */
const made = new WeakMap<Column, { readonly of: Column; readonly column: Column }>();

/** The columns of a sheet as they are with those a draft plans. */
export function plannedColumns(columns: readonly Column[], planned: readonly Column[]): Column[] {
  const byId = new Map(planned.map((column) => [column.id, column]));
  const changed = columns.map((column) => {
    const plan = byId.get(column.id);
    if (!plan) return column;
    const held = made.get(plan);
    if (held?.of === column) return held.column;
    const { formula } = column.settings;
    const changed = { ...column, settings: { ...plan.settings, ...(formula && { formula }) } };
    made.set(plan, { of: column, column: changed });
    return changed;
  });
  const held = new Set(columns.map(({ id }) => id));
  return [...changed, ...planned.filter(({ id }) => !held.has(id))];
}
