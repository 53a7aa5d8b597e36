import type { Column } from '../../kinds';
import type { CellValue, ErrorReason, ErrorValue } from '../../values';
import { isBlankCell } from '../../sheet';
import { compile, type Code } from '../compile';
import { walk } from '../check';
import { isArea, type Value } from '../functions/area';
import { ERRORS, settle } from '../functions/convert';
import type { Moment } from '../functions/define';
import { FUNCTIONS } from '../functions/table';
import { parseFormula, type RangeName } from '../references/bind';
import { Condition } from '../outcomes';
import type { Reference, StoredFormula } from '../references/reference';
import {
  ALL_RECORDS,
  cellKey,
  columnKey,
  type CellNode,
  type ColumnNode,
  type Node,
  type Touch,
} from './nodes';
import { precedentsIn } from './precedents';
import { Queue } from './queue';
import { rank } from './ranking';
import { Readers } from './readers';
import { SheetGrid, type GridSheet } from './sheetGrid';
import { withShapes } from './shapes';
import { DRAFT, sourcesFor, type SourceBook } from './sources';
import { Spills } from './spills';

/** Records computed before other work may go between. */
const SLICE = 2000;

/** A formula that is computed more often than this before all is settled runs in a circle. */
const MOST_ROUNDS = 50;

/** A workbook as its formulas see it. */
export interface BookSheets {
  readonly sheets: readonly GridSheet[];
  readonly names: readonly RangeName[];
  /** What deleted sheets, columns and names were called, by id. */
  readonly lost: ReadonlyMap<string, string>;
}

/** What a recalculation changed: the free rows and the columns of records that show otherwise. */
export interface Recalculated {
  /** Sheets whose free cells changed. */
  readonly free: ReadonlySet<string>;
  /** Sheets whose followed columns changed. */
  readonly records: ReadonlySet<string>;
}

/**
 * The formulas of a workbook and their results. Told of each change, it computes again what
 * depends on it and nothing else. It reads sheets and records where they are; what it computes it
 * keeps itself, but for columns that follow, which it puts beside the records.
 */
export class Calculation implements SourceBook {
  private readonly grids = new Map<string, SheetGrid>();
  private readonly gridsByName = new Map<string, SheetGrid>();
  private readonly names = new Map<string, RangeName>();
  private readonly namesCalled = new Map<string, RangeName>();
  private readonly lost: ReadonlyMap<string, string>;
  private readonly spills = new Map<string, Spills>();
  private readonly readers = new Readers(this);
  private readonly cells = new Map<string, CellNode>();
  private readonly columns = new Map<string, ColumnNode>();
  private readonly queue = new Queue();
  /** Formulas that are computed over records being written, ready to run. */
  private readonly overDraft = new WeakMap<StoredFormula, Code>();
  private readonly conditions = new WeakMap<StoredFormula, Condition<Reference>>();
  /** How often each was computed since the last change from outside. */
  private readonly rounds = new Map<Node, number>();
  private paused: Generator<void> | null = null;
  private draft: Readonly<Record<string, CellValue>> = {};
  private freeChanged = new Set<string>();
  private recordsChanged = new Set<string>();

  constructor(
    book: BookSheets,
    private readonly moment: Moment,
  ) {
    this.lost = book.lost;
    for (const sheet of book.sheets) {
      const grid = new SheetGrid(sheet);
      this.grids.set(sheet.id, grid);
      this.gridsByName.set(sheet.name, grid);
      this.spills.set(sheet.id, new Spills(grid));
    }
    for (const name of book.names) {
      this.names.set(name.id, name);
      this.namesCalled.set(name.name.toLowerCase(), name);
    }
    for (const grid of this.grids.values()) this.readFormulas(grid);
    this.order();
    for (const node of this.nodes()) this.enqueue(node, ALL_RECORDS);
  }

  sheet(id: string): SheetGrid | undefined {
    return this.grids.get(id);
  }

  sheetNamed(name: string): SheetGrid | undefined {
    return this.gridsByName.get(name);
  }

  name(id: string): RangeName | undefined {
    return this.names.get(id);
  }

  nameCalled(name: string): RangeName | undefined {
    return this.namesCalled.get(name.toLowerCase());
  }

  lostName(id: string): string | undefined {
    return this.lost.get(id);
  }

  /** Whether there is anything left to compute. */
  get isSettled(): boolean {
    return this.queue.isEmpty;
  }

  /** Tells of changed values; what depends on them is to be computed again. */
  touch(touch: Touch): void {
    this.readers.each(touch, (node, slot) => this.enqueue(node, slot));
  }

  /** A record came, changed or went. `columns` are those whose values changed. */
  touchRecord(sheet: string, slot: number, columns: Iterable<string>, cameOrWent: boolean): void {
    this.rounds.clear();
    if (cameOrWent) this.touch({ kind: 'records', sheet });
    for (const column of columns) this.touch({ kind: 'record', sheet, column, slot });
    if (!cameOrWent) return;
    for (const node of this.columns.values()) {
      if (node.sheet !== sheet || !node.follows) continue;
      this.enqueue(node, node.positional ? ALL_RECORDS : slot);
    }
  }

  /** Cells of a free row changed, their formulas perhaps too. */
  touchFreeRow(sheet: string, row: string, columns: Iterable<string>): void {
    const grid = this.grids.get(sheet);
    if (!grid) return;
    this.rounds.clear();
    let formulas = false;
    for (const column of columns) {
      const before = this.cells.get(cellKey(sheet, row, column));
      const cell = grid.sheet.rows.get(row)?.cells[column];
      if (before) this.forget(before);
      if (cell?.formula) this.readCell(grid, row, column, cell.formula);
      formulas ||= before !== undefined || cell?.formula !== undefined;
      this.touch({ kind: 'free', sheet, column, row });
      this.makeRoom(grid, row, column);
    }
    this.freeChanged.add(sheet);
    if (formulas) this.order();
  }

  /** Volatile formulas are computed again; called once a minute. */
  tick(): void {
    this.rounds.clear();
    for (const node of this.nodes()) if (node.volatile) this.enqueue(node, ALL_RECORDS);
  }

  /** Computes all that waits. */
  settle(): Recalculated {
    const steps = this.run();
    while (steps.next().done !== true);
    return this.takeChanged();
  }

  /** Computes what waits, in steps between which other work can be done; what was paused goes on. */
  run(): Generator<void> {
    const steps = this.paused ?? this.steps();
    this.paused = null;
    return steps;
  }

  private *steps(): Generator<void> {
    this.rounds.clear();
    for (let next = this.queue.take(); next; next = this.queue.take()) {
      if (next.node.kind === 'cell') this.computeCell(next.node);
      else if (next.slots === 'all') yield* this.computeColumn(next.node);
      else for (const slot of next.slots) this.computeSlot(next.node, slot, true);
      yield;
    }
  }

  /** Keeps what `run` had begun, so that the next `run` goes on there. @returns `false` */
  pause(steps: Generator<void>): false {
    this.paused = steps;
    return false;
  }

  /** What changed since this was asked last. */
  takeChanged(): Recalculated {
    const changed = { free: this.freeChanged, records: this.recordsChanged };
    this.freeChanged = new Set();
    this.recordsChanged = new Set();
    return changed;
  }

  /** The values that formulas give a record of these cells as it is written. */
  computedAtWriting(
    sheet: string,
    cells: Readonly<Record<string, CellValue>>,
  ): Record<string, CellValue> {
    const nodes = [...this.columns.values()]
      .filter((node) => node.sheet === sheet)
      .sort((a, b) => a.rank - b.rank);
    const draft: Record<string, CellValue> = { ...cells };
    const stored: Record<string, CellValue> = {};
    this.draft = draft;
    for (const node of nodes) {
      const value = single(this.valueOf(node, DRAFT));
      draft[node.column] = value;
      if (!node.follows) stored[node.column] = value;
    }
    this.draft = {};
    return stored;
  }

  /** What a formula gives for a record that is being written, and is in no sheet yet. */
  valueOver(
    sheet: string,
    formula: StoredFormula,
    cells: Readonly<Record<string, CellValue>>,
  ): CellValue {
    const grid = this.grids.get(sheet);
    if (!grid) return null;
    let code = this.overDraft.get(formula);
    if (!code) {
      code = this.shared(grid, formula).code;
      this.overDraft.set(formula, code);
    }
    this.draft = cells;
    const value = single(code(DRAFT));
    this.draft = {};
    return value;
  }

  /** All that a condition over a record that is being written can come to, as it stands. */
  outcomesOver(
    sheet: string,
    formula: StoredFormula,
    cells: Readonly<Record<string, CellValue>>,
  ): readonly CellValue[] {
    const grid = this.grids.get(sheet);
    if (!grid) return [];
    let condition = this.conditions.get(formula);
    if (!condition) {
      const columnOf = (reference: Reference): string | null =>
        reference.kind === 'field' ? reference.column : null;
      condition = new Condition(parseFormula(formula), columnOf, (tree) => {
        const code = compile(tree, sourcesFor(this, grid), this.moment);
        return () => single(code(DRAFT));
      });
      this.conditions.set(formula, condition);
    }
    this.draft = cells;
    const outcomes = condition.outcomes((column) => (cells[column] ?? null) === null);
    this.draft = {};
    return outcomes;
  }

  /** What a column's formula would give each record, before the column has it. */
  trial(sheet: string, { settings: { formula } }: Column): (slot: number) => CellValue {
    const grid = this.grids.get(sheet);
    if (!grid || !formula) return () => null;
    const { code } = this.shared(grid, formula);
    return (slot) => single(code(slot));
  }

  /** The value a record that is being written has in a column. */
  draftCell(column: string): CellValue {
    return this.draft[column] ?? null;
  }

  /** The value in a cell of the grid, whatever puts it there. Rows from 1, columns from 0. */
  valueAt(grid: SheetGrid, row: number, column: number): CellValue {
    const { rows, records } = grid.sheet;
    const id = grid.columnId(column);
    const free = rows.at(row - 1);
    if (free) {
      const cell = id === undefined ? undefined : free.cells[id];
      if (cell?.formula)
        return this.cells.get(cellKey(grid.sheet.id, free.id, id ?? ''))?.value ?? null;
      const value = cell?.value ?? null;
      return value ?? this.spills.get(grid.sheet.id)?.valueAt(row, column) ?? null;
    }
    if (grid.headingRow === null) {
      return this.spills.get(grid.sheet.id)?.valueAt(row, column) ?? null;
    }
    if (row === grid.headingRow) return grid.sheet.columns[column]?.heading ?? null;
    const position = grid.positionOfRow(row);
    if (id === undefined || position < 0 || position >= records.count) return null;
    return records.cellAt(position, id);
  }

  isSubtotalAt(grid: SheetGrid, row: number, column: number): boolean {
    const node = this.cellNodeAt(grid, row, column);
    let found = false;
    if (node) {
      walk(node.expression, (each) => {
        found ||= each.type === 'call' && each.name === 'SUBTOTAL';
      });
    }
    return found;
  }

  lastRowOf(grid: SheetGrid): number {
    return Math.max(grid.lastRow, this.spills.get(grid.sheet.id)?.lastRow ?? 0);
  }

  /** The formula whose array covers a cell, if one does. */
  coveredBy(grid: SheetGrid, row: number, column: number): CellNode | undefined {
    return this.spills.get(grid.sheet.id)?.coveredBy(row, column);
  }

  private cellNodeAt(grid: SheetGrid, row: number, column: number): CellNode | undefined {
    const free = grid.sheet.rows.at(row - 1);
    return free && this.cells.get(cellKey(grid.sheet.id, free.id, grid.columnId(column) ?? ''));
  }

  private *nodes(): Generator<Node> {
    yield* this.cells.values();
    yield* this.columns.values();
  }

  private readFormulas(grid: SheetGrid): void {
    const { id: sheet, columns, rows, records } = grid.sheet;
    for (const { id, settings } of columns) {
      if (!settings.formula) continue;
      const follows = settings.follows === true;
      const shared = this.shared(grid, settings.formula);
      const node: ColumnNode = { kind: 'column', sheet, column: id, follows, ...shared };
      this.columns.set(columnKey(sheet, id), node);
      this.readers.add(node);
      if (!follows) records.dropFollowed(id);
    }
    for (const row of rows.all()) {
      for (const [column, cell] of Object.entries(row.cells)) {
        if (cell.formula) this.readCell(grid, row.id, column, cell.formula);
      }
    }
  }

  private readCell(grid: SheetGrid, row: string, column: string, formula: StoredFormula): void {
    const sheet = grid.sheet.id;
    const shared = this.shared(grid, formula, { row, column });
    const node: CellNode = {
      kind: 'cell',
      sheet,
      column,
      row,
      value: null,
      spill: null,
      ...shared,
    };
    this.cells.set(cellKey(sheet, row, column), node);
    this.readers.add(node);
    this.enqueue(node, ALL_RECORDS);
  }

  private shared(grid: SheetGrid, formula: StoredFormula, home?: { row: string; column: string }) {
    const expression = withShapes(parseFormula(formula), this);
    const references: Reference[] = [];
    let volatile = false;
    let positional = false;
    walk(expression, (each) => {
      if (each.type === 'reference') references.push(each.reference);
      if (each.type !== 'call') return;
      volatile ||= FUNCTIONS.get(each.name)?.volatile === true;
      positional ||= each.name === 'ROW' && each.args.length === 0;
    });
    return {
      expression,
      references,
      code: compile(expression, sourcesFor(this, grid, home), this.moment),
      volatile,
      positional,
      rank: 0,
      circle: null,
    };
  }

  private forget(node: CellNode): void {
    this.readers.remove(node);
    this.queue.remove(node);
    this.cells.delete(cellKey(node.sheet, node.row, node.column));
    this.touchSpill(node);
    this.spills.get(node.sheet)?.uncover(node);
  }

  /** A cell that was filled or freed may be in the way of an array, or no longer. */
  private makeRoom(grid: SheetGrid, row: string, column: string): void {
    const position = grid.sheet.rows.positionOf(row);
    const index = grid.columnIndex(column);
    if (position === null || index === undefined) return;
    const covering = this.coveredBy(grid, position + 1, index);
    const filled = !isBlankCell(grid.sheet.rows.get(row)?.cells[column] ?? {});
    if (covering && filled) this.enqueue(covering, ALL_RECORDS);
    const where = grid.nameOf(position + 1, index);
    for (const node of this.cells.values()) {
      if (reasonOf(node.value)?.code === 'blocked' && whyBlocked(node.value) === where) {
        this.enqueue(node, ALL_RECORDS);
      }
    }
  }

  private order(): void {
    const { cells, columns } = this;
    const precedents = precedentsIn({
      cells,
      columns,
      sheet: (id) => this.sheet(id),
      name: (id) => this.name(id),
    });
    const { ranks, circles } = rank<Node>(this.nodes(), precedents);
    const before = new Set([...this.nodes()].filter(({ circle }) => circle !== null));
    for (const node of this.nodes()) {
      node.rank = ranks.get(node) ?? 0;
      node.circle = null;
    }
    for (const circle of circles) {
      const path = [...circle, circle[0]].flatMap((node) => (node ? [this.placeName(node)] : []));
      for (const node of circle) node.circle ??= path;
    }
    // Who came into a circle or out of one has another result.
    for (const node of this.nodes()) {
      if (before.has(node) !== (node.circle !== null)) this.enqueue(node, ALL_RECORDS);
    }
    this.queue.reorder();
  }

  private enqueue(node: Node, slot: number): void {
    if (node.kind === 'column' && !node.follows) return;
    this.queue.add(node, slot);
  }

  private valueOf(node: Node, record: number): Value {
    if (node.circle) return { error: '#REF!', why: { code: 'circle', path: node.circle } };
    return this.overdone(node) ? this.circleOf(node) : node.code(record);
  }

  private circleOf(node: Node): ErrorValue {
    return { error: '#REF!', why: { code: 'circle', path: [this.placeName(node)] } };
  }

  /** Arrays can make a formula depend on itself in ways no order shows. */
  private overdone(node: Node): boolean {
    return (this.rounds.get(node) ?? 0) > MOST_ROUNDS;
  }

  private computeCell(node: CellNode): void {
    const times = (this.rounds.get(node) ?? 0) + 1;
    this.rounds.set(node, times);
    if (times > MOST_ROUNDS + 1) return;
    const { value: before, spill } = node;
    const spills = this.spills.get(node.sheet);
    const found = this.valueOf(node, -1);
    this.touchSpill(node);
    spills?.uncover(node);
    node.spill = null;
    if (!isArea(found)) node.value = found;
    else if (found.rows <= 1 && found.columns <= 1) node.value = found.at(0, 0);
    else {
      const why = spills?.obstacle(node, found) ?? null;
      node.value = why ? { error: '#REF!', why } : found.at(0, 0);
      if (!why) {
        spills?.cover(node, found);
        node.spill = found;
        this.touchSpill(node);
      }
    }
    // A formula that reads a blank cell gives 0 (ODF 1.3 part 4, 6.2.3).
    node.value = settle(node.value ?? 0);
    if (sameValue(before, node.value) && !spill && !node.spill) return;
    this.freeChanged.add(node.sheet);
    this.touch({ kind: 'free', sheet: node.sheet, column: node.column, row: node.row });
  }

  /** Whoever reads cells an array covers. */
  private touchSpill(node: CellNode): void {
    const grid = this.grids.get(node.sheet);
    const position = grid?.sheet.rows.positionOf(node.row) ?? null;
    const column = grid?.columnIndex(node.column);
    if (!node.spill || position === null || column === undefined) return;
    const from = position + 1;
    for (let index = 0; index < node.spill.columns; index += 1) {
      const to = from + node.spill.rows - 1;
      this.touch({ kind: 'place', sheet: node.sheet, column: column + index, from, to });
    }
  }

  private *computeColumn(node: ColumnNode): Generator<void> {
    const records = this.grids.get(node.sheet)?.sheet.records;
    if (!records) return;
    // By slots, which stay what they are while records come and go between the steps.
    for (let slot = 0; slot < records.slotCount; slot += 1) {
      if (records.isTaken(slot)) this.computeSlot(node, slot, false);
      if (slot % SLICE === SLICE - 1) yield;
    }
    this.touch({ kind: 'record', sheet: node.sheet, column: node.column, slot: ALL_RECORDS });
    this.recordsChanged.add(node.sheet);
  }

  private computeSlot(node: ColumnNode, slot: number, tell: boolean): void {
    const records = this.grids.get(node.sheet)?.sheet.records;
    if (records?.isTaken(slot) !== true) return;
    const value = single(this.valueOf(node, slot));
    const before = records.cellOfSlot(slot, node.column);
    records.setFollowed(slot, node.column, value);
    if (!tell || sameValue(before, value)) return;
    this.recordsChanged.add(node.sheet);
    this.touch({ kind: 'record', sheet: node.sheet, column: node.column, slot });
  }

  private placeName(node: Node): string {
    const grid = this.grids.get(node.sheet);
    if (!grid) return '';
    if (node.kind === 'column')
      return `${grid.sheet.name}!'${grid.column(node.column)?.heading ?? ''}'`;
    const position = grid.sheet.rows.positionOf(node.row) ?? -1;
    return grid.nameOf(position + 1, grid.columnIndex(node.column) ?? 0);
  }
}

/** A record's cell holds one value. */
function single(value: Value): CellValue {
  if (!isArea(value)) return settle(value);
  if (value.rows === 1 && value.columns === 1) return settle(value.at(0, 0));
  const why: ErrorReason = { code: 'several', count: value.rows * value.columns };
  return { ...ERRORS.reference, why };
}

function sameValue(a: CellValue, b: CellValue): boolean {
  if (a === b) return true;
  return typeof a === 'object' && typeof b === 'object' && JSON.stringify(a) === JSON.stringify(b);
}

function reasonOf(value: CellValue): ErrorReason | undefined {
  return typeof value === 'object' && value !== null ? value.why : undefined;
}

function whyBlocked(value: CellValue): string | null {
  const why = reasonOf(value);
  return why?.code === 'blocked' ? why.by : null;
}
