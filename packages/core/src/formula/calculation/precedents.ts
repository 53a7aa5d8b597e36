import type { Directory } from '../references/bind';
import type { Reference } from '../references/reference';
import { cellKey, columnKey, type CellNode, type ColumnNode, type Node } from './nodes';
import type { SheetGrid } from './sheetGrid';
import { boundsOf, resolved } from './shapes';

/** The formulas of a workbook, to be found by what references name. */
export interface NodeIndex extends Pick<Directory, 'sheet' | 'name'> {
  /** By `cellKey`. */
  readonly cells: ReadonlyMap<string, CellNode>;
  /** By `columnKey`. */
  readonly columns: ReadonlyMap<string, ColumnNode>;
}

/** @returns what gives the formulas whose results a formula reads */
export function precedentsIn(index: NodeIndex): (node: Node) => Node[] {
  const byColumn = new Map<string, CellNode[]>();
  for (const node of index.cells.values()) {
    const at = columnKey(node.sheet, node.column);
    const list = byColumn.get(at);
    if (list) list.push(node);
    else byColumn.set(at, [node]);
  }
  return ({ references }) => {
    const found: Node[] = [];
    for (const written of references) {
      const reference = resolved(written, index);
      if (!reference || reference.kind === 'name') continue;
      if (reference.kind === 'field' || reference.kind === 'column') {
        const column = index.columns.get(columnKey(reference.sheet, reference.column));
        if (column) found.push(column);
        continue;
      }
      const grid = index.sheet(reference.sheet);
      if (grid) addWithin(index, byColumn, grid, reference, found);
    }
    return found;
  };
}

function addWithin(
  index: NodeIndex,
  byColumn: ReadonlyMap<string, readonly CellNode[]>,
  grid: SheetGrid,
  reference: Extract<Reference, { kind: 'cell' | 'range' }>,
  found: Node[],
): void {
  const { cells, columns } = index;
  const sheet = grid.sheet.id;
  const one = reference.kind === 'cell' ? reference.cell : null;
  if (one && 'id' in one.column && one.row.at === 'row' && one.row.part === 'top') {
    const node = cells.get(cellKey(sheet, one.row.id, one.column.id));
    if (node) found.push(node);
    return;
  }
  const bounds = boundsOf(reference, grid, index);
  if (!bounds) return;
  const { headingRow } = grid;
  const right = Math.min(bounds.right, grid.columnCount - 1);
  for (let index = bounds.left; index <= right; index += 1) {
    const at = columnKey(sheet, grid.columnId(index) ?? '');
    const column = columns.get(at);
    if (column && headingRow !== null && bounds.bottom > headingRow) found.push(column);
    for (const node of byColumn.get(at) ?? []) {
      const row = (grid.sheet.rows.positionOf(node.row) ?? -1) + 1;
      if (row >= bounds.top && row <= bounds.bottom) found.push(node);
    }
  }
}
