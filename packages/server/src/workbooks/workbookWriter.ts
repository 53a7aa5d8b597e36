import type { StartWorkbook, WorkbookEntry } from '@varn/contract';
import { USUAL_CURRENCY } from '@varn/core';
import { Injectable } from '@nestjs/common';
import { digestOf, newId } from '../ids';
import { Membership, Workbook } from '../store/entities';
import type { Writer } from '../access/access';
import { Catalog } from '../store/catalog';
import { SheetCache } from '../store/sheetCache';
import { StructureWriter } from '../write/structureWriter';

/** Starts workbooks. */
@Injectable()
export class WorkbookWriter {
  constructor(
    private readonly structure: StructureWriter,
    private readonly catalog: Catalog,
    private readonly cache: SheetCache,
  ) {}

  /** A workbook in which nothing stands yet; whoever starts it owns it. */
  start(
    { writeId, name, locale, timeZone, currency = USUAL_CURRENCY }: StartWorkbook,
    writer: Writer,
  ): Promise<WorkbookEntry> {
    const digest = digestOf(writer.id, 'startWorkbook', name, locale, timeZone, currency);
    const order = { writeId, writer, kind: 'workbookAdded', digest } as const;
    return this.structure.write(order, async (em) => {
      const workbook = { id: newId(), name: name.trim() };
      await em.insert(Workbook, { ...workbook, locale, timeZone, currency, names: [] });
      await em.insert(Membership, { workbook: workbook.id, account: writer.id, role: 'owner' });
      const answer = { ...workbook, role: 'owner', sheets: 0, forms: 0, records: 0 } as const;
      return { workbookId: workbook.id, sheetId: '', answer };
    });
  }

  /** Renames a workbook, and says how it reads and shows values from now on. */
  async change(
    workbookId: string,
    { writeId, name, locale, timeZone, currency = USUAL_CURRENCY }: StartWorkbook,
    writer: Writer,
  ): Promise<void> {
    const asked = [workbookId, name, locale, timeZone, currency];
    const digest = digestOf(writer.id, 'changeWorkbook', ...asked);
    const order = { writeId, writer, kind: 'workbookChanged', digest } as const;
    await this.structure.write(order, async (em) => {
      const ways = { name: name.trim(), locale, timeZone, currency };
      await em.nativeUpdate(Workbook, { id: workbookId }, ways);
      return { workbookId, sheetId: '', answer: {} };
    });
    // What was computed or sorted by the old ways is made anew.
    for (const { id } of this.catalog.allSheetsOf(workbookId)) this.cache.drop(id);
  }
}
