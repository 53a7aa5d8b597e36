import { walk } from '../grammar/tree';
import type { Expression } from '../grammar/expression';
import type { Directory } from '../references/bind';
import type { CellPlace, Reference } from '../references/reference';
import type { Bounds, SheetGrid } from './sheetGrid';

/** Functions whose third range takes the shape of the first (ODF 1.3 part 4, SUMIF). */
const SHAPED: ReadonlySet<string> = new Set(['SUMIF', 'AVERAGEIF']);

/** Where sheets and names are found. */
type Places = Pick<Directory, 'sheet' | 'name'>;

type Range = Extract<Reference, { kind: 'cell' | 'range' }>;

/** The cells at both ends of a reference. */
const endsOf = (reference: Range): [CellPlace, CellPlace] =>
  reference.kind === 'cell' ? [reference.cell, reference.cell] : [reference.from, reference.to];

/** A formula's tree with such ranges as they are read, so that what is read is what is watched. */
export function withShapes(tree: Expression<Reference>, directory: Places): Expression<Reference> {
  const shaped: Expression<Reference>[] = [];
  walk(tree, (each) => {
    if (each.type === 'call' && SHAPED.has(each.name)) shaped.push(each);
  });
  return shaped.length > 0 ? shapedIn(tree, directory) : tree;
}

function shapedIn(tree: Expression<Reference>, directory: Places): Expression<Reference> {
  switch (tree.type) {
    case 'unary':
      return { ...tree, operand: shapedIn(tree.operand, directory) };
    case 'binary':
      return {
        ...tree,
        left: shapedIn(tree.left, directory),
        right: shapedIn(tree.right, directory),
      };
    case 'call': {
      const args = tree.args.map((each) => shapedIn(each, directory));
      const [first, , values] = args;
      if (!SHAPED.has(tree.name) || first?.type !== 'reference' || values?.type !== 'reference') {
        return { ...tree, args };
      }
      const range = resolved(values.reference, directory);
      if (range?.kind !== 'cell' && range?.kind !== 'range') return { ...tree, args };
      const [from, to] = endsOf(range);
      const shaped = {
        kind: 'range',
        sheet: range.sheet,
        from,
        to,
        like: first.reference,
      } as const;
      return { ...tree, args: args.with(2, { ...values, reference: shaped }) };
    }
    default:
      return tree;
  }
}

/** The rows and columns a reference covers; `null` where nothing of it is left. */
export function boundsOf(reference: Range, grid: SheetGrid, directory: Places): Bounds | null {
  const bounds = grid.boundsOf(...endsOf(reference));
  if (!bounds || reference.kind === 'cell' || !reference.like) return bounds;
  const shape = shapeOf(reference.like, directory);
  if (!shape) return bounds;
  const { left, top } = bounds;
  return { left, top, right: left + shape.columns - 1, bottom: top + shape.rows - 1 };
}

/** What a name stands for, or the reference itself. */
export function resolved(reference: Reference, directory: Places): Reference | null {
  if (reference.kind !== 'name') return reference;
  return directory.name(reference.id)?.reference ?? null;
}

function shapeOf(named: Reference, directory: Places): { rows: number; columns: number } | null {
  const reference = resolved(named, directory);
  if (!reference || reference.kind === 'name') return null;
  const grid = directory.sheet(reference.sheet);
  if (!grid) return null;
  if (reference.kind === 'field') return { rows: 1, columns: 1 };
  if (reference.kind === 'column') return { rows: grid.sheet.records.count, columns: 1 };
  const bounds = boundsOf(reference, grid, directory);
  return (
    bounds && { rows: bounds.bottom - bounds.top + 1, columns: bounds.right - bounds.left + 1 }
  );
}
