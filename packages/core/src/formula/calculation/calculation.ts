import type { CellValue, ErrorReason, ErrorValue } from '../../values';
import { isBlankCell, type SheetModel } from '../../sheet';
import { compile, NO_RECORD, type Code } from '../compile';
import { walk } from '../grammar/tree';
import { isArea, type Area, type Value } from '../functions/area';
import { stepsTaken, TOO_LONG, withinBudget } from '../functions/budget';
import { Held, holding } from '../functions/pass';
import { ERRORS, settle } from '../functions/convert';
import type { Moment } from '../functions/define';
import { FUNCTIONS } from '../functions/table';
import { parseFormula, type RangeName } from '../references/bind';
import { Condition } from '../outcomes';
import type { Reference, StoredColumn, StoredFormula } from '../references/reference';
import {
  ALL_RECORDS,
  cellKey,
  columnKey,
  type CellNode,
  type ColumnNode,
  type Node,
  type Slots,
  type Touch,
} from './nodes';
import { rangeArea } from './areas';
import { precedentsIn } from './precedents';
import { Queue } from './queue';
import { rank } from './ranking';
import { Readers } from './readers';
import { SheetGrid, type Bounds, type GridSheet } from './sheetGrid';
import { withShapes } from './shapes';
import { DRAFT, sourcesFor, type SourceBook } from './sources';
import { ArrayResults } from './arrayResults';

/** Records computed, or steps taken, before other work may go between. */
const SLICE = 200;
const SLICE_STEPS = 20_000;
/** From so many records in a row that take too long, a column is not computed further. */
const MOST_TOO_LONG = 100;
/** Steps that one pass over a column may take: half a minute or so on a slow machine. */
const MOST_COLUMN_STEPS = 1_000_000_000;
/** Ranges outside of the records that are kept with their indexes. */
const MOST_AREAS = 200;

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
  private readonly arrays = new Map<string, ArrayResults>();
  private readonly readers = new Readers(this);
  private readonly cells = new Map<string, CellNode>();
  private readonly columns = new Map<string, ColumnNode>();
  private readonly queue = new Queue();
  /** Formulas that are computed over records being written, ready to run. */
  private readonly overDraft = new WeakMap<StoredFormula, Code>();
  private readonly conditions = new WeakMap<StoredFormula, Condition<Reference>>();
  /** Ranges outside of the records, each as it was at a version of its sheet's cells. */
  private readonly areas = new Map<string, { version: number; area: Area }>();
  /** By sheet: rises with each change of a cell outside of the records. */
  private readonly versions = new Map<string, number>();
  /** Cells whose arrays have no room. */
  private readonly blocked = new Set<CellNode>();
  /** Whether formulas came or went since they were put in order. */
  private isOrdered = false;
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
      this.arrays.set(sheet.id, new ArrayResults(grid));
    }
    for (const name of book.names) {
      this.names.set(name.id, name);
      this.namesCalled.set(name.name.toLowerCase(), name);
    }
    for (const grid of this.grids.values()) this.readFormulas(grid);
    for (const node of this.nodes()) this.enqueue(node, ALL_RECORDS);
  }

  /** Shows what cells gave before, in another shape of the workbook, until they are computed. */
  goOnFrom(before: Calculation): void {
    for (const [key, node] of this.cells) node.value = before.cells.get(key)?.value ?? null;
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
    if (touch.kind === 'free' || touch.kind === 'place') {
      this.versions.set(touch.sheet, (this.versions.get(touch.sheet) ?? 0) + 1);
    }
    this.readers.each(touch, (node, slot) => this.enqueue(node, slot));
  }

  /** A record came, changed or went. `columns` are those whose values changed. */
  touchRecord(sheet: string, slot: number, columns: Iterable<string>, cameOrWent: boolean): void {
    this.rounds.clear();
    if (!cameOrWent) {
      for (const column of columns) this.touch({ kind: 'record', sheet, column, slot });
      return;
    }
    // Whoever reads columns or ranges of the records is told of all of them at once.
    this.touch({ kind: 'records', sheet });
    for (const column of columns) {
      for (const node of this.readers.fieldsOf(sheet, column)) this.enqueue(node, slot);
    }
    for (const node of this.columns.values()) {
      if (node.sheet !== sheet || !node.follows) continue;
      this.enqueue(node, node.positional ? ALL_RECORDS : slot);
    }
  }

  /** The same of many records at once, told of together. */
  touchRecords(
    sheet: string,
    slots: readonly number[],
    columns: Iterable<string>,
    cameOrWent: boolean,
  ): void {
    this.rounds.clear();
    const each = (node: Node): void => {
      for (const slot of slots) this.enqueue(node, slot);
    };
    const whole = (node: Node): void => this.enqueue(node, ALL_RECORDS);
    if (cameOrWent) this.touch({ kind: 'records', sheet });
    for (const column of columns) {
      for (const node of this.readers.fieldsOf(sheet, column)) each(node);
      this.readers.eachElsewhere({ kind: 'record', sheet, column, slot: ALL_RECORDS }, whole);
    }
    if (!cameOrWent) return;
    for (const node of this.columns.values()) {
      if (node.sheet !== sheet || !node.follows) continue;
      if (node.positional) this.enqueue(node, ALL_RECORDS);
      else each(node);
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
    if (formulas) this.isOrdered = false;
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
    for (let next = this.next(); next; next = this.next()) {
      if (next.node.kind === 'cell') this.computeCell(next.node);
      else if (next.slots === ALL_RECORDS) yield* this.computeColumn(next.node);
      else yield* this.computeSlots(next.node, next.slots);
      yield;
    }
  }

  /** What is to be computed next, in an order that holds for all formulas there are. */
  private next(): ReturnType<Queue['take']> {
    this.ensureOrder();
    return this.queue.take();
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
    this.ensureOrder();
    const nodes = this.neededAtWriting(sheet).sort((a, b) => a.rank - b.rank);
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

  /** The columns computed as of writing, and those of the same record that they read. */
  private neededAtWriting(sheet: string): ColumnNode[] {
    const found = new Set<ColumnNode>();
    const open = [...this.columns.values()].filter((node) => node.sheet === sheet && !node.follows);
    for (let node = open.pop(); node; node = open.pop()) {
      if (found.has(node)) continue;
      found.add(node);
      for (const reference of node.references) {
        if (reference.kind !== 'field' || reference.sheet !== sheet) continue;
        const read = this.columns.get(columnKey(sheet, reference.column));
        if (read) open.push(read);
      }
    }
    return [...found];
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
    const value = evaluated(code, DRAFT);
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
    const found = withinBudget(() =>
      condition.outcomes((column) => (cells[column] ?? null) === null),
    );
    this.draft = {};
    return 'error' in found ? [found] : found;
  }

  /**
   * What a formula gives outside of any record: an area where it is a range. @param sheet whose
   * headings it means
   */
  valueOutside(sheet: string, formula: StoredFormula): Value {
    const grid = this.grids.get(sheet);
    return grid ? withinBudget(() => this.shared(grid, formula).code(NO_RECORD)) : null;
  }

  /**
   * What a formula gives over each record of a sheet, by slot: an area where it is a range. It is
   * for one pass: what is the same for all records is computed once.
   */
  valueAlong(sheet: string, formula: StoredFormula): (slot: number) => Value {
    const grid = this.grids.get(sheet);
    if (!grid) return () => null;
    const { code } = this.shared(grid, formula);
    const held = new Held();
    return (slot) => holding(held, () => withinBudget(() => code(slot)));
  }

  /** What a column's formula would give each record, before the column has it. */
  trial(sheet: string, { id, settings: { formula } }: StoredColumn): (slot: number) => CellValue {
    const grid = this.grids.get(sheet);
    if (!grid || !formula) return () => null;
    const path = this.circleWith(sheet, id, formula);
    if (path) return () => circular(path);
    const { code } = this.shared(grid, formula);
    return (slot) => evaluated(code, slot);
  }

  /** The columns and cells along which a column would depend on itself with a formula. */
  circleWith(sheet: string, column: string, formula: StoredFormula): readonly string[] | null {
    const grid = this.grids.get(sheet);
    if (!grid) return null;
    const node: ColumnNode = {
      kind: 'column',
      sheet,
      column,
      follows: true,
      ...this.shared(grid, formula),
    };
    const columns = new Map(this.columns).set(columnKey(sheet, column), node);
    const { circles } = rank<Node>([node], this.precedents(columns));
    const circle = circles.find(([first]) => first === node);
    return circle ? this.pathOf(circle) : null;
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
      return value ?? this.arrays.get(grid.sheet.id)?.valueAt(row, column) ?? null;
    }
    if (grid.headingRow === null) {
      return this.arrays.get(grid.sheet.id)?.valueAt(row, column) ?? null;
    }
    if (row === grid.headingRow) return grid.sheet.columns[column]?.heading ?? null;
    const position = grid.positionOfRow(row);
    if (id === undefined || position < 0 || position >= records.count) return null;
    return records.cellAt(position, id);
  }

  isSubtotalAt(grid: SheetGrid, row: number, column: number): boolean {
    return this.cellNodeAt(grid, row, column)?.subtotal === true;
  }

  /** The cells of a range as they stand. Outside of the records it is kept while none changes. */
  area(grid: SheetGrid, bounds: Bounds): Area {
    const { id, hasRecords, rows } = grid.sheet;
    if (hasRecords && bounds.bottom > rows.count) return rangeArea(grid, bounds, this);
    const version = this.versions.get(id) ?? 0;
    const key = [id, bounds.left, bounds.right, bounds.top, bounds.bottom].join('\u0000');
    const known = this.areas.get(key);
    if (known?.version === version) return known.area;
    const area = rangeArea(grid, bounds, this);
    if (this.areas.size >= MOST_AREAS) this.areas.clear();
    this.areas.set(key, { version, area });
    return area;
  }

  lastRowOf(grid: SheetGrid): number {
    return Math.max(grid.lastRow, this.arrays.get(grid.sheet.id)?.lastRow ?? 0);
  }

  /** The formula whose array covers a cell, if one does. */
  coveredBy(grid: SheetGrid, row: number, column: number): CellNode | undefined {
    return this.arrays.get(grid.sheet.id)?.coveredBy(row, column);
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
      array: null,
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
    let subtotal = false;
    walk(expression, (each) => {
      if (each.type === 'reference') references.push(each.reference);
      if (each.type !== 'call') return;
      volatile ||= FUNCTIONS.get(each.name)?.volatile === true;
      subtotal ||= each.name === 'SUBTOTAL';
      positional ||= each.name === 'ROW' && each.args.length === 0;
    });
    return {
      expression,
      references,
      code: compile(expression, sourcesFor(this, grid, home), this.moment),
      volatile,
      subtotal,
      positional,
      rank: 0,
      circle: null,
    };
  }

  private forget(node: CellNode): void {
    this.readers.remove(node);
    this.queue.remove(node);
    this.blocked.delete(node);
    this.cells.delete(cellKey(node.sheet, node.row, node.column));
    this.touchArray(node);
    this.arrays.get(node.sheet)?.uncover(node);
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
    for (const node of this.blocked) {
      if (whyBlocked(node.value) === where) this.enqueue(node, ALL_RECORDS);
    }
  }

  private precedents(columns: ReadonlyMap<string, ColumnNode>): (node: Node) => Node[] {
    return precedentsIn({
      cells: this.cells,
      columns,
      sheet: (id) => this.sheet(id),
      name: (id) => this.name(id),
    });
  }

  /** Puts formulas in order when some came or went: once, however many. */
  private ensureOrder(): void {
    if (this.isOrdered) return;
    this.isOrdered = true;
    const { ranks, circles } = rank<Node>(this.nodes(), this.precedents(this.columns));
    const before = new Set([...this.nodes()].filter(({ circle }) => circle !== null));
    for (const node of this.nodes()) {
      node.rank = ranks.get(node) ?? 0;
      node.circle = null;
    }
    for (const circle of circles) {
      const path = this.pathOf(circle);
      for (const node of circle) node.circle ??= path;
    }
    // Who came into a circle or out of one has another result.
    for (const node of this.nodes()) {
      if (before.has(node) !== (node.circle !== null)) this.enqueue(node, ALL_RECORDS);
    }
    this.queue.reorder();
  }

  private pathOf(circle: readonly Node[]): string[] {
    return [...circle, ...circle.slice(0, 1)].map((node) => this.placeName(node));
  }

  private enqueue(node: Node, slot: Slots): void {
    if (node.kind === 'column' && !node.follows) return;
    this.queue.add(node, slot);
  }

  private valueOf(node: Node, record: number): Value {
    if (node.circle) return circular(node.circle);
    if (this.overdone(node)) return circular([this.placeName(node)]);
    return withinBudget(() => node.code(record));
  }

  /** Arrays can make a formula depend on itself in ways no order shows. */
  private overdone(node: Node): boolean {
    return (this.rounds.get(node) ?? 0) > MOST_ROUNDS;
  }

  /** Counts a round of a formula. @returns whether it may be computed once more */
  private begins(node: Node): boolean {
    const times = (this.rounds.get(node) ?? 0) + 1;
    this.rounds.set(node, times);
    return times <= MOST_ROUNDS + 1;
  }

  private computeCell(node: CellNode): void {
    if (!this.begins(node)) return;
    const { value: before, array } = node;
    const arrays = this.arrays.get(node.sheet);
    const found = this.valueOf(node, NO_RECORD);
    this.touchArray(node);
    arrays?.uncover(node);
    node.array = null;
    this.blocked.delete(node);
    if (!isArea(found)) node.value = found;
    else if (found.rows <= 1 && found.columns <= 1) node.value = found.at(0, 0);
    else {
      const why = arrays?.obstacle(node, found) ?? null;
      node.value = why ? { error: '#REF!', why } : found.at(0, 0);
      if (why) this.blocked.add(node);
      else {
        arrays?.cover(node, found);
        node.array = found;
        this.touchArray(node);
      }
    }
    // A formula that reads a blank cell gives 0 (ODF 1.3 part 4, 6.2.3).
    node.value = settle(node.value ?? 0);
    if (sameValue(before, node.value) && !array && !node.array) return;
    this.freeChanged.add(node.sheet);
    this.touch({ kind: 'free', sheet: node.sheet, column: node.column, row: node.row });
  }

  /** Whoever reads cells an array covers. */
  private touchArray(node: CellNode): void {
    const grid = this.grids.get(node.sheet);
    const position = grid?.sheet.rows.positionOf(node.row) ?? null;
    const column = grid?.columnIndex(node.column);
    if (!node.array || position === null || column === undefined) return;
    const from = position + 1;
    for (let index = 0; index < node.array.columns; index += 1) {
      const to = from + node.array.rows - 1;
      this.touch({ kind: 'place', sheet: node.sheet, column: column + index, from, to });
    }
  }

  private *computeColumn(node: ColumnNode): Generator<void> {
    const records = this.grids.get(node.sheet)?.sheet.records;
    if (!records || !this.begins(node)) return;
    const pace = new Pace();
    const held = new Held();
    let isChanged = false;
    let tooLong = 0;
    // By slots, which stay what they are while records come and go between the steps.
    for (let slot = 0; slot < records.slotCount; slot += 1) {
      if (!records.isTaken(slot)) continue;
      const before = stepsTaken();
      const value = holding(held, () => this.valueIn(node, slot));
      isChanged = records.setFollowed(slot, node.column, value) || isChanged;
      const isDue = pace.isDue(stepsTaken() - before);
      tooLong = value === TOO_LONG ? tooLong + 1 : 0;
      if (pace.steps > MOST_COLUMN_STEPS || tooLong >= MOST_TOO_LONG) break;
      if (isDue) yield;
    }
    const isGivenUp = pace.steps > MOST_COLUMN_STEPS || tooLong >= MOST_TOO_LONG;
    if (isGivenUp) isChanged = yield* this.giveUp(node, records);
    if (!isChanged) return;
    this.touch({ kind: 'record', sheet: node.sheet, column: node.column, slot: ALL_RECORDS });
    this.recordsChanged.add(node.sheet);
  }

  /** A column that takes too long gives no record a value, rather than some of them. */
  private *giveUp({ column }: ColumnNode, records: SheetModel): Generator<void, boolean> {
    let isChanged = false;
    const pace = new Pace();
    for (let slot = 0; slot < records.slotCount; slot += 1) {
      if (!records.isTaken(slot)) continue;
      isChanged = records.setFollowed(slot, column, TOO_LONG) || isChanged;
      if (pace.isDue(0)) yield;
    }
    return isChanged;
  }

  private *computeSlots(node: ColumnNode, slots: Iterable<number>): Generator<void> {
    const records = this.grids.get(node.sheet)?.sheet.records;
    const pace = new Pace();
    for (const slot of slots) {
      if (records?.isTaken(slot) !== true) continue;
      const before = stepsTaken();
      if (records.setFollowed(slot, node.column, this.valueIn(node, slot))) {
        this.recordsChanged.add(node.sheet);
        this.touch({ kind: 'record', sheet: node.sheet, column: node.column, slot });
      }
      if (pace.isDue(stepsTaken() - before)) yield;
    }
  }

  private valueIn(node: ColumnNode, slot: number): CellValue {
    return single(this.valueOf(node, slot));
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

/** Tells when enough has been done for other work to go between. */
class Pace {
  /** Steps taken in all. */
  steps = 0;
  private records = 0;
  private since = 0;

  isDue(steps: number): boolean {
    this.steps += steps;
    this.since += steps;
    this.records += 1;
    if (this.records < SLICE && this.since < SLICE_STEPS) return false;
    this.records = 0;
    this.since = 0;
    return true;
  }
}

const circular = (path: readonly string[]): ErrorValue => ({
  error: '#REF!',
  why: { code: 'circle', path },
});

/** What a formula gives for a record, within a budget of its own. */
const evaluated = (code: Code, record: number): CellValue =>
  single(withinBudget(() => code(record)));

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
