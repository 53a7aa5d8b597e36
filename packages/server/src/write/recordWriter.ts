import type { ChangeRecord, Landed, MoveRecord, Submit } from '@varn/contract';
import {
  fill,
  filledByVarn,
  type Calculation,
  type Cells,
  type CellValue,
  type FormDefinition,
  type SheetModel,
  type StoredRecord,
  type Verdict,
} from '@varn/core';
import { Injectable } from '@nestjs/common';
import type { Database } from 'better-sqlite3';
import { verdictViews } from '../forms/verdictViews';
import { Refused } from '../http/refused';
import { newId } from '../ids';
import { Catalog, type SheetFacts } from '../store/catalog';
import {
  added,
  changed,
  putBack,
  removed,
  type RecordDecision,
  type WriteOrder,
  type Writer,
  type WriteSite,
} from './decision';
import { landedOf } from './landed';
import { RecordStore } from './recordStore';
import { WritePath } from './writePath';
import { WriteQueue } from './writeQueue';

export type { Writer } from './decision';

/** Writes single records: from forms, and from outside over the API. */
@Injectable()
export class RecordWriter {
  constructor(
    private readonly path: WritePath,
    private readonly queue: WriteQueue,
    private readonly catalog: Catalog,
    private readonly records: RecordStore,
  ) {}

  /** Writes a filled form as a new record at the end of its sheet. @throws Refused 422, 409 */
  submit(formId: string, { writeId, answers, meant }: Submit, writer: Writer): Promise<Landed> {
    const form = this.catalog.form(formId);
    if (!form) throw Refused.notFound('form');
    const order: WriteOrder = {
      sheetId: form.sheet.id,
      writeId,
      writer,
      door: formId,
      asked: ['submit', formId, JSON.stringify(answers)],
    };
    return this.write(order, (site) => {
      // The form may have changed while the submit waited.
      const { definition, name } = this.catalog.form(formId) ?? form;
      const typed = checkAnswers(definition, answers, site, { meant });
      const orderKey = site.model.nextOrderKey();
      return added(this.newRecord(site, typed, orderKey, { by: writer.name, door: name }));
    });
  }

  /** Changes cells of a record: typed texts by column id, read as a form's would be. */
  change(
    sheetId: string,
    recordId: string,
    { writeId, revision, answers }: ChangeRecord,
    writer: Writer,
  ): Promise<Landed> {
    const asked = ['change', recordId, String(revision), JSON.stringify(answers)];
    return this.write({ sheetId, writeId, writer, door: 'grid', asked }, (site) => {
      const stored = recordAt(site.model, recordId, revision);
      return changed(stored, changedCells(stored, answers, site));
    });
  }

  /** Sends a record to the bin. */
  remove(
    sheetId: string,
    recordId: string,
    { writeId, revision }: MoveRecord,
    writer: Writer,
  ): Promise<Landed> {
    const asked = ['remove', recordId, String(revision)];
    return this.write({ sheetId, writeId, writer, door: 'grid', asked }, ({ model }) =>
      removed(recordAt(model, recordId, revision)),
    );
  }

  /** Takes a record out of the bin, to where it stood, with its numbers. */
  putBack(
    sheetId: string,
    recordId: string,
    { writeId, revision }: MoveRecord,
    writer: Writer,
  ): Promise<Landed> {
    const asked = ['putBack', recordId, String(revision)];
    return this.write({ sheetId, writeId, writer, door: 'grid', asked }, ({ database }) =>
      putBack(this.binnedAt(database, sheetId, recordId, revision)),
    );
  }

  /** A record as it is first written: typed cells, what Varn fills in, what formulas give. */
  newRecord(
    { sheet, database, calculation, now }: WriteSite,
    typed: Cells,
    orderKey: number,
    { by, door }: { by: string; door: string },
  ): StoredRecord {
    const cells = {
      ...typed,
      ...filledByVarn(sheet.columns, {
        by,
        at: now,
        door,
        nextNumber: (columnId) => this.records.takeNumber(database, columnId),
      }),
    };
    return { id: newId(), orderKey, revision: 1, cells: withComputed(cells, sheet, calculation) };
  }

  /** The running numbers the columns of a sheet would give next. */
  nextNumbers(sheet: SheetFacts): Promise<Record<string, number>> {
    const numbered = sheet.columns.filter(({ kind }) => kind === 'runningNumber');
    return this.queue.run(
      (database) =>
        Object.fromEntries(
          numbered.map(({ id }) => [id, this.records.lastNumber(database, id) + 1]),
        ),
      () => undefined,
    );
  }

  private async write(
    order: WriteOrder,
    decide: (site: WriteSite) => RecordDecision,
  ): Promise<Landed> {
    const { changes } = await this.path.write(order, (site) => ({ decisions: [decide(site)] }));
    const [change] = changes;
    const sheet = change && this.catalog.sheet(change.sheetId);
    const landed = sheet && landedOf(change, sheet);
    if (!landed) throw new Error(`the write ${order.writeId} left no line in the log`);
    return landed;
  }

  private binnedAt(
    database: Database,
    sheetId: string,
    recordId: string,
    revision: number,
  ): StoredRecord {
    const record = this.records.binned<StoredRecord>(database, 'record', sheetId, recordId);
    if (!record) throw Refused.notFound('record in the bin');
    return guardRevision(record, revision);
  }
}

/** Cells with what formulas give a record as it is written; blanks are left out. */
export function withComputed(
  cells: Cells,
  sheet: SheetFacts,
  calculation: Calculation | null,
): Cells {
  const computes = sheet.columns.some(({ settings }) => settings.formula && !settings.follows);
  if (!computes || !calculation) return cells;
  const computed = calculation.computedAtWriting(sheet.id, cells);
  const all: Record<string, CellValue> = { ...cells, ...computed };
  return Object.fromEntries(Object.entries(all).filter(([, value]) => value !== null));
}

/** A record's cells after some of them were typed anew. @throws Refused 404, 422 */
function changedCells(
  stored: StoredRecord,
  answers: Readonly<Record<string, string>>,
  site: WriteSite,
): Cells {
  const ids = Object.keys(answers);
  if (ids.some((id) => !site.sheet.columnsById.has(id))) {
    throw Refused.notFound('column in this sheet');
  }
  const definition = { fields: ids.map((id) => ({ id, columnId: id })) };
  const read = checkAnswers(definition, answers, site, { mayBeBlank: true });
  const kept = Object.entries(stored.cells).filter(([id]) => !ids.includes(id));
  const cells = { ...Object.fromEntries(kept), ...read };
  return withComputed(cells, site.sheet, site.calculation);
}

export function recordAt(model: SheetModel, recordId: string, revision: number): StoredRecord {
  if (!model.has(recordId)) throw Refused.notFound('record in this sheet');
  return guardRevision(model.get(recordId), revision);
}

export function guardRevision<T extends { readonly revision: number }>(
  row: T,
  revision: number,
): T {
  if (row.revision === revision) return row;
  throw Refused.conflict(
    'changedSince',
    `The record was changed since: it is at revision ${row.revision}, not ${revision}. Look at it again.`,
  );
}

interface Allowed {
  readonly mayBeBlank?: boolean;
  readonly meant?: readonly string[] | undefined;
}

/** The answers as cells, and what keeps them from being written. */
export function readAnswers(
  definition: FormDefinition,
  answers: Readonly<Record<string, string>>,
  { sheet, now }: Pick<WriteSite, 'sheet' | 'now'>,
  { mayBeBlank = false, meant = [] }: Allowed = {},
): { cells: Cells; verdicts: readonly Verdict[] } {
  const context = { locale: sheet.workbook.locale, now };
  const filling = fill(definition, answers, sheet.columnsById, context, new Set(meant));
  const verdicts = mayBeBlank
    ? filling.verdicts.filter(({ problem }) => problem.code !== 'nothingTyped')
    : filling.verdicts;
  return { cells: filling.cells, verdicts };
}

/** The answers as cells. @throws Refused 422 with one verdict per column */
function checkAnswers(
  definition: FormDefinition,
  answers: Readonly<Record<string, string>>,
  site: Pick<WriteSite, 'sheet' | 'now'>,
  allowed: Allowed = {},
): Cells {
  const unknown = Object.keys(answers).find(
    (id) => !definition.fields.some((field) => field.id === id),
  );
  if (unknown !== undefined) {
    throw Refused.badRequest(
      'noSuchField',
      `answers.${unknown.slice(0, 60)}: the form has no such field.`,
    );
  }
  const { cells, verdicts } = readAnswers(definition, answers, site, allowed);
  if (verdicts.length > 0) throw Refused.byVerdicts(verdictViews(verdicts));
  return cells;
}
