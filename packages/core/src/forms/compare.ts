import type { Block, FormDefinition } from './definition';
import { isSame } from './same';

/** What can differ in a block, besides that it is there. */
export type BlockPart = Exclude<KeysOf<Block>, 'id' | 'is'>;
type KeysOf<T> = T extends unknown ? keyof T : never;

/** How one block differs between two layouts of a form; blocks are compared by their ids. */
export type BlockDifference =
  | { readonly is: 'onlyMine' | 'onlyTheirs' | 'moved'; readonly block: Block }
  | { readonly is: 'changed'; readonly block: Block; readonly parts: readonly BlockPart[] };

/** The parts of a definition beside its blocks. */
export type FormPart = Exclude<keyof FormDefinition, 'blocks'>;

export interface FormDifferences {
  readonly blocks: readonly BlockDifference[];
  readonly parts: readonly FormPart[];
}

/** What differs between my layout of a form and someone else's, in the order of mine, then theirs. */
export function compareForms(mine: FormDefinition, theirs: FormDefinition): FormDifferences {
  const theirsById = new Map(theirs.blocks.map((block) => [block.id, block]));
  const mineIds = new Set(mine.blocks.map(({ id }) => id));
  const still = inOneOrder(
    mine.blocks.map(({ id }) => id).filter((id) => theirsById.has(id)),
    theirs.blocks.map(({ id }) => id).filter((id) => mineIds.has(id)),
  );
  const blocks = mine.blocks.flatMap((block): BlockDifference[] => {
    const other = theirsById.get(block.id);
    if (!other) return [{ is: 'onlyMine', block }];
    const parts = partsOf(block, other);
    return [
      ...(parts.length > 0 ? [{ is: 'changed', block, parts } as const] : []),
      ...(still.has(block.id) ? [] : [{ is: 'moved', block } as const]),
    ];
  });
  const added = theirs.blocks.filter(({ id }) => !mineIds.has(id));
  const names = new Set([...Object.keys(mine), ...Object.keys(theirs)]) as Set<FormPart | 'blocks'>;
  return {
    blocks: [...blocks, ...added.map((block) => ({ is: 'onlyTheirs', block }) as const)],
    parts: [...names].filter(
      (name): name is FormPart => name !== 'blocks' && !isSame(mine[name], theirs[name]),
    ),
  };
}

function partsOf(mine: Block, theirs: Block): BlockPart[] {
  const [a, b] = [mine, theirs] as unknown as Record<string, unknown>[];
  const names = new Set([...Object.keys(mine), ...Object.keys(theirs)]);
  return [...names].filter(
    (name) => name !== 'id' && name !== 'is' && !isSame(a?.[name], b?.[name]),
  ) as BlockPart[];
}

/** The most ids that stand in one order in both lists: a longest common subsequence. */
function inOneOrder(a: readonly string[], b: readonly string[]): Set<string> {
  const place = new Map(b.map((id, n) => [id, n]));
  // Both hold the same ids, so that it is a longest rising run of places.
  const ends: number[] = [];
  const before: number[] = [];
  a.forEach((id, n) => {
    const at = place.get(id) ?? 0;
    let low = 0;
    let high = ends.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      const end = a[ends[middle] ?? 0] ?? '';
      if ((place.get(end) ?? 0) < at) low = middle + 1;
      else high = middle;
    }
    before[n] = low > 0 ? (ends[low - 1] ?? -1) : -1;
    ends[low] = n;
  });
  const still = new Set<string>();
  for (let n = ends.at(-1) ?? -1; n >= 0; n = before[n] ?? -1) still.add(a[n] ?? '');
  return still;
}
