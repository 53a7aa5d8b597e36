import type { Cells, CellValue } from '../values';
import { ColumnStore } from './columnStore';
import { TRIAL_MARK } from './trial';
import { ConditionalTotals } from './conditionalTotals';
import { FigureSum, type ColumnFigures } from './figures';
import { HighestNumber } from './highestNumber';
import { KeyIndex } from './keyIndex';
import type { Grading, KnownOfNumbers, Scan } from './scan';
import { SlotsById } from './slotsById';
import { TouchedSlots } from './touchedSlots';

/** A record as it is stored. Records stand in the order of their order keys, which are unique. */
export interface StoredRecord {
  readonly id: string;
  readonly orderKey: number;
  readonly revision: number;
  readonly cells: Cells;
}

/** Order keys leave gaps, so that a record can be put between two others. */
export const ORDER_GAP = 1024;

const FIRST_CAPACITY = 64;
/** What is kept derived from one column at most. */
const MOST_DERIVED = 16;

/** What is derived of a column, and goes on when a record comes at the end. */
export interface Growing {
  append(value: CellValue): void;
}

const isGrowing = (derived: object): derived is Growing => 'append' in derived;

interface Derivations {
  version: string;
  readonly byName: Map<string, object>;
}

/** Slots that came and went, one after the other, in a batch; one that went is not filled anew in it. */
interface Batch {
  readonly came: number[];
  readonly went: number[];
}

/** What is kept up to date of some columns while records come, change and go. */
interface Watcher {
  readonly columnIds: readonly string[];
  put(id: string, cells: Cells): void;
  remove(id: string, cells: Cells): void;
}

/**
 * The records of one sheet in memory: a cache beside the database that can be rebuilt at will.
 * A record keeps one slot as long as it stays; `order` lists the slots as the rows stand.
 */
export class SheetModel {
  private capacity = FIRST_CAPACITY;
  private order = new Int32Array(FIRST_CAPACITY);
  private orderKeys = new Float64Array(FIRST_CAPACITY);
  private revisions = new Int32Array(FIRST_CAPACITY);
  private readonly ids: string[] = [];
  private readonly slotOfId = new SlotsById();
  private readonly freeSlots: number[] = [];
  private readonly columns = new Map<string, ColumnStore>();
  /** Columns whose values follow from others: never stored, and no part of a record. */
  private readonly followed = new Map<string, ColumnStore>();
  private readonly derivations = new Map<string, Derivations>();
  private readonly watchers = new Map<string, Watcher>();
  private readonly touched = new Set<TouchedSlots>();
  private totalsMet: ConditionalTotals | undefined;
  /** Rises whenever a column comes or goes. */
  private columnChanges = 0;
  private orderVersion = 0;
  private highestKey = 0;
  private lowestKey = ORDER_GAP;
  private held = 0;
  /** How many slots `order` lists: as many as are held, but within a batch. */
  private ordered = 0;
  /** What came and went in the batch that is under way. */
  private batch: Batch | null = null;
  /** Rises with whatever changes, so that what was found among the records can be told as stale. */
  version = 0;

  /** How many records the sheet holds. */
  get count(): number {
    return this.held;
  }

  /** Whether any record was written to try a form; also after the last of them went. */
  get holdsTrials(): boolean {
    return this.columns.has(TRIAL_MARK);
  }

  /** Whether the record at a position was written to try a form. */
  isTrialAt(position: number): boolean {
    return this.isTrialOfSlot(this.slotAt(position));
  }

  isTrialOfSlot(slot: number): boolean {
    return this.holdsTrials && this.cellOfSlot(slot, TRIAL_MARK) !== null;
  }

  has(id: string): boolean {
    return this.slotOfId.has(id);
  }

  /** The order key for a record at the end; above all that were ever given. */
  nextOrderKey(): number {
    return this.highestKey + ORDER_GAP;
  }

  /** The order key for a record right under the heading; below all that were ever given. */
  topOrderKey(): number {
    return this.lowestKey - ORDER_GAP;
  }

  /** Tells of an order key in use elsewhere (a record in the bin), so that it is not given again. */
  noteOrderKey(orderKey: number): void {
    if (orderKey > this.highestKey) this.highestKey = orderKey;
    if (orderKey < this.lowestKey) this.lowestKey = orderKey;
  }

  /** Adds a record and gives its position, counted from 0. */
  add(record: StoredRecord): number {
    if (this.slotOfId.has(record.id))
      throw new Error(`record ${record.id} is in the sheet already`);
    this.version += 1;
    const slot = this.freeSlots.pop() ?? this.ids.length;
    if (slot >= this.capacity) this.grow(slot + 1);
    this.ids[slot] = record.id;
    this.slotOfId.set(record.id, slot);
    this.orderKeys[slot] = record.orderKey;
    this.noteOrderKey(record.orderKey);
    const position = this.firstPositionFrom(record.orderKey);
    const goingOn = position === this.held && !this.batch ? this.current() : [];
    this.fill(slot, record);
    for (const watcher of this.watchers.values()) watcher.put(record.id, record.cells);
    if (this.batch) this.batch.came.push(slot);
    else {
      this.order.copyWithin(position + 1, position, this.held);
      this.order[position] = slot;
      this.ordered += 1;
    }
    this.held += 1;
    this.orderVersion += 1;
    for (const [columnId, known] of goingOn) this.append(columnId, known, slot);
    return position;
  }

  /** Replaces a record's cells and revision; its place stays. Gives its position. */
  update(record: StoredRecord): number {
    const slot = this.slot(record.id);
    this.version += 1;
    if (this.watchers.size > 0) {
      const before = this.recordOfSlot(slot).cells;
      for (const watcher of this.watchers.values()) {
        watcher.remove(record.id, before);
        watcher.put(record.id, record.cells);
      }
    }
    this.fill(slot, record);
    return this.positionOfSlot(slot);
  }

  /** Takes a record out and gives the position it had. */
  remove(id: string): number {
    const slot = this.slot(id);
    this.version += 1;
    const position = this.positionOfSlot(slot);
    if (this.watchers.size > 0) {
      const { cells } = this.recordOfSlot(slot);
      for (const watcher of this.watchers.values()) watcher.remove(id, cells);
    }
    if (!this.batch) {
      this.order.copyWithin(position, position + 1, this.held);
      this.ordered -= 1;
    }
    this.held -= 1;
    this.slotOfId.delete(id);
    this.ids[slot] = '';
    for (const column of this.columns.values()) column.set(slot, null);
    for (const column of this.followed.values()) column.set(slot, null);
    for (const each of this.touched) each.note(slot);
    (this.batch?.went ?? this.freeSlots).push(slot);
    this.orderVersion += 1;
    return position;
  }

  /**
   * Puts in many records that come, go or move: their order is made anew once all are in. Until then
   * positions are those from before.
   */
  inBatch(work: () => void): void {
    this.batch = { came: [], went: [] };
    try {
      work();
    } finally {
      const { batch } = this;
      this.batch = null;
      this.reorder(batch);
      for (const slot of batch.went) this.freeSlots.push(slot);
    }
  }

  /** Takes out of the order what went, and puts in what came. A million records are gone through. */
  private reorder({ came, went }: Batch): void {
    const { order, orderKeys } = this;
    const isMoved = new Uint8Array(this.capacity);
    for (const slot of went) isMoved[slot] = 1;
    let staying = 0;
    for (let at = 0; at < this.ordered; at += 1) {
      const slot = order[at] as number;
      if (isMoved[slot] === 0) order[staying++] = slot;
    }
    const keyOf = (slot: number): number => orderKeys[slot] ?? 0;
    const coming = came.filter((slot) => this.isTaken(slot)).sort((a, b) => keyOf(a) - keyOf(b));
    // From the end, so that each is moved once, and none where all come at the end.
    let at = staying + coming.length;
    this.ordered = at;
    for (let last = coming.pop(); last !== undefined; at -= 1) {
      const before = order[staying - 1] as number;
      if (staying > 0 && keyOf(before) > keyOf(last)) {
        order[at - 1] = before;
        staying -= 1;
      } else {
        order[at - 1] = last;
        last = coming.pop();
      }
    }
    this.orderVersion += 1;
  }

  /** Who holds which key of these columns; made once, and kept up to date while they are the key. */
  keyIndex(columnIds: readonly string[]): KeyIndex {
    return this.watched(`key ${columnIds.join()}`, () => new KeyIndex(columnIds));
  }

  /** The highest number of a column; as a key index, made once and kept up to date. */
  highestNumber(columnId: string): HighestNumber {
    return this.watched(`highest ${columnId}`, () => new HighestNumber(columnId));
  }

  private watched<W extends Watcher>(name: string, make: () => W): W {
    const known = this.watchers.get(name) as W | undefined;
    if (known) return known;
    const watcher = make();
    const ids = this.holdsTrials ? [...watcher.columnIds, TRIAL_MARK] : watcher.columnIds;
    for (let position = 0; position < this.ordered; position += 1) {
      const slot = this.slotAt(position);
      const cells = ids.map((id) => [id, this.cellOfSlot(slot, id)] as const);
      watcher.put(this.ids[slot] ?? '', Object.fromEntries(cells));
    }
    this.watchers.set(name, watcher);
    return watcher;
  }

  /** Notes the slots that are touched, until it is stopped. */
  watchSlots(): TouchedSlots {
    const touched = new TouchedSlots();
    this.touched.add(touched);
    return touched;
  }

  stopWatching(touched: TouchedSlots): void {
    this.touched.delete(touched);
  }

  positionOf(id: string): number {
    return this.positionOfSlot(this.slot(id));
  }

  /** The position a record with an order key has or would get. */
  positionFor(orderKey: number): number {
    return this.firstPositionFrom(orderKey);
  }

  /** The position of the first record after an order key, where reading in pieces goes on. */
  positionAfter(orderKey: number): number {
    const position = this.firstPositionFrom(orderKey);
    const found = position < this.ordered && this.orderKeys[this.slotAt(position)] === orderKey;
    return found ? position + 1 : position;
  }

  get(id: string): StoredRecord {
    return this.recordOfSlot(this.slot(id));
  }

  /** The record at a position, counted from 0. */
  at(position: number): StoredRecord {
    return this.recordOfSlot(this.slotAt(position));
  }

  cellAt(position: number, columnId: string): CellValue {
    return this.cellOfSlot(this.slotAt(position), columnId);
  }

  cellOfSlot(slot: number, columnId: string): CellValue {
    return this.columnOf(columnId)?.get(slot) ?? null;
  }

  /**
   * Puts a value that follows from others; it is not stored, and no part of the record.
   *
   * @returns whether another one stood there
   */
  setFollowed(slot: number, columnId: string, value: CellValue): boolean {
    let column = this.followed.get(columnId);
    if (!column) {
      column = new ColumnStore(this.capacity);
      this.followed.set(columnId, column);
      this.columnChanges += 1;
    }
    const isOther = column.set(slot, value);
    if (isOther) {
      this.version += 1;
      for (const each of this.touched) each.note(slot);
    }
    return isOther;
  }

  /** Forgets the values of a column that no longer follows from others. */
  dropFollowed(columnId: string): void {
    this.version += 1;
    this.followed.delete(columnId);
    this.columnChanges += 1;
    for (const each of this.touched) each.noteAll();
  }

  /** What a column's values come to, over all records. */
  figures(columnId: string): ColumnFigures {
    return this.columnOf(columnId)?.figures() ?? new FigureSum();
  }

  /** All numbers of a column, in no order; `null` where an error is among its values. */
  numbersOf(columnId: string): Float64Array | null {
    const column = this.columnOf(columnId);
    if (!column) return new Float64Array();
    return column.figures().errors > 0 ? null : column.numbersHeld();
  }

  /** The same over the records at some positions. */
  figuresAt(columnId: string, positions: Iterable<number>): ColumnFigures {
    const sum = new FigureSum();
    for (const position of positions) sum.add(this.cellAt(position, columnId));
    return sum;
  }

  /** Totals over conditions; made once, and kept up to date from then on. */
  conditionalTotals(): ConditionalTotals {
    return (this.totalsMet ??= new ConditionalTotals(this));
  }

  /** A record's id and revision. */
  headOf(slot: number): { id: string; revision: number } {
    return { id: this.ids[slot] ?? '', revision: this.revisions[slot] ?? 0 };
  }

  /**
   * What is derived from a column's values as they stand, made once and kept until a value of the
   * column or the order of the records changes.
   *
   * @param name tells it from what else is derived from the column; always of the same type
   */
  derived<T extends object>(columnId: string, name: string, make: () => T): T {
    const version = this.versionOf(columnId);
    let known = this.derivations.get(columnId);
    if (known?.version !== version) {
      known = { version, byName: new Map() };
      this.derivations.set(columnId, known);
    }
    if (!known.byName.has(name)) {
      // Ranges that grow with each row are many, and each is asked for seldom.
      if (known.byName.size >= MOST_DERIVED) known.byName.clear();
      known.byName.set(name, make());
    }
    return known.byName.get(name) as T;
  }

  /** What is derived of columns as they stand. */
  private current(): [columnId: string, known: Derivations][] {
    return [...this.derivations].filter(([id, { version }]) => version === this.versionOf(id));
  }

  /** What is derived goes on with a record at the end, where it can; else it is forgotten. */
  private append(columnId: string, known: Derivations, slot: number): void {
    const value = this.cellOfSlot(slot, columnId);
    for (const [name, each] of known.byName) {
      if (isGrowing(each)) each.append(value);
      else known.byName.delete(name);
    }
    known.version = this.versionOf(columnId);
  }

  private versionOf(columnId: string): string {
    return `${this.columnOf(columnId)?.version ?? -1}.${this.orderVersion}`;
  }

  /** The slots of all records, in the order the records stand. */
  slots(): Int32Array {
    return this.order.subarray(0, this.ordered);
  }

  /** Reads values by slot; the same function goes on reading what is there later. */
  readerOf(columnId: string): (slot: number) => CellValue {
    let column = this.columnOf(columnId);
    let { columnChanges } = this;
    return (slot) => {
      if (columnChanges !== this.columnChanges) {
        column = this.columnOf(columnId);
        ({ columnChanges } = this);
      }
      return column?.get(slot) ?? null;
    };
  }

  /**
   * Looks through a column's values, each different text once, in one pass over the records.
   *
   * @param known what is known of numbers without the test
   */
  scan(columnId: string, test: (value: CellValue) => boolean, known?: KnownOfNumbers): Scan {
    return (this.columnOf(columnId) ?? new ColumnStore(this.capacity)).scan(test, known);
  }

  /**
   * Holds a column's values against a row of tests at once, in one pass over the records; made
   * ready in steps.
   *
   * @param gradeOf how many of the tests a value passes before it fails one
   */
  grading(columnId: string, gradeOf: (value: CellValue) => number): Generator<void, Grading> {
    return (this.columnOf(columnId) ?? new ColumnStore(this.capacity)).grading(gradeOf);
  }

  /** How many slots there are, taken or free. */
  get slotCount(): number {
    return this.ids.length;
  }

  isTaken(slot: number): boolean {
    return (this.ids[slot] ?? '') !== '';
  }

  slotOf(id: string): number | undefined {
    return this.slotOfId.get(id);
  }

  private columnOf(columnId: string): ColumnStore | undefined {
    return this.followed.get(columnId) ?? this.columns.get(columnId);
  }

  /** The slot of the record at a position. */
  slotAt(position: number): number {
    if (position < 0 || position >= this.ordered) throw new RangeError(`no record at ${position}`);
    return this.order[position] ?? 0;
  }

  private slot(id: string): number {
    const slot = this.slotOfId.get(id);
    if (slot === undefined) throw new Error(`record ${id} is not in the sheet`);
    return slot;
  }

  positionOfSlot(slot: number): number {
    return this.firstPositionFrom(this.orderKeys[slot] ?? 0);
  }

  /** Binary search: the first position whose order key is not under the one given. */
  private firstPositionFrom(orderKey: number): number {
    let low = 0;
    let high = this.ordered;
    while (low < high) {
      const middle = (low + high) >> 1;
      if ((this.orderKeys[this.order[middle] ?? 0] ?? 0) < orderKey) low = middle + 1;
      else high = middle;
    }
    return low;
  }

  private fill(slot: number, { revision, cells }: StoredRecord): void {
    this.revisions[slot] = revision;
    for (const id of Object.keys(cells)) {
      if (this.columns.has(id)) continue;
      this.columns.set(id, new ColumnStore(this.capacity));
      this.columnChanges += 1;
    }
    for (const [id, column] of this.columns) column.set(slot, cells[id] ?? null);
    for (const each of this.touched) each.note(slot);
  }

  private recordOfSlot(slot: number): StoredRecord {
    const cells: Record<string, CellValue> = {};
    for (const [id, column] of this.columns) {
      const value = column.get(slot);
      if (value !== null) cells[id] = value;
    }
    return {
      id: this.ids[slot] ?? '',
      orderKey: this.orderKeys[slot] ?? 0,
      revision: this.revisions[slot] ?? 0,
      cells,
    };
  }

  /** Makes room for so many records, so that it need not be made again and again as they come. */
  reserve(count: number): void {
    if (count > this.capacity) this.grow(count);
  }

  private grow(least: number): void {
    while (this.capacity < least) this.capacity *= 2;
    const { order, orderKeys, revisions } = this;
    this.order = new Int32Array(this.capacity);
    this.order.set(order);
    this.orderKeys = new Float64Array(this.capacity);
    this.orderKeys.set(orderKeys);
    this.revisions = new Int32Array(this.capacity);
    this.revisions.set(revisions);
    for (const column of this.columns.values()) column.grow(this.capacity);
    for (const column of this.followed.values()) column.grow(this.capacity);
  }
}
