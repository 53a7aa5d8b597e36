import {
  mayAs,
  type CheckAnswers,
  type CheckView,
  type DraftView,
  type FormView,
  type VersionView,
} from '@varn/contract';
import {
  plannedColumns,
  columnIdsOf,
  formulasOf,
  heldValues,
  inputsOf,
  isTrial,
  type Calculation,
  type CellValue,
  type Column,
  type ColumnsById,
  type FormDefinition,
  type SheetModel,
  withoutFormula,
  type StoredColumn,
  type StoredFormula,
} from '@varn/core';
import { Injectable } from '@nestjs/common';
import { SecretWords } from '../access/secretWords';
import { Calculator } from '../calculation/calculator';
import { ChangeLog } from '../log/changeLog';
import { Refused } from '../http/refused';
import { SheetCache } from '../store/sheetCache';
import { rowsOf, SheetReader } from '../sheets/sheetReader';
import { Catalog, type FormFacts, type SheetFacts } from '../store/catalog';
import { FormVersion } from '../store/entities';
import { Store } from '../store/store';
import { RecordWriter } from '../write/recordWriter';
import {
  enteredIn,
  FormEvaluator,
  fillStored,
  momentOf,
  preparedForm,
} from '../calculation/formEvaluator';
import { writtenColumns } from '../calculation/writtenColumns';
import { Lists } from '../lists/lists';
import { FormFormulas } from './formFormulas';
import type { FormFormula, StoredDefinition, StoredDraft } from '../store/storedForm';
import { verdictViews } from '../write/verdictViews';
import type { Asker } from '../turns/asker';
import { Pace } from '../turns/turns';
import { usualLengths } from './usualLengths';

/** From where on the records are shown among which a new one lands. */
const firstShown = ({ entering }: FormDefinition, count: number): number =>
  entering?.lands === 'top' ? 0 : count - LAST_ROWS;

/** How many of the last records the desk is shown at first. */
const LAST_ROWS = 8;
/** How many values a column suggests, and how many records are looked through for them. */
const MOST_SUGGESTED = 300;
const LOOKED_THROUGH = 20_000;
/** How many versions of a form are offered to be brought back. */
const MOST_VERSIONS = 50;

/** A formula that reads other cells, of a form or of a column. */
interface ElsewhereFormula {
  readonly text: string;
  readonly formula: FormFormula;
  readonly columnId?: string;
}

@Injectable()
export class FormReader {
  /** By definition: its formulas that read other cells, while these are called the same. */
  private readonly elsewhere = new WeakMap<
    StoredDefinition,
    {
      readonly columns: readonly Column[];
      readonly calculation: Calculation | null;
      readonly formulas: readonly ElsewhereFormula[];
    }
  >();

  constructor(
    private readonly catalog: Catalog,
    private readonly cache: SheetCache,
    private readonly sheets: SheetReader,
    private readonly changes: ChangeLog,
    private readonly writer: RecordWriter,
    private readonly calculator: Calculator,
    private readonly formulas: FormFormulas,
    private readonly store: Store,
    private readonly lists: Lists,
    private readonly words: SecretWords,
  ) {}

  async show(formId: string): Promise<FormView> {
    const form = this.facts(formId);
    return this.view(form, { definition: form.definition, columns: [] });
  }

  /** A form as it is laid out: its draft, or what is in use where nothing was changed. */
  async draft(formId: string): Promise<DraftView> {
    const form = this.facts(formId);
    const { sheet, draftRevision } = form;
    const stored = draftOf(form);
    const written = await this.formulas.write(sheet, stored);
    const model = await this.cache.model(sheet.id);
    const calculation = await this.calculator.written(sheet.workbook.id);
    return {
      form: await this.view(form, stored),
      columns: [...written.columns],
      stored: writtenColumns(sheet, calculation),
      revision: draftRevision,
      changed: form.draft !== null,
      versions: await this.versions(formId),
      writtenBy: this.writtenBy(form),
      names: sheet.workbook.names.map(({ name }) => name),
      sheets: this.catalog.sheetsOf(sheet.workbook.id).map(({ name }) => name),
      trials: trialIds(model).length,
    };
  }

  /** Checks a filled form as a submit would, and writes nothing. */
  async check(
    formId: string,
    asked: CheckAnswers,
    personId: string,
    asker: Asker,
  ): Promise<CheckView> {
    const form = this.facts(formId);
    const { sheet } = form;
    const role = this.catalog.role(sheet.workbook.id, personId);
    // What is laid out is for those who lay it out, and so is what its formulas give.
    if (asked.draft && !(role && mayAs(role, 'analyst'))) {
      throw Refused.forbidden('This form is not in use yet. Ask the workbook’s analyst.');
    }
    const stored = asked.draft ? draftOf(form) : { definition: form.definition, columns: [] };
    const columns = asked.draft ? columnsOf(form) : sheet.columns;
    const byId = asked.draft
      ? new Map(columns.map((column) => [column.id, column]))
      : sheet.columnsById;
    const prepared = preparedForm(stored.definition, byId);
    const { workbook } = sheet;
    const model = await this.cache.model(sheet.id);
    await this.lists.ready(sheet);
    const { recordId = '' } = asked;
    const held = model.has(recordId) ? model.get(recordId).cells : null;
    const context = {
      ...this.lists.contextOf(sheet),
      held,
      ...(asked.words && { admits: this.words.admitsFor(workbook.id, personId) }),
      now: momentOf(asked, workbook),
      next: (column: Column, pattern: string | undefined) =>
        model.highestNumber(column.id).next(pattern),
    };
    const needsFormulas = prepared.hasFormulas || columns.some(({ settings }) => settings.formula);
    const evaluator = needsFormulas
      ? new FormEvaluator(await this.calculator.of(sheet.workbook.id), sheet.id, columns)
      : null;
    const pace = new Pace(asker);
    await pace.pause();
    const filling = fillStored(prepared, enteredIn(asked), context, evaluator);
    const whole = filling.whole;
    const cells = { ...filling.cells, ...filling.computed };
    const values = evaluator ? await this.values(form, stored, columns, whole, evaluator) : {};
    pace.end();
    return { verdicts: verdictViews(filling.verdicts), values, cells };
  }

  facts(formId: string): FormFacts {
    const form = this.catalog.form(formId);
    if (!form) throw Refused.notFound('form');
    return form;
  }

  /** What the formulas that read other cells give over these, by how they are written. */
  private async values(
    { sheet }: FormFacts,
    stored: StoredDraft,
    columns: readonly Column<FormFormula>[],
    all: Readonly<Record<string, CellValue>>,
    evaluator: FormEvaluator,
  ): Promise<Record<string, CellValue>> {
    const calculation = this.calculator.loaded(sheet.workbook.id);
    let known = this.elsewhere.get(stored.definition);
    if (known?.columns !== columns || known.calculation !== calculation) {
      const formulas = await this.readingElsewhere(sheet, stored, columns);
      known = { columns, calculation, formulas };
      this.elsewhere.set(stored.definition, known);
    }
    const { formulas } = known;
    return evaluator.within(() =>
      Object.fromEntries(
        formulas.map(({ text, formula, columnId }) => [
          text,
          columnId === undefined ? evaluator.value(formula, all) : (all[columnId] ?? null),
        ]),
      ),
    );
  }

  /** The formulas of a form and its columns that read other cells, with how they are written. */
  private async readingElsewhere(
    sheet: SheetFacts,
    stored: StoredDraft,
    columns: readonly Column<FormFormula>[],
  ): Promise<ElsewhereFormula[]> {
    const ofForm = formulasOf(stored.definition).map(({ formula }) => formula);
    const ofColumns = columns.map(({ settings }) => settings.formula);
    if (![...ofForm, ...ofColumns].some((each) => each && readsElsewhere(each))) return [];
    const written = await this.formulas.write(sheet, stored);
    const calculation = await this.calculator.written(sheet.workbook.id);
    const texts = formulasOf(written.definition);
    const columnTexts = plannedColumns(writtenColumns(sheet, calculation), written.columns);
    const all = [
      ...ofForm.map((formula, n) => ({ formula, text: texts[n]?.formula })),
      ...columns.map(({ id }, n) => {
        const text = columnTexts[n]?.settings.formula;
        return { formula: ofColumns[n], text, columnId: id };
      }),
    ];
    return all.flatMap(({ formula, text, ...rest }) =>
      formula && text !== undefined && readsElsewhere(formula) ? [{ formula, text, ...rest }] : [],
    );
  }

  private async view(form: FormFacts, stored: StoredDraft): Promise<FormView> {
    const { id, name, revision, version, sheet } = form;
    const written = await this.formulas.write(sheet, stored);
    const { locale, timeZone, id: workbookId } = sheet.workbook;
    const seq = await this.changes.lastSeq(workbookId);
    const model = await this.cache.model(sheet.id);
    const shown = await this.sheets.show(sheet.id);
    const order = stored.definition.blocks.flatMap(columnIdsOf);
    const columns = plannedColumns<StoredFormula>(
      sheet.columns,
      stored.columns.map(withoutFormula),
      order,
    );
    const planned: SheetFacts = {
      ...sheet,
      columns,
      columnsById: new Map(columns.map((column) => [column.id, column])),
    };
    return {
      id,
      name,
      revision,
      version,
      definition: written.definition,
      sheet: { ...shown, columns: plannedColumns(shown.columns, written.columns, order) },
      lengths: usualLengths(model, columns, locale),
      nextNumbers: await this.writer.nextNumbers(planned),
      nextTexts: nextTextsOf(written.definition, planned.columnsById, model),
      suggestions: suggestionsOf(written.definition, planned, model),
      last: rowsOf(planned, model, firstShown(written.definition, model.count), LAST_ROWS),
      now: Date.now(),
      locale: locale.tag,
      timeZone,
      seq,
    };
  }

  private async versions(formId: string): Promise<VersionView[]> {
    const versions = await this.store
      .em()
      .find(
        FormVersion,
        { form: formId },
        { orderBy: { version: 'desc' }, limit: MOST_VERSIONS, populate: ['account'] },
      );
    return versions.map(({ version, account, at, definition }) => ({
      version,
      by: account?.name ?? 'Varn',
      at,
      fields: definition.blocks.flatMap(columnIdsOf).length,
    }));
  }

  /** Which other forms of the sheet write its columns. */
  private writtenBy({ id, sheet }: FormFacts): Record<string, string[]> {
    const names: Record<string, string[]> = {};
    for (const form of this.catalog.formsOf(sheet.id)) {
      if (form.id === id) continue;
      for (const columnId of form.definition.blocks.flatMap(columnIdsOf)) {
        (names[columnId] ??= []).push(form.name);
      }
    }
    return names;
  }
}

/** What of a form is laid out: its draft, or what is in use. */
export function draftOf({ draft, definition }: FormFacts): StoredDraft {
  return draft ?? { definition, columns: [] };
}

/** By draft: the sheet's columns with those it plans, the same while neither changes. */
const withPlanned = new WeakMap<
  StoredDraft,
  { readonly of: readonly StoredColumn[]; readonly columns: readonly Column<FormFormula>[] }
>();

/** The columns of a form's sheet with those that its draft plans. */
function columnsOf({ draft, sheet }: FormFacts): readonly Column<FormFormula>[] {
  if (!draft) return sheet.columns;
  const held = withPlanned.get(draft);
  if (held?.of === sheet.columns) return held.columns;
  const columns = plannedColumns<FormFormula>(sheet.columns, draft.columns);
  withPlanned.set(draft, { of: sheet.columns, columns });
  return columns;
}

/** The ids of the records that were written to try a form. */
export function trialIds(model: SheetModel): string[] {
  if (!model.holdsTrials) return [];
  const ids: string[] = [];
  for (let position = 0; position < model.count; position += 1) {
    const { id, cells } = model.at(position);
    if (isTrial(cells)) ids.push(id);
  }
  return ids;
}

function readsElsewhere(formula: FormFormula | StoredFormula): boolean {
  return 'references' in formula && formula.references.some(({ kind }) => kind !== 'field');
}

/** What stands in the fields that start with the next number. */
function nextTextsOf(
  definition: FormDefinition,
  columns: ColumnsById,
  model: SheetModel,
): Record<string, string> {
  return Object.fromEntries(
    inputsOf(definition, columns).flatMap(({ column, block: { start } }) =>
      start?.kind === 'next'
        ? [[column.id, model.highestNumber(column.id).next(start.pattern)] as const]
        : [],
    ),
  );
}

/** What columns hold already, the most used first, where a field suggests it. */
function suggestionsOf(
  { blocks }: FormDefinition,
  { columnsById, workbook }: SheetFacts,
  model: SheetModel,
): Record<string, string[]> {
  const suggesting = blocks.flatMap((block) =>
    (block.is === 'field' || block.is === 'group') && block.details?.suggests
      ? columnIdsOf(block)
      : [],
  );
  const from = Math.max(0, model.count - LOOKED_THROUGH);
  return Object.fromEntries(
    suggesting.flatMap((id) => {
      const column = columnsById.get(id);
      if (!column) return [];
      const held = heldValues(model, column, workbook.locale, from).slice(0, MOST_SUGGESTED);
      return [[id, held.map(({ text }) => text)] as const];
    }),
  );
}
