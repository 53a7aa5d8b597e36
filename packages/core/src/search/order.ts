/** One column of an order: its blanks and errors come last whichever way. */
export interface OrderPart {
  readonly columnId: string;
  readonly falling: boolean;
}

/** What records are put in order by: the first column, where it is the same the second, and so on. */
export type ViewOrder = readonly OrderPart[];

/** The most columns of one order. */
export const MOST_ORDERED = 8;

export const partOf = (order: ViewOrder, columnId: string): OrderPart | null =>
  order.find((part) => part.columnId === columnId) ?? null;

/** The order by a column alone, or with `isThen` also by it: in its place, or after the others. */
export function orderWith(order: ViewOrder, part: OrderPart, isThen: boolean): ViewOrder {
  if (!isThen) return [part];
  if (partOf(order, part.columnId)) {
    return order.map((each) => (each.columnId === part.columnId ? part : each));
  }
  return order.length < MOST_ORDERED ? [...order, part] : order;
}

export const orderWithout = (order: ViewOrder, columnId: string): ViewOrder =>
  order.filter((part) => part.columnId !== columnId);

/** What follows where a heading is pressed again and again: ascending, descending, not at all. */
export function nextOrder(order: ViewOrder, columnId: string, isThen: boolean): ViewOrder {
  const now = partOf(order, columnId);
  if (now?.falling) return isThen ? orderWithout(order, columnId) : [];
  return orderWith(order, { columnId, falling: now !== null }, isThen);
}
