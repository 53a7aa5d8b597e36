import type { CheckView, FormView, Submit } from '@varn/contract';
import { fill, usualLength } from '@varn/core';
import { Injectable } from '@nestjs/common';
import { ChangeLog } from '../events/changeLog';
import { Refused } from '../http/refused';
import { SheetCache } from '../sheets/sheetCache';
import { rowsOf, SheetReader } from '../sheets/sheetReader';
import { Catalog, nowIn, type FormFacts } from '../store/catalog';
import { RecordWriter } from '../write/recordWriter';
import { verdictViews } from './verdictViews';

/** How many of the last records the desk is shown at first. */
const LAST_ROWS = 8;

@Injectable()
export class FormReader {
  constructor(
    private readonly catalog: Catalog,
    private readonly cache: SheetCache,
    private readonly sheets: SheetReader,
    private readonly changes: ChangeLog,
    private readonly writer: RecordWriter,
  ) {}

  async show(formId: string): Promise<FormView> {
    const { id, name, revision, definition, sheet } = this.facts(formId);
    const { locale, timeZone, id: workbookId } = sheet.workbook;
    const seq = await this.changes.lastSeq(workbookId);
    const model = await this.cache.model(sheet.id);
    const lengths = sheet.columns.map((column) => [column.id, usualLength(model, column, locale)]);
    return {
      id,
      name,
      revision,
      definition,
      sheet: await this.sheets.show(sheet.id),
      lengths: Object.fromEntries(lengths) as Record<string, number>,
      nextNumbers: await this.writer.nextNumbers(sheet),
      last: rowsOf(sheet, model, model.count - LAST_ROWS, LAST_ROWS),
      now: Date.now(),
      locale: locale.tag,
      timeZone,
      seq,
    };
  }

  /** Checks a filled form as a submit would, and writes nothing. */
  check(formId: string, { answers, meant = [] }: Submit): CheckView {
    const { definition, sheet } = this.facts(formId);
    const context = { locale: sheet.workbook.locale, now: nowIn(sheet.workbook) };
    const filling = fill(definition, answers, sheet.columnsById, context, new Set(meant));
    return { verdicts: verdictViews(filling.verdicts) };
  }

  facts(formId: string): FormFacts {
    const form = this.catalog.form(formId);
    if (!form) throw Refused.notFound('form');
    return form;
  }
}
