import type {
  ListCountsView,
  ListDetailView,
  ListEntry,
  ListPlaceView,
  ListsView,
  ListTroubleView,
  ListUseView,
  ListView,
  RenamedItem,
  RenamedItemView,
  TriedListView,
  TryList,
  UnfedFieldView,
  UnlistedView,
  VariantsView,
} from '@varn/contract';
import {
  bindList,
  columnIdsOf,
  isUnique,
  kindOf,
  listWriter,
  mapList,
  printReference,
  sayCountOf,
  sayErrorValue,
  sayFormulaProblem,
  variantsIn,
  type Calculation,
  type ListSettings,
  type LiveList,
  type StoredFormula,
} from '@varn/core';
import { Injectable } from '@nestjs/common';
import { Calculator } from '../calculation/calculator';
import { Refused } from '../http/refused';
import { itemView, Lists, sayProblemOf, type Feed, type FedColumn } from '../lists/lists';
import { Catalog, type SheetFacts } from '../store/catalog';
import { SheetCache } from '../store/sheetCache';
import type { Asker } from '../turns/asker';
import { inTurns, Pace } from '../turns/turns';
import { ColumnValues } from './columnValues';
import { ListHistory } from './listHistory';
import { unpairedIn } from './unpaired';

/** What is shown of a list to know it by, and of what is wrong with it. */
const FEW = 5;
const MOST_UNLISTED = 100;
const MOST_TRIED = 200;
/** Different values that are compared with each other. */
const MOST_COMPARED = 20_000;
const MOST_VARIANTS = 500;
/** The values of a column that are ranked by their use: their order alone is told, not how often. */
const MOST_RANKED = 100;

/** Tells of the lists that feed columns: what they offer, where they come from, what is wrong. */
@Injectable()
export class ListReader {
  private readonly pastRead = new WeakSet<Feed>();

  constructor(
    private readonly lists: Lists,
    private readonly catalog: Catalog,
    private readonly cache: SheetCache,
    private readonly calculator: Calculator,
    private readonly past: ListHistory,
    private readonly values: ColumnValues,
  ) {}

  /** What is offered in a sheet's columns. */
  async ofSheet(sheetId: string): Promise<ListsView> {
    const { workbook } = this.sheetOf(sheetId);
    const feeds = await this.lists.of(workbook.id);
    const here = feeds.filter(({ columns }) => columns.some((each) => each.sheetId === sheetId));
    const lists: ListView[] = [];
    const pace = new Pace();
    for (const feed of here) {
      lists.push(await this.offered(feed, sheetId));
      await pace.keep();
    }
    return { lists };
  }

  private async offered(feed: Feed, sheetId: string): Promise<ListView> {
    const problem = sayProblemOf(feed);
    const uses = new Map<string, number>();
    for (const { column } of feed.columns.filter((each) => each.sheetId === sheetId)) {
      const values = await this.values.of(sheetId, column);
      for (const [n, { text }] of values.slice(0, MOST_RANKED).entries()) {
        uses.set(text, Math.max(uses.get(text) ?? 0, MOST_RANKED - n));
      }
    }
    return {
      columnIds: feed.columns.map(({ column }) => column.id),
      version: feed.version,
      items: (feed.live?.items ?? []).map((item) => {
        const use = uses.get(item.text);
        return { ...itemView(item), ...(use !== undefined && { use }) };
      }),
      ...(feed.list.exact && { exact: true }),
      ...(problem !== undefined && { problem }),
    };
  }

  /** All lists of a workbook, and those that are typed into a column. */
  async ofWorkbook(workbookId: string): Promise<ListPlaceView> {
    const feeds = await this.lists.of(workbookId);
    const calculation = await this.calculator.of(workbookId);
    const entries: ListEntry[] = [];
    const pace = new Pace();
    for (const feed of feeds) {
      entries.push(await this.entryOf(workbookId, feed, calculation));
      await pace.keep();
    }
    const typed = this.catalog
      .sheetsOf(workbookId)
      .flatMap((sheet) =>
        sheet.columns.flatMap((column): ListEntry[] =>
          (column.settings.choices ?? []).length > 0 && !column.settings.list
            ? [this.typedEntry(sheet, { sheetId: sheet.id, column })]
            : [],
        ),
      );
    const sheets = this.catalog.sheetsOf(workbookId);
    const fields = sheets.flatMap((sheet) => this.fieldsOf(sheet));
    return {
      unpaired: unpairedIn(feeds, fields, calculation),
      lists: [...entries, ...typed],
    };
  }

  /** The columns of choices that forms have as fields, and no list feeds. */
  private fieldsOf(sheet: SheetFacts): UnfedFieldView[] {
    return sheet.columns.flatMap((column) => {
      const isUnfed = kindOf(column).typing === 'choice' && !column.settings.list;
      if (!isUnfed || this.useOf({ sheetId: sheet.id, column }).forms.length === 0) return [];
      const { heading, id: columnId } = column;
      return [{ sheetId: sheet.id, sheet: sheet.name, columnId, heading }];
    });
  }

  /** The columns that a renamed item is to be carried into: those its list feeds. */
  async fedByItem(
    sheetId: string,
    { columnId, before, after }: RenamedItem,
  ): Promise<RenamedItemView> {
    const { workbook } = this.sheetOf(sheetId);
    const feeds = await this.lists.of(workbook.id);
    const uses = feeds
      .filter(({ source, live }) => {
        const isSource = source.sheetId === sheetId && (source.columnId ?? undefined) === columnId;
        const holds = (text: string): boolean => (live?.index.meant(text, true).length ?? 0) > 0;
        // Another row of that name may still be meant.
        return isSource && holds(after) && !holds(before);
      })
      .flatMap(({ columns }) => columns.map((each) => this.useOf(each)));
    return { uses };
  }

  /** A list looked at closely. */
  async detail(sheetId: string, columnId: string): Promise<ListDetailView> {
    const sheet = this.sheetOf(sheetId);
    const workbookId = sheet.workbook.id;
    await this.lists.of(workbookId);
    const feed = this.lists.feedOf(workbookId, columnId);
    const column = sheet.columnsById.get(columnId);
    if (!column) throw Refused.notFound('column in this sheet');
    if (!feed) {
      const entry = this.typedEntry(sheet, { sheetId, column });
      const items = (column.settings.choices ?? []).map((value) => ({ value }));
      return { entry, settings: {}, items, unlisted: [], history: [] };
    }
    const calculation = await this.calculator.of(workbookId);
    const history = await this.past.of(workbookId, feed);
    const renamed = new Map(
      history.flatMap(({ what, before = '', after = '' }) =>
        what === 'renamed' ? [[before, after] as const] : [],
      ),
    );
    const unlisted = await this.unlisted(feed);
    return {
      entry: await this.entryOf(workbookId, feed, calculation),
      settings: this.written(feed.list, sheet, calculation),
      items: (feed.live?.items ?? []).slice(0, MOST_TRIED).map(itemView),
      unlisted: unlisted.slice(0, MOST_UNLISTED).map((each) => {
        const becomes = renamed.get(each.text);
        return { ...each, ...(becomes !== undefined && { becomes }) };
      }),
      history,
    };
  }

  /** What a list would offer, before a column has it. */
  async try(
    sheetId: string,
    { list, most = MOST_TRIED }: TryList,
    asker: Asker,
  ): Promise<TriedListView> {
    const sheet = this.sheetOf(sheetId);
    const calculation = await this.calculator.of(sheet.workbook.id);
    const home = calculation.sheet(sheetId);
    if (!home) throw Refused.notFound('sheet');
    const bound = bindList(list, home, calculation, sheet.workbook.locale);
    if (!bound.ok) {
      const problem = sayFormulaProblem(bound.problem);
      return { items: [], counts: countsOf(null), problem, of: bound.text };
    }
    const { live, problem } = await this.lists.tried(bound.list, sheet, asker);
    return {
      items: (live?.items ?? []).slice(0, most).map(itemView),
      counts: countsOf(live),
      ...(problem && { problem: sayErrorValue(problem), of: list.source }),
    };
  }

  /** Spellings among a column's values that are likely one name. */
  async variants(sheetId: string, columnId: string, asker: Asker): Promise<VariantsView> {
    const held = await this.values.of(sheetId, this.columnOf(sheetId, columnId));
    const compared = held.slice(0, MOST_COMPARED);
    const variants = await inTurns(variantsIn(compared), asker);
    const byCount = variants.sort((a, b) => sumOf(b.others) - sumOf(a.others));
    return {
      variants: byCount
        .slice(0, MOST_VARIANTS)
        .map(({ keep, others }) => ({ keep, others: [...others] })),
      compared: compared.length,
    };
  }

  private async entryOf(
    workbookId: string,
    feed: Feed,
    calculation: Calculation,
  ): Promise<ListEntry> {
    const [first] = feed.columns;
    const home = this.sheetOf(first?.sheetId ?? '');
    const { sheetId, columnId } = feed.source;
    const changedAt = await this.changedAt(workbookId, feed);
    return {
      id: first?.column.id ?? '',
      source: this.written(feed.list, home, calculation).source,
      ...(sheetId !== null && { sourceSheetId: sheetId }),
      ...(columnId !== null && { sourceColumnId: columnId }),
      counts: countsOf(feed.live),
      uses: feed.columns.map((each) => this.useOf(each)),
      troubles: await this.troublesOf(workbookId, feed, calculation),
      first: (feed.live?.items ?? []).slice(0, FEW).map(({ label }) => label),
      ...(changedAt !== null && { changedAt }),
    };
  }

  /** When a list was another last: what happened before the server was started is read off the log. */
  private async changedAt(workbookId: string, feed: Feed): Promise<number | null> {
    if (feed.changedAt === null && !this.pastRead.has(feed)) {
      const [last] = await this.past.of(workbookId, feed);
      feed.changedAt ??= last?.at ?? null;
      this.pastRead.add(feed);
    }
    return feed.changedAt;
  }

  private typedEntry(sheet: SheetFacts, fed: FedColumn): ListEntry {
    const choices = fed.column.settings.choices ?? [];
    return {
      id: fed.column.id,
      counts: { ...countsOf(null), items: choices.length, rows: choices.length },
      uses: [this.useOf(fed)],
      troubles: [],
      first: choices.slice(0, FEW),
    };
  }

  private useOf({ sheetId, column }: FedColumn): ListUseView {
    const forms = this.catalog
      .formsOf(sheetId)
      .filter(({ definition, draft }) =>
        [definition, ...(draft ? [draft.definition] : [])].some(({ blocks }) =>
          blocks.some((block) => columnIdsOf(block).includes(column.id)),
        ),
      );
    return {
      sheetId,
      sheet: this.catalog.sheet(sheetId)?.name ?? '',
      columnId: column.id,
      heading: column.heading,
      forms: forms.map(({ name }) => name),
    };
  }

  /** What is wrong with a list, or odd about it, the worst first. */
  private async troublesOf(
    workbookId: string,
    feed: Feed,
    calculation: Calculation,
  ): Promise<ListTroubleView[]> {
    const { live } = feed;
    const broken = sayProblemOf(feed);
    if (broken !== undefined) {
      return [{ code: 'broken', says: broken, ...this.lostOf(workbookId, feed) }];
    }
    if (!live) return [];
    const { counts } = live;
    const troubles: ListTroubleView[] = [];
    if (live.items.length === 0) {
      troubles.push({ code: 'empty', says: 'It has no choices yet: its source is empty.' });
    }
    if (counts.errors > 0) {
      const says = `${sayCountOf(counts.errors, 'cell')} of the source ${counts.errors === 1 ? 'shows an error' : 'show errors'} and ${counts.errors === 1 ? 'is' : 'are'} left out.`;
      troubles.push({ code: 'errors', says });
    }
    if (counts.long > 0) {
      const says = `${sayCountOf(counts.long, 'value')} of over 500 characters ${counts.long === 1 ? 'is' : 'are'} left out.`;
      troubles.push({ code: 'long', says });
    }
    if (counts.over > 0) {
      const says = `The source has ${sayCountOf(counts.over, 'row')} more than the 50,000 choices a list offers. Narrow it by a condition.`;
      troubles.push({ code: 'over', says });
    }
    const mixed = live.mixed(FEW);
    if (mixed.length > 0) {
      const names = mixed.map(({ text }) => `‘${text}’`).join(', ');
      const unique = await this.uniqueBeside(feed, calculation);
      const remedy =
        unique === null
          ? 'Give the source a column that tells them apart, such as a number.'
          : `‘${unique.heading}’ tells them apart.`;
      const says = `More than one row has the value ${names}, and they say different things beside it. The first counts. ${remedy}`;
      troubles.push({ code: 'mixed', says, ...(unique && { proposed: unique.list }) });
    }
    const same = live.sameLabels(FEW);
    if (same.length > 0 && !feed.list.second) {
      const names = same.map(([each]) => `‘${each?.label ?? ''}’`).join(', ');
      const says = `${names} stands for more than one value. Show a second line to tell them apart.`;
      troubles.push({ code: 'sameLabel', says });
    }
    for (const { columnId, count } of sumByColumn(await this.unlisted(feed))) {
      const heading = feed.columns.find(({ column }) => column.id === columnId)?.column.heading;
      const says = `${sayCountOf(count, 'record')} ${count === 1 ? 'holds' : 'hold'} a value in ${heading ?? ''} that is not on the list.`;
      troubles.push({ code: 'unlisted', says, columnId });
    }
    return troubles;
  }

  /** A column of the source of which each record holds another value, and the list by it. */
  private async uniqueBeside(
    feed: Feed,
    calculation: Calculation,
  ): Promise<{ heading: string; list: ListSettings } | null> {
    const { sheetId, columnId } = feed.source;
    const [first] = feed.columns;
    const source = this.catalog.sheet(sheetId ?? '');
    if (columnId === null || !source || !first) return null;
    const held = source.columnsById.get(columnId);
    const model = await this.cache.model(source.id);
    const unique = source.columns.find(({ id }) => id !== columnId && isUnique(model, id));
    if (!unique || !held) return null;
    const written = this.written(feed.list, this.sheetOf(first.sheetId), calculation);
    const ofRow = (heading: string): string =>
      printReference({ kind: 'heading', sheet: null, heading });
    const value = printReference({ kind: 'heading', sheet: source.name, heading: unique.heading });
    return {
      heading: unique.heading,
      list: {
        label: ofRow(held.heading),
        second: ofRow(unique.heading),
        ...written,
        source: value,
      },
    };
  }

  /** The deleted column that fed a list, where it can be put back. */
  private lostOf(
    workbookId: string,
    { list }: Feed,
  ): Pick<ListTroubleView, 'lostSheetId' | 'lostColumnId'> {
    for (const reference of list.source.references) {
      if (reference.kind === 'name') continue;
      const sheet = this.catalog.allSheetsOf(workbookId).find(({ id }) => id === reference.sheet);
      if (sheet?.removed) return { lostSheetId: sheet.id };
      const place = 'column' in reference ? { id: reference.column } : firstColumn(reference);
      const lost = sheet?.lostColumns.find(({ column }) => column.id === place?.id);
      if (sheet && lost) return { lostSheetId: sheet.id, lostColumnId: lost.column.id };
    }
    return {};
  }

  /** Values that columns hold and their list does not offer. */
  private async unlisted(feed: Feed): Promise<UnlistedView[]> {
    const { live } = feed;
    if (!live || feed.problem) return [];
    const found: UnlistedView[] = [];
    for (const fed of feed.columns) {
      const { own } = fed.column.settings;
      for (const { text, count } of await this.values.of(fed.sheetId, fed.column)) {
        if (own !== undefined && own !== '' && text.startsWith(own)) continue;
        const isListed = live.index.meant(text, true).some((item) => item.text === text);
        if (!isListed) found.push({ columnId: fed.column.id, text, count });
      }
    }
    return found;
  }

  private written(
    list: ListSettings<StoredFormula>,
    home: SheetFacts,
    calculation: Calculation,
  ): ListSettings {
    const grid = calculation.sheet(home.id);
    if (!grid) throw Refused.notFound('sheet');
    return mapList(list, listWriter(grid, calculation, home.workbook.locale));
  }

  private columnOf(sheetId: string, columnId: string): FedColumn['column'] {
    const column = this.sheetOf(sheetId).columnsById.get(columnId);
    if (!column) throw Refused.notFound('column in this sheet');
    return column;
  }

  private sheetOf(sheetId: string): SheetFacts {
    const sheet = this.catalog.sheetInUse(sheetId);
    if (!sheet) throw Refused.notFound('sheet');
    return sheet;
  }
}

function countsOf(live: LiveList | null): ListCountsView {
  const none = { rows: 0, blanks: 0, doubles: 0, errors: 0, long: 0, over: 0 };
  return { items: live?.items.length ?? 0, ...(live?.counts ?? none) };
}

const sumOf = (values: readonly { readonly count: number }[]): number =>
  values.reduce((sum, { count }) => sum + count, 0);

function sumByColumn(values: readonly UnlistedView[]): { columnId: string; count: number }[] {
  const sums = new Map<string, number>();
  for (const { columnId, count } of values) sums.set(columnId, (sums.get(columnId) ?? 0) + count);
  return [...sums].map(([columnId, count]) => ({ columnId, count }));
}

function firstColumn(
  reference: Extract<StoredFormula['references'][number], { kind: 'cell' | 'range' }>,
): { readonly id: string } | null {
  const { column } = reference.kind === 'cell' ? reference.cell : reference.from;
  return 'id' in column ? column : null;
}
