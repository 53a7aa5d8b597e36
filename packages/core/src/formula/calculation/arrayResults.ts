import type { CellValue, ErrorReason } from '../../values';
import type { Area } from '../functions/area';
import type { CellNode } from './nodes';
import type { SheetGrid } from './sheetGrid';

/** The most rows an array may cover in a sheet without records. */
const MOST_ROWS = 100_000;
const MOST_COLUMNS = 1000;

const place = (row: number, column: number): number => row * 65_536 + column;

/** The cells of one sheet that are covered by arrays of formulas elsewhere. */
export class ArrayResults {
  private readonly covered = new Map<number, CellNode>();
  /** The last row that is covered. */
  lastRow = 0;

  constructor(private readonly grid: SheetGrid) {}

  /** The value an array puts into a cell, or `undefined` where none covers it. */
  valueAt(row: number, column: number): CellValue | undefined {
    const node = this.covered.get(place(row, column));
    const corner = node && this.cornerOf(node);
    return corner && node.array
      ? node.array.at(row - corner.row, column - corner.column)
      : undefined;
  }

  /** The formula whose array covers a cell. */
  coveredBy(row: number, column: number): CellNode | undefined {
    return this.covered.get(place(row, column));
  }

  /** Why an array has no room from a formula's cell on; `null` when it has. */
  obstacle(node: CellNode, area: Area): ErrorReason | null {
    const corner = this.cornerOf(node);
    if (!corner) return { code: 'noRoom' };
    const end = { row: corner.row + area.rows - 1, column: corner.column + area.columns - 1 };
    const { headingRow } = this.grid;
    if (headingRow !== null && end.row >= headingRow) return { code: 'noRoom' };
    if (end.row > MOST_ROWS || end.column >= MOST_COLUMNS) return { code: 'noRoom' };
    for (let row = corner.row; row <= end.row; row += 1) {
      const cells = this.grid.sheet.rows.at(row - 1)?.cells ?? {};
      for (let column = corner.column; column <= end.column; column += 1) {
        if (row === corner.row && column === corner.column) continue;
        const held = cells[this.grid.columnId(column) ?? ''];
        const other = this.covered.get(place(row, column));
        if (held?.formula || (held?.value ?? null) !== null || (other && other !== node)) {
          return { code: 'blocked', by: this.grid.nameOf(row, column) };
        }
      }
    }
    return null;
  }

  /** Lets an array cover its cells. */
  cover(node: CellNode, area: Area): void {
    const corner = this.cornerOf(node);
    if (!corner) return;
    for (let row = 0; row < area.rows; row += 1) {
      for (let column = 0; column < area.columns; column += 1) {
        if (row > 0 || column > 0)
          this.covered.set(place(corner.row + row, corner.column + column), node);
      }
    }
    this.lastRow = Math.max(this.lastRow, corner.row + area.rows - 1);
  }

  /** Takes an array's cover away. */
  uncover(node: CellNode): void {
    if (!node.array) return;
    this.lastRow = 0;
    for (const [at, owner] of this.covered) {
      if (owner === node) this.covered.delete(at);
      else this.lastRow = Math.max(this.lastRow, Math.floor(at / 65_536));
    }
  }

  private cornerOf(node: CellNode): { row: number; column: number } | null {
    const position = this.grid.sheet.rows.positionOf(node.row);
    const column = this.grid.columnIndex(node.column);
    return position === null || column === undefined ? null : { row: position + 1, column };
  }
}
