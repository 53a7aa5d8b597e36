import type { SheetView } from '@varn/contract';
import type { ViewOrder } from '@varn/core';

/** A filter and an order of one's own: nothing stored changes by it. */
export interface OwnView {
  readonly filters: readonly { readonly columnId: string; readonly says: string }[];
  readonly order: ViewOrder;
}

export const PLAIN_VIEW: OwnView = { filters: [], order: [] };

/** The view as the API takes it; '' for all records as they stand. */
export function viewParameter({ filters, order }: OwnView): string {
  if (filters.length === 0 && order.length === 0) return '';
  return JSON.stringify({ filters, ...(order.length > 0 && { order }) });
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
  const isThere = ({ columnId }: { columnId: string }): boolean =>
    columns.some(({ id }) => id === columnId);
  const { filters, order } = view;
  if (filters.every(isThere) && order.every(isThere)) return view;
  return { filters: filters.filter(isThere), order: order.filter(isThere) };
}
