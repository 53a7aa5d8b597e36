import type { Landed, Submit, Written } from '@varn/contract';
import { Injectable } from '@nestjs/common';
import type { Writer } from '../access/access';
import { Refused } from '../http/refused';
import { Catalog } from '../store/catalog';
import { removed } from '../write/decision';
import { landedOf } from '../log/told';
import { RecordWriter } from '../write/recordWriter';
import { WritePath } from '../write/writePath';
import { trialIds } from './formReader';
import { FormWriter } from './formWriter';

/** Trial records: written for real into the sheet, marked, and removed in one act. */
@Injectable()
export class TrialWriter {
  constructor(
    private readonly forms: FormWriter,
    private readonly records: RecordWriter,
    private readonly path: WritePath,
    private readonly catalog: Catalog,
  ) {}

  /** Writes a record with the form as it is laid out; the columns it plans come into the sheet. */
  async write(formId: string, submit: Submit, writer: Writer): Promise<Landed> {
    const form = this.catalog.form(formId);
    if (!form) throw Refused.notFound('form');
    await this.forms.bringColumns(form, `${submit.writeId}/columns`, writer);
    return this.records.trial(formId, submit, writer);
  }

  /** Sends the trial records of a sheet to the bin, all at once; it can be taken back. */
  async removeAll(sheetId: string, writeId: string, writer: Writer): Promise<Written> {
    const order = {
      sheetId,
      writeId,
      writer,
      door: 'grid' as const,
      asked: ['removeTrials', sheetId],
    };
    const { changes } = await this.path.write(order, ({ model }) => ({
      decisions: trialIds(model).map((id) => removed(model.get(id))),
    }));
    const sheet = this.catalog.sheet(sheetId);
    const records = sheet ? changes.flatMap((change) => landedOf(change, sheet) ?? []) : [];
    return { writeId, seq: changes.at(-1)?.seq ?? 0, records, rows: [], refused: [] };
  }
}
