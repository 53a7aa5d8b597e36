import type {
  BringBackState,
  CellNote,
  ChangeRecord,
  Landed,
  MoveRecord,
  Submit,
  UpdateRecord,
} from '@varn/contract';
import {
  fileIdOf,
  firstNumberOf,
  fileProblem,
  isTyped,
  judgeChange,
  judgeRestored,
  otherwiseThanSeen,
  PLAIN_PATTERN,
  typedCells,
  type Cells,
  type CellValue,
  type Column,
  type Filling,
  type Judged,
  type PreparedForm,
  type SheetModel,
  type StoredRecord,
  type Verdict,
  inputsOf,
} from '@varn/core';
import { Injectable } from '@nestjs/common';
import type { Writer } from '../access/access';
import type { Database } from 'better-sqlite3';
import {
  enteredIn,
  FormEvaluator,
  fillStored,
  momentOf,
  preparedForm,
} from '../calculation/formEvaluator';
import type { FormFormula, StoredDefinition } from '../store/storedForm';
import { verdictViews } from './verdictViews';
import { Refused } from '../http/refused';
import { Calculator } from '../calculation/calculator';
import { Catalog, type FormFacts, type SheetFacts } from '../store/catalog';
import { FormVersion } from '../store/entities';
import { Store } from '../store/store';
import {
  changed,
  removed,
  restored,
  type RecordDecision,
  type WriteOrder,
  type WriteSite,
} from './decision';
import { filledOf, groundOf, newRecord, Notes, type Origin } from './judging';
import { givenTwice } from './keys';
import { arrivalOf } from '../log/arrival';
import { ChangeLog } from '../log/changeLog';
import { isRecordLine, type RecordLine } from '../log/line';
import { landedOf } from '../log/told';
import { RecordStore } from './recordStore';
import { RunningNumbers } from './runningNumbers';
import { WritePath } from './writePath';
import { WriteQueue } from './writeQueue';

/** Writes single records: from forms, and from outside over the API. */
@Injectable()
export class RecordWriter {
  constructor(
    private readonly path: WritePath,
    private readonly queue: WriteQueue,
    private readonly catalog: Catalog,
    private readonly records: RecordStore,
    private readonly numbers: RunningNumbers,
    private readonly calculator: Calculator,
    private readonly store: Store,
    private readonly log: ChangeLog,
  ) {}

  /** Writes a filled form as a new record of its sheet, where the form says. @throws Refused 422, 409 */
  async submit(formId: string, submit: Submit, writer: Writer): Promise<Landed> {
    const { writeId, version } = submit;
    const form = this.formOf(formId);
    const order = orderOf(form, 'submit', writeId, writer, saidIn(submit));
    const earlier = await this.versionOf(form, version);
    await this.readyFor(earlier ?? form.definition, form);
    return this.write(order, (site) => {
      // The form may have changed while the submit waited.
      const { definition, name } = this.catalog.form(formId) ?? form;
      const origin = { by: writer.name, door: name };
      const { judged, became } = this.checkAnswers(earlier ?? definition, submit, site, { origin });
      const orderKey = landingKey(definition, site.model);
      return { decision: newRecord(site, judged, orderKey, origin), became };
    });
  }

  /** Writes a record to try a form as it is laid out: marked, and without a running number. */
  async trial(formId: string, submit: Submit, writer: Writer): Promise<Landed> {
    const form = this.formOf(formId);
    const definition = form.draft?.definition ?? form.definition;
    const order = orderOf(form, 'trial', submit.writeId, writer, saidIn(submit));
    await this.readyFor(definition, form);
    return this.write(order, (site) => {
      const origin = { by: writer.name, door: form.name, trial: true };
      const { judged, became } = this.checkAnswers(definition, submit, site, { origin });
      const orderKey = landingKey(definition, site.model);
      return { decision: newRecord(site, judged, orderKey, origin), became };
    });
  }

  /** Corrects a record through a form: its fields as they were typed, all else as it was. */
  async update(
    formId: string,
    recordId: string,
    update: UpdateRecord,
    writer: Writer,
  ): Promise<Landed> {
    const { writeId, revision, version } = update;
    const form = this.formOf(formId);
    const asked = [recordId, String(revision), ...saidIn(update)];
    const order = orderOf(form, 'update', writeId, writer, asked);
    const definition = (await this.versionOf(form, version)) ?? form.definition;
    await this.readyFor(definition, form);
    return this.write(order, (site) => {
      const stored = recordAt(site.model, recordId, revision);
      const { judged, became } = this.checkAnswers(definition, update, site, { stored });
      return { decision: changed(stored, judged), became };
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
    return this.write({ sheetId, writeId, writer, door: 'record', asked }, (site) => {
      const stored = recordAt(site.model, recordId, revision);
      return { decision: changed(stored, changedCells(stored, answers, site)) };
    });
  }

  /** Puts a record's typed cells back to what they were after an entry of its history. */
  async bringBack(
    sheetId: string,
    recordId: string,
    { writeId, revision, seq }: BringBackState,
    writer: Writer,
  ): Promise<Landed> {
    const cells = await this.cellsAt(sheetId, recordId, seq);
    if (!cells) throw Refused.notFound('state in the history of this record');
    const asked = ['bringBack', recordId, String(revision), String(seq)];
    return this.write({ sheetId, writeId, writer, door: 'history', asked }, (site) => {
      const stored = recordAt(site.model, recordId, revision);
      const typed = site.sheet.columns.filter(isTyped).map(({ id }) => id);
      const all: Record<string, CellValue> = { ...stored.cells };
      for (const id of typed) {
        const value = cells[id];
        if (value === undefined) Reflect.deleteProperty(all, id);
        else all[id] = value;
      }
      const restored = judgeRestored(all, stored.cells, groundOf(site));
      const judged = restored.computedAnew(site.context.computing);
      return { decision: changed(stored, judged), notes: notesOf(judged) };
    });
  }

  /** A record's cells after an entry of its history, which may be the write it came by. */
  private async cellsAt(sheetId: string, recordId: string, seq: number): Promise<Cells | null> {
    const [line] = await this.log.ofRecord(recordId, seq + 1, 1);
    if (line?.seq === seq && isRecordLine(line)) return cellsAfter(line);
    const arrival = await arrivalOf(this.log, { sheetId, recordId }, undefined);
    return arrival?.line.seq === seq ? arrival.cells : null;
  }

  /** Sends a record to the bin. */
  remove(
    sheetId: string,
    recordId: string,
    { writeId, revision }: MoveRecord,
    writer: Writer,
  ): Promise<Landed> {
    const asked = ['remove', recordId, String(revision)];
    return this.write({ sheetId, writeId, writer, door: 'grid', asked }, ({ model }) => ({
      decision: removed(recordAt(model, recordId, revision)),
    }));
  }

  /** Takes a record out of the bin, to where it stood, with its numbers. */
  putBack(
    sheetId: string,
    recordId: string,
    { writeId, revision }: MoveRecord,
    writer: Writer,
  ): Promise<Landed> {
    const asked = ['putBack', recordId, String(revision)];
    return this.write({ sheetId, writeId, writer, door: 'bin', asked }, (site) => {
      const binned = this.binnedAt(site.database, sheetId, recordId, revision);
      const judged = judgeRestored(binned.cells, null, groundOf(site));
      return { decision: restored(binned, judged), notes: notesOf(judged) };
    });
  }

  /** The running numbers the columns of a sheet would give next. */
  nextNumbers(sheet: SheetFacts): Promise<Record<string, number>> {
    const numbered = sheet.columns.filter(({ kind }) => kind === 'runningNumber');
    return this.queue.run(
      (database) =>
        Object.fromEntries(
          numbered.map(({ id, settings: { pattern = PLAIN_PATTERN } }) => {
            const next = this.numbers.last(database, id) + 1;
            return [id, Math.max(next, firstNumberOf(pattern))];
          }),
        ),
      () => undefined,
    );
  }

  private async write(
    order: WriteOrder,
    decide: (site: WriteSite) => { decision: RecordDecision } & Told,
  ): Promise<Landed> {
    const { changes, answer } = await this.path.write(order, (site) => {
      const { decision, became = [], notes = [] } = decide(site);
      const told: Told = {
        ...(became.length > 0 && { became }),
        ...(notes.length > 0 && { notes }),
      };
      return { decisions: [decision], ...(Object.keys(told).length > 0 && { answer: told }) };
    });
    const [change] = changes;
    const sheet = change && this.catalog.sheet(change.sheetId);
    const landed = sheet && landedOf(change, sheet);
    if (!landed) throw new Error(`the write ${order.writeId} left no line in the log`);
    return { ...landed, ...(answer as Pick<Landed, 'became' | 'notes'> | null) };
  }

  /** Reads the workbook's formulas where a form needs them. */
  private async readyFor(definition: StoredDefinition, { sheet }: FormFacts): Promise<void> {
    if (preparedForm(definition, sheet.columnsById).hasFormulas) {
      await this.calculator.of(sheet.workbook.id);
    }
  }

  /** An earlier version of a form that is still being filled in somewhere. */
  private async versionOf(
    form: FormFacts,
    version: number | undefined,
  ): Promise<StoredDefinition | null> {
    if (version === undefined || version === form.version) return null;
    const held = await this.store.em().findOne(FormVersion, { form: form.id, version });
    if (!held) throw Refused.notFound('version of this form');
    return held.definition;
  }

  private formOf(formId: string): FormFacts {
    const form = this.catalog.form(formId);
    if (!form) throw Refused.notFound('form');
    return form;
  }

  /**
   * The answers as a record that may be stored, and the columns that come out otherwise than they
   * were seen.
   *
   * @throws Refused 422 with one verdict per column
   */
  private checkAnswers(
    definition: StoredDefinition,
    submit: Submit,
    site: WriteSite,
    { stored, origin }: { stored?: StoredRecord; origin?: Origin & { trial?: boolean } },
  ): { judged: Judged; became: string[] } {
    const { sheet, database } = site;
    const form = preparedForm(definition, sheet.columnsById);
    refuseUnknown(definition, form, submit, sheet);
    const entered = enteredIn(submit);
    const now = momentOf(submit, sheet.workbook);
    const calculation = this.calculator.loaded(sheet.workbook.id);
    const evaluator = calculation && new FormEvaluator(calculation, sheet.id, sheet.columns);
    const context = {
      ...site.context,
      now,
      held: stored?.cells ?? null,
      ...(origin && { filled: filledOf(site, origin) }),
      next: (column: Column, pattern: string | undefined) =>
        site.model.highestNumber(column.id).next(pattern),
    };
    const filling = fillStored(form, entered, context, evaluator);
    const verdicts = [
      ...filling.verdicts,
      ...this.fileVerdicts(form, filling, database, sheet),
      ...(origin?.trial ? [] : givenTwice(form, filling.cells, stored?.id ?? '', site)),
    ];
    if (verdicts.length > 0) throw Refused.byVerdicts(verdictViews(verdicts));
    return { judged: filling.judged, became: otherwiseThanSeen(form, entered, filling, context) };
  }

  /** Files that are larger, or of another sort, than their field takes. */
  private fileVerdicts(
    form: PreparedForm<FormFormula>,
    { cells }: Filling,
    database: Database,
    { workbook }: SheetFacts,
  ): Verdict[] {
    return form.inputs.flatMap(({ id, column, block }): Verdict[] => {
      if (column.kind !== 'file') return [];
      const text = cells[column.id];
      const fileId = typeof text === 'string' ? fileIdOf(text) : null;
      const file = fileId === null ? null : this.records.fileOf(database, workbook.id, fileId);
      const problem = file ? fileProblem(file, block.details ?? {}) : null;
      return problem ? [{ fieldId: id, columnId: column.id, problem, strictness: 'refuse' }] : [];
    });
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

/** Where a form's new records stand: at the end, or right under the heading. */
const landingKey = ({ entering }: StoredDefinition, model: SheetModel): number =>
  entering?.lands === 'top' ? model.topOrderKey() : model.nextOrderKey();

/** What tells one submit from another under the same write id. */
const saidIn = ({ answers, untouched }: Submit): string[] => [
  JSON.stringify(answers),
  ...(untouched ? [JSON.stringify(untouched)] : []),
];

/** A write through a form, told apart from any other by what is asked of which form. */
const orderOf = (
  { id, sheet }: FormFacts,
  door: 'submit' | 'update' | 'trial',
  writeId: string,
  writer: Writer,
  asked: readonly string[],
): WriteOrder => ({
  sheetId: sheet.id,
  writeId,
  writer,
  door,
  formId: id,
  asked: [door, id, ...asked],
});

/** A record after some of its cells were typed anew. @throws Refused 404, 422 */
function changedCells(
  stored: StoredRecord,
  answers: Readonly<Record<string, string>>,
  site: WriteSite,
): Judged {
  const ids = Object.keys(answers);
  if (ids.some((id) => !site.sheet.columnsById.has(id))) {
    throw Refused.notFound('column in this sheet');
  }
  const judged = judgeChange(typedCells(answers), stored.cells, groundOf(site));
  const refused = judged.verdicts.filter(({ strictness }) => strictness !== 'note');
  if (refused.length > 0) throw Refused.byVerdicts(verdictViews(refused));
  return judged;
}

/** What is told of a record besides where it landed. */
interface Told {
  readonly became?: readonly string[];
  readonly notes?: readonly CellNote[];
}

function notesOf({ verdicts }: Judged): readonly CellNote[] {
  const notes = new Notes();
  notes.take(verdicts);
  return notes.told;
}

/** A record's cells as a line left them; `null` where it only moved. */
function cellsAfter(line: RecordLine): Cells | null {
  if (line.kind === 'recordMoved') return null;
  return line.kind === 'recordRemoved' ? line.before : line.after;
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

/** Answers that no field is there for; those of fields whose column was deleted are named. */
function refuseUnknown(
  definition: StoredDefinition,
  form: PreparedForm<FormFormula>,
  { answers, untouched = [] }: Submit,
  { lostColumns }: SheetFacts,
): void {
  const lost = new Map(lostColumns.map(({ column }) => [column.id, column]));
  const gone = inputsOf(definition, lost);
  const typed = gone.filter(({ id }) => answers[id] !== undefined && !untouched.includes(id));
  if (typed.length > 0) {
    const names = typed.map(({ label }) => `‘${label}’`).join(', ');
    throw Refused.conflict(
      'fieldGone',
      `${names} ${typed.length === 1 ? 'was' : 'were'} deleted from the sheet, so nothing was stored. Copy what you typed there, then submit without it.`,
    );
  }
  const known = new Set([...form.inputs, ...gone].map(({ id }) => id));
  const unknown = Object.keys(answers).find((id) => !known.has(id));
  if (unknown === undefined) return;
  throw Refused.badRequest(
    'noSuchField',
    `answers.${unknown.slice(0, 60)}: the form has no such field.`,
  );
}
