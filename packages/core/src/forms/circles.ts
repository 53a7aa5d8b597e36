import { referencesIn } from '../formula';
import type { LocaleFacts } from '../values';
import { columnIdsOf, type Block, type FormDefinition } from './definition';
import { bareFormula } from './evaluator';
import { formulasOf } from './formulas';

/** What waits for itself on a form. */
export interface Circles {
  /** Blocks whose being there, or whose starting value, waits for their own answer. */
  readonly blocks: readonly Block[];
  /** Computed columns that are computed from themselves, each with the columns along the way. */
  readonly columns: readonly { readonly columnId: string; readonly path: readonly string[] }[];
}

/** A block, or a computed column by its id. */
type Node = Block | string;

/**
 * Finds what goes round in a circle: conditions and starting values read answers, an answer waits
 * for its block, computed columns read answers and one another.
 *
 * @param byHeading column ids by heading
 * @param computed formulas of computed columns by column id
 */
export function circlesIn(
  definition: FormDefinition,
  byHeading: ReadonlyMap<string, string>,
  computed: ReadonlyMap<string, string>,
  locale: LocaleFacts,
): Circles {
  const ownerOf = new Map<string, Block>();
  for (const block of definition.blocks) {
    for (const id of columnIdsOf(block)) ownerOf.set(id, block);
  }
  const waitsFor = new Map<Node, Set<Node>>();
  const wait = (node: Node, formula: string): void => {
    const nodes = waitsFor.get(node) ?? new Set();
    waitsFor.set(node, nodes);
    for (const { reference } of referencesIn(bareFormula(formula), locale)) {
      if (reference.kind !== 'heading' || reference.sheet !== null) continue;
      const id = byHeading.get(reference.heading.trim()) ?? '';
      const read = computed.has(id) ? id : ownerOf.get(id);
      if (read !== undefined) nodes.add(read);
    }
  };
  for (const [id, formula] of computed) wait(id, formula);
  for (const { block, use, formula } of formulasOf(definition)) {
    if (use === 'shownWhen' || use === 'start') wait(block, formula);
  }
  // What stands under a heading, or on a page, is there only while that is.
  let page: Block | null = null;
  let section: Block | null = null;
  for (const block of definition.blocks) {
    const around: (Block | null)[] = block.is === 'heading' ? [page] : [page, section];
    for (const each of block.is === 'page' ? [] : around) {
      const waits = each && waitsFor.get(each);
      if (!waits) continue;
      waitsFor.set(block, new Set([...(waitsFor.get(block) ?? []), ...waits]));
    }
    if (block.is === 'page') {
      page = block;
      section = null;
    } else if (block.is === 'heading') section = block;
  }
  const blocks: Block[] = [];
  const columns: { columnId: string; path: string[] }[] = [];
  for (const node of waitsFor.keys()) {
    const path = pathBack(node, waitsFor);
    if (!path) continue;
    if (typeof node !== 'string') blocks.push(node);
    else columns.push({ columnId: node, path: path.filter((each) => typeof each === 'string') });
  }
  return { blocks, columns };
}

/** The shortest way from a node back to itself, or `null`. */
function pathBack(goal: Node, waitsFor: ReadonlyMap<Node, ReadonlySet<Node>>): Node[] | null {
  const cameFrom = new Map<Node, Node>();
  const open: Node[] = [goal];
  for (let node = open.shift(); node !== undefined; node = open.shift()) {
    for (const next of waitsFor.get(node) ?? []) {
      if (next === goal) {
        const path = [goal];
        for (let at = node; at !== goal; at = cameFrom.get(at) ?? goal) path.splice(1, 0, at);
        return path;
      }
      if (cameFrom.has(next)) continue;
      cameFrom.set(next, node);
      open.push(next);
    }
  }
  return null;
}
