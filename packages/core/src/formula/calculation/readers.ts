import type { Reference } from '../references/reference';
import type { Directory } from '../references/bind';
import { ALL_RECORDS, type ColumnNode, type Node, type Slots, type Touch } from './nodes';
import { boundsOf, resolved } from './shapes';
import type { SheetGrid } from './sheetGrid';

type Range = Extract<Reference, { kind: 'range' }>;
type Cell = Extract<Reference, { kind: 'cell' }>;

/** A formula that reads a stretch of rows of a column. */
interface RangeReader {
  readonly node: Node;
  readonly range: Range | Cell;
}

const key = (...parts: readonly string[]): string => parts.join('\u0000');

/** Which formulas read what: asked with a change, it tells who must be computed again. */
export class Readers {
  /** By column: formulas that read it of their own record. */
  private readonly fields = new Map<string, Set<ColumnNode>>();
  /** By column: formulas that read all of it. */
  private readonly columns = new Map<string, Set<Node>>();
  /** By free cell: formulas that read that one. */
  private readonly cells = new Map<string, Set<Node>>();
  /** By sheet: formulas that read a cell of it, whatever may come to stand there. */
  private readonly singles = new Map<string, Set<RangeReader>>();
  /** By sheet: formulas that read ranges of it. */
  private readonly ranges = new Map<string, Set<RangeReader>>();
  private readonly undo = new Map<Node, (() => void)[]>();

  constructor(private readonly directory: Directory) {}

  add(node: Node): void {
    for (const reference of node.references) this.note(node, resolved(reference, this.directory));
  }

  remove(node: Node): void {
    this.undo.get(node)?.forEach((forget) => forget());
    this.undo.delete(node);
  }

  /** The formulas that read a column of their own record. */
  fieldsOf(sheet: string, column: string): Iterable<ColumnNode> {
    return this.fields.get(key(sheet, column)) ?? [];
  }

  /** Tells of each formula a change concerns; `slot` where it does so for one record only. */
  each(touch: Touch, visit: (node: Node, slot: Slots) => void): void {
    if (touch.kind === 'record') {
      for (const node of this.fieldsOf(touch.sheet, touch.column)) visit(node, touch.slot);
    }
    this.eachElsewhere(touch, visit);
  }

  /** The same without those that read a column of their own record. */
  eachElsewhere(touch: Touch, visit: (node: Node, slot: Slots) => void): void {
    const all = (nodes: Iterable<Node> = []): void => {
      for (const node of nodes) visit(node, ALL_RECORDS);
    };
    if (touch.kind === 'record') {
      all(this.columns.get(key(touch.sheet, touch.column)));
    } else if (touch.kind === 'free')
      all(this.cells.get(key(touch.sheet, touch.row, touch.column)));
    const grid = this.directory.sheet(touch.sheet);
    if (!grid) return;
    const found = [this.ranges.get(touch.sheet)];
    // A free cell that is read alone was found by its id.
    if (touch.kind !== 'free') found.push(this.singles.get(touch.sheet));
    for (const readers of found) {
      for (const { node, range } of readers ?? []) {
        if (concerns(range, touch, grid, this.directory)) visit(node, ALL_RECORDS);
      }
    }
    if (touch.kind !== 'records') return;
    for (const { id } of grid.sheet.columns) all(this.columns.get(key(touch.sheet, id)));
  }

  private note(node: Node, reference: Reference | null): void {
    if (!reference) return;
    switch (reference.kind) {
      case 'field':
        if (node.kind === 'column')
          this.put(this.fields, key(reference.sheet, reference.column), node, node);
        break;
      case 'column':
        this.put(this.columns, key(reference.sheet, reference.column), node, node);
        break;
      case 'cell': {
        const { row, column } = reference.cell;
        if ('id' in column && row.at === 'row' && row.part === 'top') {
          this.put(this.cells, key(reference.sheet, row.id, column.id), node, node);
        }
        // An array result may cover it, so its place counts too.
        this.put(this.singles, reference.sheet, { node, range: reference }, node);
        break;
      }
      case 'range':
        this.put(this.ranges, reference.sheet, { node, range: reference }, node);
        break;
      case 'name':
        break;
    }
  }

  private put<T>(index: Map<string, Set<T>>, at: string, entry: T, node: Node): void {
    const set = index.get(at) ?? new Set<T>();
    index.set(at, set.add(entry));
    const undo = this.undo.get(node) ?? [];
    undo.push(() => set.delete(entry));
    this.undo.set(node, undo);
  }
}

/** Whether a change falls into a range or cell. */
function concerns(
  range: Range | Cell,
  touch: Touch,
  grid: SheetGrid,
  directory: Directory,
): boolean {
  const from = range.kind === 'cell' ? range.cell : range.from;
  const bounds = boundsOf(range, grid, directory);
  // A record it reads may be the one that went.
  if (!bounds) return touch.kind === 'records';
  if (touch.kind === 'records') {
    const { headingRow } = grid;
    // A range over all records is empty, and ends above the first, when there is none.
    return headingRow !== null && (bounds.bottom > headingRow || from.row.at === 'first');
  }
  const column = touch.kind === 'place' ? touch.column : grid.columnIndex(touch.column);
  if (column === undefined || column < bounds.left || column > bounds.right) return false;
  if (touch.kind === 'place') return touch.from <= bounds.bottom && touch.to >= bounds.top;
  if (touch.kind === 'free') {
    const position = grid.sheet.rows.positionOf(touch.row);
    return position !== null && position + 1 >= bounds.top && position + 1 <= bounds.bottom;
  }
  if (grid.headingRow === null || bounds.bottom <= grid.headingRow) return false;
  if (touch.slot === ALL_RECORDS) return true;
  const row = grid.rowOfRecord(grid.sheet.records.positionOfSlot(touch.slot));
  return row >= bounds.top && row <= bounds.bottom;
}
