import type {
  AskFigures,
  CellBox,
  FoundPlace,
  FiguresView,
  FindText,
  FoundView,
} from '@varn/contract';
import {
  FigureSum,
  foldText,
  isErrorValue,
  showValue,
  type Calculation,
  type CellValue,
  type Column,
  type StoredFreeRows,
  type SheetGrid,
  type SheetModel,
} from '@varn/core';
import { Injectable } from '@nestjs/common';
import { Calculator } from '../calculation/calculator';
import type { SheetFacts } from '../store/catalog';
import type { Asker } from '../turns/asker';
import { Pace } from '../turns/turns';
import { Lists } from '../lists/lists';
import { SheetCache } from '../store/sheetCache';
import { SheetReader } from './sheetReader';
import { viewPositions } from './view';

/** Cells looked at before it is asked whether others wait. */
const FEW_CELLS = 200;
/** Of sheets with more cells what is found is not counted: one would wait for it. */
const MOST_COUNTED = 500_000;

/** A sheet with all that is needed to tell what its cells hold and show. */
interface Scene {
  readonly sheet: SheetFacts;
  readonly model: SheetModel;
  readonly rows: StoredFreeRows;
  readonly calculation: Calculation | null;
  readonly grid: SheetGrid | undefined;
  /** Rows outside of the records, those an array covers included. */
  readonly freeCount: number;
  /** The records of the view, or `null` for all of them as they stand. */
  readonly positions: Int32Array | null;
}

/** Answers what is asked about cells one has chosen, or looks for. */
@Injectable()
export class SelectionReader {
  constructor(
    private readonly reader: SheetReader,
    private readonly cache: SheetCache,
    private readonly calculator: Calculator,
    private readonly lists: Lists,
  ) {}

  /** Count, sum, mean and extremes of some cells. */
  async figures(sheetId: string, { boxes, view }: AskFigures, asker: Asker): Promise<FiguresView> {
    const scene = await this.scene(sheetId, view, asker);
    const all = new FigureSum();
    const pace = new Pace(asker);
    for (const box of boxes) {
      if (box.part === 'free') await addFree(all, box, scene, pace);
      else await addRecords(all, box, scene, pace);
    }
    const { filled, numbers, sum, least, most } = all;
    return { filled, numbers, sum, ...(numbers > 0 && { mean: sum / numbers, least, most }) };
  }

  /**
   * The next cell that shows a text, whatever its case and accents, or the one before; after the
   * last the first.
   */
  async find(
    sheetId: string,
    { text, after, back = false, view }: FindText,
    asker: Asker,
  ): Promise<FoundView> {
    const scene = await this.scene(sheetId, view, asker);
    const wanted = foldText(text);
    if (wanted === '') return { cell: null };
    const width = scene.sheet.columns.length + scene.sheet.looseColumns.length;
    const { freeCount, positions, model } = scene;
    const cells = (freeCount + (positions?.length ?? model.count)) * width;
    const placeAt = (cell: number): FoundPlace => {
      const [line, column] = [Math.floor(cell / width), cell % width];
      return line < freeCount
        ? { part: 'free', row: line + 1, column }
        : { part: 'records', row: line - freeCount, column };
    };
    const shows = (cell: number): boolean =>
      foldText(shownAt(placeAt(cell), scene)).includes(wanted);
    const pace = new Pace(asker);
    const from = after ? lineOf(after, freeCount) * width + after.column : back ? 0 : -1;
    let found = -1;
    for (let n = 1; n <= cells && found < 0; n += 1) {
      const cell = (from + (back ? cells - n : n)) % cells;
      if (shows(cell)) found = cell;
      if (n % FEW_CELLS === 0) await pace.keep();
    }
    if (found < 0) return { cell: null };
    const cell = placeAt(found);
    if (cells > MOST_COUNTED) return { cell };
    let [count, nth] = [0, 0];
    for (let each = 0; each < cells; each += 1) {
      if (shows(each)) count += 1;
      if (each === found) nth = count;
      if (each % FEW_CELLS === 0) await pace.keep();
    }
    return { cell, count, nth };
  }

  private async scene(sheetId: string, view: string | undefined, asker: Asker): Promise<Scene> {
    const sheet = this.reader.facts(sheetId);
    const { calculation } = await this.calculator.results(sheet.workbook.id, sheetId);
    const model = await this.cache.model(sheetId);
    const rows = await this.cache.rows(sheetId);
    const grid = calculation?.sheet(sheetId);
    const freeCount =
      !sheet.hasRecords && calculation && grid ? calculation.lastRowOf(grid) : rows.count;
    const positions =
      view === undefined
        ? null
        : await viewPositions(sheet, model, view, await this.lists.readyIn(sheet), asker);
    return { sheet, model, rows, calculation, grid, freeCount, positions };
  }
}

const lineOf = ({ part, row }: FoundPlace, freeCount: number): number =>
  part === 'free' ? row - 1 : freeCount + row;

async function addFree(
  all: FigureSum,
  { from, to, left, right }: CellBox,
  scene: Scene,
  pace: Pace,
): Promise<void> {
  const { columns, looseColumns } = scene.sheet;
  const last = Math.min(right, columns.length + looseColumns.length);
  for (let row = Math.max(1, from); row < Math.min(to, scene.freeCount + 1); row += 1) {
    for (let column = left; column < last; column += 1) all.add(freeValue(row, column, scene));
    await pace.keep();
  }
}

async function addRecords(
  all: FigureSum,
  { from, to, left, right }: CellBox,
  scene: Scene,
  pace: Pace,
): Promise<void> {
  const { sheet, model, positions } = scene;
  const end = Math.min(to, positions?.length ?? model.count);
  for (const { id } of sheet.columns.slice(left, right)) {
    // Whole columns are kept added up; parts of them, and views, are added here.
    if (!positions && from === 0 && end === model.count) {
      all.join(model.figures(id));
      await pace.keep();
    } else {
      for (let at = from; at < end; at += 1) {
        all.add(cellAt(scene, at, id));
        if (at % FEW_CELLS === 0) await pace.keep();
      }
    }
  }
}

function freeValue(row: number, column: number, scene: Scene): CellValue {
  const { calculation, grid, rows, sheet } = scene;
  if (calculation && grid) return calculation.valueAt(grid, row, column);
  const id = sheet.columns[column]?.id ?? sheet.looseColumns[column - sheet.columns.length] ?? '';
  return rows.at(row - 1)?.cells[id]?.value ?? null;
}

/** The value of a record at a place of the view; blank where it went since. */
function cellAt({ model, positions }: Scene, place: number, columnId: string): CellValue {
  const position = positions?.[place] ?? place;
  return position < model.count ? model.cellAt(position, columnId) : null;
}

/** A cell as the grid shows it. */
function shownAt({ part, row, column: index }: FoundPlace, scene: Scene): string {
  const { sheet, rows } = scene;
  const { locale } = sheet.workbook;
  const column = sheet.columns[index];
  if (part === 'records') {
    if (!column) return '';
    const value = cellAt(scene, row, column.id);
    return showValue(value, column, locale);
  }
  const value = freeValue(row, index, scene);
  if (value === null || isErrorValue(value)) return value?.error ?? '';
  const id = column?.id ?? sheet.looseColumns[index - sheet.columns.length] ?? '';
  const { kind = 'computed', settings = {} } = rows.at(row - 1)?.cells[id] ?? {};
  const look: Column = { id, heading: '', kind, settings };
  return showValue(value, look, locale);
}
