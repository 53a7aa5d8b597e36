import {
  Calculation,
  FreeRows,
  localeFacts,
  SheetModel,
  type StoredColumn,
  type StoredFormula,
  type StoredFreeRows,
  type StoredRecord,
} from '@varn/core';
import * as fc from 'fast-check';
import type { EventHub } from '../events/eventHub';
import type { Catalog, SheetFacts, WorkbookFacts } from '../store/catalog';
import type { SheetCache } from '../store/sheetCache';
import { computed } from '../write/columns';
import { Calculator } from './calculator';

/** A workbook of one sheet: numbers, and what is computed of each and of all of them. */
const WORKBOOK: WorkbookFacts = {
  id: 'w',
  name: 'Rivers',
  locale: localeFacts('en-GB'),
  timeZone: 'UTC',
  currency: 'EUR',
  names: [],
};
const NUMBER: StoredColumn = { id: 'n', heading: 'N', kind: 'number', settings: {} };
const COMPUTED: StoredColumn = { id: 'c', heading: 'C', kind: 'computed', settings: {} };
const FORMULA = `'N'*2+SUM(R!'N')`;

const later = (ms = 0): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));

function factsOf(columns: readonly StoredColumn[]): SheetFacts {
  return {
    id: 's',
    workbook: WORKBOOK,
    name: 'R',
    place: 0,
    revision: 1,
    hasRecords: true,
    freeRows: 0,
    headingRow: 1,
    columns,
    looseColumns: [],
    lostColumns: [],
    look: {},
    removed: false,
    columnsById: new Map(columns.map((column) => [column.id, column])),
  };
}

/** The sheet with its formula, tied to its own columns. */
function withFormula(): SheetFacts {
  const facts = factsOf([NUMBER, COMPUTED]);
  const { id, name, columns, looseColumns, hasRecords } = facts;
  const parts = { rows: new FreeRows<StoredFormula>([]), records: new SheetModel() };
  const sheets = [{ id, name, columns, looseColumns, hasRecords, lost: new Map(), ...parts }];
  const moment = { locale: WORKBOOK.locale, now: () => 0 };
  const calculation = new Calculation({ sheets, names: [], lost: new Map() }, moment);
  return factsOf([NUMBER, computed(COMPUTED, facts, calculation, FORMULA, true)]);
}

interface Told {
  readonly kind: string;
  readonly records: readonly string[];
}

/** A calculator over a workbook in memory, and what the write path does around it. */
class Desk {
  readonly model = new SheetModel();
  readonly told: Told[] = [];
  facts = withFormula();
  /** How often the sheet was read from the database. */
  reads = 0;
  failing = 0;
  private rows: StoredFreeRows | undefined;
  private forgets: ((sheetId: string) => void)[] = [];
  readonly calculator: Calculator;

  constructor(numbers: readonly number[]) {
    numbers.forEach((n, at) => this.model.add(recordOf(`r${at}`, at, n)));
    const catalog = {
      sheet: () => this.facts,
      sheetsOf: () => [this.facts],
      allSheetsOf: () => [this.facts],
      workbook: () => WORKBOOK,
    };
    const cache = {
      onDrop: (listener: (sheetId: string) => void) => void this.forgets.push(listener),
      rowsAtHand: () => this.rows,
      modelAtHand: () => (this.rows ? this.model : undefined),
      model: () => Promise.resolve(this.model),
      rows: async () => {
        await later();
        if (this.failing > 0) {
          this.failing -= 1;
          throw new Error('the disk does not answer');
        }
        this.reads += 1;
        this.rows ??= new FreeRows<StoredFormula>([]);
      },
    };
    const events = { signal: (_: string, event: Told) => void this.told.push(event) };
    this.calculator = new Calculator(
      catalog as unknown as Catalog,
      cache as unknown as SheetCache,
      events as unknown as EventHub,
    );
  }

  add(n: number): void {
    const id = `r${this.model.count}`;
    this.model.add(recordOf(id, this.model.count, n));
    this.touch(id, true);
  }

  change(at: number, n: number): void {
    this.model.update(recordOf(`r${at}`, at, n));
    this.touch(`r${at}`, false);
  }

  forget(): void {
    this.rows = undefined;
    for (const forget of this.forgets) forget('s');
  }

  /** What the computed column shows now, or `null` where nothing was read. */
  shown(): unknown[] | null {
    const calculation = this.calculator.loaded('w');
    const grid = calculation?.sheet('s');
    if (!calculation || !grid) return null;
    return Array.from({ length: this.model.count }, (_, at) =>
      calculation.valueAt(grid, at + 2, 1),
    );
  }

  /** What it must come to. */
  right(): number[] {
    const numbers = Array.from({ length: this.model.count }, (_, at) => {
      return this.model.at(at).cells['n'] as number;
    });
    const sum = numbers.reduce((a, b) => a + b, 0);
    return numbers.map((n) => n * 2 + sum);
  }

  private touch(id: string, isNew: boolean): void {
    const slot = this.model.slotOf(id) ?? -1;
    this.calculator.loaded('w')?.touchRecord('s', slot, new Set(['n']), isNew);
    this.calculator.settle('w');
  }
}

const recordOf = (id: string, at: number, n: number): StoredRecord => ({
  id,
  orderKey: (at + 1) * 1024,
  revision: 1,
  cells: { n },
});
const MANY = Array.from({ length: 60_000 }, (_, n) => n % 7);

let desk: Desk;
afterEach(() => desk.calculator.onModuleDestroy());

test('a workbook is read when it is first needed, once, however many ask', async () => {
  desk = new Desk([1, 2, 3]);
  expect([desk.calculator.isAtHand('w'), desk.shown()]).toEqual([false, null]);
  const { calculator } = desk;
  await Promise.all([calculator.settled('w'), calculator.ready('w'), calculator.settled('w')]);
  expect([desk.reads, desk.shown()]).toEqual([1, desk.right()]);
  expect(await calculator.written('w')).toBe(calculator.loaded('w'));
});

test('what a write makes other is right for whoever asks after it, and told of once', async () => {
  desk = new Desk([1, 2, 3]);
  await desk.calculator.settled('w');
  desk.told.length = 0;
  desk.change(1, 20);
  desk.add(5);
  expect((await desk.calculator.settled('w')).computing).toBe(false);
  expect(desk.shown()).toEqual(desk.right());
  expect(desk.told).toEqual([{ kind: 'recalculated', free: [], records: ['s'] }]);
  desk.change(1, 20);
  await desk.calculator.settled('w');
  expect(desk.told).toHaveLength(1);
});

test('whatever is written while it computes, it comes out as if computed of all at the end', async () => {
  const write = fc.record({
    at: fc.option(fc.nat(4), { nil: undefined }),
    n: fc.integer({ min: -50, max: 50 }),
    then: fc.constantFrom('write', 'wait', 'ask', 'forget', 'reshape'),
  });
  await fc.assert(
    fc.asyncProperty(fc.array(write, { maxLength: 12 }), async (writes) => {
      desk = new Desk([1, 2, 3, 4, 5]);
      const { calculator } = desk;
      await calculator.ready('w');
      for (const { at, n, then } of writes) {
        if (at === undefined) desk.add(n);
        else desk.change(at, n);
        if (then === 'wait') await later(1);
        if (then === 'forget') desk.forget();
        if (then === 'reshape') {
          calculator.reshaped('w');
          calculator.settle('w');
        }
        if (then === 'ask') {
          await calculator.settled('w');
          expect(desk.shown()).toEqual(desk.right());
        }
      }
      expect((await calculator.settled('w')).computing).toBe(false);
      expect(desk.shown()).toEqual(desk.right());
      calculator.onModuleDestroy();
    }),
    { numRuns: 40 },
  );
});

test('others are let in while much is computed; who looks on is promised the end, and told of it', async () => {
  desk = new Desk(MANY);
  const { calculator } = desk;
  await calculator.settled('w');
  desk.told.length = 0;
  let turns = 0;
  desk.change(0, 1000);
  const others = setInterval(() => (turns += 1));
  // While writes stream in nobody waits: what stands is given, with the word that it is old.
  desk.change(1, 1000);
  desk.change(2, 1000);
  expect((await calculator.results('w', 's')).computing).toBe(true);
  expect((await calculator.settled('w')).computing).toBe(false);
  clearInterval(others);
  expect(turns).toBeGreaterThan(3);
  expect(desk.shown()).toEqual(desk.right());
  await later();
  expect(desk.told.at(-1)).toMatchObject({ records: ['s'] });
});

test('a pass that is under way ends with its workbook', async () => {
  desk = new Desk(MANY);
  await desk.calculator.settled('w');
  desk.change(0, 5);
  await later(1);
  desk.calculator.drop('w');
  desk.told.length = 0;
  expect(desk.shown()).toBeNull();
  expect((await desk.calculator.settled('w')).computing).toBe(false);
  expect(desk.shown()?.slice(0, 3)).toEqual(desk.right().slice(0, 3));
});

test('where there are no formulas nothing is read but the rows, until one comes', async () => {
  desk = new Desk([1, 2]);
  desk.facts = factsOf([NUMBER]);
  const { calculator } = desk;
  expect(await calculator.settled('w')).toEqual({ calculation: null, computing: false });
  expect([calculator.isAtHand('w'), calculator.loaded('w'), await calculator.written('w')]).toEqual(
    [true, null, null],
  );
  desk.facts = withFormula();
  calculator.reshaped('w');
  await calculator.settled('w');
  expect(desk.shown()).toEqual(desk.right());
  // Of a workbook without any, its formulas can be had all the same: one is about to be written.
  const blank = new Desk([1]);
  blank.facts = factsOf([NUMBER]);
  await blank.calculator.ready('w');
  expect((await blank.calculator.of('w')).sheet('s')?.columnCount).toBe(1);
  blank.calculator.onModuleDestroy();
});

test('a reading that failed is told to who asked, and tried again for who asks next', async () => {
  desk = new Desk([1, 2]);
  desk.failing = 1;
  await expect(desk.calculator.settled('w')).rejects.toThrow('the disk does not answer');
  expect(desk.calculator.isAtHand('w')).toBe(false);
  await desk.calculator.settled('w');
  expect(desk.shown()).toEqual(desk.right());
});

test('a workbook that is warmed is told of once, all its sheets with it', async () => {
  desk = new Desk([1, 2]);
  const { calculator } = desk;
  calculator.warm('w');
  calculator.warm('w');
  await calculator.settled('w');
  await later();
  expect(desk.told.filter(({ records }) => records.includes('s'))).not.toHaveLength(0);
  expect(desk.reads).toBe(1);
});
