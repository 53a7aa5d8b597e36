import type { SheetView } from '@varn/contract';

/** A filter and an order of one's own: nothing stored changes by it. */
export interface OwnView {
  readonly filters: readonly { readonly columnId: string; readonly says: string }[];
  readonly order: { readonly columnId: string; readonly falling: boolean } | null;
}

export const PLAIN_VIEW: OwnView = { filters: [], order: null };

/** The view as the API takes it; '' for all records as they stand. */
export function viewParameter({ filters, order }: OwnView): string {
  if (filters.length === 0 && !order) return '';
  return JSON.stringify({ filters, ...(order && { order }) });
}

/** Sets, or with '' drops, the condition on a column. */
export function withFilter(view: OwnView, columnId: string, says: string): OwnView {
  const others = view.filters.filter((each) => each.columnId !== columnId);
  return {
    ...view,
    filters: says.trim() === '' ? others : [...others, { columnId, says: says.trim() }],
  };
}

/** The view without what it says of columns that are gone. */
export function viewFor(view: OwnView, { columns }: Pick<SheetView, 'columns'>): OwnView {
  const isThere = (columnId: string): boolean => columns.some(({ id }) => id === columnId);
  if (
    view.filters.every(({ columnId }) => isThere(columnId)) &&
    (!view.order || isThere(view.order.columnId))
  ) {
    return view;
  }
  return {
    filters: view.filters.filter(({ columnId }) => isThere(columnId)),
    order: view.order && isThere(view.order.columnId) ? view.order : null,
  };
}
