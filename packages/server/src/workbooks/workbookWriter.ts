import type { StartWorkbook, WorkbookEntry } from '@varn/contract';
import { Injectable } from '@nestjs/common';
import { digestOf, newId } from '../ids';
import { Membership, Workbook } from '../store/entities';
import type { Writer } from '../access/access';
import { StructureWriter } from '../write/structureWriter';

/** Starts workbooks. */
@Injectable()
export class WorkbookWriter {
  constructor(private readonly structure: StructureWriter) {}

  /** A workbook in which nothing stands yet; whoever starts it owns it. */
  start(
    { writeId, name, locale, timeZone }: StartWorkbook,
    writer: Writer,
  ): Promise<WorkbookEntry> {
    const digest = digestOf(writer.id, 'startWorkbook', name, locale, timeZone);
    const order = { writeId, writer, kind: 'workbookAdded', digest } as const;
    return this.structure.write(order, async (em) => {
      const workbook = { id: newId(), name: name.trim() };
      await em.insert(Workbook, { ...workbook, locale, timeZone, names: [] });
      await em.insert(Membership, { workbook: workbook.id, account: writer.id, role: 'owner' });
      const answer = { ...workbook, role: 'owner', sheets: 0, forms: 0, records: 0 } as const;
      return { workbookId: workbook.id, sheetId: '', answer };
    });
  }
}
