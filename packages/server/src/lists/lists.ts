import type { ListChangeView, ListItemView } from '@varn/contract';
import {
  heldValuesIn,
  LiveList,
  sayErrorValue,
  splicesOf,
  type Calculation,
  type ErrorValue,
  isTrial,
  type Listed,
  type ListItem,
  type ListSettings,
  type ReadingContext,
  type Splice,
  type StoredColumn,
  type StoredFormula,
} from '@varn/core';
import { Injectable, Logger, type OnModuleInit } from '@nestjs/common';
import { Calculator } from '../calculation/calculator';
import { EventHub } from '../events/eventHub';
import { isRecordLine, isRowLine, type Line, type RecordLine } from '../log/line';
import { Catalog, nowIn, type SheetFacts } from '../store/catalog';
import { SheetCache } from '../store/sheetCache';
import { Refused } from '../http/refused';
import type { Asker } from '../turns/asker';
import { Pace } from '../turns/turns';
import { builtList } from './builtList';
import { sourceOf, type Source } from './sourceRows';

/** Lines of one write that are taken in one by one; after more a list is built anew. */
const MOST_ONE_BY_ONE = 200;
/** How long lists are waited for by whoever looks at all of them. */
const MOST_WAIT_MS = 1000;
/** A list that took longer than this rests for so many times as long before it is built anew. */
const NOTABLE_MS = 250;
const REST_FACTOR = 10;
const MOST_REST_MS = 600_000;
/** How long changes are gathered before lists are built anew. */
const GATHER_MS = 15;

/** A column that is fed, and the sheet it is in. */
export interface FedColumn {
  readonly sheetId: string;
  readonly column: StoredColumn;
}

/** What feeds one or more columns alike. */
export interface Feed {
  readonly list: ListSettings<StoredFormula>;
  readonly columns: readonly FedColumn[];
  readonly source: Source;
  /** What is offered as last known; `null` until it was built first. */
  live: LiveList | null;
  /** Why nothing is offered. */
  problem: ErrorValue | null;
  version: number;
  isStale: boolean;
  /** When its items were others last; milliseconds since 1970 UTC. */
  changedAt: number | null;
  building: Promise<void> | null;
  /** Until when it is not built anew, in milliseconds since 1970 UTC: it took long. */
  restsUntil: number;
  isRestTimed: boolean;
  /** Whether someone was answered without it, before it was built first. */
  isAwaited: boolean;
}

/** The lists of a workbook. */
interface Book {
  readonly calculation: Calculation;
  readonly feeds: readonly Feed[];
  /** By sheet: its columns, by which it is known whether lists changed, and what feeds them. */
  readonly bySheet: ReadonlyMap<
    string,
    { readonly columns: readonly StoredColumn[]; readonly feeds: readonly Feed[] }
  >;
  readonly byColumn: ReadonlyMap<string, Feed>;
}

const later = (ms: number): Promise<void> =>
  new Promise((resolve) => setTimeout(resolve, ms).unref());

/** Told of lists that were built or changed. */
type Watcher = (workbookId: string, feed: Feed) => void;

/**
 * The lists that feed columns: each is computed once, whatever columns and forms it feeds, and again
 * when what it reads changes. A record that changes changes its own item; what else feeds a list is
 * read anew, in turns with other requests.
 */
@Injectable()
export class Lists implements OnModuleInit {
  private readonly books = new Map<string, Book>();
  private readonly due = new Map<string, ReturnType<typeof setTimeout>>();
  private readonly watchers: Watcher[] = [];
  private readonly logger = new Logger('lists');

  constructor(
    private readonly catalog: Catalog,
    private readonly cache: SheetCache,
    private readonly calculator: Calculator,
    private readonly events: EventHub,
  ) {}

  onModuleInit(): void {
    this.events.onRecalculated((workbookId, { free, records }) => {
      this.staleWhere(workbookId, ({ source }) => {
        const reads = [...free, ...records].some((id) => source.sheetIds.has(id));
        return reads && !source.isOfCells;
      });
    });
  }

  /** Tells of each list that was built or changed. */
  watch(watcher: Watcher): void {
    this.watchers.push(watcher);
  }

  /**
   * The lists of a workbook as they stand, computed where they are not yet. What takes long is not
   * waited for: it is told of when it is there.
   */
  async of(workbookId: string): Promise<readonly Feed[]> {
    const { feeds } = await this.bookOf(workbookId);
    const isOver = later(MOST_WAIT_MS);
    const pace = new Pace();
    for (const feed of feeds) {
      await Promise.race([this.fresh(workbookId, feed), isOver]);
      if (!feed.live) feed.isAwaited = true;
      await pace.keep();
    }
    return feeds;
  }

  /** Waits until the lists that feed a sheet's columns are at hand. */
  async ready({ id, workbook, columns }: SheetFacts): Promise<void> {
    const at = this.books.get(workbook.id);
    const isAtHand = at !== undefined && at.calculation === this.calculator.loaded(workbook.id);
    const known = isAtHand ? at.bySheet.get(id) : undefined;
    // Most writes find all at hand, and wait for nothing.
    if (known?.columns === columns && known.feeds.every(({ live }) => live)) return;
    if (!columns.some(({ settings }) => settings.list)) return;
    const { bySheet } = await this.bookOf(workbook.id);
    for (const feed of bySheet.get(id)?.feeds ?? []) {
      if (!feed.live) await this.fresh(workbook.id, feed);
    }
  }

  /** The list that feeds a column, as last known. */
  feedOf(workbookId: string, columnId: string): Feed | undefined {
    return this.books.get(workbookId)?.byColumn.get(columnId);
  }

  /** The same as reading typed choices asks for it. */
  listed(workbookId: string): (columnId: string) => Listed | undefined {
    return (columnId) => this.feedOf(workbookId, columnId)?.live?.index;
  }

  /** How typed texts are read in a sheet now, held against its lists. */
  contextOf({ workbook }: SheetFacts): ReadingContext {
    return { locale: workbook.locale, now: nowIn(workbook), listed: this.listed(workbook.id) };
  }

  /** The same once the lists are at hand. */
  async readyIn(sheet: SheetFacts): Promise<ReadingContext> {
    await this.ready(sheet);
    return this.contextOf(sheet);
  }

  /**
   * A list as it would be, fed by what no column is fed by yet.
   *
   * @param asker who alone waits for it
   */
  async tried(
    list: ListSettings<StoredFormula>,
    home: SheetFacts,
    asker: Asker | null = null,
  ): Promise<Pick<Feed, 'live' | 'problem'>> {
    const { calculation } = await this.calculator.settled(home.workbook.id);
    const source = sourceOf(
      list,
      home,
      calculation ?? (await this.calculator.of(home.workbook.id)),
      undefined,
    );
    return builtList(source, asker);
  }

  /**
   * Refuses settings of a column whose list would take too long whenever it is read.
   *
   * @throws Refused 422 with how long it would take
   */
  async refuseSlow(list: ListSettings<StoredFormula>, home: SheetFacts): Promise<void> {
    const { problem } = await this.tried(list, home);
    if (problem?.why?.code === 'slowList') throw Refused.byReason(sayErrorValue(problem));
  }

  /** Takes in what a write did, once it is stored. */
  wrote(workbookId: string, lines: readonly Line[]): void {
    const book = this.books.get(workbookId);
    const isReshaped = lines.some(({ kind }) => kind === 'sheetChanged' || kind === 'namesChanged');
    // A list that breaks is told of, also where nobody looked at one yet.
    if (isReshaped && (book !== undefined || this.isFed(workbookId))) this.schedule(workbookId);
    if (isReshaped || !book) return;
    const records = lines.filter(isRecordLine);
    for (const feed of book.feeds) {
      const { source } = feed;
      const own = records.filter(({ sheetId }) => source.sheetIds.has(sheetId));
      const isRowRead = lines.some((line) => isRowLine(line) && source.sheetIds.has(line.sheetId));
      if (isRowRead && source.columnId === null) this.stale(workbookId, feed);
      if (own.length > 0) this.takeIn(workbookId, feed, own);
    }
  }

  /** Takes in that very many records of a sheet were written: what reads them is built anew. */
  wroteMany(workbookId: string, sheetId: string): void {
    for (const feed of this.books.get(workbookId)?.feeds ?? []) {
      if (feed.source.sheetIds.has(sheetId)) this.stale(workbookId, feed);
    }
  }

  private isFed(workbookId: string): boolean {
    const sheets = this.catalog.sheetsOf(workbookId);
    return sheets.some(({ columns }) => columns.some(({ settings }) => settings.list));
  }

  private takeIn(workbookId: string, feed: Feed, lines: readonly RecordLine[]): void {
    const { source, live } = feed;
    // One that is being built may have passed the record by.
    if (
      !source.isOfCells ||
      !live ||
      feed.isStale ||
      feed.building ||
      lines.length > MOST_ONE_BY_ONE
    ) {
      this.stale(workbookId, feed);
      return;
    }
    const splices: Splice[] = [];
    for (const line of lines) {
      const change = this.changeBy(line, source, live);
      if (!change) {
        // What was taken in until now is told with the rest, of the list as it is built anew.
        this.stale(workbookId, feed);
        if (splices.length > 0) this.tell(workbookId, feed, splices);
        return;
      }
      splices.push(...change);
    }
    if (splices.length > 0) this.tell(workbookId, feed, splices);
  }

  /** What a record's line changes of a list; `null` where it is to be built anew. */
  private changeBy(line: RecordLine, source: Source, live: LiveList): Splice[] | null {
    if (line.kind === 'recordMoved') {
      const { order } = source.shape;
      return order === 'rising' || order === 'falling' ? [] : null;
    }
    const row = (cells: RecordLine['before']) =>
      cells && !('orderKey' in cells) && !isTrial(cells) ? source.rowOf(cells) : null;
    const position = line.gridRow - 1 - (this.catalog.sheet(source.sheetId ?? '')?.headingRow ?? 0);
    const isLast = line.kind === 'recordAdded' && position >= line.counted;
    return live.change(row(line.before), row(line.after), isLast);
  }

  private staleWhere(workbookId: string, is: (feed: Feed) => boolean): void {
    for (const feed of this.books.get(workbookId)?.feeds ?? []) {
      if (is(feed)) this.stale(workbookId, feed);
    }
  }

  private stale(workbookId: string, feed: Feed): void {
    feed.isStale = true;
    this.schedule(workbookId);
  }

  /** Builds what is stale, once what comes at the same time has come. */
  private schedule(workbookId: string): void {
    if (this.due.has(workbookId)) return;
    const timer = setTimeout(() => {
      this.due.delete(workbookId);
      this.of(workbookId).catch((error: unknown) => this.logger.error(error));
    }, GATHER_MS);
    timer.unref();
    this.due.set(workbookId, timer);
  }

  private async bookOf(workbookId: string): Promise<Book> {
    const held = this.books.get(workbookId);
    const sheets = this.catalog.sheetsOf(workbookId);
    const calculation = await this.calculator.of(workbookId);
    const isSame =
      held?.calculation === calculation &&
      held.bySheet.size === sheets.length &&
      sheets.every(({ id, columns }) => columns === held.bySheet.get(id)?.columns);
    if (isSame) return held;
    const book = this.read(sheets, calculation, held);
    this.books.set(workbookId, book);
    return book;
  }

  /** The lists of sheets as they are now; those fed alike are one. */
  private read(sheets: readonly SheetFacts[], calculation: Calculation, before?: Book): Book {
    const byKey = new Map<string, { home: SheetFacts; columns: FedColumn[] }>();
    for (const home of sheets) {
      for (const column of home.columns) {
        const { list } = column.settings;
        if (!list) continue;
        const key = keyOf(list, home.id);
        const held = byKey.get(key) ?? { home, columns: [] };
        held.columns.push({ sheetId: home.id, column });
        byKey.set(key, held);
      }
    }
    const feeds = [...byKey.values()].flatMap(({ home, columns }): Feed[] => {
      const [first] = columns;
      const list = first?.column.settings.list;
      if (!first || !list) return [];
      const known = before?.byColumn.get(first.column.id);
      const uses = list.order === 'used' ? this.usesOf(first) : undefined;
      const source = sourceOf(list, home, calculation, uses);
      const isSameSource =
        known !== undefined && keyOf(known.list, home.id) === keyOf(list, home.id);
      // What was changed elsewhere leaves it as it is.
      const isKept =
        known?.live !== undefined &&
        !known.isStale &&
        !known.building &&
        source.reads !== null &&
        source.reads === known.source.reads &&
        isSameSource;
      return [
        {
          list,
          columns,
          source,
          live: known?.live ?? null,
          problem: known?.problem ?? null,
          version: known?.version ?? 0,
          isStale: !isKept,
          changedAt: known?.changedAt ?? null,
          building: null,
          restsUntil: isSameSource ? known.restsUntil : 0,
          isRestTimed: false,
          isAwaited: known?.isAwaited ?? false,
        },
      ];
    });
    const byColumn = new Map(
      feeds.flatMap((feed) => feed.columns.map(({ column }) => [column.id, feed] as const)),
    );
    const feedsOf = (id: string): Feed[] =>
      feeds.filter((feed) => feed.columns.some(({ sheetId }) => sheetId === id));
    const bySheet = new Map(
      sheets.map(({ id, columns }) => [id, { columns, feeds: feedsOf(id) }] as const),
    );
    return { calculation, feeds, bySheet, byColumn };
  }

  /** How often each value is stored in a column, counted when it is first asked. */
  private usesOf({ sheetId, column }: FedColumn): (text: string) => number {
    let counts: Map<string, number> | undefined;
    return (text) => {
      if (!counts) {
        counts = new Map();
        const model = this.cache.modelAtHand(sheetId);
        const sheet = this.catalog.sheet(sheetId);
        if (model && sheet) {
          const steps = heldValuesIn(model, column, sheet.workbook.locale);
          let step = steps.next();
          while (step.done !== true) step = steps.next();
          for (const { text: held, count } of step.value) counts.set(held, count);
        }
      }
      return counts.get(text) ?? 0;
    };
  }

  /** Builds a list where it is stale, once whoever asks; who comes while it is built waits as well. */
  private async fresh(workbookId: string, feed: Feed): Promise<void> {
    while (feed.isStale || feed.building) {
      if (!feed.building && this.rests(workbookId, feed)) return;
      feed.building ??= this.build(workbookId, feed).finally(() => {
        feed.building = null;
      });
      await feed.building;
    }
  }

  /** Whether a list that took long is left as it was for a while; then it is built by itself. */
  private rests(workbookId: string, feed: Feed): boolean {
    const left = feed.restsUntil - Date.now();
    if (left <= 0 || !feed.live) return false;
    if (!feed.isRestTimed) {
      feed.isRestTimed = true;
      setTimeout(() => {
        feed.isRestTimed = false;
        this.schedule(workbookId);
      }, left).unref();
    }
    return true;
  }

  private async build(workbookId: string, feed: Feed): Promise<void> {
    await this.calculator.settled(workbookId);
    feed.isStale = false;
    const { source } = feed;
    const { problem, spent, live: built } = await builtList(source);
    if (spent > NOTABLE_MS)
      feed.restsUntil = Date.now() + Math.min(spent * REST_FACTOR, MOST_REST_MS);
    // What took too long leaves what was offered; what can't be read offers nothing.
    const isKept = problem?.why?.code === 'slowList' ? feed.live : null;
    const live = built ?? isKept ?? LiveList.of([], source.shape);
    // Once it is out of date already, it is built again before anyone is told.
    if (isOutOfDate(feed) && feed.live) return;
    const before = feed.live;
    const wasProblem = feed.problem;
    feed.live = live;
    feed.problem = problem;
    const isAwaited = feed.isAwaited;
    feed.isAwaited = false;
    for (const item of before?.items ?? []) {
      if (live.index.holding(item.value).length === 0) live.index.leave(item);
    }
    const splices = before ? splicesOf(before.items, live.items) : [];
    const isOther = splices.length > 0 || (wasProblem === null) !== (problem === null);
    if (before && isOther) this.tell(workbookId, feed, splices);
    // Whoever was not kept waiting reads it now.
    else if (isAwaited) this.tell(workbookId, feed, null);
    else for (const watcher of this.watchers) watcher(workbookId, feed);
  }

  /** @param splices what changed; `null` where it is to be read anew */
  private tell(workbookId: string, feed: Feed, splices: readonly Splice[] | null): void {
    const from = feed.version;
    feed.version += 1;
    feed.changedAt = Date.now();
    const change: ListChangeView = {
      columnIds: feed.columns.map(({ column }) => column.id),
      from,
      version: feed.version,
      // What is wrong with a list is read with it, and so is a list that is another altogether.
      ...(splices && !feed.problem && isFew(splices) && { splices: splices.map(spliceView) }),
    };
    this.events.signal(workbookId, { kind: 'lists', changes: [change] });
    for (const watcher of this.watchers) watcher(workbookId, feed);
  }
}

/** Whether what a list reads changed since it was built, or is being built. */
const isOutOfDate = ({ isStale }: Feed): boolean => isStale;

/** What makes two lists one: all but the columns that they are tied to where they are offered. */
function keyOf(
  {
    narrowed,
    fills,
    adds: _adds,
    strictness: _strictness,
    recent: _recent,
    ...rest
  }: ListSettings<StoredFormula>,
  sheetId: string,
): string {
  const isOwn = rest.order === 'used' ? sheetId : '';
  return JSON.stringify([
    rest,
    narrowed?.map(({ by }) => by),
    fills?.map(({ from }) => from),
    isOwn,
  ]);
}

/** The most items that are told of with a change. */
const MOST_TOLD = 1000;
const isFew = (splices: readonly Splice[]): boolean =>
  splices.reduce((sum, { items }) => sum + items.length + 1, 0) <= MOST_TOLD;

const spliceView = ({ at, remove, items }: Splice) => ({ at, remove, items: items.map(itemView) });

/** An item as the API writes it, without what it need not say. */
export function itemView({ value, text, label, second, by, fills }: ListItem): ListItemView {
  return {
    value,
    ...(text !== value && { text }),
    ...(label !== text && { label }),
    ...(second !== '' && { second }),
    ...(by.length > 0 && { by: [...by] }),
    ...(fills.length > 0 && { fills: [...fills] }),
  };
}

/** What is wrong with a source, as a sentence. */
export const sayProblemOf = ({ problem }: Pick<Feed, 'problem'>): string | undefined =>
  problem ? sayErrorValue(problem) : undefined;
