import type { Landed } from '@varn/contract';
import {
  isErrorValue,
  narrowedBy,
  narrowedItems,
  showValue,
  splitChoices,
  type StoredColumn,
} from '@varn/core';
import { Injectable, Logger } from '@nestjs/common';
import type { Writer } from '../access/access';
import { Refused } from '../http/refused';
import { Lists, type Feed } from '../lists/lists';
import { Catalog, type SheetFacts } from '../store/catalog';
import { SheetCache } from '../store/sheetCache';
import { GridWriter } from '../write/gridWriter';

/** An answer beside the choices of a column, in the record that was written. */
interface OwnAnswer {
  readonly sheet: SheetFacts;
  readonly column: StoredColumn;
  readonly cells: Landed['cells'];
  readonly text: string;
}

/** Adds answers of one's own to the source of the list they are beside, where it says so. */
@Injectable()
export class ListAdder {
  private readonly logger = new Logger('lists');

  constructor(
    private readonly lists: Lists,
    private readonly catalog: Catalog,
    private readonly cache: SheetCache,
    private readonly grid: GridWriter,
  ) {}

  /** Corrects a record, and adds what of one's own came into it. */
  async afterUpdate(
    formId: string,
    recordId: string,
    update: () => Promise<Landed>,
    writer: Writer,
  ): Promise<Landed> {
    const sheet = this.catalog.form(formId)?.sheet;
    if (!sheet?.columns.some(addsToSource)) return update();
    const model = await this.cache.model(sheet.id);
    const before = model.has(recordId) ? model.get(recordId).cells : {};
    const landed = await update();
    await this.addFrom(landed, writer, before);
    return landed;
  }

  /**
   * Looks through a record that was written; the same record twice adds nothing twice.
   *
   * @param before what the record held: what it holds still was not typed now
   */
  async addFrom(
    { sheetId, cells, writeId, trial }: Landed,
    writer: Writer,
    before: Landed['cells'] = {},
  ): Promise<void> {
    const sheet = this.catalog.sheet(sheetId);
    if (!sheet || trial) return;
    const context = { locale: sheet.workbook.locale };
    for (const column of sheet.columns.filter(addsToSource)) {
      const value = cells[column.id] ?? null;
      if (value === null || isErrorValue(value) || value === before[column.id]) continue;
      const feed = this.lists.feedOf(sheet.workbook.id, column.id);
      const index = feed?.live?.index;
      if (!feed || !index) continue;
      const shown = showValue(value, column, sheet.workbook.locale);
      const texts =
        column.kind === 'severalChoices' ? splitChoices(shown, column.settings.separator) : [shown];
      for (const [n, text] of texts.entries()) {
        const alike = index.meant(text, true);
        if (
          narrowedItems(alike, narrowedBy(column, cells, sheet.columnsById, context)).length > 0
        ) {
          continue;
        }
        const answer = { sheet, column, cells, text };
        await this.tryToAdd(feed, answer, `${writeId}:${column.id}:${n}`, writer);
      }
    }
  }

  private async tryToAdd(
    feed: Feed,
    answer: OwnAnswer,
    writeId: string,
    writer: Writer,
  ): Promise<void> {
    try {
      await this.add(feed, answer, writeId, writer);
    } catch (error) {
      if (!(error instanceof Refused)) throw error;
      // The record stands; its value is told of among those that are not on the list.
      const { name } = answer.sheet;
      this.logger.warn(`${name}: an answer of one’s own was not added: ${error.message}`);
    }
  }

  private async add(
    { source, list }: Feed,
    { sheet, column, cells, text }: OwnAnswer,
    writeId: string,
    writer: Writer,
  ): Promise<void> {
    const of = this.catalog.sheet(source.sheetId ?? '');
    if (!of) return;
    const { revision } = of;
    if (source.columnId !== null) {
      const answers: Record<string, string> = { [source.columnId]: text };
      for (const [n, { columnId }] of (column.settings.list?.narrowed ?? []).entries()) {
        const by = list.narrowed?.[n]?.by.references[0];
        const other = sheet.columnsById.get(columnId);
        if (by?.kind !== 'field' || !other) continue;
        answers[by.column] = showValue(cells[columnId] ?? null, other, sheet.workbook.locale);
      }
      await this.grid.edit(of.id, { writeId, revision, added: [{ answers }] }, writer);
      return;
    }
    const [range] = list.source.references;
    if (range?.kind !== 'range' || !('id' in range.from.column)) return;
    const columnId = range.from.column.id;
    const index = [...of.columns.map(({ id }) => id), ...of.looseColumns].indexOf(columnId);
    const rows = await this.cache.rows(of.id);
    let row = rows.count;
    const isBlank = (at: number): boolean => {
      const cell = rows.at(at - 1)?.cells[columnId];
      return cell?.formula === undefined && (cell?.value ?? null) === null;
    };
    while (row > 0 && isBlank(row)) row -= 1;
    const held = rows.at(row);
    const edit = {
      row: row + 1,
      ...(held && { revision: held.revision }),
      cells: { [index]: text },
    };
    await this.grid.edit(of.id, { writeId, revision, rows: [edit] }, writer);
  }
}

/** Whether an answer of one's own in a column becomes a row of what feeds it. */
const addsToSource = ({ settings: { list, own } }: StoredColumn): boolean =>
  list?.adds === true && own !== undefined;
