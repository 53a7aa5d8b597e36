import type {
  ChangeRecord,
  Landed,
  MoveRecord,
  RecordChangeKind,
  Submit,
  Undo,
} from '@varn/contract';
import {
  fill,
  filledByVarn,
  rowOfPosition,
  type Cells,
  type CellValue,
  type FormDefinition,
  type SheetModel,
  type StoredRecord,
} from '@varn/core';
import { Injectable } from '@nestjs/common';
import type { Database } from 'better-sqlite3';
import { EventHub } from '../events/eventHub';
import { verdictViews } from '../forms/verdictViews';
import { Refused } from '../http/refused';
import { digestOf, newId } from '../ids';
import { SheetCache } from '../sheets/sheetCache';
import { Catalog, nowIn, type SheetFacts } from '../store/catalog';
import { landedOf } from './landed';
import { RecordStore } from './recordStore';
import { WriteQueue } from './writeQueue';

/** Who writes. */
export interface Writer {
  readonly id: string;
  readonly name: string;
}

interface WriteOrder {
  readonly sheetId: string;
  readonly writeId: string;
  readonly writer: Writer;
  /** Which form (its id), grid or undo it comes through. */
  readonly door: string;
  /** What is asked, so that another request under the same write id is told apart. */
  readonly asked: readonly string[];
}

/** What a decision works with: all of it as it is inside the transaction. */
interface WriteSite {
  readonly database: Database;
  readonly sheet: SheetFacts;
  readonly model: SheetModel;
  /** The serial of now in the workbook's zone. */
  readonly now: number;
}

/** What is to be done to one record. */
interface Decision {
  readonly kind: RecordChangeKind;
  /** The record as it will be; of a removal, as it goes to the bin. */
  readonly record: StoredRecord;
  readonly before: Cells | null;
  readonly after: Cells | null;
}

/** The one path by which records are written, whatever the door. */
@Injectable()
export class RecordWriter {
  constructor(
    private readonly queue: WriteQueue,
    private readonly cache: SheetCache,
    private readonly catalog: Catalog,
    private readonly records: RecordStore,
    private readonly events: EventHub,
  ) {}

  /** Writes a filled form as a new record at the end of its sheet. @throws Refused 422, 409 */
  submit(formId: string, { writeId, answers }: Submit, writer: Writer): Promise<Landed> {
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
      const { definition } = this.catalog.form(formId) ?? form;
      const cells = {
        ...checkAnswers(definition, answers, site),
        ...filledByVarn(site.sheet.columns, {
          by: writer.name,
          at: site.now,
          nextNumber: (columnId) => this.records.takeNumber(site.database, columnId),
        }),
      };
      return added({ id: newId(), orderKey: site.model.nextOrderKey(), revision: 1, cells });
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
      const ids = Object.keys(answers);
      const gone = ids.find((id) => !site.sheet.columnsById.has(id));
      if (gone !== undefined) throw Refused.notFound('column in this sheet');
      const definition = { fields: ids.map((id) => ({ id, columnId: id })) };
      const read = checkAnswers(definition, answers, site, { mayBeBlank: true });
      const kept = Object.entries(stored.cells).filter(([id]) => !ids.includes(id));
      const cells: Record<string, CellValue> = { ...Object.fromEntries(kept), ...read };
      return changed(stored, cells);
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

  /** Takes back a write of one's own, unless the record was changed since. */
  async undo(workbookId: string, { writeId, undoes }: Undo, writer: Writer): Promise<Landed> {
    const past = await this.queue.run(
      (database) => this.records.changeOf(database, undoes),
      () => undefined,
    );
    if (!past || past === 'structure' || past.workbookId !== workbookId)
      throw Refused.notFound('write to take back');
    if (past.accountId !== writer.id) {
      throw Refused.forbidden('Only one’s own writes can be taken back.');
    }
    const { sheetId, recordId, revision } = past;
    const order = { sheetId, writeId, writer, door: 'undo', asked: ['undo', undoes] };
    return this.write(order, ({ database, model }) => {
      if (past.kind === 'recordRemoved') {
        return putBack(this.binnedAt(database, sheetId, recordId, revision));
      }
      const stored = recordAt(model, recordId, revision);
      return past.kind === 'recordChanged' ? changed(stored, past.before ?? {}) : removed(stored);
    });
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

  private async write(order: WriteOrder, decide: (site: WriteSite) => Decision): Promise<Landed> {
    const model = await this.cache.model(order.sheetId);
    const digest = digestOf(order.writer.id, ...order.asked);
    const { landed, repeated } = await this.queue.run(
      (database) => this.perform(database, model, order, digest, decide),
      () => this.cache.drop(order.sheetId),
    );
    if (!repeated) {
      const { seq, kind, sheetId, writeId } = landed;
      const workbookId = this.sheetOf(sheetId).workbook.id;
      this.events.publish(workbookId, {
        seq,
        kind,
        sheetId,
        writeId,
        by: order.writer.name,
        landed,
      });
    }
    return landed;
  }

  private perform(
    database: Database,
    model: SheetModel,
    { sheetId, writeId, writer, door }: WriteOrder,
    digest: string,
    decide: (site: WriteSite) => Decision,
  ): { landed: Landed; repeated: boolean } {
    const first = this.records.changeOf(database, writeId);
    if (first) {
      if (first !== 'structure' && first.digest === digest) {
        return { landed: landedOf(first, this.sheetOf(first.sheetId)), repeated: true };
      }
      throw Refused.conflict(
        'writeIdUsed',
        'This write id was used for another write. Make a new one.',
      );
    }
    const sheet = this.sheetOf(sheetId);
    const { kind, record, before, after } = decide({
      database,
      sheet,
      model,
      now: nowIn(sheet.workbook),
    });
    if (kind === 'recordAdded') this.records.insert(database, sheetId, record);
    else if (kind === 'recordChanged') this.records.update(database, record);
    else this.records.bin(database, record, kind === 'recordRemoved' ? Date.now() : null);
    const change = {
      workbookId: sheet.workbook.id,
      kind,
      sheetId,
      recordId: record.id,
      revision: record.revision,
      writeId,
      digest,
      accountId: writer.id,
      door,
      before,
      after,
      gridRow: rowOfPosition(sheet, positionFor(model, record)),
      counted: model.count,
    };
    const seq = this.records.log(database, change);
    // Last, when nothing can fail any more but the commit: then the sheet is dropped and read anew.
    applyTo(model, kind, record);
    return { landed: landedOf({ ...change, seq }, sheet), repeated: false };
  }

  private binnedAt(
    database: Database,
    sheetId: string,
    recordId: string,
    revision: number,
  ): StoredRecord {
    const record = this.records.binned(database, sheetId, recordId);
    if (!record) throw Refused.notFound('record in the bin');
    return guardRevision(record, revision);
  }

  private sheetOf(sheetId: string): SheetFacts {
    const sheet = this.catalog.sheet(sheetId);
    if (!sheet) throw Refused.notFound('sheet');
    return sheet;
  }
}

const next = (record: StoredRecord, cells: Cells = record.cells): StoredRecord => ({
  ...record,
  revision: record.revision + 1,
  cells,
});

const added = (record: StoredRecord): Decision => ({
  kind: 'recordAdded',
  record,
  before: null,
  after: record.cells,
});

const changed = (stored: StoredRecord, cells: Cells): Decision => ({
  kind: 'recordChanged',
  record: next(stored, cells),
  before: stored.cells,
  after: cells,
});

const removed = (stored: StoredRecord): Decision => ({
  kind: 'recordRemoved',
  record: next(stored),
  before: stored.cells,
  after: null,
});

const putBack = (binned: StoredRecord): Decision => ({
  kind: 'recordPutBack',
  record: next(binned),
  before: null,
  after: binned.cells,
});

function recordAt(model: SheetModel, recordId: string, revision: number): StoredRecord {
  if (!model.has(recordId)) throw Refused.notFound('record in this sheet');
  return guardRevision(model.get(recordId), revision);
}

function guardRevision(record: StoredRecord, revision: number): StoredRecord {
  if (record.revision === revision) return record;
  throw Refused.conflict(
    'changedSince',
    `The record was changed since: it is at revision ${record.revision}, not ${revision}. Look at it again.`,
  );
}

/** The answers as cells. @throws Refused 422 with one verdict per column */
function checkAnswers(
  definition: FormDefinition,
  answers: Readonly<Record<string, string>>,
  { sheet, now }: Pick<WriteSite, 'sheet' | 'now'>,
  { mayBeBlank = false } = {},
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
  const context = { locale: sheet.workbook.locale, now };
  const { cells, verdicts } = fill(definition, answers, sheet.columnsById, context);
  const held = mayBeBlank
    ? verdicts.filter(({ problem }) => problem.code !== 'nothingTyped')
    : verdicts;
  if (held.length > 0) throw Refused.byVerdicts(verdictViews(held));
  return cells;
}

function positionFor(model: SheetModel, record: StoredRecord): number {
  return model.has(record.id) ? model.positionOf(record.id) : model.positionFor(record.orderKey);
}

function applyTo(model: SheetModel, kind: RecordChangeKind, record: StoredRecord): void {
  if (kind === 'recordRemoved') model.remove(record.id);
  else if (kind === 'recordChanged') model.update(record);
  else model.add(record);
}
