import {
  MOST_COLUMNS,
  type AddColumn,
  type ColumnChange,
  type ConversionView,
} from '@varn/contract';
import {
  convertCell,
  KINDS,
  runningNumberIn,
  plannedColumns,
  sayProblem,
  showValue,
  type Calculation,
  type ColumnSettings,
  type StoredColumn,
  type StoredFormula,
} from '@varn/core';
import { Injectable } from '@nestjs/common';
import type { Writer } from '../access/access';
import { Calculator } from '../calculation/calculator';
import { Refused } from '../http/refused';
import { newId } from '../ids';
import { Lists } from '../lists/lists';
import { SheetCache } from '../store/sheetCache';
import { Catalog, type SheetFacts } from '../store/catalog';
import {
  addExample,
  boundSettings,
  changedColumn,
  changedRecords,
  computed,
  convertedCells,
  filledAtOnce,
  headingsOf,
  readingIn,
  refuseTaken,
  rereadCells,
} from './columns';
import { reshaped, type WriteSite } from './decision';
import { RunningNumbers } from './runningNumbers';
import type { Asker } from '../turns/asker';
import { Pace } from '../turns/turns';
import { WritePath } from './writePath';

/** How long a change may be tried on all records, in milliseconds. */
const MOST_TRIAL_MS = 10_000;

/** Changes the columns of sheets: their order, headings, kinds and formulas. Ids stay. */
@Injectable()
export class ColumnWriter {
  constructor(
    private readonly path: WritePath,
    private readonly catalog: Catalog,
    private readonly cache: SheetCache,
    private readonly calculator: Calculator,
    private readonly numbers: RunningNumbers,
    private readonly lists: Lists,
  ) {}

  async addColumn(sheetId: string, order: AddColumn, writer: Writer): Promise<void> {
    const { heading, kind, settings = {}, place, formula, follows = true, revision } = order;
    const reads = formula !== undefined || settings.list !== undefined;
    const calculation = reads ? await this.formulasOf(sheetId) : null;
    const facts = this.sheetOf(sheetId);
    await this.refuseSlow(boundSettings(settings, facts, calculation), facts);
    const id = newId();
    await this.path.reshape(sheetId, revision, writer, (sheet, site) => {
      const column: StoredColumn = {
        id,
        heading: heading.trim(),
        kind: KINDS[kind].id,
        settings: boundSettings(settings, sheet, calculation),
      };
      refuseTaken(heading, headingsOf(sheet.columns));
      if (!sheet.hasRecords) {
        throw Refused.badRequest('noRecords', 'This sheet has no records, so no headings.');
      }
      const made =
        formula === undefined || !calculation
          ? column
          : computed(column, sheet, calculation, formula, follows);
      const columns = sheet.columns.toSpliced(place ?? sheet.columns.length, 0, made);
      const filled = filledAtOnce(made, site, calculation);
      return [reshaped(sheet, { columns }), ...changedRecords(filled, columns, site)];
    });
  }

  /**
   * Brings the columns of a form into its sheet: new ones beside their neighbours on the form, and
   * of those there are what the form says otherwise. Their ids are made with the form, so that a
   * repeat adds none twice.
   *
   * @param order ids of columns as their fields follow each other on the form
   */
  async bringColumns(
    sheetId: string,
    { planned, order }: { planned: readonly StoredColumn[]; order: readonly string[] },
    writeId: string,
    writer: Writer,
  ): Promise<void> {
    const computes = planned.some(({ settings }) => settings.formula ?? settings.list);
    const { workbook } = this.sheetOf(sheetId);
    if (computes) await this.calculator.of(workbook.id);
    const facts = this.sheetOf(sheetId);
    for (const { settings } of planned) await this.refuseSlow(settings, facts);
    const write = {
      sheetId,
      writeId,
      writer,
      door: 'columns' as const,
      asked: ['bringColumns', sheetId, writeId],
    };
    await this.path.write(write, (site) => {
      const { sheet } = site;
      const columns = plannedColumns(sheet.columns, planned, order);
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
      const changed = new Map(columns.map((column) => [column.id, column]));
      const reread = sheet.columns.flatMap((before) => {
        const after = changed.get(before.id);
        return after && !before.settings.formula ? rereadCells(before, after, site) : [];
      });
      const records = changedRecords([...filled, ...reread], columns, site);
      return { decisions: [reshaped(sheet, { columns }), ...records] };
    });
  }

  /** Renames, moves or converts a column, or gives it another format or formula. */
  async changeColumn(
    sheetId: string,
    columnId: string,
    change: ColumnChange,
    writer: Writer,
  ): Promise<void> {
    const calculation = readsElsewhere(change) ? await this.formulasOf(sheetId) : null;
    const facts = this.sheetOf(sheetId);
    const held = facts.columnsById.get(columnId);
    if (held)
      await this.refuseSlow(changedColumn(held, facts, change, calculation).settings, facts);
    await this.path.reshape(sheetId, change.revision, writer, (sheet, site) => {
      const at = sheet.columns.findIndex(({ id }) => id === columnId);
      const before = sheet.columns[at];
      if (!before) throw Refused.notFound('column in this sheet');
      const others = sheet.columns.toSpliced(at, 1);
      const { heading, place } = change;
      if (heading !== undefined) refuseTaken(heading, headingsOf(others));
      const after = numberedLike(site, {
        ...changedColumn(before, sheet, change, calculation),
        ...(heading !== undefined && { heading: heading.trim() }),
      });
      const columns = others.toSpliced(place ?? at, 0, after);
      const converted = convertedCells(before, after, site);
      this.goOnFrom(before, after, site);
      return [reshaped(sheet, { columns }), ...changedRecords(converted, columns, site)];
    });
  }

  /** A column that becomes a running number goes on above the highest it holds. */
  private goOnFrom(
    before: StoredColumn,
    after: StoredColumn,
    { database, model }: WriteSite,
  ): void {
    if (after.kind !== 'runningNumber' || before.kind === 'runningNumber') return;
    const next = runningNumberIn(model.highestNumber(after.id).next());
    if (next) this.numbers.goOnFrom(database, after.id, next.number - 1);
  }

  /** What another kind or formula would do to what is stored. */
  async conversion(
    sheetId: string,
    columnId: string,
    change: ColumnChange,
    asker: Asker,
  ): Promise<ConversionView> {
    const sheet = this.sheetOf(sheetId);
    const model = await this.cache.model(sheetId);
    const calculation = !readsElsewhere(change)
      ? (await this.calculator.settled(sheet.workbook.id)).calculation
      : await this.formulasOf(sheetId);
    const before = sheet.columnsById.get(columnId);
    if (!before) throw Refused.notFound('column in this sheet');
    const after = changedColumn(before, sheet, change, calculation);
    const context = readingIn(sheet);
    const { locale } = context;
    const view: ConversionView = { same: 0, converted: 0, kept: 0, examples: [], problems: [] };
    const trial = after.settings.formula && calculation ? calculation.trial(sheetId, after) : null;
    const pace = new Pace(asker);
    for (let position = 0; position < model.count; position += 1) {
      await pace.keep();
      if (pace.spent > MOST_TRIAL_MS) throw takesTooLong();
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
      const made = convertCell(value, before, after, context);
      const [doubt] = made.doubts;
      if (doubt) {
        view.kept += 1;
        addExample(view.problems, row, from, sayProblem(doubt.problem));
      } else if (made.value === value) view.same += 1;
      else {
        view.converted += 1;
        addExample(view.examples, row, from, showValue(made.value, after, locale));
      }
    }
    return view;
  }

  removeColumn(sheetId: string, columnId: string, revision: number, writer: Writer): Promise<void> {
    return this.path.reshape(sheetId, revision, writer, (sheet) => {
      const at = sheet.columns.findIndex(({ id }) => id === columnId);
      const column = sheet.columns[at];
      if (!column) throw Refused.notFound('column in this sheet');
      if (sheet.columns.length === 1) {
        throw Refused.conflict('lastColumn', 'A sheet keeps at least one column.');
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
    return this.path.reshape(sheetId, revision, writer, (sheet) => {
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

  /** @throws Refused 422 where a list that is new would take too long */
  private async refuseSlow(
    { list }: ColumnSettings<StoredFormula>,
    home: SheetFacts,
  ): Promise<void> {
    const isHeld = home.columns.some(({ settings }) => settings.list === list);
    if (list && !isHeld) await this.lists.refuseSlow(list, home);
  }

  private formulasOf(sheetId: string): Promise<Calculation> {
    return this.calculator.of(this.sheetOf(sheetId).workbook.id);
  }

  private sheetOf(sheetId: string): SheetFacts {
    const sheet = this.catalog.sheet(sheetId);
    if (!sheet) throw Refused.notFound('sheet');
    return sheet;
  }
}

/** Whether a change names cells, so that the workbook's formulas are to be at hand. */
const readsElsewhere = ({ formula, settings }: ColumnChange): boolean =>
  formula !== undefined || settings?.list !== undefined;

/** A running number without a pattern is written as the highest that the column holds. */
function numberedLike({ model }: WriteSite, column: StoredColumn): StoredColumn {
  if (column.kind !== 'runningNumber' || column.settings.pattern !== undefined) return column;
  const pattern = runningNumberIn(model.highestNumber(column.id).next())?.pattern ?? '0';
  return pattern === '0' ? column : { ...column, settings: { ...column.settings, pattern } };
}

function takesTooLong(): Refused {
  return Refused.unreadable(
    'This formula takes too long to be tried on all records. Let it read fewer cells.',
  );
}
