/**
 * The way round where lists feed one another: what a column offers are values of a column whose own
 * choices come, over however many, from the first. A list of what stands in its own column is none.
 *
 * @param sources by column, the column whose records feed its list
 * @returns the columns from this one to the one that it feeds in its turn; `null` where there is none
 */
export function listCircle(
  sources: ReadonlyMap<string, string>,
  columnId: string,
): string[] | null {
  const way = [columnId];
  for (let at = sources.get(columnId); at !== undefined; at = sources.get(at)) {
    if (at === columnId) return way.length > 1 ? way : null;
    // A circle further on that this one is not part of.
    if (way.includes(at)) return null;
    way.push(at);
  }
  return null;
}
