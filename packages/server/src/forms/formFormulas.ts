import {
  plannedColumns,
  bareFormula,
  bindFormula,
  formulasOf,
  mapFormulas,
  parseFormula,
  resultKind,
  SheetGrid,
  writeFormula,
  type Calculation,
  type Column,
  type Directory,
  type FormDefinition,
} from '@varn/core';
import { Injectable } from '@nestjs/common';
import { Calculator } from '../calculation/calculator';
import { Refused } from '../http/refused';
import type { SheetFacts } from '../store/catalog';
import type { FormFormula, StoredDefinition, StoredDraft } from '../store/storedForm';

/** A draft as people write it. */
export interface WrittenDraft {
  readonly definition: FormDefinition;
  readonly columns: readonly Column[];
  readonly formulas: Readonly<Record<string, string>>;
}

/** Ties the formulas of forms to what they refer to, and writes them as people read them. */
@Injectable()
export class FormFormulas {
  constructor(private readonly calculator: Calculator) {}

  /** A draft as it is stored. What can't be read stays as it was typed, and is told by the checks. */
  async bind(
    sheet: SheetFacts,
    { definition, columns, formulas }: WrittenDraft,
  ): Promise<StoredDraft> {
    const { home, directory } = await this.ground(sheet, columns);
    const bind = (text: string): FormFormula => {
      const at = { sheet: home, inRecord: true };
      const bound = bindFormula(bareFormula(text), at, directory, sheet.workbook.locale);
      return bound.ok ? bound.formula : { unread: text };
    };
    return {
      definition: mapFormulas(definition, bind),
      columns,
      formulas: mapValues(formulas, bind),
    };
  }

  /**
   * The planned columns of a draft as they come into the sheet: computed ones with their formulas,
   * shown as what these give.
   */
  async coming(sheet: SheetFacts, { columns, formulas }: StoredDraft): Promise<Column[]> {
    if (columns.length === 0) return [];
    const { directory } = await this.ground(sheet, columns);
    return columns.map((column) => {
      const formula = formulas[column.id];
      if (!formula || 'unread' in formula) return column;
      const shown = resultKind(parseFormula(formula), directory);
      const shownAs = shown ? { ...shown.settings, shownAs: shown.kind } : {};
      return { ...column, settings: { follows: true, ...shownAs, ...column.settings, formula } };
    });
  }

  /** A stored form as people read it. */
  async write(
    sheet: SheetFacts,
    definition: StoredDefinition,
    planned: Omit<StoredDraft, 'definition'> = { columns: [], formulas: {} },
  ): Promise<WrittenDraft> {
    const { columns, formulas } = planned;
    if (formulasOf(definition).length === 0 && Object.keys(formulas).length === 0) {
      return {
        definition: definition as StoredDefinition & FormDefinition<never>,
        columns,
        formulas: {},
      };
    }
    const { home, directory } = await this.ground(sheet, columns);
    const write = (formula: FormFormula): string =>
      'unread' in formula
        ? formula.unread
        : writeFormula(formula, home, directory, sheet.workbook.locale);
    return {
      definition: mapFormulas(definition, write),
      columns,
      formulas: mapValues(formulas, write),
    };
  }

  /** The sheet as its formulas see it with the planned columns in it. */
  private async ground(
    sheet: SheetFacts,
    planned: readonly Column[],
  ): Promise<{ home: SheetGrid; directory: Directory }> {
    const calculation: Calculation = await this.calculator.of(sheet.workbook.id);
    const grid = calculation.sheet(sheet.id);
    if (!grid) throw Refused.notFound('sheet');
    const columns = plannedColumns(sheet.columns, planned);
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

function mapValues<A, B>(
  record: Readonly<Record<string, A>>,
  change: (value: A) => B,
): Record<string, B> {
  return Object.fromEntries(Object.entries(record).map(([name, value]) => [name, change(value)]));
}
