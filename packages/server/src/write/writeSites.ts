import { isOfZeros, parseRunningNumber, PLAIN_PATTERN, type SheetModel } from '@varn/core';
import { Injectable } from '@nestjs/common';
import type { Database } from 'better-sqlite3';
import { SecretWords } from '../access/secretWords';
import { Calculator } from '../calculation/calculator';
import { computingOf } from '../calculation/formEvaluator';
import { Refused } from '../http/refused';
import { Lists } from '../lists/lists';
import { Catalog, type SheetFacts } from '../store/catalog';
import { SheetCache } from '../store/sheetCache';
import type { WriteOrder, WriteSite } from './decision';
import { RecordStore } from './recordStore';

/** A sheet's records, and its rows outside of them, in memory. */
export type AtHand = Pick<WriteSite, 'model' | 'rows'>;

/** What writes are decided and carried out on: sheets with their records, lists and formulas. */
@Injectable()
export class WriteSites {
  /** Sheets of which more is stored than memory has yet, each with when it will be there. */
  private readonly behind = new Map<string, Promise<void>>();

  constructor(
    private readonly cache: SheetCache,
    private readonly catalog: Catalog,
    private readonly calculator: Calculator,
    private readonly lists: Lists,
    private readonly records: RecordStore,
    private readonly words: SecretWords,
  ) {}

  /** @throws Refused 404 */
  sheetOf(sheetId: string): SheetFacts {
    const sheet = this.catalog.sheet(sheetId);
    if (!sheet) throw Refused.notFound('sheet');
    return sheet;
  }

  /** Brings into memory what a write of a sheet is decided on. */
  async atHand({ sheetId }: WriteOrder): Promise<AtHand> {
    const { workbook } = this.sheetOf(sheetId);
    await this.behind.get(sheetId);
    const model = await this.cache.model(sheetId);
    const rows = await this.cache.rows(sheetId);
    await this.calculator.ready(workbook.id);
    await this.lists.ready(this.sheetOf(sheetId));
    return { model, rows };
  }

  /**
   * Whether a sheet is still the one in memory, was not forgotten after a write that failed, and
   * has all that is stored.
   */
  isAtHand({ sheetId }: WriteOrder, { model, rows }: AtHand): boolean {
    if (this.behind.has(sheetId)) return false;
    return this.cache.modelAtHand(sheetId) === model && this.cache.rowsAtHand(sheetId) === rows;
  }

  /**
   * Lets no write of a sheet be decided until what is about to be stored is in memory too; those of
   * other sheets go on.
   *
   * @returns says that it is, in these records
   */
  fallBehind(order: WriteOrder, { model }: AtHand): () => void {
    const { sheetId } = order;
    let catchUp = (): void => undefined;
    const caughtUp = new Promise<void>((resolve) => (catchUp = resolve));
    this.behind.set(sheetId, caughtUp);
    return () => {
      this.behind.delete(sheetId);
      // Read anew meanwhile, it may be of two moments.
      if (this.cache.modelAtHand(sheetId) !== model) this.lose(order);
      catchUp();
    };
  }

  of(
    { sheetId, writer }: WriteOrder,
    database: Database,
    atHand: AtHand,
    takeNumber: WriteSite['takeNumber'],
  ): WriteSite {
    const sheet = this.sheetOf(sheetId);
    const calculation = this.calculator.loaded(sheet.workbook.id);
    const computing = computingOf(sheetId, sheet.columns, calculation);
    const context = {
      ...this.lists.contextOf(sheet),
      admits: this.words.admitsFor(sheet.workbook.id, writer.id),
      holdsFile: (fileId: string) =>
        this.records.fileOf(database, sheet.workbook.id, fileId) !== undefined,
      ...(computing && { computing }),
    };
    return { database, sheet, ...atHand, calculation, now: context.now, context, takeNumber };
  }

  /**
   * The least a running number may be: that with which its pattern begins, above those that stand in
   * the sheet. A pattern of zeros begins with 1, and its numbers are counted from the first on.
   */
  leastNumber({ sheetId }: WriteOrder, model: SheetModel, columnId: string): number {
    const { pattern = PLAIN_PATTERN } =
      this.sheetOf(sheetId).columnsById.get(columnId)?.settings ?? {};
    if (isOfZeros(pattern)) return 1;
    return parseRunningNumber(pattern, model.highestNumber(columnId).next(pattern)) ?? 1;
  }

  /** Forgets a sheet and its formulas, as memory may be ahead of what is stored, or behind it. */
  lose({ sheetId }: WriteOrder): void {
    this.cache.drop(sheetId);
    const { workbook } = this.sheetOf(sheetId);
    this.calculator.drop(workbook.id);
    void this.catalog.refresh(workbook.id);
  }
}
