import type { Constant, Expression } from '../grammar/expression';
import type { Notation } from '../grammar/lexer';
import { BINDING } from '../grammar/parser';

/** How tight a value binds with the percent signs after it, with the signs before it, and alone. */
const PERCENT = 6;
const SIGN = 7;
const VALUE = 8;

/** Writes a formula with no more parentheses than it needs, and without its leading `=`. */
export function printFormula<R>(
  expression: Expression<R>,
  printReference: (reference: R) => string,
  notation: Notation,
): string {
  const constant = (value: Constant): string => {
    if (typeof value === 'string') return `"${value.replaceAll('"', '""')}"`;
    if (typeof value === 'number') return String(value).replace('.', notation.decimal);
    if (typeof value === 'boolean') return value ? 'TRUE' : 'FALSE';
    return value.error;
  };
  const print = (each: Expression<R>): string => {
    switch (each.type) {
      case 'constant':
        return constant(each.value);
      case 'omitted':
        return '';
      case 'reference':
        return printReference(each.reference);
      case 'unary':
        return each.operator === '%'
          ? `${within(each.operand, PERCENT)}%`
          : `${each.operator}${within(each.operand, SIGN)}`;
      case 'binary': {
        const binding = BINDING[each.operator];
        const left = within(each.left, binding);
        return `${left}${each.operator}${within(each.right, binding + 1)}`;
      }
      case 'call':
        return `${each.name}(${each.args.map(print).join(';')})`;
      case 'array':
        return `{${each.rows.map((row) => row.map(constant).join(';')).join('|')}}`;
    }
  };
  const within = (each: Expression<R>, least: number): string =>
    bindingOf(each) < least ? `(${print(each)})` : print(each);
  return print(expression);
}

function bindingOf<R>(expression: Expression<R>): number {
  if (expression.type === 'binary') return BINDING[expression.operator];
  if (expression.type !== 'unary') return VALUE;
  return expression.operator === '%' ? PERCENT : SIGN;
}
