import type { CellValue, ErrorValue } from '../../values';
import { spend, spendValues } from './budget';
import type { LineIndex } from './lineIndex';
import type { ConditionalTotals } from '../../sheet';

/**
 * The figures of a column that are kept up to date while records come and go. Sums are
 * compensated (Neumaier 1974), so that they do not depend on what came first.
 */
export interface Figures {
  /** Cells that hold anything. */
  readonly filled: number;
  /** Cells that hold a number. */
  readonly numbers: number;
  readonly sum: number;
  /** Of the numbers; infinite where there is none. */
  readonly least: number;
  readonly most: number;
  /** The first error among the cells, in the order of the sheet, if there is one. */
  readonly error: CellValue;
}

/** A whole column of records, by which totals over conditions are kept. */
export interface RecordColumn {
  readonly columnId: string;
  /** Those of its sheet. */
  readonly totals: ConditionalTotals;
}

/** A rectangle of values: a range of cells, or what a formula computed. Never changes while read. */
export interface Area {
  readonly rows: number;
  readonly columns: number;
  /** The value at a row and a column, both from 0. */
  at(row: number, column: number): CellValue;
  /** Ready figures, where the area is a whole column of records. */
  figures?(): Figures;
  /** The index of a column, where it is kept longer than the area is. */
  index?(column: number): LineIndex;
  /** Which column of records it is, where it is a whole one. */
  readonly recordColumn?: RecordColumn | undefined;
  /** Whether a cell holds a subtotal itself, which another subtotal leaves out. */
  isSubtotal?(row: number, column: number): boolean;
}

/** What a formula gives: one value, or an area of them. */
export type Value = CellValue | Area;

export function isArea(value: Value): value is Area {
  return typeof value === 'object' && value !== null && 'at' in value;
}

/** An area of rows of values. All rows have the same length. */
export class ArrayArea implements Area {
  readonly columns: number;

  constructor(private readonly values: readonly (readonly CellValue[])[]) {
    this.columns = values[0]?.length ?? 0;
  }

  get rows(): number {
    return this.values.length;
  }

  at(row: number, column: number): CellValue {
    return this.values[row]?.[column] ?? null;
  }
}

/** An area computed from a function of its places. */
export function areaOf(
  rows: number,
  columns: number,
  at: (row: number, column: number) => CellValue,
): Area {
  spendValues(rows * columns);
  const values: CellValue[] = [];
  for (let row = 0; row < rows; row += 1) {
    for (let column = 0; column < columns; column += 1) values.push(at(row, column));
  }
  return new MadeArea(rows, columns, values);
}

/** An area of values in one list, row by row: a million of them take megabytes. */
class MadeArea implements Area {
  constructor(
    readonly rows: number,
    readonly columns: number,
    private readonly values: readonly CellValue[],
  ) {}

  at(row: number, column: number): CellValue {
    return this.values[row * this.columns + column] ?? null;
  }
}

/** Visits the values of an area row by row, until the visitor gives an error: then that. */
export function eachValue(
  area: Area,
  visit: (value: CellValue, row: number, column: number) => ErrorValue | null | undefined,
): ErrorValue | null {
  const { rows, columns } = area;
  spend(rows * columns);
  for (let row = 0; row < rows; row += 1) {
    for (let column = 0; column < columns; column += 1) {
      const failure = visit(area.at(row, column), row, column);
      if (failure) return failure;
    }
  }
  return null;
}

/** One row or one column of values as a list. */
export function listOf(area: Area): CellValue[] {
  const list: CellValue[] = [];
  eachValue(area, (value) => {
    list.push(value);
    return null;
  });
  return list;
}
