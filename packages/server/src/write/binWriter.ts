import { Injectable } from '@nestjs/common';
import type { Writer } from '../access/access';
import { Refused } from '../http/refused';
import { digestOf } from '../ids';
import { Catalog } from '../store/catalog';
import { Form, FreeRowEntity, Sheet, SheetRecord } from '../store/entities';
import { reshaped } from './decision';
import { StructureWriter } from './structureWriter';
import { WritePath } from './writePath';

/** Takes sheets out of the bin, and empties it. */
@Injectable()
export class BinWriter {
  constructor(
    private readonly path: WritePath,
    private readonly structure: StructureWriter,
    private readonly catalog: Catalog,
  ) {}

  /** Puts a sheet back with all that is in it. @throws Refused 404 */
  async putSheetBack(
    workbookId: string,
    sheetId: string,
    revision: number,
    writer: Writer,
  ): Promise<void> {
    const sheet = this.catalog.sheet(sheetId);
    if (sheet?.workbook.id !== workbookId || !sheet.removed) {
      throw Refused.notFound('sheet in the bin of this workbook');
    }
    // Nobody could take its name meanwhile.
    await this.path.reshape(sheetId, revision, writer, (now) => [
      reshaped(now, { removed: false }),
    ]);
  }

  /** Deletes the records, sheets and forms of a workbook's bin for good. */
  async empty(workbookId: string, writeId: string, writer: Writer): Promise<void> {
    const [first] = this.catalog.allSheetsOf(workbookId);
    if (!first) throw Refused.notFound('workbook');
    const digest = digestOf(writer.id, 'emptyBin', workbookId);
    await this.structure.write({ writeId, writer, kind: 'binEmptied', digest }, async (em) => {
      const sheet = this.catalog.allSheetsOf(workbookId).map(({ id }) => id);
      const waits = { sheet: { $in: sheet }, removedAt: { $ne: null } };
      await em.nativeDelete(SheetRecord, waits);
      await em.nativeDelete(FreeRowEntity, waits);
      await em.nativeDelete(Form, waits);
      await em.nativeDelete(Sheet, { workbook: workbookId, removedAt: { $ne: null } });
      return { workbookId, sheetId: first.id, answer: null };
    });
  }
}
