import type {
  BeginForm,
  DraftSaved,
  FormEntry,
  MakeForm,
  PutToUse,
  RenameForm,
  SaveDraft,
} from '@varn/contract';
import {
  plannedColumns,
  checkForm,
  columnIdsOf,
  formOfSheet,
  formulasOf,
  sayFormCheck,
  withoutFormula,
  labelOfBlock,
  type Column,
} from '@varn/core';
import type { SqlEntityManager } from '@mikro-orm/better-sqlite';
import { Injectable } from '@nestjs/common';
import { randomUUID } from 'node:crypto';
import { Refused } from '../http/refused';
import { digestOf, newId } from '../ids';
import { SheetCache } from '../store/sheetCache';
import { Catalog, type FormFacts, type SheetFacts } from '../store/catalog';
import { Form, FormVersion, Sheet } from '../store/entities';
import { Store } from '../store/store';
import type { Writer } from '../access/access';
import { ColumnWriter } from '../write/columnWriter';
import { SheetWriter } from '../write/sheetWriter';
import { StructureWriter, type StructureAnswer } from '../write/structureWriter';
import { SecretWords } from '../access/secretWords';
import { Calculator } from '../calculation/calculator';
import { writtenColumns } from '../calculation/writtenColumns';
import { FormFormulas } from './formFormulas';
import { draftOf } from './formReader';
import type { FormFormula, StoredDraft } from '../store/storedForm';
import { usualLengths } from './usualLengths';

/** Makes forms, keeps their drafts, and puts them to use. */
@Injectable()
export class FormWriter {
  constructor(
    private readonly structure: StructureWriter,
    private readonly catalog: Catalog,
    private readonly cache: SheetCache,
    private readonly store: Store,
    private readonly sheets: SheetWriter,
    private readonly columns: ColumnWriter,
    private readonly formulas: FormFormulas,
    private readonly calculator: Calculator,
    private readonly words: SecretWords,
  ) {}

  /** Makes a form of every column of a sheet, in use at once. Without a name it bears the sheet's. */
  async make(sheetId: string, { writeId, name }: MakeForm, writer: Writer): Promise<FormEntry> {
    const digest = digestOf(writer.id, 'makeForm', sheetId, name ?? '');
    const facts = this.sheetOf(sheetId);
    const model = await this.cache.model(sheetId);
    const { locale } = facts.workbook;
    const lengths = usualLengths(model, facts.columns, locale);
    return this.structure.write({ writeId, writer, kind: 'formAdded', digest }, async (em) => {
      const sheet = await em.findOneOrFail(Sheet, sheetId);
      const place = await em.count(Form, { sheet: sheetId });
      const form = { id: newId(), name: name ?? sheet.name };
      const definition = formOfSheet(sheet.columns, lengths);
      const version = 1;
      const rest = { place, definition, revision: 1, version, draft: null, draftRevision: 0 };
      await em.insert(Form, { ...form, sheet: sheetId, ...rest });
      const made = { form: form.id, version, definition, account: writer.id, at: Date.now() };
      await em.insert(FormVersion, made);
      return { workbookId: sheet.workbook.id, sheetId, answer: { ...form, version } };
    });
  }

  /** Begins a form to be laid out: on a sheet or a new one, blank or like another form. */
  async begin(workbookId: string, order: BeginForm, writer: Writer): Promise<FormEntry> {
    const { writeId } = order;
    const name = order.name.trim();
    const like = order.like === undefined ? null : this.formIn(workbookId, order.like);
    const sheetId = await this.sheetFor(workbookId, order, writer);
    const draft = like ? await this.copied(like, sheetId) : BLANK;
    const digest = digestOf(writer.id, 'beginForm', sheetId, name, order.like ?? '');
    return this.structure.write(
      { writeId: `${writeId}/form`, writer, kind: 'formAdded', digest },
      async (em) => {
        const place = await em.count(Form, { sheet: sheetId });
        const form = { id: newId(), name, version: 0 };
        const rest = { place, definition: BLANK.definition, revision: 1, draft, draftRevision: 1 };
        await em.insert(Form, { ...form, sheet: sheetId, ...rest });
        return { workbookId, sheetId, answer: form };
      },
    );
  }

  rename(formId: string, { name, revision }: RenameForm, writer: Writer): Promise<FormEntry> {
    return this.structure.write(
      // The form's revision guards it: a repeat is refused as out of date.
      { writeId: randomUUID(), writer, kind: 'formChanged', digest: '' },
      async (em) => {
        const form = await em.findOneOrFail(Form, formId, { populate: ['sheet'] });
        if (form.revision !== revision) throw changedSince();
        const { sheet, version } = form;
        const renamed = { id: formId, name: name.trim(), version };
        await em.nativeUpdate(Form, formId, { name: renamed.name, revision: revision + 1 });
        return { workbookId: sheet.workbook.id, sheetId: sheet.id, answer: renamed };
      },
    );
  }

  /** Sends a form to the bin. What was written through it stays where it is. */
  remove(formId: string, revision: number, writer: Writer): Promise<FormEntry> {
    return this.structure.write(
      { writeId: randomUUID(), writer, kind: 'formRemoved', digest: '' },
      async (em) => {
        const form = await em.findOneOrFail(Form, formId, { populate: ['sheet'] });
        if (form.revision !== revision) throw changedSince();
        return this.bin(em, form, Date.now());
      },
    );
  }

  /** Takes a form out of the bin, as it was. */
  putBack(workbookId: string, formId: string, writeId: string, writer: Writer): Promise<FormEntry> {
    const digest = digestOf(writer.id, 'putBackForm', formId);
    return this.structure.write({ writeId, writer, kind: 'formPutBack', digest }, async (em) => {
      const form = await em.findOne(Form, formId, { populate: ['sheet'] });
      if (form?.sheet.workbook.id !== workbookId || form.removedAt === null) {
        throw Refused.notFound('form in the bin of this workbook');
      }
      return this.bin(em, form, null);
    });
  }

  private async bin(
    em: SqlEntityManager,
    { id, name, version, revision, sheet }: Form,
    removedAt: number | null,
  ): Promise<StructureAnswer<FormEntry>> {
    await em.nativeUpdate(Form, id, { removedAt, revision: revision + 1 });
    return { workbookId: sheet.workbook.id, sheetId: sheet.id, answer: { id, name, version } };
  }

  /** Keeps a form as it was laid out so far. @throws Refused 409 when someone else did since */
  async save(formId: string, { revision, ...written }: SaveDraft): Promise<DraftSaved> {
    const { sheet } = this.facts(formId);
    const draft = await this.formulas.bind(sheet, written);
    return this.keep(formId, revision, draft);
  }

  /** Lets go of what was laid out and is not in use. */
  async drop(formId: string, revision: number): Promise<DraftSaved> {
    const { version } = this.facts(formId);
    return this.keep(formId, revision, version === 0 ? BLANK : null);
  }

  /** Lays the form out as it was in an earlier version; it is put to use like any draft. */
  async bringBack(formId: string, version: number, revision: number): Promise<DraftSaved> {
    const held = await this.store.em().findOne(FormVersion, { form: formId, version });
    if (!held) throw Refused.notFound('version of this form');
    const { definition } = held;
    return this.keep(formId, revision, { definition, columns: [] });
  }

  /**
   * Puts a form to use as it was laid out: its new columns come into the sheet, and everyone at
   * the desk is told. @throws Refused 409 where something keeps it from use
   */
  async use(formId: string, { writeId, revision }: PutToUse, writer: Writer): Promise<FormEntry> {
    const form = this.facts(formId);
    const digest = digestOf(writer.id, 'use', formId, String(revision));
    if (form.draft && form.draftRevision === revision) {
      await this.refuseUnready(form);
      await this.bringColumns(form, `${writeId}/columns`, writer);
    }
    return this.structure.write({ writeId, writer, kind: 'formChanged', digest }, async (em) => {
      const held = await em.findOneOrFail(Form, formId, { populate: ['sheet'] });
      if (held.draftRevision !== revision) throw changedSince();
      if (!held.draft) throw Refused.conflict('nothingChanged', 'The form is in use as it is.');
      const { definition } = held.draft;
      const version = held.version + 1;
      await em.nativeUpdate(Form, formId, {
        definition,
        version,
        revision: held.revision + 1,
        draft: null,
        draftRevision: revision + 1,
      });
      const made = { form: formId, version, definition, account: writer.id, at: Date.now() };
      await em.insert(FormVersion, made);
      const { name, sheet } = held;
      const answer = { id: formId, name, version };
      return { workbookId: sheet.workbook.id, sheetId: sheet.id, answer };
    });
  }

  /** Brings the columns a draft plans into the sheet, so that a record can be written with it. */
  async bringColumns(form: FormFacts, writeId: string, writer: Writer): Promise<void> {
    const draft = draftOf(form);
    const planned = await this.formulas.coming(form.sheet, draft);
    if (planned.length === 0) return;
    const order = draft.definition.blocks.flatMap(columnIdsOf);
    await this.columns.bringColumns(form.sheet.id, { planned, order }, writeId, writer);
  }

  private async keep(
    formId: string,
    revision: number,
    draft: StoredDraft | null,
  ): Promise<DraftSaved> {
    const next = revision + 1;
    await this.store.transaction(async (em) => {
      const guard = { id: formId, draftRevision: revision };
      const changed = await em.nativeUpdate(Form, guard, { draft, draftRevision: next });
      if (changed === 0) throw changedSince();
    });
    this.catalog.putDraft(formId, draft, next);
    return { revision: next };
  }

  private async refuseUnready(form: FormFacts): Promise<void> {
    const { sheet, name } = form;
    const stored = draftOf(form);
    const written = await this.formulas.write(sheet, stored);
    const calculation = await this.calculator.written(sheet.workbook.id);
    const columns = plannedColumns(writtenColumns(sheet, calculation), written.columns);
    const others = this.catalog.formsOf(sheet.id).filter(({ id }) => id !== form.id);
    const checks = checkForm(written.definition, {
      name,
      columns,
      planned: written.columns,
      unreadLists: await this.formulas.unreadLists(sheet, written),
      keptWords: new Set(this.words.namesOf(sheet.workbook.id)),
      writtenElsewhere: new Set(
        others.flatMap((each) => each.definition.blocks.flatMap(columnIdsOf)),
      ),
      names: new Set(sheet.workbook.names.map((each) => each.name)),
      sheets: new Set(this.catalog.sheetsOf(sheet.workbook.id).map((each) => each.name)),
      locale: sheet.workbook.locale,
    });
    const byId = new Map(columns.map((column) => [column.id, column]));
    const call = (id: string): string => {
      const block = written.definition.blocks.find((each) => each.id === id);
      return block ? labelOfBlock(block, byId) : (byId.get(id)?.heading ?? 'a column');
    };
    const unread = [
      ...formulasOf(stored.definition).map(({ formula }) => formula),
      ...stored.columns.flatMap(({ settings: { formula } }) => formula ?? []),
    ].find((formula) => 'unread' in formula);
    const [stop] = checks.filter(({ strictness }) => strictness === 'refuse');
    if (stop) throw Refused.conflict('notReady', `Not put to use: ${sayFormCheck(stop, call)}`);
    if (unread) {
      throw Refused.conflict(
        'notReady',
        `Not put to use: the formula ‘${unread.unread.slice(0, 60)}’ can’t be read. Correct it.`,
      );
    }
  }

  /** The sheet a new form writes into: the one that is named, or a new one of the form's name. */
  private async sheetFor(workbookId: string, order: BeginForm, writer: Writer): Promise<string> {
    const { sheetId, writeId, name } = order;
    if (sheetId === undefined) {
      const sheet = { writeId, name, headings: [] };
      return this.sheets.addSheet(workbookId, sheet, writer, { hasRecords: true });
    }
    const sheet = this.catalog.sheetInUse(sheetId);
    if (sheet?.workbook.id !== workbookId) throw Refused.notFound('sheet in this workbook');
    if (!sheet.hasRecords) {
      throw Refused.conflict(
        'noRecords',
        `${sheet.name} has no records under a heading, so no form can write into it. Choose another sheet.`,
      );
    }
    return sheetId;
  }

  /** A form's layout for a sheet: its own, or another, which gets columns of the same headings. */
  private async copied(form: FormFacts, sheetId: string): Promise<StoredDraft> {
    const stored = draftOf(form);
    if (form.sheet.id === sheetId) return stored;
    const written = await this.formulas.write(form.sheet, stored);
    const into = this.sheetOf(sheetId);
    const source = new Map(
      plannedColumns<FormFormula>(form.sheet.columns, stored.columns).map((each) => [
        each.id,
        each,
      ]),
    );
    const planned = new Map<string, Column<string>>();
    const idFor = (columnId: string): string => {
      const column = source.get(columnId);
      if (!column) return columnId;
      const there = into.columns.find(({ heading }) => heading === column.heading);
      if (there) return there.id;
      const made = planned.get(columnId) ?? { ...withoutFormula(column), id: newId() };
      planned.set(columnId, made);
      return made.id;
    };
    const blocks = written.definition.blocks.map((block) => {
      if (block.is === 'field') return { ...block, columnId: idFor(block.columnId) };
      if (block.is !== 'group') return block;
      const members = block.members.map((each) => ({ ...each, columnId: idFor(each.columnId) }));
      return { ...block, members };
    });
    const definition = { ...written.definition, blocks };
    return this.formulas.bind(into, { definition, columns: [...planned.values()] });
  }

  private formIn(workbookId: string, formId: string): FormFacts {
    const form = this.catalog.form(formId);
    if (form?.sheet.workbook.id !== workbookId) throw Refused.notFound('form in this workbook');
    return form;
  }

  private facts(formId: string): FormFacts {
    const form = this.catalog.form(formId);
    if (!form) throw Refused.notFound('form');
    return form;
  }

  private sheetOf(sheetId: string): SheetFacts {
    const sheet = this.catalog.sheet(sheetId);
    if (!sheet) throw Refused.notFound('sheet');
    return sheet;
  }
}

/** A form on which nothing stands yet. */
const BLANK: StoredDraft = { definition: { blocks: [] }, columns: [] };

function changedSince(): Refused {
  return Refused.conflict('changedSince', 'The form was changed since. Look at it again.');
}
