import {
  isArea,
  isErrorValue,
  parseFormula,
  resultKind,
  showValue,
  sourceColumn,
  sourceKind,
  sourceSheet,
  stepsTaken,
  type Area,
  type Calculation,
  type Cells,
  type CellValue,
  type Column,
  type ErrorValue,
  type ListSettings,
  type ListShape,
  type SheetModel,
  type SourceRow,
  type StoredFormula,
  type Value,
} from '@varn/core';
import type { SheetFacts } from '../store/catalog';

/** What feeds a list, made ready to be read. */
export interface Source {
  /** The sheet it stands in; `null` where it is computed of none. */
  readonly sheetId: string | null;
  /** The column whose records it is, if it is one. */
  readonly columnId: string | null;
  /** Sheets whose changes may change it. */
  readonly sheetIds: ReadonlySet<string>;
  /** Whether a record's own cells tell what its row is. */
  readonly isOfCells: boolean;
  /** The columns it reads, written out: while they are the same, so are its rows; else `null`. */
  readonly reads: string | null;
  readonly shape: ListShape;
  /**
   * Its rows as they stand; `null` where others should have their turn before the next.
   *
   * @throws TooMuchWork when reading them takes more than a list may
   */
  rows(): Iterable<SourceRow | null>;
  /** The row of a record as it was, or is: `null` where it is not offered. */
  rowOf(cells: Cells): SourceRow | null;
  /** Why there are no rows, where the source is not there or gives an error. */
  problem(): ErrorValue | null;
}

/** What reading all rows of a source may take, in steps of formulas: some seconds. */
const MOST_STEPS = 60_000_000;
/** After so many steps, or rows, others have their turn. */
const SLICE_STEPS = 50_000;
const SLICE_ROWS = 1000;

/** A source whose rows take too long to be read. */
export class TooMuchWork extends Error {
  /** @param done how many of its rows were read */
  constructor(
    readonly done: number,
    readonly rows: number,
  ) {
    super('reading the source of a list takes too long');
  }
}

/** Counts what reading rows takes. */
class Meter {
  private total = 0;
  private since = 0;
  private rows = 0;

  /** Reads a row. @throws TooMuchWork when that was more than may be */
  read<T>(row: () => T, done: number, count: number): T {
    const before = stepsTaken();
    const read = row();
    const steps = stepsTaken() - before;
    this.total += steps;
    this.since += steps;
    this.rows += 1;
    if (this.total > MOST_STEPS) throw new TooMuchWork(done, count);
    return read;
  }

  isDue(): boolean {
    if (this.since < SLICE_STEPS && this.rows < SLICE_ROWS) return false;
    this.since = 0;
    this.rows = 0;
    return true;
  }
}

/** All that is said of a row of a source, in one list. */
function partsOf({ label, second, where, narrowed = [], fills = [] }: ListSettings<StoredFormula>) {
  return {
    label,
    second,
    where,
    by: narrowed.map(({ by }) => by),
    from: fills.map(({ from }) => from),
  };
}

/** Makes a source ready. @param home the sheet its list is offered in */
export function sourceOf(
  list: ListSettings<StoredFormula>,
  home: SheetFacts,
  calculation: Calculation,
  uses: ((text: string) => number) | undefined,
): Source {
  const column = sourceColumn(list.source, calculation);
  const grid = column && calculation.sheet(column.sheet);
  const isOfRecords =
    grid?.sheet.hasRecords === true && grid.column(column?.column ?? '') !== undefined;
  const parts = partsOf(list);
  const all = [list.source, parts.label, parts.second, parts.where, ...parts.by, ...parts.from];
  const references = all.flatMap((formula) => formula?.references ?? []);
  const sheetId = sourceSheet(list.source, calculation);
  const sheetIds = new Set<string>();
  for (const reference of references) {
    if (reference.kind !== 'name') sheetIds.add(reference.sheet);
    else
      for (const each of home.workbook.names) {
        if (each.id === reference.id && each.reference.kind !== 'name')
          sheetIds.add(each.reference.sheet);
      }
  }
  const isFollowed = (id: string): boolean => grid?.column(id)?.settings.follows === true;
  const isOfCells =
    isOfRecords &&
    references.every(
      (each) =>
        (each.kind === 'field' || each === references[0]) &&
        each.kind !== 'name' &&
        !('column' in each && isFollowed(each.column)),
    );
  const columnsRead = references.flatMap((each) =>
    'column' in each ? (grid?.column(each.column) ?? []) : [],
  );
  const base = {
    sheetId,
    reads: isOfCells ? JSON.stringify([sheetId, columnsRead]) : null,
    sheetIds,
    isOfCells,
    columnId: isOfRecords && column ? column.column : null,
    shape: shapeOf(list, home, calculation, uses),
  };
  if (!isOfRecords || !column) return { ...base, ...areaRows(list, parts, home, calculation) };
  return { ...base, ...recordRows(column, parts, calculation, grid.sheet.records) };
}

type Parts = ReturnType<typeof partsOf>;
type Rows = Pick<Source, 'rows' | 'rowOf' | 'problem'>;

/** A column's records, each a row. */
function recordRows(
  { sheet, column }: { readonly sheet: string; readonly column: string },
  parts: Parts,
  calculation: Calculation,
  model: SheetModel,
): Rows {
  /** How the row of a slot is read, in one pass over all: `null` where it is not offered. */
  const reader = (): ((slot: number) => SourceRow | null) => {
    const along = (formula: StoredFormula | undefined) =>
      formula && calculation.valueAlong(sheet, formula);
    const [label, second, where] = [along(parts.label), along(parts.second), along(parts.where)];
    const by = parts.by.map((formula) => calculation.valueAlong(sheet, formula));
    const from = parts.from.map((formula) => calculation.valueAlong(sheet, formula));
    return (slot) => {
      if (where && !holds(single(where(slot)))) return null;
      return {
        value: model.cellOfSlot(slot, column),
        ...(label && { label: single(label(slot)) }),
        ...(second && { second: single(second(slot)) }),
        ...(by.length > 0 && { by: by.map((each) => single(each(slot))) }),
        ...(from.length > 0 && { fills: from.map((each) => single(each(slot))) }),
      };
    };
  };
  const over = (formula: StoredFormula, cells: Cells): CellValue =>
    calculation.valueOver(sheet, formula, cells);
  return {
    *rows() {
      const read = reader();
      const meter = new Meter();
      // Records may go while others are answered between the steps.
      for (let position = 0; position < model.count; position += 1) {
        if (model.isTrialAt(position)) continue;
        const slot = model.slotAt(position);
        const row = meter.read(() => read(slot), position + 1, model.count);
        if (row) yield row;
        if (meter.isDue()) yield null;
      }
    },
    rowOf(cells) {
      if (parts.where && !holds(over(parts.where, cells))) return null;
      return {
        value: cells[column] ?? null,
        ...(parts.label && { label: over(parts.label, cells) }),
        ...(parts.second && { second: over(parts.second, cells) }),
        ...(parts.by.length > 0 && { by: parts.by.map((each) => over(each, cells)) }),
        ...(parts.from.length > 0 && { fills: parts.from.map((each) => over(each, cells)) }),
      };
    },
    problem: () => null,
  };
}

/** A range, a name or an array result, cell by cell; what is said beside it is as long. */
function areaRows(
  { source }: ListSettings<StoredFormula>,
  parts: Parts,
  home: SheetFacts,
  calculation: Calculation,
): Rows {
  const of = sourceSheet(source, calculation) ?? home.id;
  const beside = (formula: StoredFormula | undefined): ((at: number) => CellValue) | undefined => {
    if (!formula) return undefined;
    const value = calculation.valueOutside(of, formula);
    return isArea(value) ? (at) => cellOf(value, at) : () => value;
  };
  return {
    *rows() {
      const value = calculation.valueOutside(home.id, source);
      const [label, second, where] = [parts.label, parts.second, parts.where].map(beside);
      const [by, from] = [parts.by.map(beside), parts.from.map(beside)];
      const count = isArea(value) ? filledOf(value) : 1;
      for (let at = 0; at < count; at += 1) {
        if (at % SLICE_ROWS === SLICE_ROWS - 1) yield null;
        if (where && !holds(where(at))) continue;
        yield {
          value: isArea(value) ? cellOf(value, at) : value,
          ...(label && { label: label(at) }),
          ...(second && { second: second(at) }),
          ...(by.length > 0 && { by: by.map((each) => each?.(at) ?? null) }),
          ...(from.length > 0 && { fills: from.map((each) => each?.(at) ?? null) }),
        };
      }
    },
    rowOf: () => null,
    problem() {
      const value = calculation.valueOutside(home.id, source);
      return !isArea(value) && isErrorValue(value) ? value : null;
    },
  };
}

const cellOf = (area: Area, at: number): CellValue =>
  area.at(Math.floor(at / area.columns), at % area.columns);

/** How many cells there are to the last that holds anything: a range that goes on down ends there. */
function filledOf(area: Area): number {
  let count = area.rows * area.columns;
  while (count > 0 && cellOf(area, count - 1) === null) count -= 1;
  return count;
}

/** What one cell holds of it. */
const single = (value: Value): CellValue => (isArea(value) ? value.at(0, 0) : value);

/** Whether a condition lets a row be offered: an error does not. */
const holds = (value: CellValue): boolean =>
  value !== null && value !== false && value !== 0 && value !== '' && !isErrorValue(value);

const collators = new Map<string, Intl.Collator>();

function collatorOf(tag: string): Intl.Collator {
  const held = collators.get(tag) ?? new Intl.Collator(tag, { numeric: true });
  collators.set(tag, held);
  return held;
}

function shapeOf(
  list: ListSettings<StoredFormula>,
  { workbook: { locale } }: SheetFacts,
  calculation: Calculation,
  uses: ((text: string) => number) | undefined,
): ListShape {
  const shownAs = sourceKind(list.source, calculation);
  const own: Column = {
    id: '',
    heading: '',
    kind: 'oneChoice',
    settings: { ...(shownAs && { shownAs }) },
  };
  const showBy = (formula: StoredFormula) => {
    const shown = resultKind(parseFormula(formula), calculation);
    const column: Column = {
      id: '',
      heading: '',
      kind: shown?.kind ?? 'computed',
      settings: shown?.settings ?? {},
    };
    return (value: CellValue): string => showValue(value, column, locale);
  };
  const { compare } = collatorOf(locale.tag);
  return {
    order: list.order,
    ...(list.first && { first: list.first }),
    exact: list.exact === true,
    show: (value) => showValue(value, own, locale),
    showLabel: list.label && showBy(list.label),
    showSecond: list.second && showBy(list.second),
    showBy: (list.narrowed ?? []).map(({ by }) => showBy(by)),
    compare: (a, b) => compare(a, b),
    ...(uses && { uses }),
  };
}
