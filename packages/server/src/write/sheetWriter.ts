import { MOST_COLUMNS } from '@varn/contract';
import type {
  AddColumn,
  AddName,
  AddSheet,
  ChangeSheet,
  ColumnChange,
  ConversionView,
} from '@varn/contract';
import {
  plannedColumns,
  bindFormula,
  isHeadingFree,
  isOfKind,
  kindOf,
  KINDS,
  printSheetName,
  resultKind,
  sayFormulaProblem,
  sayProblem,
  showValue,
  typedValue,
  type Calculation,
  type CellValue,
  type Column,
  type ColumnSettings,
  type Problem,
  type RangeName,
} from '@varn/core';
import { Injectable } from '@nestjs/common';
import { randomUUID } from 'node:crypto';
import { Calculator } from '../calculation/calculator';
import { Refused } from '../http/refused';
import { digestOf, newId } from '../ids';
import { SheetCache } from '../sheets/sheetCache';
import { Catalog, nowIn, type SheetFacts } from '../store/catalog';
import { FreeRowEntity, Sheet } from '../store/entities';
import { changed, reshaped, type Decision, type Writer, type WriteSite } from './decision';
import { StructureWriter } from './structureWriter';
import { WritePath } from './writePath';

/** Free rows and columns a new sheet of free cells begins with. */
const FIRST_ROWS = 40;
const FIRST_COLUMNS = 10;
const ROW_GAP = 1024;

/** Examples shown of what a conversion would do. */
const EXAMPLES = 5;

/** Changes the shape of sheets: sheets, columns, kinds, formulas, names. Ids stay. */
@Injectable()
export class SheetWriter {
  constructor(
    private readonly path: WritePath,
    private readonly structure: StructureWriter,
    private readonly catalog: Catalog,
    private readonly cache: SheetCache,
    private readonly calculator: Calculator,
  ) {}

  /** Adds a sheet: with a record block under headings, or of free cells. @returns its id */
  async addSheet(
    workbookId: string,
    order: AddSheet,
    writer: Writer,
    { hasRecords = order.headings.length > 0 } = {},
  ): Promise<string> {
    const { writeId, headings } = order;
    const name = order.name.trim();
    headings.forEach((heading, n) => refuseTaken(heading, headings.slice(0, n)));
    const digest = digestOf(writer.id, 'addSheet', workbookId, JSON.stringify(order));
    const id = newId();
    const made = await this.structure.write(
      { writeId, writer, kind: 'sheetAdded', digest },
      async (em) => {
        const others = this.catalog.allSheetsOf(workbookId);
        refuseNameTaken(name, others);
        await em.insert(Sheet, {
          id,
          workbook: workbookId,
          name,
          place: Math.max(-1, ...others.map(({ place }) => place)) + 1,
          columns: headings.map((heading): Column => ({
            id: newId(),
            heading: heading.trim(),
            kind: 'text',
            settings: {},
          })),
          revision: 1,
          arriving: false,
          hasRecords,
          looseColumns: hasRecords ? [] : Array.from({ length: FIRST_COLUMNS }, newId),
          lostColumns: [],
          look: {},
        });
        for (let n = 1; !hasRecords && n <= FIRST_ROWS; n += 1) {
          const row = { id: newId(), sheet: id, orderKey: n * ROW_GAP, revision: 1, cells: {} };
          await em.insert(FreeRowEntity, row);
        }
        return { workbookId, sheetId: id, answer: id };
      },
    );
    this.calculator.drop(workbookId);
    return made;
  }

  /** Renames, moves, or changes the look of a sheet. */
  changeSheet(sheetId: string, change: ChangeSheet, writer: Writer): Promise<void> {
    const { revision, name, place, look, looseColumns } = change;
    return this.reshape(sheetId, revision, writer, (sheet) => {
      const others = this.catalog.sheetsOf(sheet.workbook.id).filter(({ id }) => id !== sheetId);
      if (name !== undefined) refuseNameTaken(name.trim(), others);
      const decisions: Decision[] = [];
      if (place !== undefined) {
        // The others close up around it.
        const order = others.toSpliced(place, 0, sheet);
        order.forEach((each, n) => {
          if (each.id !== sheetId && each.place !== n) decisions.push(reshaped(each, { place: n }));
        });
        decisions.push(reshaped(sheet, { place: Math.min(place, others.length) }));
      }
      if (name !== undefined || look || looseColumns) {
        decisions.push(
          reshaped(
            { ...sheet, place: place ?? sheet.place },
            {
              ...(name !== undefined && { name: name.trim() }),
              ...(look && { look: { ...look } }),
              ...(looseColumns && { looseColumns: looseFrom(sheet, looseColumns) }),
            },
          ),
        );
      }
      return decisions;
    });
  }

  removeSheet(sheetId: string, revision: number, writer: Writer): Promise<void> {
    return this.reshape(sheetId, revision, writer, (sheet) => {
      if (this.catalog.sheetsOf(sheet.workbook.id).length === 1) {
        throw Refused.conflict('lastSheet', 'A workbook keeps at least one sheet.');
      }
      return [reshaped(sheet, { removed: true })];
    });
  }

  async addColumn(sheetId: string, order: AddColumn, writer: Writer): Promise<void> {
    const { heading, kind, settings = {}, place, formula, follows = true, revision } = order;
    const calculation = formula === undefined ? null : await this.formulasOf(sheetId);
    const column: Column = { id: newId(), heading: heading.trim(), kind: KINDS[kind].id, settings };
    await this.reshape(sheetId, revision, writer, (sheet, site) => {
      refuseTaken(heading, headingsOf(sheet.columns));
      if (!sheet.hasRecords) {
        throw Refused.badRequest('noRecords', 'This sheet has no records, so no headings.');
      }
      const made =
        formula === undefined || !calculation
          ? column
          : computed(column, sheet, calculation, formula, follows);
      const columns = sheet.columns.toSpliced(place ?? sheet.columns.length, 0, made);
      return [reshaped(sheet, { columns }), ...filledAtOnce(made, site, calculation)];
    });
  }

  /**
   * Brings the columns of a form into its sheet: new ones at the end, and of those there are what
   * the form says otherwise. Their ids are made with the form, so that a repeat adds none twice.
   */
  async bringColumns(
    sheetId: string,
    planned: readonly Column[],
    writeId: string,
    writer: Writer,
  ): Promise<void> {
    const computes = planned.some(({ settings }) => settings.formula);
    const { workbook } = this.sheetOf(sheetId);
    if (computes) await this.calculator.of(workbook.id);
    const order = {
      sheetId,
      writeId,
      writer,
      door: 'grid',
      asked: ['bringColumns', sheetId, writeId],
    };
    await this.path.write(order, (site) => {
      const { sheet } = site;
      const columns = plannedColumns(sheet.columns, planned);
      if (columns.length > MOST_COLUMNS) {
        throw Refused.conflict(
          'tooManyColumns',
          `The sheet would have ${columns.length} columns; ${MOST_COLUMNS} is the most.`,
        );
      }
      columns.forEach(({ heading }, n) => refuseTaken(heading, headingsOf(columns.slice(0, n))));
      const isSame = JSON.stringify(columns) === JSON.stringify(sheet.columns);
      if (isSame) return { decisions: [] };
      const added = planned.filter(({ id }) => !sheet.columnsById.has(id));
      const calculation = this.calculator.loaded(workbook.id);
      const filled = added.flatMap((column) => filledAtOnce(column, site, calculation));
      return { decisions: [reshaped(sheet, { columns }), ...filled] };
    });
  }

  /** Renames, moves or converts a column, or gives it another format or formula. */
  async changeColumn(
    sheetId: string,
    columnId: string,
    change: ColumnChange,
    writer: Writer,
  ): Promise<void> {
    const calculation = change.formula === undefined ? null : await this.formulasOf(sheetId);
    await this.reshape(sheetId, change.revision, writer, (sheet, site) => {
      const at = sheet.columns.findIndex(({ id }) => id === columnId);
      const before = sheet.columns[at];
      if (!before) throw Refused.notFound('column in this sheet');
      const others = sheet.columns.toSpliced(at, 1);
      const { heading, place } = change;
      if (heading !== undefined) refuseTaken(heading, headingsOf(others));
      const after = {
        ...changedColumn(before, sheet, change, calculation),
        ...(heading !== undefined && { heading: heading.trim() }),
      };
      const columns = others.toSpliced(place ?? at, 0, after);
      const converted = this.convertedRecords(before, after, site);
      return [reshaped(sheet, { columns }), ...converted];
    });
  }

  /** What another kind or formula would do to what is stored. */
  async conversion(
    sheetId: string,
    columnId: string,
    change: ColumnChange,
  ): Promise<ConversionView> {
    const sheet = this.sheetOf(sheetId);
    const model = await this.cache.model(sheetId);
    const calculation =
      change.formula === undefined
        ? await this.calculator.settled(sheet.workbook.id)
        : await this.formulasOf(sheetId);
    const before = sheet.columnsById.get(columnId);
    if (!before) throw Refused.notFound('column in this sheet');
    const after = changedColumn(before, sheet, change, calculation);
    const { locale } = sheet.workbook;
    const view: ConversionView = { same: 0, converted: 0, kept: 0, examples: [], problems: [] };
    const trial = after.settings.formula && calculation ? calculation.trial(sheetId, after) : null;
    for (let position = 0; position < model.count; position += 1) {
      const value = model.cellAt(position, columnId);
      const row = sheet.headingRow + 1 + position;
      const from = showValue(value, before, locale);
      if (trial) {
        const becomes = trial(model.slotAt(position));
        if (JSON.stringify(becomes) === JSON.stringify(value)) view.same += 1;
        else if (after.settings.follows !== true && value !== null) view.kept += 1;
        else {
          view.converted += 1;
          addExample(view.examples, row, from, showValue(becomes, after, locale));
        }
        continue;
      }
      const made = convert(value, before, after, sheet);
      if (made.problem) {
        view.kept += 1;
        addExample(view.problems, row, from, sayProblem(made.problem));
      } else if (made.value === value) view.same += 1;
      else {
        view.converted += 1;
        addExample(view.examples, row, from, showValue(made.value, after, locale));
      }
    }
    return view;
  }

  removeColumn(sheetId: string, columnId: string, revision: number, writer: Writer): Promise<void> {
    return this.reshape(sheetId, revision, writer, (sheet) => {
      const at = sheet.columns.findIndex(({ id }) => id === columnId);
      const column = sheet.columns[at];
      if (!column) throw Refused.notFound('column in this sheet');
      if (sheet.columns.length === 1) {
        throw Refused.conflict('lastColumn', 'A record block keeps at least one column.');
      }
      const after = sheet.columns[at - 1]?.id ?? null;
      return [
        reshaped(sheet, {
          columns: sheet.columns.toSpliced(at, 1),
          lostColumns: [...sheet.lostColumns, { column, after }],
        }),
      ];
    });
  }

  putColumnBack(
    sheetId: string,
    columnId: string,
    revision: number,
    writer: Writer,
  ): Promise<void> {
    return this.reshape(sheetId, revision, writer, (sheet) => {
      const lost = sheet.lostColumns.find(({ column }) => column.id === columnId);
      if (!lost) throw Refused.notFound('deleted column of this sheet');
      refuseTaken(lost.column.heading, headingsOf(sheet.columns));
      const place = sheet.columns.findIndex(({ id }) => id === lost.after) + 1;
      return [
        reshaped(sheet, {
          columns: sheet.columns.toSpliced(place, 0, lost.column),
          lostColumns: sheet.lostColumns.filter((each) => each !== lost),
        }),
      ];
    });
  }

  /** Gives a range of a sheet a name. */
  async addName(sheetId: string, { writeId, name, range }: AddName, writer: Writer): Promise<void> {
    const calculation = await this.formulasOf(sheetId);
    const called = name.trim();
    if (!NAME.test(called) || /^(?:true|false|[a-z]{1,4}\d*)$/i.test(called)) {
      throw Refused.badRequest(
        'notAName',
        `name: ‘${called.slice(0, 60)}’ could be mistaken. Begin with a letter, use letters, digits and _ only, and nothing like a cell.`,
      );
    }
    const asked = ['addName', called, range];
    await this.path.write({ sheetId, writeId, writer, door: 'grid', asked }, ({ sheet }) => {
      const { names } = sheet.workbook;
      if (names.some((each) => each.name.toLowerCase() === called.toLowerCase())) {
        throw Refused.conflict(
          'nameTaken',
          `Another range is called ${called}. Choose another name.`,
        );
      }
      const home = calculation.sheet(sheetId);
      if (!home) throw Refused.notFound('sheet');
      const written = range.includes('!') ? range : `${printSheetName(sheet.name)}!${range}`;
      const bound = bindFormula(
        written,
        { sheet: home, inRecord: false },
        calculation,
        sheet.workbook.locale,
      );
      if (!bound.ok) {
        throw Refused.badRequest('notARange', `range: ${sayFormulaProblem(bound.problem)}`);
      }
      const { expression } = bound;
      if (expression.type !== 'reference' || expression.reference.kind === 'name') {
        throw Refused.badRequest('notARange', 'range: Write one range, such as B4:B9.');
      }
      const added: RangeName = { id: newId(), name: called, reference: expression.reference };
      return { decisions: [{ part: 'names', before: names, after: [...names, added] }] };
    });
  }

  async removeName(sheetId: string, nameId: string, writer: Writer): Promise<void> {
    const order = { sheetId, writeId: randomUUID(), writer, door: 'grid', asked: ['removeName'] };
    await this.path.write(order, ({ sheet }) => {
      const { names } = sheet.workbook;
      if (!names.some(({ id }) => id === nameId)) throw Refused.notFound('name');
      const after = names.filter(({ id }) => id !== nameId);
      return { decisions: [{ part: 'names', before: names, after }] };
    });
  }

  private async reshape(
    sheetId: string,
    revision: number,
    writer: Writer,
    decide: (sheet: SheetFacts, site: WriteSite) => Decision[],
  ): Promise<void> {
    // The sheet's revision guards it: a repeat is refused as out of date.
    const order = { sheetId, writeId: randomUUID(), writer, door: 'grid', asked: [] };
    await this.path.write(order, (site) => {
      if (site.sheet.revision !== revision) {
        throw Refused.conflict(
          'changedSince',
          'The sheet’s rows or columns were changed since. Look at the sheet again.',
        );
      }
      return { decisions: decide(site.sheet, site) };
    });
  }

  /** Values of a column that are others under its new kind or formula, as they are now stored. */
  private convertedRecords(before: Column, after: Column, site: WriteSite): Decision[] {
    const { sheet, model, calculation } = site;
    const formulas = before.settings.formula !== undefined || after.settings.formula !== undefined;
    if (formulas) {
      // Values that followed are kept as they stand when they follow no more.
      if (before.settings.follows !== true || after.settings.follows === true) {
        return filledAtOnce(after, site, calculation);
      }
    } else if (before.kind === after.kind && sameReading(before.settings, after.settings))
      return [];
    const decisions: Decision[] = [];
    for (let position = 0; position < model.count; position += 1) {
      const value = model.cellAt(position, before.id);
      const made = formulas ? value : convert(value, before, after, sheet).value;
      if (value === null || (!formulas && made === value)) continue;
      const record = model.at(position);
      decisions.push(changed(record, { ...record.cells, [before.id]: made }));
    }
    return decisions;
  }

  private async formulasOf(sheetId: string): Promise<Calculation> {
    return this.calculator.of(this.sheetOf(sheetId).workbook.id);
  }

  private sheetOf(sheetId: string): SheetFacts {
    const sheet = this.catalog.sheet(sheetId);
    if (!sheet) throw Refused.notFound('sheet');
    return sheet;
  }
}

const NAME = /^[\p{L}_][\p{L}\p{N}_]*$/u;

const headingsOf = (columns: readonly Column[]): string[] => columns.map(({ heading }) => heading);

/** Whether two settings read typed text alike, so that nothing stored changes. */
const sameReading = (a: ColumnSettings, b: ColumnSettings): boolean =>
  a.country === b.country && JSON.stringify(a.choices) === JSON.stringify(b.choices);

function changedColumn(
  before: Column,
  sheet: SheetFacts,
  { kind, settings, formula, follows }: ColumnChange,
  calculation: Calculation | null,
): Column {
  const { formula: stored, follows: followed, ...looks } = before.settings;
  const look = settings ?? looks;
  const as = kind ?? before.kind;
  const column: Column = { ...before, kind: as, settings: look };
  if (as !== 'computed') return column;
  if (formula !== undefined && calculation) {
    return computed(column, sheet, calculation, formula, follows ?? followed ?? true);
  }
  const keeps = follows ?? followed;
  return {
    ...column,
    settings: {
      ...look,
      ...(stored && { formula: stored }),
      ...(keeps !== undefined && { follows: keeps }),
    },
  };
}

/** A column with a formula, tied to what it reads. @throws Refused 400 where it is none */
function computed(
  column: Column,
  sheet: SheetFacts,
  calculation: Calculation,
  text: string,
  follows: boolean,
): Column {
  const home = calculation.sheet(sheet.id);
  if (!home) throw Refused.notFound('sheet');
  const typed = text.trim().replace(/^=/, '');
  const bound = bindFormula(
    typed,
    { sheet: home, inRecord: true },
    calculation,
    sheet.workbook.locale,
  );
  if (!bound.ok) {
    throw Refused.badRequest('notAFormula', `formula: ${sayFormulaProblem(bound.problem)}`);
  }
  const shown = resultKind(bound.expression, calculation);
  return {
    ...column,
    kind: 'computed',
    settings: {
      ...(shown && { ...shown.settings, shownAs: shown.kind }),
      ...column.settings,
      formula: bound.formula,
      follows,
    },
  };
}

/** A column computed as of writing that is new: its records count as written now. */
function filledAtOnce(
  column: Column,
  { sheet, model }: WriteSite,
  calculation: Calculation | null,
): Decision[] {
  if (!column.settings.formula || column.settings.follows === true || !calculation) return [];
  const value = calculation.trial(sheet.id, column);
  const decisions: Decision[] = [];
  for (let position = 0; position < model.count; position += 1) {
    const record = model.at(position);
    if ((record.cells[column.id] ?? null) !== null) continue;
    const made = value(model.slotAt(position));
    if (made !== null) decisions.push(changed(record, { ...record.cells, [column.id]: made }));
  }
  return decisions;
}

/** A stored value under another kind of its column; what can't be is kept as text. */
function convert(
  value: CellValue,
  before: Column,
  after: Column,
  sheet: SheetFacts,
): { value: CellValue; problem: Problem | null } {
  const kind = kindOf(after);
  if (value === null || kind.filledBy !== 'people' || kind.typing === 'none') {
    return { value, problem: null };
  }
  if (typeof value === 'number' && isOfKind(value, after) && sameMeasure(before, after)) {
    return { value, problem: null };
  }
  const text = typedValue(value, before, sheet.workbook.locale);
  const context = { locale: sheet.workbook.locale, now: nowIn(sheet.workbook) };
  const reading = kind.read(text, after, context);
  if (reading.ok) return { value: reading.value, problem: null };
  return { value: text, problem: reading.problem };
}

/** Whether numbers of one kind are numbers of the other as they are: 3 and 3, not 3 and 2 January. */
function sameMeasure(before: Column, after: Column): boolean {
  return kindOf(before).iso === kindOf(after).iso && after.kind !== 'wholeNumber';
}

function addExample(
  list: { row: number; from: string; to: string }[],
  row: number,
  from: string,
  to: string,
): void {
  if (list.length < EXAMPLES) list.push({ row, from: from.slice(0, 80), to: to.slice(0, 200) });
}

function refuseTaken(heading: string, others: readonly string[]): void {
  if (heading.trim() === '') throw Refused.badRequest('unnamed', 'Every column needs a heading.');
  if (isHeadingFree(heading, others)) return;
  throw Refused.conflict(
    'headingTaken',
    `Another column is headed ‘${heading.trim()}’. Give each its own.`,
  );
}

function refuseNameTaken(name: string, others: readonly { name: string }[]): void {
  if (!others.some((other) => other.name === name)) return;
  throw Refused.conflict('nameTaken', `Another sheet is called ‘${name}’. Choose another name.`);
}

/** Columns without a heading in another order: some go, '' makes one. */
function looseFrom({ looseColumns, hasRecords }: SheetFacts, asked: readonly string[]): string[] {
  if (hasRecords) {
    throw Refused.badRequest('hasRecords', 'The columns of this sheet have headings.');
  }
  const known = asked.filter((id) => id !== '');
  if (known.some((id) => !looseColumns.includes(id)) || new Set(known).size < known.length) {
    throw Refused.badRequest(
      'noSuchColumn',
      'looseColumns: must be columns of the sheet, once each.',
    );
  }
  return asked.map((id) => (id === '' ? newId() : id));
}
