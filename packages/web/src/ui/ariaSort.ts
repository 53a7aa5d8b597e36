import type { OrderPart } from '@varn/core';

/** How a column's heading tells a screen reader what its records are in order by. */
export const ariaSort = (part: OrderPart | null): 'ascending' | 'descending' | undefined =>
  part === null ? undefined : part.falling ? 'descending' : 'ascending';
