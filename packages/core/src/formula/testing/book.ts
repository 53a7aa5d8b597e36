import { FreeRows, ORDER_GAP, SheetModel } from '../../sheet';
import type { CellValue } from '../../values';
import {
  bindFormula,
  Calculation,
  writeFormula,
  type GridSheet,
  type LostColumn,
  type RangeName,
  type SheetGrid,
  type StoredColumn,
  type StoredFormula,
  type StoredFreeCell,
  type StoredFreeRows,
} from '..';
import { MOMENT } from './engines';

const NOTATION = { decimal: '.' };

export interface SheetText {
  readonly name: string;
  /** Headings of the record block; a sheet without any has no records. */
  readonly headings?: readonly string[];
  readonly loose?: number;
  /** Free rows: values, or texts that begin with `=`. */
  readonly rows?: readonly (readonly CellValue[])[];
  readonly records?: readonly (readonly CellValue[])[];
}

interface Sheet extends GridSheet {
  columns: StoredColumn[];
  looseColumns: string[];
  rows: StoredFreeRows;
  lost: Map<string, LostColumn>;
}

/** A small workbook for tests: sheets written as rows, and changed as people change them. */
export class Book {
  readonly sheets: Sheet[] = [];
  readonly names: RangeName[] = [];
  readonly lost = new Map<string, string>();
  calculation: Calculation;
  private made = 0;

  constructor(texts: readonly SheetText[], formulas: Readonly<Record<string, string>> = {}) {
    for (const text of texts) this.sheets.push(this.sheetOf(text));
    this.calculation = this.rebuilt();
    texts.forEach(({ rows = [] }, index) => {
      const sheet = this.sheet(index);
      rows.forEach((cells, row) => {
        const held = sheet.rows.at(row);
        if (!held) return;
        const bound = cells.flatMap((value, column): [string, StoredFreeCell][] =>
          typeof value === 'string' && value.startsWith('=')
            ? [
                [
                  this.grid(index).columnId(column) ?? '',
                  { formula: this.bind(index, value, false) },
                ],
              ]
            : [],
        );
        sheet.rows.put({ ...held, cells: { ...held.cells, ...Object.fromEntries(bound) } });
      });
    });
    for (const [at, formula] of Object.entries(formulas)) this.compute(at, formula, true);
    this.rebuild();
  }

  /** Computes everything from nothing, as after a restart. */
  rebuild(): void {
    this.calculation = this.rebuilt();
    this.calculation.settle();
  }

  rebuilt(): Calculation {
    return new Calculation({ sheets: this.sheets, names: this.names, lost: this.lost }, MOMENT);
  }

  sheet(index: number): Sheet {
    const sheet = this.sheets[index];
    if (!sheet) throw new Error(`no sheet ${index}`);
    return sheet;
  }

  grid(index: number, of = this.calculation): SheetGrid {
    const grid = of.sheet(this.sheet(index).id);
    if (!grid) throw new Error(`no grid ${index}`);
    return grid;
  }

  bind(index: number, text: string, inRecord: boolean): StoredFormula {
    const home = { sheet: this.grid(index), inRecord };
    const bound = bindFormula(text.slice(1), home, this.calculation, NOTATION);
    if (!bound.ok) throw new Error(`${text}: ${JSON.stringify(bound.problem)}`);
    return bound.formula;
  }

  /** Puts a value or formula into a free cell and recalculates. */
  put(index: number, row: number, column: number, content: CellValue): void {
    const sheet = this.sheet(index);
    const held = sheet.rows.at(row - 1);
    const id = this.grid(index).columnId(column);
    if (!held || id === undefined) throw new Error(`no cell ${row}, ${column}`);
    const isFormula = typeof content === 'string' && content.startsWith('=');
    const cell: StoredFreeCell = isFormula
      ? { formula: this.bind(index, content, false) }
      : { value: content };
    sheet.rows.put({ ...held, revision: held.revision + 1, cells: { ...held.cells, [id]: cell } });
    this.calculation.touchFreeRow(sheet.id, held.id, [id]);
    this.calculation.settle();
  }

  /** Gives a column a formula: `Sheet!Heading`. */
  compute(at: string, formula: string, follows: boolean): void {
    const [name, heading] = at.split('!');
    const index = this.sheets.findIndex((each) => each.name === name);
    const settings = { formula: this.bind(index, formula, true), follows };
    const sheet = this.sheet(index);
    sheet.columns = sheet.columns.map((column) =>
      column.heading === heading ? { ...column, kind: 'computed' as const, settings } : column,
    );
    this.rebuild();
  }

  /** Adds a record at the end, or right under the heading. */
  add(index: number, cells: readonly CellValue[], atTop = false): string {
    const { id: sheetId, records, columns } = this.sheet(index);
    const id = this.id('r');
    const first = records.count > 0 ? records.at(0).orderKey : ORDER_GAP;
    const orderKey = atTop ? first - ORDER_GAP : records.nextOrderKey();
    const entries = columns.flatMap((column, n) => {
      const value = cells[n] ?? null;
      return value === null ? [] : [[column.id, value] as const];
    });
    records.add({ id, orderKey, revision: 1, cells: Object.fromEntries(entries) });
    const ids = columns.map((column) => column.id);
    this.calculation.touchRecord(sheetId, records.slotOf(id) ?? -1, ids, true);
    this.calculation.settle();
    return id;
  }

  change(index: number, position: number, column: number, value: CellValue): void {
    const { id: sheetId, records, columns } = this.sheet(index);
    const record = records.at(position);
    const id = columns[column]?.id ?? '';
    records.update({ ...record, cells: { ...record.cells, [id]: value } });
    this.calculation.touchRecord(sheetId, records.slotAt(position), [id], false);
    this.calculation.settle();
  }

  remove(index: number, position: number): void {
    const { id: sheetId, records, columns } = this.sheet(index);
    const slot = records.slotAt(position);
    records.remove(records.at(position).id);
    this.calculation.touchRecord(
      sheetId,
      slot,
      columns.map(({ id }) => id),
      true,
    );
    this.calculation.settle();
  }

  /** Inserts a blank free row above a row. */
  insertRow(index: number, row: number): void {
    const sheet = this.sheet(index);
    const before = sheet.rows.at(row - 2)?.orderKey ?? 0;
    const after = sheet.rows.at(row - 1)?.orderKey ?? before + 2 * ORDER_GAP;
    sheet.rows.put({ id: this.id('f'), orderKey: (before + after) / 2, revision: 1, cells: {} });
    this.rebuild();
  }

  insertColumn(index: number, at: number): void {
    const sheet = this.sheet(index);
    if (sheet.hasRecords)
      sheet.columns = sheet.columns.toSpliced(at, 0, this.column(this.id('New ')));
    else sheet.looseColumns = sheet.looseColumns.toSpliced(at, 0, this.id('l'));
    this.rebuild();
  }

  removeColumn(index: number, at: number): void {
    const sheet = this.sheet(index);
    const [gone] = sheet.columns.splice(at, 1);
    if (!gone) throw new Error(`no column ${at}`);
    sheet.lost.set(gone.id, { heading: gone.heading, after: sheet.columns[at - 1]?.id ?? null });
    this.lost.set(gone.id, gone.heading);
    this.rebuild();
  }

  /** The value in a cell, `A1` style: errors as texts. */
  value(index: number, row: number, column: number, of = this.calculation): unknown {
    const value = of.valueAt(this.grid(index, of), row, column);
    return typeof value === 'object' && value !== null ? value.error : value;
  }

  why(index: number, row: number, column: number): unknown {
    const value = this.calculation.valueAt(this.grid(index), row, column);
    return typeof value === 'object' && value !== null ? value.why : undefined;
  }

  /** A free cell's formula as people read it now. */
  formula(index: number, row: number, column: number): string {
    const grid = this.grid(index);
    const stored = this.sheet(index).rows.at(row - 1)?.cells[grid.columnId(column) ?? '']?.formula;
    return stored ? `=${writeFormula(stored, grid, this.calculation, NOTATION)}` : '';
  }

  /** All values of all sheets, row by row. */
  values(of = this.calculation): unknown[][][] {
    return this.sheets.map((_, index) => {
      const grid = this.grid(index, of);
      const width = grid.columnCount + 2;
      return Array.from({ length: of.lastRowOf(grid) }, (_row, row) =>
        Array.from({ length: width }, (_column, column) => this.value(index, row + 1, column, of)),
      );
    });
  }

  private sheetOf({ name, headings = [], loose = 0, rows = [], records = [] }: SheetText): Sheet {
    const columns = headings.map((heading) => this.column(heading));
    const looseColumns = Array.from({ length: loose }, () => this.id('l'));
    const ids = [...columns.map(({ id }) => id), ...looseColumns];
    const model = new SheetModel();
    records.forEach((cells) => {
      const entries = cells.map((value, n) => [ids[n] ?? '', value] as const);
      model.add({
        id: this.id('r'),
        orderKey: model.nextOrderKey(),
        revision: 1,
        cells: Object.fromEntries(entries),
      });
    });
    const free = rows.map((cells, n) => ({
      id: this.id('f'),
      orderKey: (n + 1) * ORDER_GAP,
      revision: 1,
      cells: Object.fromEntries(
        cells.flatMap((value, column) =>
          typeof value === 'string' && value.startsWith('=')
            ? []
            : [[ids[column] ?? '', { value }]],
        ),
      ),
    }));
    return {
      id: this.id('s'),
      name,
      columns,
      looseColumns,
      hasRecords: headings.length > 0,
      rows: new FreeRows(free),
      records: model,
      lost: new Map(),
    };
  }

  private column(heading: string): StoredColumn {
    return { id: this.id('c'), heading, kind: 'number', settings: {} };
  }

  private id(prefix: string): string {
    this.made += 1;
    return `${prefix}${this.made}`;
  }
}
