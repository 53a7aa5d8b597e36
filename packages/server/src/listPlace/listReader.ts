import type {
  ListCountsView,
  ListDetailView,
  ListEntry,
  ListPlaceView,
  ListsView,
  ListTroubleView,
  ListUseView,
  TriedListView,
  TryList,
  UnlistedView,
  UnpairedView,
  VariantsView,
} from '@varn/contract';
import {
  bindList,
  columnIdsOf,
  heldValuesIn,
  listWriter,
  mapList,
  sayCountOf,
  sayErrorValue,
  sayFormulaProblem,
  variantsIn,
  type Calculation,
  type HeldValue,
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
import { inTurns } from '../turns';
import { ListHistory } from './listHistory';

/** What is shown of a list to know it by, and of what is wrong with it. */
const FEW = 5;
const MOST_UNLISTED = 100;
const MOST_TRIED = 200;
/** Different values that are compared with each other. */
const MOST_COMPARED = 20_000;
const MOST_VARIANTS = 500;

/** Tells of the lists that feed columns: what they offer, where they come from, what is wrong. */
@Injectable()
export class ListReader {
  constructor(
    private readonly lists: Lists,
    private readonly catalog: Catalog,
    private readonly cache: SheetCache,
    private readonly calculator: Calculator,
    private readonly past: ListHistory,
  ) {}

  /** What is offered in a sheet's columns. */
  async ofSheet(sheetId: string): Promise<ListsView> {
    const { workbook } = this.sheetOf(sheetId);
    const feeds = await this.lists.of(workbook.id);
    const here = feeds.filter(({ columns }) => columns.some((each) => each.sheetId === sheetId));
    return {
      lists: here.map((feed) => {
        const problem = sayProblemOf(feed);
        return {
          columnIds: feed.columns.map(({ column }) => column.id),
          version: feed.version,
          items: (feed.live?.items ?? []).map(itemView),
          ...(feed.list.exact && { exact: true }),
          ...(problem !== undefined && { problem }),
        };
      }),
    };
  }

  /** All lists of a workbook, and those that are typed into a column. */
  async ofWorkbook(workbookId: string): Promise<ListPlaceView> {
    const feeds = await this.lists.of(workbookId);
    const calculation = await this.calculator.of(workbookId);
    const entries: ListEntry[] = [];
    for (const feed of feeds) entries.push(await this.entryOf(workbookId, feed, calculation));
    const typed = this.catalog
      .sheetsOf(workbookId)
      .flatMap((sheet) =>
        sheet.columns.flatMap((column): ListEntry[] =>
          (column.settings.choices ?? []).length > 0 && !column.settings.list
            ? [this.typedEntry(sheet, { sheetId: sheet.id, column })]
            : [],
        ),
      );
    return { unpaired: unpairedIn(feeds, calculation), lists: [...entries, ...typed] };
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
  async try(sheetId: string, { list, most = MOST_TRIED }: TryList): Promise<TriedListView> {
    const sheet = this.sheetOf(sheetId);
    const calculation = await this.calculator.of(sheet.workbook.id);
    const home = calculation.sheet(sheetId);
    if (!home) throw Refused.notFound('sheet');
    const bound = bindList(list, home, calculation, sheet.workbook.locale);
    if (!bound.ok) {
      const problem = sayFormulaProblem(bound.problem);
      return { items: [], counts: countsOf(null), problem, of: bound.text };
    }
    const { live, problem } = await this.lists.tried(bound.list, sheet);
    return {
      items: (live?.items ?? []).slice(0, most).map(itemView),
      counts: countsOf(live),
      ...(problem && { problem: sayErrorValue(problem), of: list.source }),
    };
  }

  /** Spellings among a column's values that are likely one name. */
  async variants(sheetId: string, columnId: string): Promise<VariantsView> {
    const held = await this.held({ sheetId, column: this.columnOf(sheetId, columnId) });
    const compared = held.slice(0, MOST_COMPARED);
    const variants = await inTurns(variantsIn(compared));
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
    return {
      id: first?.column.id ?? '',
      source: this.written(feed.list, home, calculation).source,
      ...(sheetId !== null && { sourceSheetId: sheetId }),
      ...(columnId !== null && { sourceColumnId: columnId }),
      counts: countsOf(feed.live),
      uses: feed.columns.map((each) => this.useOf(each)),
      troubles: await this.troublesOf(workbookId, feed),
      first: (feed.live?.items ?? []).slice(0, FEW).map(({ label }) => label),
      ...(feed.changedAt !== null && { changedAt: feed.changedAt }),
    };
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
  private async troublesOf(workbookId: string, feed: Feed): Promise<ListTroubleView[]> {
    const { live } = feed;
    const broken = sayProblemOf(feed);
    if (broken !== undefined) {
      return [{ code: 'broken', says: broken, ...this.lostOf(workbookId, feed) }];
    }
    if (!live) return [];
    const { counts } = live;
    const troubles: ListTroubleView[] = [];
    if (live.items.length === 0) {
      troubles.push({ code: 'empty', says: 'Nothing is offered: its source holds no values yet.' });
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
      const says = `More than one row has the value ${names}, and they say different things beside it. The first counts; use a column that tells them apart, such as an id.`;
      troubles.push({ code: 'mixed', says });
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
      for (const { text, count } of await this.held(fed)) {
        if (own !== undefined && own !== '' && text.startsWith(own)) continue;
        const isListed = live.index.meant(text, true).some((item) => item.text === text);
        if (!isListed) found.push({ columnId: fed.column.id, text, count });
      }
    }
    return found;
  }

  private async held({ sheetId, column }: FedColumn): Promise<HeldValue[]> {
    const model = await this.cache.model(sheetId);
    return inTurns(heldValuesIn(model, column, this.sheetOf(sheetId).workbook.locale));
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

/**
 * Headings of a sheet of choices that feed nothing, where others beside them do: a field that came
 * later may be fed by one, and a column that came later may feed one.
 */
function unpairedIn(feeds: readonly Feed[], calculation: Calculation): UnpairedView[] {
  const fed = new Map<string, { rows: Set<number>; columns: Set<number> }>();
  for (const { list } of feeds) {
    const [range] = list.source.references;
    const grid = range?.kind === 'range' ? calculation.sheet(range.sheet) : undefined;
    const bounds = grid && range?.kind === 'range' ? grid.boundsOf(range.from, range.to) : null;
    if (!grid || !bounds || bounds.top < 2) continue;
    const held = fed.get(grid.sheet.id) ?? { rows: new Set(), columns: new Set() };
    held.rows.add(bounds.top - 1);
    held.columns.add(bounds.left);
    fed.set(grid.sheet.id, held);
  }
  const found: UnpairedView[] = [];
  for (const [sheetId, { rows, columns }] of fed) {
    const grid = calculation.sheet(sheetId);
    const [row] = rows;
    if (!grid || row === undefined || columns.size < 2) continue;
    const headings: string[] = [];
    for (let at = 0; at < grid.columnCount; at += 1) {
      const heading = calculation.valueAt(grid, row, at);
      const under = calculation.valueAt(grid, row + 1, at);
      if (typeof heading === 'string' && under !== null && !columns.has(at)) headings.push(heading);
    }
    if (headings.length > 0) found.push({ sheetId, sheet: grid.sheet.name, headings });
  }
  return found;
}
