import type { RecalculatedEvent } from '@varn/contract';
import { Calculation, SheetModel, type GridSheet, type LostColumn } from '@varn/core';
import { Injectable, Logger, type OnModuleDestroy } from '@nestjs/common';
import { EventHub } from '../events/eventHub';
import { SheetCache } from '../store/sheetCache';
import { Catalog, nowIn, type SheetFacts } from '../store/catalog';
import { nextTurn } from '../turns/turns';

/** What a change may compute at once, before other requests are let in between. */
const TURN_MS = 8;
/** How many times as long as a turn took it rests where writes come meanwhile, which get their share. */
const REST_FACTOR = 4;
/** The same after all is computed, until it begins anew. */
const REST_FACTOR_AFTER = 12;
const LEAST_REST_MS = 50;
const MOST_REST_MS = 500;
const MINUTE_MS = 60_000;
/** How long a reader waits for results before it gets them as last known. */
const MOST_WAIT_MS = 150;
/** How long one waits who can do with nothing but the results as they come out. */
const LONG_WAIT_MS = 10_000;
/** While writes stream in that fast one after the other, results are not waited for at all. */
const STREAM_MS = 250;
/** How often those who look on are told of results while a long pass goes on. */
const TELL_MS = 1000;

/** A workbook's formulas in memory. */
interface Book {
  calculation: Calculation;
  /** What waits to be computed, or is, in turns with other requests. */
  running: Promise<void> | null;
  /** Until when it rests, by `performance.now`. */
  restsUntil: number;
  /** Whether a write came while it computes: a stream of them is let through between turns. */
  contended: boolean;
  /** When that was last, by `performance.now`. */
  contendedAt: number;
  /** Whether someone waits for its results, so that it does not rest. */
  hurried: boolean;
  /** Ends the rest it is in. */
  wake: () => void;
  /** Sheets of which someone was told that they are being computed, and waits to be told more. */
  readonly promised: Set<string>;
}

/** A workbook's results as they stand. */
export interface Results {
  readonly calculation: Calculation | null;
  /** Whether something of it is still being computed: results are as last known. */
  readonly computing: boolean;
}

/**
 * Keeps the results of formulas right. A workbook's formulas are read when first needed; after
 * that each change tells of itself, and what depends on it is computed once the change has been
 * answered, in turns with other requests. Whoever reads results waits until they are right.
 */
@Injectable()
export class Calculator implements OnModuleDestroy {
  private readonly books = new Map<string, Book>();
  private readonly loading = new Map<string, Promise<Book | null>>();
  /** Workbooks in which no formula was found when they were last looked through. */
  private readonly without = new Set<string>();
  private readonly warming = new Set<string>();
  private readonly logger = new Logger('calculator');
  private readonly clock: ReturnType<typeof setInterval>;

  constructor(
    private readonly catalog: Catalog,
    private readonly cache: SheetCache,
    private readonly events: EventHub,
  ) {
    this.clock = setInterval(() => this.tick(), MINUTE_MS);
    this.clock.unref();
    cache.onDrop((sheetId) => {
      const workbookId = this.catalog.sheet(sheetId)?.workbook.id;
      if (workbookId !== undefined) this.drop(workbookId);
    });
  }

  onModuleDestroy(): void {
    clearInterval(this.clock);
  }

  /** Waits until a workbook's formulas are in memory; nothing where it has none. */
  async ready(workbookId: string): Promise<void> {
    if (!this.without.has(workbookId)) await this.load(workbookId, false);
  }

  /** The formulas of a workbook, read into memory although there may be none. */
  async of(workbookId: string): Promise<Calculation> {
    const book = await this.load(workbookId, true);
    if (!book) throw new Error(`the formulas of ${workbookId} could not be read`);
    return book.calculation;
  }

  /**
   * The results of a workbook, as soon as they are right, or as last known after a moment. Whoever
   * looks at the sheet is told by event when they are right.
   */
  async results(workbookId: string, sheetId: string): Promise<Results> {
    const book = this.books.get(workbookId);
    const isStreaming = performance.now() - (book?.contendedAt ?? -Infinity) < STREAM_MS;
    const results = await this.within(workbookId, isStreaming ? 0 : MOST_WAIT_MS);
    if (results.computing) this.books.get(workbookId)?.promised.add(sheetId);
    return results;
  }

  /** The same for what nobody is told of later: it waits longer. */
  settled(workbookId: string): Promise<Results> {
    return this.within(workbookId, LONG_WAIT_MS);
  }

  private async within(workbookId: string, ms: number): Promise<Results> {
    const until = performance.now() + ms;
    for (;;) {
      // Formulas forgotten while they were waited for are read anew.
      await this.ready(workbookId);
      const book = this.books.get(workbookId);
      if (!book?.running) return { calculation: book?.calculation ?? null, computing: false };
      const left = until - performance.now();
      if (left <= 0) return { calculation: book.calculation, computing: true };
      book.hurried = true;
      book.wake();
      await Promise.race([book.running, later(left)]);
    }
  }

  /** The formulas of a workbook as they are written, computed or not; nothing where it has none. */
  async written(workbookId: string): Promise<Calculation | null> {
    const held = this.loaded(workbookId);
    if (held || this.without.has(workbookId)) return held;
    const sheets = await this.bringIn(workbookId, false);
    if (!sheets.some((sheet) => this.hasFormulas(sheet))) return null;
    return this.loaded(workbookId) ?? this.build(workbookId);
  }

  /** Whether a workbook's formulas need not be read first. */
  isAtHand(workbookId: string): boolean {
    return this.books.has(workbookId) || this.without.has(workbookId);
  }

  /** Reads a workbook of many records into memory, and tells when it can be shown whole. */
  warm(workbookId: string): void {
    if (this.warming.has(workbookId)) return;
    this.warming.add(workbookId);
    this.ready(workbookId)
      .then(() => {
        const all = this.catalog.sheetsOf(workbookId).map(({ id }) => id);
        this.events.signal(workbookId, { kind: 'recalculated', free: all, records: all });
      })
      // Whoever asks next reads it again, and is told if it fails again.
      .catch((error: unknown) => this.logger.error(error))
      .finally(() => this.warming.delete(workbookId));
  }

  loaded(workbookId: string): Calculation | null {
    return this.books.get(workbookId)?.calculation ?? null;
  }

  /** Forgets a workbook's formulas; they are read anew when next needed. */
  drop(workbookId: string): void {
    this.books.delete(workbookId);
    this.without.delete(workbookId);
  }

  /** Sheets, columns, rows or names came, went or moved. */
  reshaped(workbookId: string): void {
    this.without.delete(workbookId);
    const book = this.books.get(workbookId);
    if (!book) return;
    const before = book.calculation;
    book.calculation = this.build(workbookId);
    book.calculation.goOnFrom(before);
  }

  /** Computes what waits, after those who are being answered. */
  settle(workbookId: string): void {
    const book = this.books.get(workbookId);
    if (!book) return;
    if (book.running) {
      book.contended = true;
      book.contendedAt = performance.now();
      return;
    }
    book.running = this.compute(workbookId, book);
  }

  private async compute(workbookId: string, book: Book): Promise<void> {
    try {
      await rest(book, book.restsUntil - performance.now());
      let spent = 0;
      let told = performance.now();
      for (let done = false; !done && this.books.get(workbookId) === book;) {
        await nextTurn();
        const began = performance.now();
        done = this.takeTurn(book, began + TURN_MS);
        const took = performance.now() - began;
        spent += took;
        const { contended } = book;
        book.contended = false;
        if (!done && performance.now() - told > TELL_MS) {
          this.tell(workbookId, book);
          told = performance.now();
        }
        if (!done && contended) await later(Math.min(took * REST_FACTOR, MOST_REST_MS));
      }
      const ms = Math.max(spent * REST_FACTOR_AFTER, LEAST_REST_MS);
      book.restsUntil = performance.now() + Math.min(ms, MOST_REST_MS);
      this.tell(workbookId, book, book.promised);
      book.promised.clear();
    } catch (error) {
      // Whoever asks next reads the formulas anew, and is told if it fails again.
      this.logger.error(error);
      if (this.books.get(workbookId) === book) this.drop(workbookId);
    } finally {
      book.hurried = false;
      book.running = null;
    }
  }

  /** @returns whether all is done */
  private takeTurn({ calculation }: Book, until: number): boolean {
    const steps = calculation.run();
    while (steps.next().done !== true) {
      if (performance.now() > until) return calculation.pause(steps);
    }
    return true;
  }

  private tell(workbookId: string, { calculation }: Book, also: Iterable<string> = []): void {
    const { free, records } = calculation.takeChanged();
    const event: RecalculatedEvent = {
      kind: 'recalculated',
      free: [...new Set([...free, ...also])],
      records: [...new Set([...records, ...also])],
    };
    if (event.free.length === 0 && event.records.length === 0) return;
    this.events.signal(workbookId, event);
  }

  private tick(): void {
    for (const [workbookId, { calculation }] of this.books) {
      calculation.tick();
      this.settle(workbookId);
    }
  }

  private load(workbookId: string, always: boolean): Promise<Book | null> {
    const held = this.books.get(workbookId);
    if (held) return Promise.resolve(held);
    let loading = this.loading.get(workbookId);
    if (!loading) {
      loading = this.read(workbookId, always).finally(() => this.loading.delete(workbookId));
      this.loading.set(workbookId, loading);
    }
    return loading.then((book) => (book === null && always ? this.load(workbookId, true) : book));
  }

  private async read(workbookId: string, always: boolean): Promise<Book | null> {
    const sheets = await this.bringIn(workbookId, false);
    if (!always && !sheets.some((sheet) => this.hasFormulas(sheet))) {
      this.without.add(workbookId);
      return null;
    }
    await this.bringIn(workbookId, true);
    const calculation = this.build(workbookId);
    const book: Book = {
      calculation,
      running: null,
      restsUntil: 0,
      contended: false,
      contendedAt: -Infinity,
      hurried: false,
      wake: () => undefined,
      promised: new Set(),
    };
    this.books.set(workbookId, book);
    this.settle(workbookId);
    return book;
  }

  /** Reads into memory what is not there of each sheet, also of one that came in the meantime. */
  private async bringIn(workbookId: string, withRecords: boolean): Promise<SheetFacts[]> {
    for (;;) {
      const sheets = this.catalog.sheetsOf(workbookId);
      const missing = sheets.find(
        ({ id, hasRecords }) =>
          !this.cache.rowsAtHand(id) || (withRecords && hasRecords && !this.cache.modelAtHand(id)),
      );
      if (!missing) return sheets;
      await this.cache.rows(missing.id);
      if (withRecords && missing.hasRecords) await this.cache.model(missing.id);
    }
  }

  private hasFormulas({ id, columns }: SheetFacts): boolean {
    if (columns.some(({ settings }) => settings.formula ?? settings.list)) return true;
    const rows = this.cache.rowsAtHand(id)?.all() ?? [];
    return rows.some(({ cells }) => Object.values(cells).some(({ formula }) => formula));
  }

  private build(workbookId: string): Calculation {
    const workbook = this.catalog.workbook(workbookId);
    if (!workbook) throw new Error(`there is no workbook ${workbookId}`);
    const all = this.catalog.allSheetsOf(workbookId);
    const lost = new Map<string, string>();
    for (const { id, name, removed, lostColumns } of all) {
      if (removed) lost.set(id, name);
      for (const { column } of lostColumns) lost.set(column.id, column.heading);
    }
    const sheets = this.catalog.sheetsOf(workbookId).map((sheet) => this.gridSheet(sheet));
    const moment = { locale: workbook.locale, now: () => nowIn(workbook) };
    return new Calculation({ sheets, names: workbook.names, lost }, moment);
  }

  private gridSheet(sheet: SheetFacts): GridSheet {
    const { id, name, columns, looseColumns, lostColumns, hasRecords } = sheet;
    const rows = this.cache.rowsAtHand(id);
    if (!rows) throw new Error(`the rows of ${id} are not in memory`);
    const lost = new Map<string, LostColumn>(
      lostColumns.map(({ column, after }) => [column.id, { heading: column.heading, after }]),
    );
    const records = this.cache.modelAtHand(id) ?? new SheetModel();
    return { id, name, columns, looseColumns, hasRecords, rows, records, lost };
  }
}

/** Waits for a time that keeps nothing alive. */
const later = (ms: number): Promise<void> =>
  new Promise((resolve) => {
    setTimeout(resolve, ms).unref();
  });

/** Rests, unless someone is in a hurry for a book's results. */
async function rest(book: Book, ms: number): Promise<void> {
  if (ms <= 0 || book.hurried) return;
  await new Promise<void>((resolve) => {
    const timer = setTimeout(resolve, ms);
    timer.unref();
    book.wake = () => {
      clearTimeout(timer);
      resolve();
    };
  });
}
