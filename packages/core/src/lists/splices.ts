import type { ListItem } from '../kinds';
import { isSameItem } from './source';

/** A change of a list: at a place, so many items go, and these come. */
export interface Splice {
  readonly at: number;
  readonly remove: number;
  readonly items: readonly ListItem[];
}

/** A list after changes, each told of the list that the one before it left. */
export function spliced(items: readonly ListItem[], splices: readonly Splice[]): ListItem[] {
  const after = [...items];
  for (const { at, remove, items: come } of splices) after.splice(at, remove, ...come);
  return after;
}

/** The items of a list by their values. */
function byValue(items: readonly ListItem[]): Map<unknown, ListItem> {
  return new Map(items.map((item) => [item.value, item]));
}

/**
 * What makes one list of another: items that came, went or changed, each alone, where those that
 * stay keep their order; else the stretch in which the two differ.
 */
export function splicesOf(before: readonly ListItem[], after: readonly ListItem[]): Splice[] {
  let from = 0;
  const least = Math.min(before.length, after.length);
  while (from < least && isAlike(before[from], after[from])) from += 1;
  let end = 0;
  while (
    end < least - from &&
    isAlike(before[before.length - 1 - end], after[after.length - 1 - end])
  ) {
    end += 1;
  }
  const gone = before.slice(from, before.length - end);
  const come = after.slice(from, after.length - end);
  if (gone.length === 0 && come.length === 0) return [];
  const whole = [{ at: from, remove: gone.length, items: come }];
  const single = singly(gone, come, from);
  return single && single.length * 4 < gone.length + come.length ? single : whole;
}

function singly(
  gone: readonly ListItem[],
  come: readonly ListItem[],
  from: number,
): Splice[] | null {
  const [was, is] = [byValue(gone), byValue(come)];
  const stays = (item: ListItem): boolean => isAlike(was.get(item.value), is.get(item.value));
  const [kept, left] = [gone.filter(stays), come.filter(stays)];
  if (kept.some(({ value }, n) => value !== left[n]?.value)) return null;
  const splices: Splice[] = [];
  let at = from;
  for (const item of gone) {
    if (stays(item)) at += 1;
    else splices.push({ at, remove: 1, items: [] });
  }
  come.forEach((item, n) => {
    if (!stays(item)) splices.push({ at: from + n, remove: 0, items: [item] });
  });
  return splices;
}

const isAlike = (a: ListItem | undefined, b: ListItem | undefined): boolean =>
  a !== undefined && b !== undefined && (a === b || isSameItem(a, b));
