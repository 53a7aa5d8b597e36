import {
  plannedColumns,
  bareFormula,
  bindFormula,
  formulasOf,
  mapColumn,
  mapFormulas,
  parseFormula,
  resultKind,
  SheetGrid,
  withoutFormula,
  writeFormula,
  type Calculation,
  type Column,
  type Directory,
  type FormDefinition,
  type StoredColumn,
  type StoredFormula,
} from '@varn/core';
import { Injectable } from '@nestjs/common';
import { Calculator } from '../calculation/calculator';
import { Refused } from '../http/refused';
import type { SheetFacts } from '../store/catalog';
import type { FormFormula, StoredDefinition, StoredDraft } from '../store/storedForm';

/** A draft as people write it. */
export interface WrittenDraft {
  readonly definition: FormDefinition;
  /** Columns that are to come with it, or to change. */
  readonly columns: readonly Column<string>[];
}

/** Ties the formulas of forms to what they refer to, and writes them as people read them. */
@Injectable()
export class FormFormulas {
  constructor(private readonly calculator: Calculator) {}

  /** A draft as it is stored. What can't be read stays as it was typed, and is told by the checks. */
  async bind(sheet: SheetFacts, { definition, columns }: WrittenDraft): Promise<StoredDraft> {
    const { home, directory } = await this.ground(sheet, columns.map(withoutFormula));
    const { locale } = sheet.workbook;
    const bind = (text: string): FormFormula => {
      const at = { sheet: home, inRecord: true };
      const bound = bindFormula(bareFormula(text), at, directory, locale);
      return bound.ok ? bound.formula : { unread: text };
    };
    const bindColumn = (column: Column<string>): Column<FormFormula> =>
      mapColumn<string, FormFormula>(column, (text) => {
        // One that is in the sheet as it is written keeps what it is tied to, deleted cells too.
        const held = sheet.columnsById.get(column.id)?.settings.formula;
        const written = held && writeFormula(held, home, directory, locale);
        return held && written === bareFormula(text) ? held : bind(text);
      });
    return { definition: mapFormulas(definition, bind), columns: columns.map(bindColumn) };
  }

  /**
   * The planned columns of a draft as they come into the sheet: computed ones with their formulas,
   * shown as what these give.
   */
  async coming(sheet: SheetFacts, { columns }: StoredDraft): Promise<StoredColumn[]> {
    if (columns.length === 0) return [];
    const { directory } = await this.ground(sheet, columns.map(withoutFormula));
    return columns.map((column) => {
      const { formula } = column.settings;
      if (!formula || 'unread' in formula) return withoutFormula(column);
      const shown = resultKind(parseFormula(formula), directory);
      const shownAs = shown ? { ...shown.settings, shownAs: shown.kind } : {};
      return { ...column, settings: { follows: true, ...shownAs, ...column.settings, formula } };
    });
  }

  /** A stored form as people read it. */
  async write(
    sheet: SheetFacts,
    { definition, columns }: Pick<StoredDraft, 'definition'> & Partial<StoredDraft>,
  ): Promise<WrittenDraft> {
    const planned = columns ?? [];
    const computes = planned.some(({ settings }) => settings.formula !== undefined);
    if (!computes && formulasOf(definition).length === 0) {
      return {
        definition: definition as StoredDefinition & FormDefinition<never>,
        columns: planned.map(withoutFormula),
      };
    }
    const { home, directory } = await this.ground(sheet, planned.map(withoutFormula));
    const write = (formula: FormFormula): string =>
      'unread' in formula
        ? formula.unread
        : writeFormula(formula, home, directory, sheet.workbook.locale);
    return {
      definition: mapFormulas(definition, write),
      columns: planned.map((column) => mapColumn(column, write)),
    };
  }

  /** The sheet as its formulas see it with the planned columns in it. */
  private async ground(
    sheet: SheetFacts,
    planned: readonly Column<never>[],
  ): Promise<{ home: SheetGrid; directory: Directory }> {
    const calculation: Calculation = await this.calculator.of(sheet.workbook.id);
    const grid = calculation.sheet(sheet.id);
    if (!grid) throw Refused.notFound('sheet');
    const columns = plannedColumns<StoredFormula>(sheet.columns, planned);
    const home = new SheetGrid({ ...grid.sheet, columns });
    const directory: Directory = {
      sheet: (id) => (id === sheet.id ? home : calculation.sheet(id)),
      sheetNamed: (name) => (name === sheet.name ? home : calculation.sheetNamed(name)),
      name: (id) => calculation.name(id),
      nameCalled: (name) => calculation.nameCalled(name),
      lostName: (id) => calculation.lostName(id),
    };
    return { home, directory };
  }
}
