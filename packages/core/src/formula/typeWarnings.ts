import { columnLetters } from '../address';
import { kindOf, type Column } from '../kinds';
import type { Expression } from './grammar/expression';
import { walk } from './grammar/tree';
import type { Directory } from './references/bind';
import type { Reference } from './references/reference';
import { printReference } from './references/written';

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
 * a number, told from the kinds of the columns; and whole columns by their letters, which take in
 * the totals above the heading.
 */
export function typeWarnings(bound: Bound, directory: Directory): TypeWarning[] {
  const warnings: TypeWarning[] = [];
  walk(bound, (each) => {
    const counted = each.type === 'reference' && aboveHeading(each.reference, directory);
    if (counted) warnings.push({ message: counted, from: each.from, to: each.to });
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

/** What is said of whole columns with numbers above their heading: which is the first of them. */
function aboveHeading(reference: Reference, directory: Directory): string | null {
  if (reference.kind !== 'range' || reference.open !== 'columns') return null;
  const grid = directory.sheet(reference.sheet);
  if (!grid || grid.headingRow === null) return null;
  const { rows, name } = grid.sheet;
  const [one, other] = [reference.from.column, reference.to.column].map((place) =>
    'id' in place ? (grid.columnIndex(place.id) ?? -1) : place.index,
  );
  const [first = 0, last = 0] = [one ?? 0, other ?? 0].sort((a, b) => a - b);
  for (let row = 1; row <= rows.count; row += 1) {
    for (let index = first; index <= last; index += 1) {
      const id = grid.columnId(index);
      const cell = id === undefined ? undefined : rows.at(row - 1)?.cells[id];
      if (!cell || (cell.formula === undefined && typeof cell.value !== 'number')) continue;
      const heading = id === undefined ? undefined : grid.column(id)?.heading;
      const instead =
        heading === undefined
          ? ''
          : ` For the records alone write ${printReference({ kind: 'heading', sheet: name, heading })}.`;
      return `This takes in what stands above the heading too, as ${columnLetters(index)}${row}.${instead}`;
    }
  }
  return null;
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
