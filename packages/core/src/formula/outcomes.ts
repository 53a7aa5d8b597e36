import type { CellValue } from '../values';
import { walk } from './grammar/tree';
import type { BinaryOperator, Expression } from './grammar/expression';

const ORDERINGS: readonly BinaryOperator[] = ['<', '<=', '>', '>='];

/** More comparisons than this that are open at once leave a condition open as a whole. */
const MOST_OPEN = 5;

/** A comparison by size, and the record's own columns it compares. */
export interface Ordering<R> {
  readonly expression: Expression<R>;
  readonly columns: readonly string[];
}

/**
 * The comparisons by size that read the record's own columns. A column inside of a function is
 * left to that function: `LEN('Name') < 3` and `SUM('Catch 1';'Catch 2') < 5` are always decided.
 *
 * @param columnOf a reference's column if it is the record's own
 */
export function orderingsIn<R>(
  tree: Expression<R>,
  columnOf: (reference: R) => string | null,
): Ordering<R>[] {
  const found: Ordering<R>[] = [];
  walk(tree, (each) => {
    if (each.type !== 'binary' || !ORDERINGS.includes(each.operator)) return;
    const columns = [...measured(each.left, columnOf), ...measured(each.right, columnOf)];
    if (columns.length > 0) found.push({ expression: each, columns });
  });
  return found;
}

function measured<R>(tree: Expression<R>, columnOf: (reference: R) => string | null): string[] {
  switch (tree.type) {
    case 'reference':
      return [columnOf(tree.reference)].filter((each) => each !== null);
    case 'unary':
      return measured(tree.operand, columnOf);
    case 'binary':
      return [...measured(tree.left, columnOf), ...measured(tree.right, columnOf)];
    default:
      return [];
  }
}

/**
 * A condition over answers that are still being given. A comparison by size with a blank answer is
 * not decided yet: the condition is run with it taken as true and as false. One that comes out the
 * same either way is decided all the same: `OR('Care' < 3; TRUE())`.
 */
export class Condition<R> {
  private readonly orderings: readonly Ordering<R>[];
  private readonly made = new Map<string, () => CellValue>();

  /** @param make makes a tree ready to run over the answers as they stand then */
  constructor(
    private readonly tree: Expression<R>,
    columnOf: (reference: R) => string | null,
    private readonly make: (tree: Expression<R>) => () => CellValue,
  ) {
    this.orderings = orderingsIn(tree, columnOf);
  }

  /** All it can come to: one value when it is decided; two or more, or none, while it is open. */
  outcomes(isBlank: (column: string) => boolean): CellValue[] {
    const open = this.orderings.filter(({ columns }) => columns.some(isBlank));
    if (open.length > MOST_OPEN) return [];
    return Array.from({ length: 2 ** open.length }, (_, bits) =>
      this.taking(new Map(open.map(({ expression }, n) => [expression, (bits >> n) % 2 === 1]))),
    );
  }

  private taking(taken: ReadonlyMap<Expression<R>, boolean>): CellValue {
    const key = this.orderings
      .map(
        ({ expression }) => ({ true: '1', false: '0', undefined: '-' })[`${taken.get(expression)}`],
      )
      .join('');
    let run = this.made.get(key);
    if (!run) {
      run = this.make(taken.size > 0 ? replaced(this.tree, taken) : this.tree);
      this.made.set(key, run);
    }
    return run();
  }
}

/** A tree with some of its comparisons taken as decided. */
function replaced<R>(
  tree: Expression<R>,
  taken: ReadonlyMap<Expression<R>, boolean>,
): Expression<R> {
  const value = taken.get(tree);
  if (value !== undefined) return { type: 'constant', value, from: tree.from, to: tree.to };
  switch (tree.type) {
    case 'unary':
      return { ...tree, operand: replaced(tree.operand, taken) };
    case 'binary':
      return { ...tree, left: replaced(tree.left, taken), right: replaced(tree.right, taken) };
    case 'call':
      return { ...tree, args: tree.args.map((each) => replaced(each, taken)) };
    default:
      return tree;
  }
}
