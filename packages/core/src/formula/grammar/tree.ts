import type { Expression } from './expression';

/** Visits a formula's tree, a node before what is in it. */
export function walk<R>(expression: Expression<R>, visit: (each: Expression<R>) => void): void {
  visit(expression);
  if (expression.type === 'unary') walk(expression.operand, visit);
  else if (expression.type === 'binary') {
    walk(expression.left, visit);
    walk(expression.right, visit);
  } else if (expression.type === 'call') for (const each of expression.args) walk(each, visit);
}

/** The same tree, its places kept, with each reference written in another way. */
export function mapReferences<R, S>(
  expression: Expression<R>,
  write: (reference: R, at: { readonly from: number; readonly to: number }) => S,
): Expression<S> {
  const map = (each: Expression<R>): Expression<S> => {
    switch (each.type) {
      case 'reference':
        return { ...each, reference: write(each.reference, each) };
      case 'unary':
        return { ...each, operand: map(each.operand) };
      case 'binary':
        return { ...each, left: map(each.left), right: map(each.right) };
      case 'call':
        return { ...each, args: each.args.map(map) };
      default:
        return each;
    }
  };
  return map(expression);
}
