import { isErrorValue, sameNumber, type CellValue } from '../../values';
import { areaOf, ArrayArea, isArea, listOf, type Area, type Value } from './area';
import { compareValues, ERRORS, toLogical } from './convert';
import { spend, spendValues } from './budget';
import type { Line } from './lineIndex';
import { columnOf, firstRowOf, lineOf } from './lines';
import { isPattern, textTest } from './wildcards';
import {
  anything,
  area,
  argument,
  define,
  defineList,
  logical,
  maybe,
  number,
  optional,
  scalar,
  whole,
  type Argument,
  type FunctionDefinition,
} from './define';

const standard = { standing: 'standard', group: 'lookup' } as const;
const common = { standing: 'common practice', group: 'lookup' } as const;

const sameType = (a: CellValue, b: CellValue): boolean =>
  a !== null && b !== null && typeof a === typeof b && !isErrorValue(a) && !isErrorValue(b);

/** Which place of several is wanted. */
type Side = 'first' | 'last';

/** Where a value stands; in texts `*` and `?` stand for any characters if `wild`. */
function exactPlace(
  line: Line,
  key: CellValue,
  wild: boolean,
  side: Side = 'first',
): number | null {
  const wanted = key ?? 0;
  if (isErrorValue(wanted)) return null;
  const index = line.index?.();
  if (typeof wanted === 'string' && wild && isPattern(wanted)) {
    const matches = textTest(wanted);
    const find = (): number | null =>
      searched(line, side, (value) => typeof value === 'string' && matches(value));
    return index ? (index.remember(`${side} ${wanted}`, find) as number | null) : find();
  }
  if (index?.isWorthIt()) return index[side](wanted) ?? null;
  return searched(
    line,
    side,
    (value) => sameType(value, wanted) && compareValues(value, wanted) === 0,
  );
}

/** The place at one end of a line whose value meets a condition, looking at one after the other. */
function searched(line: Line, side: Side, meets: (value: CellValue) => boolean): number | null {
  const { length } = line;
  for (let n = 0; n < length; n += 1) {
    const at = side === 'first' ? n : length - 1 - n;
    if (!meets(line.at(at))) continue;
    spend(n);
    return at;
  }
  spend(length);
  return null;
}

/** In a line that rises, the last place whose value is not above the key: half by half. */
function placeBelow(line: Line, key: CellValue): number | null {
  const wanted = key ?? 0;
  let low = 0;
  let high = line.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    const value = line.at(middle);
    // Values of another type do not take part; blanks at the end count as above.
    if (sameType(value, wanted) ? compareValues(value, wanted) <= 0 : ranksBelow(value, wanted)) {
      low = middle + 1;
    } else high = middle;
  }
  for (let index = low - 1; index >= 0; index -= 1) {
    spend(1);
    if (sameType(line.at(index), wanted)) return index;
  }
  return null;
}

function ranksBelow(value: CellValue, wanted: CellValue): boolean {
  return value !== null && !isErrorValue(value) && compareValues(value, wanted) < 0;
}

/** The place of the value next to the key on one side, in a line of any order. */
function nearestPlace(line: Line, key: CellValue, by: -1 | 1, side: Side): number | null {
  const index = line.index?.();
  if (typeof key === 'number' && index?.isWorthIt()) {
    const next = index.numbers()[by < 0 ? index.upTo(key) - 1 : index.below(key)];
    return next === undefined ? null : (index[side](next) ?? null);
  }
  const find = (): number | null => nearestIn(line, key, by, side);
  if (!index || isErrorValue(key)) return find();
  return index.remember(`${side} ${by} ${JSON.stringify(key)}`, find) as number | null;
}

function nearestIn(line: Line, key: CellValue, by: -1 | 1, side: Side): number | null {
  const { length } = line;
  spend(length);
  let found: number | null = null;
  for (let n = 0; n < length; n += 1) {
    const at = side === 'first' ? n : length - 1 - n;
    const value = line.at(at);
    if (!sameType(value, key) || compareValues(value, key) * by < 0) continue;
    if (found === null || compareValues(value, line.at(found)) * by < 0) found = at;
  }
  return found;
}

/** `VLOOKUP` along columns, `HLOOKUP` along rows. */
function tableLookup(about: string, along: 'rows' | 'columns'): FunctionDefinition {
  return define(
    { ...standard, about },
    [scalar('Key'), area('Table'), whole('Which'), optional(logical('Sorted'), true)],
    (_moment, key, table, which, isSorted) => {
      const lines = along === 'rows' ? table.columns : table.rows;
      if (which < 1) return ERRORS.value;
      if (which > lines) return ERRORS.reference;
      const line = along === 'rows' ? columnOf(table, 0) : firstRowOf(table);
      const place = isSorted ? placeBelow(line, key) : exactPlace(line, key, true);
      if (place === null) return ERRORS.notAvailable;
      return (along === 'rows' ? table.at(place, which - 1) : table.at(which - 1, place)) ?? 0;
    },
  );
}

/** One row of an area, or one value of its column: what `XLOOKUP` gives for a place. */
function lineAt(from: Area, place: number, searched: Area): Value {
  const byRow = searched.rows > 1 || (searched.columns === 1 && from.columns > 1);
  if (byRow) {
    return from.columns === 1
      ? (from.at(place, 0) ?? 0)
      : areaOf(1, from.columns, (_row, column) => from.at(place, column));
  }
  return from.rows === 1
    ? (from.at(0, place) ?? 0)
    : areaOf(from.rows, 1, (row) => from.at(row, place));
}

/** How `XLOOKUP` matches: 0 the same, -1 or the next smaller, 1 or the next larger, 2 wildcards. */
function searchPlace(line: Line, key: CellValue, mode: number, side: Side): number | null {
  const place = exactPlace(line, key, mode === 2, side);
  if (place !== null || mode === 0 || mode === 2) return place;
  return nearestPlace(line, key, mode < 0 ? -1 : 1, side);
}

interface Order {
  readonly index: number;
  readonly falling: boolean;
}

function sortedRows(from: Area, { index, falling }: Order): CellValue[][] {
  const rows = rowsOf(from);
  spend(rows.length * Math.ceil(Math.log2(rows.length + 1) / 2));
  const rank = (value: CellValue): number => (value === null ? 2 : isErrorValue(value) ? 1 : 0);
  return rows.sort((a, b) => {
    const left = a[index] ?? null;
    const right = b[index] ?? null;
    // Errors and blanks stand last, whichever way.
    if (rank(left) !== 0 || rank(right) !== 0) return rank(left) - rank(right);
    return falling ? compareValues(right, left) : compareValues(left, right);
  });
}

function rowsOf(from: Area): CellValue[][] {
  // A row of its own each: of one value it takes as much as several.
  spendValues(from.rows * Math.max(3, from.columns));
  return Array.from({ length: from.rows }, (_, row) =>
    Array.from({ length: from.columns }, (_each, column) => from.at(row, column)),
  );
}

const transposed = (from: Area): Area =>
  areaOf(from.columns, from.rows, (row, column) => from.at(column, row));

/** Gives the values of an area keys: the same for values that compare as the same. */
function keysOf(from: Area): (value: CellValue) => string | number {
  const numbers = Float64Array.from(listOf(from).filter((value) => typeof value === 'number'));
  // Of numbers that differ by rounding only, the least stands for all.
  const stands = new Map<number, number>();
  let least = NaN;
  for (const each of numbers.sort()) {
    if (!sameNumber(each, least)) least = each;
    else if (each !== least) stands.set(each, least);
  }
  return (value) => {
    if (typeof value === 'number') return stands.get(value) ?? value;
    if (isErrorValue(value)) return `e${value.error}`;
    return typeof value === 'string' ? `s${value.toLowerCase()}` : String(value);
  };
}

/** The same of one column, which needs no row for each value. */
function uniqueValues(from: Area, once: boolean): CellValue[][] {
  spend(from.rows * 14);
  const values = listOf(from);
  const keyOf = keysOf(from);
  const firsts = new Map<string | number, CellValue>();
  const doubles = new Set<string | number>();
  for (const value of values) {
    const key = keyOf(value);
    if (!firsts.has(key)) firsts.set(key, value);
    else if (once) doubles.add(key);
  }
  return [...firsts].flatMap(([key, value]) => (doubles.has(key) ? [] : [[value]]));
}

function uniqueRows(from: Area, once: boolean): CellValue[][] {
  if (from.columns === 1) return uniqueValues(from, once);
  const seen = new Map<string | number, { row: CellValue[]; count: number }>();
  spend(from.rows * from.columns * 16);
  const rows = rowsOf(from);
  const keyOf = keysOf(from);
  for (const row of rows) {
    const keys = row.map(keyOf);
    const key = keys.length === 1 ? (keys[0] ?? '') : keys.join('\u0000');
    const known = seen.get(key);
    if (known) known.count += 1;
    else seen.set(key, { row, count: 1 });
  }
  return [...seen.values()].filter(({ count }) => !once || count === 1).map(({ row }) => row);
}

/** Rows as an area, or an error where there is none. */
function areaOrNothing(rows: CellValue[][], byColumn: boolean, nothing: Value): Value {
  if (rows.length === 0) return nothing;
  const made = new ArrayArea(rows);
  return byColumn ? transposed(made) : made;
}

function placePart(given: Argument | undefined, side: 'row' | 'column'): Value {
  const place = given?.place();
  if (!place) return ERRORS.value;
  const value = given?.value() ?? null;
  if (!isArea(value)) return place[side];
  const count = side === 'row' ? value.rows : value.columns;
  if (count === 1) return place[side];
  return side === 'row'
    ? areaOf(count, 1, (row) => place.row + row)
    : areaOf(1, count, (_row, column) => place.column + column);
}

export const lookup = {
  VLOOKUP: tableLookup('A value from a table, found by what stands in its first column.', 'rows'),
  HLOOKUP: tableLookup('A value from a table, found by what stands in its first row.', 'columns'),
  LOOKUP: define(
    { ...standard, about: 'A value from a row or column, found in another one that is sorted.' },
    [scalar('Key'), area('Sorted'), maybe(area('Values'))],
    (_moment, key, searched, values) => {
      const place = placeBelow(lineOf(searched), key);
      if (place === null) return ERRORS.notAvailable;
      if (values) return lineOf(values).at(place);
      return searched.columns > searched.rows
        ? searched.at(searched.rows - 1, place)
        : searched.at(place, searched.columns - 1);
    },
  ),
  XLOOKUP: define(
    { ...common, about: 'The value or row that stands where a key is found.' },
    [
      scalar('Key'),
      area('Searched'),
      area('Values'),
      maybe(argument('If none')),
      optional(whole('Match'), 0),
      optional(whole('Direction'), 1),
    ],
    (_moment, key, searched, values, ifNone, match, direction) => {
      const line = lineOf(searched);
      const length = searched.rows > 1 || searched.columns === 1 ? values.rows : values.columns;
      if (length !== line.length) return ERRORS.value;
      const found = searchPlace(line, key, match, direction < 0 ? 'last' : 'first');
      if (found === null) return ifNone?.value() ?? ERRORS.notAvailable;
      return lineAt(values, found, searched);
    },
  ),
  MATCH: define(
    { ...standard, about: 'The place at which a key stands in a row or column.' },
    [scalar('Key'), area('Searched'), optional(number('Type'), 1)],
    (_moment, key, searched, type) => {
      if (searched.rows > 1 && searched.columns > 1) return ERRORS.notAvailable;
      const line = lineOf(searched);
      const place =
        type === 0
          ? exactPlace(line, key, true)
          : type > 0
            ? placeBelow(line, key)
            : nearestPlace(line, key, 1, 'first');
      return place === null ? ERRORS.notAvailable : place + 1;
    },
  ),
  INDEX: define(
    { ...standard, about: 'The value at a row and a column of a range.' },
    [area('Range'), optional(whole('Row'), 0), maybe(whole('Column'))],
    (_moment, from, first, second) => {
      const alongRow = second === undefined && from.rows === 1;
      const row = alongRow ? 1 : first;
      const column = alongRow ? first : (second ?? (from.columns === 1 ? 1 : 0));
      if (row < 0 || column < 0) return ERRORS.value;
      if (row > from.rows || column > from.columns) return ERRORS.reference;
      if (row > 0 && column > 0) return from.at(row - 1, column - 1) ?? 0;
      if (row > 0) return areaOf(1, from.columns, (_row, each) => from.at(row - 1, each));
      if (column > 0) return areaOf(from.rows, 1, (each) => from.at(each, column - 1));
      return from;
    },
  ),
  SEQUENCE: define(
    { ...common, about: 'Numbers that go up by a step.' },
    [
      whole('Rows'),
      optional(whole('Columns'), 1),
      optional(number('Start'), 1),
      optional(number('Step'), 1),
    ],
    (_moment, rows, columns, start, step) => {
      if (rows < 1 || columns < 1) return ERRORS.value;
      return areaOf(rows, columns, (row, column) => start + (row * columns + column) * step);
    },
  ),
  SORT: define(
    { ...common, about: 'The rows of a range in order.' },
    [
      area('Range'),
      optional(whole('By'), 1),
      optional(whole('Order'), 1),
      optional(logical('By column'), false),
    ],
    (_moment, from, by, order, byColumn) => {
      const source = byColumn ? transposed(from) : from;
      if (by < 1 || by > source.columns || (order !== 1 && order !== -1)) return ERRORS.value;
      const rows = sortedRows(source, { index: by - 1, falling: order === -1 });
      return areaOrNothing(rows, byColumn, ERRORS.value);
    },
  ),
  UNIQUE: define(
    { ...common, about: 'The rows of a range without those that come again.' },
    [
      area('Range'),
      optional(logical('By column'), false),
      optional(logical('Exactly once'), false),
    ],
    (_moment, from, byColumn, once) =>
      areaOrNothing(
        uniqueRows(byColumn ? transposed(from) : from, once),
        byColumn,
        ERRORS.notAvailable,
      ),
  ),
  FILTER: define(
    { ...common, about: 'The rows of a range for which a condition holds.' },
    [area('Range'), area('Condition'), maybe(argument('If none'))],
    (_moment, from, conditions, ifNone) => {
      const byColumn =
        conditions.rows === 1 && conditions.columns === from.columns && from.rows !== 1;
      const source = byColumn ? transposed(from) : from;
      spend(conditions.rows * conditions.columns * 10);
      const wanted = listOf(conditions);
      if (wanted.length !== source.rows) return ERRORS.value;
      const holds = wanted.map(toLogical);
      const failure = holds.find(isErrorValue);
      if (failure) return failure;
      const rows = rowsOf(source).filter((_, index) => holds[index] === true);
      const nothing = rows.length === 0 ? (ifNone?.value() ?? ERRORS.notAvailable) : null;
      return areaOrNothing(rows, byColumn, nothing);
    },
  ),
  TRANSPOSE: define(
    { ...standard, about: 'A range with rows and columns swapped.' },
    [area('Range')],
    (_moment, from) => transposed(from),
  ),
  ROW: defineList(
    { ...standard, about: 'The row of a reference, or the formula’s own.' },
    [],
    ['Reference'],
    (_moment, _fixed, [given]) => placePart(given, 'row'),
    { leastRest: 0, mostRest: 1 },
  ),
  COLUMN: defineList(
    { ...standard, about: 'The column of a reference as a number, or the formula’s own.' },
    [],
    ['Reference'],
    (_moment, _fixed, [given]) => placePart(given, 'column'),
    { leastRest: 0, mostRest: 1 },
  ),
  ROWS: define(
    { ...standard, about: 'How many rows a range has.' },
    [area('Range')],
    (_moment, range) => range.rows,
  ),
  COLUMNS: define(
    { ...standard, about: 'How many columns a range has.' },
    [area('Range')],
    (_moment, range) => range.columns,
  ),
} satisfies Record<string, FunctionDefinition>;

const informs = { standing: 'standard', group: 'information' } as const;

export const information = {
  ISBLANK: define(
    { ...informs, about: 'TRUE when a cell holds nothing.' },
    [anything('Value')],
    (_moment, { value }) => value === null,
  ),
  ISNUMBER: define(
    { ...informs, about: 'TRUE for a number; dates and times are numbers.' },
    [anything('Value')],
    (_moment, { value }) => typeof value === 'number',
  ),
  ISTEXT: define(
    { ...informs, about: 'TRUE for a text.' },
    [anything('Value')],
    (_moment, { value }) => typeof value === 'string',
  ),
  ISERROR: define(
    { ...informs, about: 'TRUE for an error value.' },
    [anything('Value')],
    (_moment, { value }) => isErrorValue(value),
  ),
  ISNA: define(
    { ...informs, about: 'TRUE for #N/A.' },
    [anything('Value')],
    (_moment, { value }) => isErrorValue(value) && value.error === '#N/A',
  ),
  NA: define({ ...informs, about: '#N/A: no value is at hand.' }, [], () => ERRORS.notAvailable),
} satisfies Record<string, FunctionDefinition>;
