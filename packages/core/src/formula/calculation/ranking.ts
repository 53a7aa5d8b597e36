import { circlesIn } from './circles';

interface Visit<N extends object> {
  readonly node: N;
  readonly reads: readonly N[];
  /** When it was entered, counted from 0. */
  readonly entered: number;
  next: number;
  rank: number;
  /** The earliest entered of those that it reaches and that reach it. */
  lowest: number;
}

/**
 * Puts formulas in the order in which they can be computed, each after what it reads, and finds
 * those that go round in a circle. Depth first, without recursion, so that a chain of any length
 * is fine; nodes that reach each other are found as strongly connected components (Tarjan 1972).
 *
 * @param precedents what a node reads that is computed too
 * @returns the rank of each node, and circles, each as the nodes on it in order: every node that
 *   depends on itself is on one of them
 */
export function rank<N extends object>(
  nodes: Iterable<N>,
  precedents: (node: N) => readonly N[],
): { ranks: Map<N, number>; circles: N[][] } {
  const ranks = new Map<N, number>();
  const circles: N[][] = [];
  const open = new Map<N, Visit<N>>();
  /** Nodes whose component is not known yet, in the order in which they were entered. */
  const pending: N[] = [];
  let count = 0;
  const path: Visit<N>[] = [];
  const enter = (node: N): void => {
    const entered = count;
    count += 1;
    const visit = { node, reads: precedents(node), entered, next: 0, rank: 0, lowest: entered };
    open.set(node, visit);
    pending.push(node);
    path.push(visit);
  };
  const leave = (visit: Visit<N>): void => {
    path.pop();
    ranks.set(visit.node, visit.rank);
    const above = path.at(-1);
    if (above) {
      above.rank = Math.max(above.rank, visit.rank + 1);
      above.lowest = Math.min(above.lowest, visit.lowest);
    }
    if (visit.lowest < visit.entered) return;
    const component = pending.splice(pending.lastIndexOf(visit.node));
    for (const node of component) open.delete(node);
    if (component.length > 1 || visit.reads.includes(visit.node)) {
      circles.push(...circlesIn(component, precedents));
    }
  };
  for (const start of nodes) {
    if (ranks.has(start)) continue;
    enter(start);
    for (let top = path.at(-1); top; top = path.at(-1)) {
      const read = top.reads[top.next];
      top.next += 1;
      if (read === undefined) {
        leave(top);
        continue;
      }
      const known = ranks.get(read);
      const held = open.get(read);
      if (held) top.lowest = Math.min(top.lowest, held.entered);
      if (known !== undefined) top.rank = Math.max(top.rank, known + 1);
      else if (!held) enter(read);
    }
  }
  return { ranks, circles };
}
