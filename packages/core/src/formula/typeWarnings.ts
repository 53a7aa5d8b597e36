import { kindOf, type Column } from '../kinds';
import type { Expression } from './grammar/expression';
import { walk } from './grammar/tree';
import type { Directory } from './references/bind';
import type { Reference } from './references/reference';

/** What may be meant otherwise in a formula that is right as it stands. */
export interface TypeWarning {
  readonly message: string;
  readonly from: number;
  readonly to: number;
}

type ValueType = 'text' | 'number' | 'yesNo';
type Bound = Expression<Reference>;

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
 */
export function typeWarnings(bound: Bound, directory: Directory): TypeWarning[] {
  const warnings: TypeWarning[] = [];
  walk(bound, (each) => {
    if (each.type !== 'binary' || !COMPARISONS.includes(each.operator)) return;
    const left = typeOf(each.left, directory);
    const right = typeOf(each.right, directory);
    if (!left || !right || left === right) return;
    warnings.push({
      message: `The left side is ${NAMES[left]} and the right side ${NAMES[right]}: they are never equal. ${adviceFor(each.left, each.right)}`,
      from: each.from,
      to: each.to,
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
    : 'Convert one of them with VALUE or TEXT.';
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
