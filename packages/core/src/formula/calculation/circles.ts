/**
 * Circles among nodes that all reach each other, such that each node is on one of them. Each is
 * put together of a shortest way from the first node and a shortest way back to it.
 *
 * @param component nodes of which each reaches all others, or one that reads itself
 * @returns the first circle begins at the first node
 */
export function circlesIn<N extends object>(
  component: readonly N[],
  precedents: (node: N) => readonly N[],
): N[][] {
  const [first] = component;
  if (first === undefined) return [];
  const within = new Set(component);
  const readBy = new Map<N, N[]>();
  const forth = ways(first, (node) => {
    const reads = precedents(node).filter((read) => within.has(read));
    for (const read of reads) {
      const readers = readBy.get(read);
      if (readers) readers.push(node);
      else readBy.set(read, [node]);
    }
    return reads;
  });
  const back = ways(first, (node) => readBy.get(node) ?? []);
  // Of those that read the first, the one met first is nearest to it.
  const nearest = readBy.get(first)?.[0] ?? first;
  const circles = [wayTo(nearest, forth)];
  const covered = new Set(circles[0]);
  for (const node of component) {
    if (covered.has(node)) continue;
    const circle = through(wayTo(node, forth), wayTo(node, back));
    circles.push(circle);
    for (const each of circle) covered.add(each);
  }
  return circles;
}

/** @returns by node: the one before it on a shortest way from the first */
function ways<N extends object>(first: N, next: (node: N) => readonly N[]): Map<N, N | null> {
  const before = new Map<N, N | null>([[first, null]]);
  // A map is gone through in the order of insertion, what is added on the way too.
  for (const node of before.keys()) {
    for (const each of next(node)) if (!before.has(each)) before.set(each, node);
  }
  return before;
}

/** The way from the first node to one, both included. */
function wayTo<N extends object>(node: N, before: ReadonlyMap<N, N | null>): N[] {
  const way: N[] = [];
  for (let at: N | null = node; at !== null; at = before.get(at) ?? null) way.push(at);
  return way.reverse();
}

/** Two ways from one node to another make a circle from the last node that they share. */
function through<N>(forth: readonly N[], back: readonly N[]): N[] {
  const onBack = new Map(back.map((node, index) => [node, index]));
  const from = forth.findLastIndex((node, at) => at < forth.length - 1 && onBack.has(node));
  const shared = forth[from];
  const to = shared === undefined ? 0 : (onBack.get(shared) ?? 0);
  return [...forth.slice(from), ...back.slice(to + 1, -1).reverse()];
}
