import type { Column, ColumnSettings, KindId } from '../kinds';
import type { Directory } from './references/bind';
import type { Expression } from './grammar/expression';
import type { Reference } from './references/reference';

/** How a formula's result is best shown: a kind, with the settings of the column it comes from. */
export interface ShownAs {
  readonly kind: KindId;
  readonly settings: ColumnSettings<never>;
}

const DATES = ['DATE', 'TODAY', 'EDATE', 'EOMONTH', 'WORKDAY'];
/** Functions whose result is of the kind of what they are given. */
const SAME_KIND = [
  'MIN',
  'MAX',
  'MINIFS',
  'MAXIFS',
  'LARGE',
  'SMALL',
  'SUM',
  'SUMIF',
  'SUMIFS',
  'AVERAGE',
  'AVERAGEIF',
  'AVERAGEIFS',
  'MEDIAN',
  'ROUND',
  'ROUNDUP',
  'ROUNDDOWN',
  'INDEX',
  'SORT',
  'UNIQUE',
  'FILTER',
  'IF',
  'IFERROR',
  'IFNA',
  'XLOOKUP',
];
/** Which argument that is, where it is not the first. */
const KIND_ARGUMENT: Readonly<Record<string, number>> = {
  IF: 1,
  XLOOKUP: 2,
  SUMIF: 2,
  AVERAGEIF: 2,
};

const CARRIED: readonly KindId[] = ['date', 'time', 'moment', 'money', 'number'];

/** The kind a formula's result is shown as, or `null` where it shows as what it is. */
export function resultKind(
  expression: Expression<Reference>,
  directory: Directory,
): ShownAs | null {
  switch (expression.type) {
    case 'reference':
      return kindOfReference(expression.reference, directory);
    case 'call': {
      const { name, args } = expression;
      if (DATES.includes(name)) return { kind: 'date', settings: {} };
      if (name === 'TIME') return { kind: 'time', settings: {} };
      if (name === 'NOW') return { kind: 'moment', settings: {} };
      if (!SAME_KIND.includes(name)) return null;
      const of = args[KIND_ARGUMENT[name] ?? 0] ?? args[0];
      return of ? resultKind(of, directory) : null;
    }
    case 'binary': {
      const left = resultKind(expression.left, directory);
      const right = resultKind(expression.right, directory);
      return sumKind(expression.operator, left, right);
    }
    default:
      return null;
  }
}

/** A date and a number of days give a date; two dates a number; money stays money. */
function sumKind(operator: string, left: ShownAs | null, right: ShownAs | null): ShownAs | null {
  const isDate = (shown: ShownAs | null): boolean =>
    shown?.kind === 'date' || shown?.kind === 'moment';
  if (operator === '+' || operator === '-') {
    if (isDate(left) && isDate(right)) return null;
    if (isDate(left)) return left;
    if (isDate(right)) return operator === '+' ? right : null;
  }
  if (operator === '&' || operator === '=') return null;
  const money = [left, right].filter((shown) => shown?.kind === 'money');
  return money.length === 1 || (operator !== '/' && operator !== '*') ? (money[0] ?? null) : null;
}

function kindOfReference(reference: Reference, directory: Directory): ShownAs | null {
  if (reference.kind === 'name') {
    const named = directory.name(reference.id)?.reference;
    return named ? kindOfReference(named, directory) : null;
  }
  const grid = directory.sheet(reference.sheet);
  const place =
    reference.kind === 'cell'
      ? reference.cell
      : reference.kind === 'range'
        ? reference.from
        : { column: { id: reference.column }, row: { at: 'first' } as const };
  if (!grid || !('id' in place.column)) return null;
  const { row } = place;
  if (row.at === 'row' && row.part === 'top') {
    const cell = grid.sheet.rows.get(row.id)?.cells[place.column.id];
    return cell?.kind ? carried(shownBy({ kind: cell.kind, settings: cell.settings ?? {} })) : null;
  }
  const column = grid.column(place.column.id);
  return column ? carried(shownBy(column)) : null;
}

function shownBy({ kind, settings }: Pick<Column, 'kind' | 'settings'>): ShownAs {
  const { formula: _formula, list: _list, ...look } = settings;
  return { kind: kind === 'writtenAt' ? 'moment' : (look.shownAs ?? kind), settings: look };
}

/** Kinds that a result takes over, with how they are shown and nothing else. */
function carried({ kind, settings }: ShownAs): ShownAs | null {
  if (!CARRIED.includes(kind)) return null;
  const { decimals, grouping, percent, currency, datePattern } = settings;
  return {
    kind,
    settings: JSON.parse(
      JSON.stringify({ decimals, grouping, percent, currency, datePattern }),
    ) as ColumnSettings<never>,
  };
}
