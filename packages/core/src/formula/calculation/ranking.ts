/**
 * Puts formulas in the order in which they can be computed, each after what it reads, and finds
 * those that go round in a circle. Depth first, without recursion, so that a chain of any length
 * is fine.
 *
 * @param precedents what a node reads that is computed too
 * @returns the rank of each node, and the circles, each as the nodes on it in order
 */
export function rank<N>(
  nodes: Iterable<N>,
  precedents: (node: N) => readonly N[],
): { ranks: Map<N, number>; circles: N[][] } {
  const ranks = new Map<N, number>();
  const circles: N[][] = [];
  const open = new Map<N, number>();
  for (const start of nodes) {
    if (ranks.has(start)) continue;
    const path: { node: N; reads: readonly N[]; next: number; rank: number }[] = [];
    const enter = (node: N): void => {
      open.set(node, path.length);
      path.push({ node, reads: precedents(node), next: 0, rank: 0 });
    };
    enter(start);
    for (let top = path.at(-1); top; top = path.at(-1)) {
      const read = top.reads[top.next];
      top.next += 1;
      if (read === undefined) {
        path.pop();
        open.delete(top.node);
        ranks.set(top.node, top.rank);
        const above = path.at(-1);
        if (above) above.rank = Math.max(above.rank, top.rank + 1);
        continue;
      }
      const known = ranks.get(read);
      const on = open.get(read);
      if (known !== undefined) top.rank = Math.max(top.rank, known + 1);
      else if (on !== undefined) circles.push(path.slice(on).map(({ node }) => node));
      else enter(read);
    }
  }
  return { ranks, circles };
}
