import type { Column } from '../kinds';

/** What was made of a planned column before; the same while it is. */
const made = new WeakMap<Column, { readonly of: Column; readonly column: Column<never> }>();

/**
 * The columns of a sheet as they are with those a draft plans. One that is in the sheet keeps its
 * heading, kind and place, and its formula unless the draft has another.
 *
 * @param order ids of columns as their fields follow each other on the form: a new column comes
 * beside its neighbour's there. Without it, and where no neighbour is in the sheet, at the end.
 */
export function plannedColumns<F>(
  columns: readonly Column<F>[],
  planned: readonly Column<F>[],
  order: readonly string[] = [],
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
  return besideNeighbours(
    changed,
    planned.filter(({ id }) => !held.has(id)),
    order,
  );
}

/**
 * Columns with the coming ones each behind the one before it on the form; those that lead the form
 * stand before the first of it that is in the sheet.
 */
function besideNeighbours<F>(
  columns: readonly Column<F>[],
  coming: readonly Column<F>[],
  order: readonly string[],
): Column<F>[] {
  if (coming.length === 0) return [...columns];
  const open = new Map(coming.map((column) => [column.id, column]));
  const held = new Set(columns.map(({ id }) => id));
  const behind = new Map<string, Column<F>[]>();
  const leading: Column<F>[] = [];
  let first: string | null = null;
  let followers = leading;
  for (const id of order) {
    const column = open.get(id);
    if (column) {
      followers.push(column);
      open.delete(id);
    } else if (held.has(id)) {
      first ??= id;
      followers = behind.get(id) ?? [];
      behind.set(id, followers);
    }
  }
  const placed = columns.flatMap((column) => [
    ...(column.id === first ? leading : []),
    column,
    ...(behind.get(column.id) ?? []),
  ]);
  // Those in no field, as ones kept for a field that was taken off, keep the order they came in.
  return [...placed, ...(first === null ? leading : []), ...open.values()];
}
