import { kindOf, type Column } from '../kinds';
import type { Expression } from './grammar/expression';
import type { Directory } from './references/bind';
import type { Reference } from './references/reference';
import type { WrittenReference } from './references/written';

/** What may be meant otherwise in a formula that is right as it stands. */
export interface TypeWarning {
  readonly message: string;
  readonly from: number;
  readonly to: number;
}

type ValueType = 'text' | 'number' | 'yesNo';
type Bound = Expression<Reference>;
type Written = Expression<WrittenReference>;

const COMPARISONS = ['=', '<>', '<', '<=', '>', '>='];
const TEXT_FUNCTIONS =
  'TEXT LEFT RIGHT MID TRIM CLEAN UPPER LOWER PROPER SUBSTITUTE REPLACE CONCAT CONCATENATE TEXTJOIN REPT'.split(
    ' ',
  );

const NAMES: Readonly<Record<ValueType, string>> = {
  text: 'a text',
  number: 'a number',
  yesNo: 'yes or no',
};

/**
 * Points out comparisons of values that are never the same because one is a text and the other
 * a number, told from the kinds of the columns.
 *
 * @param written the formula as it was typed, for the places; `bound` is the same tree
 */
export function typeWarnings(written: Written, bound: Bound, directory: Directory): TypeWarning[] {
  const warnings: TypeWarning[] = [];
  pairs(written, bound, (typed, tied) => {
    if (typed.type !== 'binary' || tied.type !== 'binary') return;
    if (!COMPARISONS.includes(tied.operator)) return;
    const left = typeOf(tied.left, directory);
    const right = typeOf(tied.right, directory);
    if (!left || !right || left === right) return;
    warnings.push({
      message: `The left side is ${NAMES[left]} and the right side ${NAMES[right]}: they are never equal. ${adviceFor(tied.left, tied.right)}`,
      from: typed.from,
      to: typed.to,
    });
  });
  return warnings;
}

function adviceFor(left: Bound, right: Bound): string {
  const isQuotedNumber = [left, right].some(
    ({ type, ...rest }) =>
      type === 'constant' &&
      'value' in rest &&
      typeof rest.value === 'string' &&
      /^[\d.]+$/.test(rest.value),
  );
  return isQuotedNumber
    ? 'Leave out the quotation marks.'
    : 'Turn one into the other by VALUE or TEXT.';
}

/** Visits two trees of one shape together. */
function pairs(a: Written, b: Bound, visit: (a: Written, b: Bound) => void): void {
  visit(a, b);
  if (a.type === 'unary' && b.type === 'unary') pairs(a.operand, b.operand, visit);
  else if (a.type === 'binary' && b.type === 'binary') {
    pairs(a.left, b.left, visit);
    pairs(a.right, b.right, visit);
  } else if (a.type === 'call' && b.type === 'call') {
    a.args.forEach((arg, n) => {
      const other = b.args[n];
      if (other) pairs(arg, other, visit);
    });
  }
}

function typeOf(expression: Bound, directory: Directory): ValueType | null {
  switch (expression.type) {
    case 'constant': {
      const { value } = expression;
      if (typeof value === 'string') return value === '' ? null : 'text';
      return typeof value === 'number' ? 'number' : typeof value === 'boolean' ? 'yesNo' : null;
    }
    case 'reference':
      return typeOfReference(expression.reference, directory);
    case 'unary':
      return 'number';
    case 'binary':
      if (expression.operator === '&') return 'text';
      return COMPARISONS.includes(expression.operator) ? 'yesNo' : 'number';
    case 'call':
      return TEXT_FUNCTIONS.includes(expression.name) ? 'text' : null;
    default:
      return null;
  }
}

function typeOfReference(reference: Reference, directory: Directory): ValueType | null {
  if (reference.kind === 'name') {
    const named = directory.name(reference.id)?.reference;
    return named ? typeOfReference(named, directory) : null;
  }
  const grid = directory.sheet(reference.sheet);
  if (reference.kind === 'field' || reference.kind === 'column') {
    const column = grid?.column(reference.column);
    return column ? typeOfColumn(column) : null;
  }
  const corner = reference.kind === 'cell' ? reference.cell : reference.from;
  const inRecords =
    corner.row.at === 'first' || (corner.row.at === 'row' && corner.row.part === 'block');
  const column = inRecords && 'id' in corner.column ? grid?.column(corner.column.id) : undefined;
  return column ? typeOfColumn(column) : null;
}

function typeOfColumn(column: Column): ValueType | null {
  const as = column.kind === 'computed' ? column.settings.shownAs : column.kind;
  if (as === undefined) return null;
  const { holds } = kindOf({ kind: as });
  return holds === 'string'
    ? 'text'
    : holds === 'number'
      ? 'number'
      : holds === 'boolean'
        ? 'yesNo'
        : null;
}
