import type {
  CsvQuery,
  ColumnValuesView,
  FormulaView,
  FreeCellView,
  FreeRowsView,
  FreeRowView,
  NameView,
  RecordView,
  RowsQuery,
  RowsView,
  SheetView,
  Total,
} from '@varn/contract';
import {
  bindFormula,
  heldValuesIn,
  isErrorValue,
  isTrial,
  resultKind,
  sayErrorValue,
  sayFormulaProblem,
  showValue,
  toWire,
  typeWarnings,
  writeFormula,
  type Calculation,
  type CellValue,
  type StoredColumn,
  type StoredFreeCell,
  type SheetGrid,
  type SheetModel,
  type StoredFreeRows,
} from '@varn/core';
import { csvCells, csvHeading, csvRows, type CsvCell, type CsvWays } from '@varn/files';
import { Injectable } from '@nestjs/common';
import { Calculator } from '../calculation/calculator';
import { writtenColumns } from '../calculation/writtenColumns';
import { Lists } from '../lists/lists';
import { Refused } from '../http/refused';
import { Catalog, formEntry, type SheetFacts } from '../store/catalog';
import type { Asker } from '../turns/asker';
import { inTurns, Pace } from '../turns/turns';
import { SheetCache } from '../store/sheetCache';
import { viewPositions } from './view';

const SEPARATORS = { comma: ',', semicolon: ';', tab: '\t' } as const;

/** Records written to a file at once; between them other requests are answered. */
const CSV_BATCH = 1000;
/** Cells above the heading that are written at once. */
const CSV_TOP_CELLS = 10_000;
/** Workbooks of more records than this are shown before they are read into memory. */
const LARGE = 20_000;
/** Records a formula that is being typed is tried on. */
const TRIED = 5;

/** The most cells of one answer: a page of the grid has fewer, however wide the sheet. */
const MOST_CELLS_READ = 250_000;
/** How many different values of a column are told. */
const MOST_VALUES = 1000;

@Injectable()
export class SheetReader {
  constructor(
    private readonly catalog: Catalog,
    private readonly cache: SheetCache,
    private readonly calculator: Calculator,
    private readonly lists: Lists,
  ) {}

  async show(sheetId: string): Promise<SheetView> {
    const sheet = this.facts(sheetId);
    const { id, workbook, name, revision, headingRow, hasRecords, look } = sheet;
    const calculation = await this.calculator.written(workbook.id);
    return {
      id,
      workbookId: workbook.id,
      name,
      revision,
      headingRow,
      hasRecords,
      looseColumns: [...sheet.looseColumns],
      look,
      columns: writtenColumns(sheet, calculation),
      lost: sheet.lostColumns.map(({ column }) => ({ id: column.id, heading: column.heading })),
      count: await this.cache.count(sheetId),
      forms: this.catalog.formsOf(sheetId).map(formEntry),
    };
  }

  /** A window of the records, as they stand or in a view of one's own. */
  async rows(
    sheetId: string,
    { from, count: asked, view }: RowsQuery,
    asker: Asker,
  ): Promise<RowsView> {
    const sheet = this.facts(sheetId);
    const count = rowsAtOnce(sheet, asked);
    if (view === undefined && (await this.isCold(sheet)))
      return this.storedRows(sheet, from, count);
    const { computing } = await this.calculator.results(sheet.workbook.id, sheetId);
    const model = await this.cache.model(sheetId);
    const progress = computing && { computing };
    if (view === undefined) {
      return { ...withTotals(rowsOf(sheet, model, from, count), sheet, model, null), ...progress };
    }
    const context = await this.lists.readyIn(sheet);
    const positions = await viewPositions(sheet, model, view, context, asker);
    const shown = positions.subarray(from, from + count);
    const rows = {
      from,
      count: positions.length,
      records: [...shown].map((position) => recordView(sheet, model, position)),
      gridRows: [...shown].map((position) => sheet.headingRow + 1 + position),
    };
    return { ...withTotals(rows, sheet, model, positions), ...progress };
  }

  /** What a column holds, the most frequent first. */
  async values(sheetId: string, columnId: string, asker: Asker): Promise<ColumnValuesView> {
    const { columnsById, workbook } = this.facts(sheetId);
    const column = columnsById.get(columnId);
    if (!column) throw Refused.notFound('column in this sheet');
    await this.calculator.results(workbook.id, sheetId);
    const model = await this.cache.model(sheetId);
    const held = await inTurns(heldValuesIn(model, column, workbook.locale), asker);
    return { values: held.slice(0, MOST_VALUES), different: held.length };
  }

  /**
   * Whether a workbook's formulas wait for so many records to be read that sheets are shown
   * before; if so, they are read from now on, and it is told of when they are there.
   */
  private async isCold({ workbook: { id } }: SheetFacts): Promise<boolean> {
    if (this.calculator.isAtHand(id)) return false;
    const sheets = this.catalog.sheetsOf(id);
    const counts = await Promise.all(sheets.map((sheet) => this.cache.count(sheet.id)));
    if (counts.reduce((sum, count) => sum + count, 0) < LARGE) return false;
    this.calculator.warm(id);
    return true;
  }

  /** A window of a sheet straight from the database: what is computed of it is blank. */
  private async storedRows(sheet: SheetFacts, from: number, count: number): Promise<RowsView> {
    const records = await this.cache.window(sheet.id, from, count);
    return {
      from,
      count: await this.cache.count(sheet.id),
      records: records.map(({ id, revision, cells }) => ({
        id,
        revision,
        cells: sheet.columns.map((column) => toWire(cells[column.id] ?? null, column)),
        ...(isTrial(cells) && { trial: true }),
      })),
    };
  }

  /** A window of the rows outside of the records, with what formulas give. */
  async freeRows(sheetId: string, from: number, asked: number): Promise<FreeRowsView> {
    const sheet = this.facts(sheetId);
    const count = rowsAtOnce(sheet, asked);
    const { calculation, computing } = (await this.isCold(sheet))
      ? { calculation: null, computing: false }
      : await this.calculator.results(sheet.workbook.id, sheetId);
    const rows = await this.cache.rows(sheetId);
    const grid = calculation?.sheet(sheetId);
    const last =
      !sheet.hasRecords && calculation && grid ? calculation.lastRowOf(grid) : rows.count;
    const end = Math.min(from + count, last);
    const views: FreeRowView[] = [];
    for (let position = from; position < end; position += 1) {
      const row = rows.at(position);
      const ids = [...sheet.columns.map(({ id }) => id), ...sheet.looseColumns];
      views.push({
        id: row?.id ?? '',
        revision: row?.revision ?? 0,
        cells: ids.map((id, column) =>
          freeCellView(row?.cells[id], position + 1, column, sheet, calculation, grid),
        ),
      });
    }
    return { from, count: last, rows: views, ...(computing && { computing }) };
  }

  /** Reads a formula as it is typed: what is wrong with it, and what it would give. */
  async checkFormula(
    sheetId: string,
    text: string,
    columnId: string | undefined,
    asker: Asker,
  ): Promise<FormulaView> {
    const sheet = this.facts(sheetId);
    const { locale, id: workbookId } = sheet.workbook;
    const calculation = await this.calculator.of(workbookId);
    await this.calculator.results(workbookId, sheetId);
    const grid = calculation.sheet(sheetId);
    if (!grid) throw Refused.notFound('sheet');
    const start = text.startsWith('=') ? 1 : 0;
    const inRecord = columnId !== undefined;
    const bound = bindFormula(text.slice(start), { sheet: grid, inRecord }, calculation, locale);
    if (!bound.ok) {
      const { from, to } = bound.problem;
      const message = sayFormulaProblem(bound.problem);
      return {
        notes: [{ message, from: from + start, to: to + start, strictness: 'refuse' }],
        gives: [],
      };
    }
    const { formula, expression } = bound;
    const notes = typeWarnings(expression, calculation).map((note) => ({
      message: note.message,
      from: note.from + start,
      to: note.to + start,
      strictness: 'ask' as const,
    }));
    const shown = resultKind(expression, calculation);
    const column: StoredColumn = {
      id: columnId ?? '',
      heading: '',
      kind: 'computed',
      settings: { ...shown?.settings, formula, ...(shown && { shownAs: shown.kind }) },
    };
    const value = calculation.trial(sheetId, column);
    const model = await this.cache.model(sheetId);
    const slots = inRecord ? [...model.slots().subarray(0, TRIED)] : [-1];
    const values: CellValue[] = [];
    const pace = new Pace(asker);
    for (const slot of slots) {
      // Others are answered before each: it may take as long as one formula is let.
      await pace.pause();
      values.push(value(slot));
    }
    pace.end();
    const failed = values.filter(isErrorValue).find(({ why }) => why !== undefined);
    if (failed) {
      const message = sayErrorValue(failed);
      notes.push({ message, from: start, to: text.length, strictness: 'ask' });
    }
    const gives = values.map((each) => showValue(each, column, locale));
    return { notes, gives };
  }

  /** The named ranges of a workbook. */
  async names(workbookId: string): Promise<NameView[]> {
    const workbook = this.catalog.workbook(workbookId);
    if (!workbook || workbook.names.length === 0) return [];
    const calculation = await this.calculator.of(workbookId);
    return workbook.names.map(({ id, name, reference }) => {
      const home = 'sheet' in reference ? calculation.sheet(reference.sheet) : undefined;
      const stored = { text: '⟨0⟩', references: [{ ...reference, named: true as const }] };
      const range = home ? writeFormula(stored, home, calculation, workbook.locale) : '';
      return { id, name, range };
    });
  }

  /** The records of a view, by id. @throws Refused 400 where it is none */
  async idsIn(sheetId: string, view: string, asker: Asker): Promise<string[]> {
    const sheet = this.facts(sheetId);
    await this.calculator.settled(sheet.workbook.id);
    const model = await this.cache.model(sheetId);
    const context = await this.lists.readyIn(sheet);
    const positions = await viewPositions(sheet, model, view, context, asker);
    return Array.from(positions, (position) => model.headOf(model.slotAt(position)).id);
  }

  /**
   * A sheet as CSV, in pieces: its heading, then its records as they stand; without records its
   * cells.
   *
   * @param ids only these records, in this order
   */
  async *csv(
    sheetId: string,
    { guard, separator = 'comma', decimals, top }: Omit<CsvQuery, 'view'>,
    asker: Asker,
    ids?: readonly string[],
  ): AsyncGenerator<string> {
    const sheet = this.facts(sheetId);
    const { columns, workbook } = sheet;
    const ways: CsvWays = {
      guarded: guard !== 'off',
      separator: SEPARATORS[separator],
      decimalSign: decimals === 'comma' ? ',' : '.',
    };
    const { calculation } = await this.calculator.settled(workbook.id);
    const model = await this.cache.model(sheetId);
    const pace = new Pace(asker);
    if (top === 'on' || !sheet.hasRecords) {
      for (const rows of this.topRows(sheet, calculation, await this.cache.rows(sheetId))) {
        const text = csvCells(rows, ways);
        pace.end();
        yield text;
        await pace.goOn();
      }
    }
    if (!sheet.hasRecords) return;
    yield csvHeading(columns, ways);
    for (const slots of ids ? batchesOf(model, ids) : batchesOfAll(model)) {
      const rows = slots.map((slot) => columns.map((column) => model.cellOfSlot(slot, column.id)));
      const text = csvRows(columns, rows, ways);
      pace.end();
      yield text;
      await pace.goOn();
    }
  }

  /** What stands above the heading, each cell by its own kind, some rows at a time. */
  private *topRows(
    { id, columns, looseColumns }: SheetFacts,
    calculation: Calculation | null,
    rows: StoredFreeRows,
  ): Generator<CsvCell[][]> {
    const grid = calculation?.sheet(id);
    const ids = [...columns.map((column) => column.id), ...looseColumns];
    const atOnce = Math.max(1, Math.floor(CSV_TOP_CELLS / Math.max(1, ids.length)));
    const cellAt = (row: number, columnId: string, index: number): CsvCell => {
      const cell = rows.at(row)?.cells[columnId];
      const { kind = 'computed', settings = {} } = cell ?? {};
      const value =
        calculation && grid ? calculation.valueAt(grid, row + 1, index) : (cell?.value ?? null);
      return { value, column: { id: columnId, heading: '', kind, settings } };
    };
    for (let from = 0; from < rows.count; from += atOnce) {
      const count = Math.min(atOnce, rows.count - from);
      yield Array.from({ length: count }, (_, n) =>
        ids.map((columnId, index) => cellAt(from + n, columnId, index)),
      );
    }
  }

  facts(sheetId: string): SheetFacts {
    const sheet = this.catalog.sheet(sheetId);
    if (!sheet) throw Refused.notFound('sheet');
    return sheet;
  }
}

/** The slots of all records in their order, some at a time; what comes meanwhile comes with them. */
function* batchesOfAll(model: SheetModel): Generator<number[]> {
  for (let after = -Infinity; ;) {
    const start = model.positionAfter(after);
    const end = Math.min(start + CSV_BATCH, model.count);
    if (start >= end) return;
    const slots: number[] = [];
    for (let position = start; position < end; position += 1) slots.push(model.slotAt(position));
    after = model.at(end - 1).orderKey;
    yield slots;
  }
}

/** The slots of some records, some at a time; those that went meanwhile are left out. */
function* batchesOf(model: SheetModel, ids: readonly string[]): Generator<number[]> {
  for (let from = 0; from < ids.length; from += CSV_BATCH) {
    yield ids.slice(from, from + CSV_BATCH).flatMap((id) => model.slotOf(id) ?? []);
  }
}

/** As many rows as are asked for, and fewer of a sheet that is very wide. */
function rowsAtOnce({ columns, looseColumns }: SheetFacts, asked: number): number {
  const wide = Math.max(1, columns.length + looseColumns.length);
  return Math.min(asked, Math.max(1, Math.floor(MOST_CELLS_READ / wide)));
}

/** A window of a sheet's records, cut to those there are. */
export function rowsOf(
  sheet: SheetFacts,
  model: SheetModel,
  from: number,
  count: number,
): RowsView {
  const start = Math.min(Math.max(0, from), model.count);
  const end = Math.min(start + count, model.count);
  const records: RecordView[] = [];
  for (let position = start; position < end; position += 1) {
    records.push(recordView(sheet, model, position));
  }
  return { from: start, count: model.count, records };
}

export function recordView(sheet: SheetFacts, model: SheetModel, position: number): RecordView {
  const slot = model.slotAt(position);
  const { id, revision } = model.headOf(slot);
  const cells = sheet.columns.map((column): CellValue =>
    toWire(model.cellOfSlot(slot, column.id), column),
  );
  const trial = model.holdsTrials && isTrial(model.get(id).cells);
  return { id, revision, cells, ...(trial && { trial }) };
}

/** Adds the pinned totals, over all records or over those a view found. */
function withTotals(
  view: RowsView,
  { look, columnsById }: SheetFacts,
  model: SheetModel,
  positions: Int32Array | null,
): RowsView {
  const wanted = Object.entries(look.totals ?? {}).filter(([id]) => columnsById.has(id));
  if (wanted.length === 0) return view;
  const totals = wanted.map(([id, total]) => [id, totalOf(model, id, total, positions)] as const);
  return { ...view, totals: Object.fromEntries(totals) };
}

function totalOf(
  model: SheetModel,
  columnId: string,
  total: Total,
  positions: Int32Array | null,
): CellValue {
  const figures = positions ? model.figuresAt(columnId, positions) : model.figures(columnId);
  const { numbers, filled, sum, least, most } = figures;
  if (total === 'COUNT') return filled;
  if (numbers === 0) return null;
  return { SUM: sum, AVERAGE: sum / numbers, MIN: least, MAX: most }[total];
}

function freeCellView(
  cell: StoredFreeCell | undefined,
  row: number,
  column: number,
  sheet: SheetFacts,
  calculation: Calculation | null,
  grid: SheetGrid | undefined,
): FreeCellView | null {
  const value =
    calculation && grid ? calculation.valueAt(grid, row, column) : (cell?.value ?? null);
  if (value === null && !cell?.kind && !cell?.formula && !cell?.style) return null;
  const covered = !cell?.formula && (cell?.value ?? null) === null && value !== null;
  // Cells an array covers are shown as the cell its formula stands in.
  const source = covered && grid ? calculation?.coveredBy(grid, row, column) : undefined;
  const look = source ? grid?.sheet.rows.get(source.row)?.cells[source.column] : cell;
  return {
    value: isErrorValue(value) ? { error: value.error } : value,
    ...(isErrorValue(value) && value.why && { why: value.why }),
    ...(cell?.formula &&
      calculation &&
      grid && {
        formula: `=${writeFormula(cell.formula, grid, calculation, sheet.workbook.locale)}`,
      }),
    ...(look?.kind && { kind: look.kind }),
    ...(look?.settings && { settings: look.settings }),
    ...(cell?.style && { style: cell.style }),
    ...(covered && { covered }),
  };
}
