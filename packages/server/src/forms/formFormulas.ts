import {
  plannedColumns,
  bareFormula,
  bindFormula,
  bindList,
  formulasOf,
  type ListSettings,
  listWriter,
  mapList,
  mapColumn,
  mapFormulas,
  parseFormula,
  sayErrorValue,
  sayFormulaProblem,
  resultKind,
  SheetGrid,
  sourceKind,
  withoutFormula,
  writeFormula,
  type Calculation,
  type Column,
  isEntry,
  type Directory,
  type FormDefinition,
  type StoredColumn,
  type StoredFormula,
} from '@varn/core';
import { Injectable } from '@nestjs/common';
import { Calculator } from '../calculation/calculator';
import { Refused } from '../http/refused';
import { Lists } from '../lists/lists';
import type { SheetFacts } from '../store/catalog';
import { refuseUnreadRules } from '../write/columns';
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
  constructor(
    private readonly calculator: Calculator,
    private readonly lists: Lists,
  ) {}

  /** A draft as it is stored. What can't be read stays as it was typed, and is told by the checks. */
  async bind(sheet: SheetFacts, { definition, columns }: WrittenDraft): Promise<StoredDraft> {
    for (const { settings } of columns) refuseUnreadRules(settings.rules);
    for (const block of definition.blocks) if (isEntry(block)) refuseUnreadRules(block.rules);
    const { home, directory } = await this.ground(sheet, columns.map(withoutFormula));
    const { locale } = sheet.workbook;
    const bind = (text: string): FormFormula => {
      const at = { sheet: home, inRecord: true };
      const bound = bindFormula(bareFormula(text), at, directory, locale);
      return bound.ok ? bound.formula : { unread: text };
    };
    const bindColumn = (column: Column<string>): Column<FormFormula> =>
      mapColumn<string, FormFormula>(column, (text, source) => {
        if (column.settings.list) return bindPart(column, text, source);
        // One that is in the sheet as it is written keeps what it is tied to, deleted cells too.
        const held = sheet.columnsById.get(column.id)?.settings.formula;
        const written = held && writeFormula(held, home, directory, locale);
        return held && written === bareFormula(text) ? held : bind(text);
      });
    /** A part of a list, all of whose parts are read at once: one that can't be is told alone. */
    const bindPart = ({ id }: Column<string>, text: string, source?: string): FormFormula => {
      const held = sheet.columnsById.get(id)?.settings.list;
      const written = held && mapList(held, listWriter(home, directory, locale));
      const kept = held && written && partOf(held, written, text, source);
      if (kept) return kept;
      const part = source === undefined ? { source: text } : { source, label: text };
      const bound = bindList(part, home, directory, locale);
      if (!bound.ok) return { unread: text };
      return bound.list.label ?? bound.list.source;
    };
    return { definition: mapFormulas(definition, bind), columns: columns.map(bindColumn) };
  }

  /**
   * The planned columns of a draft as they come into the sheet: computed ones with their formulas,
   * shown as what these give.
   */
  async coming(sheet: SheetFacts, { columns }: StoredDraft): Promise<StoredColumn[]> {
    if (columns.length === 0) return [];
    const { directory } = await this.ground(sheet, columns.map(withoutFormula));
    return columns.map((column): StoredColumn => {
      const { formula, list, ...settings } = column.settings;
      if (list) return comingWithList(column, list, directory);
      if (!formula || 'unread' in formula) return withoutFormula(column);
      const shown = resultKind(parseFormula(formula), directory);
      const shownAs = shown ? { ...shown.settings, shownAs: shown.kind } : {};
      return { ...column, settings: { follows: true, ...shownAs, ...settings, formula } };
    });
  }

  /** A stored form as people read it. */
  async write(
    sheet: SheetFacts,
    { definition, columns }: Pick<StoredDraft, 'definition'> & Partial<StoredDraft>,
  ): Promise<WrittenDraft> {
    const planned = columns ?? [];
    const computes = planned.some(({ settings }) => settings.formula ?? settings.list);
    if (!computes && formulasOf(definition).length === 0) {
      return {
        definition: definition as StoredDefinition & FormDefinition<never>,
        columns: planned.map(withoutFormula),
      };
    }
    const { home, directory } = await this.ground(sheet, planned.map(withoutFormula));
    const writePart = listWriter(home, directory, sheet.workbook.locale);
    const write = (formula: FormFormula, source?: FormFormula): string => {
      if ('unread' in formula) return formula.unread;
      return writePart(formula, source && 'unread' in source ? undefined : source);
    };
    return {
      definition: mapFormulas(definition, (formula) => write(formula)),
      columns: planned.map((column) => mapColumn(column, write)),
    };
  }

  /** Why lists of planned columns can't be read, by column id: what is not there, or is an error. */
  async unreadLists(
    sheet: SheetFacts,
    { columns }: Pick<WrittenDraft, 'columns'>,
  ): Promise<ReadonlyMap<string, string>> {
    const { home, directory } = await this.ground(sheet, columns.map(withoutFormula));
    const { locale } = sheet.workbook;
    const unread = new Map<string, string>();
    for (const { id, settings } of columns) {
      if (!settings.list) continue;
      const bound = bindList(settings.list, home, directory, locale);
      if (!bound.ok) unread.set(id, sayFormulaProblem(bound.problem));
      else {
        const { problem } = await this.lists.tried(bound.list, sheet);
        if (problem) unread.set(id, sayErrorValue(problem));
      }
    }
    return unread;
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

/** The part of a list that is written so, as it is stored. */
function partOf(
  held: ListSettings<StoredFormula>,
  written: ListSettings,
  text: string,
  source: string | undefined,
): StoredFormula | undefined {
  if (source === undefined) return written.source === text ? held.source : undefined;
  if (written.source !== source) return undefined;
  let found: StoredFormula | undefined;
  const texts: string[] = [];
  mapList(written, (each) => texts.push(each));
  let at = 0;
  mapList(held, (each) => {
    if (texts[at] === text && each !== held.source) found ??= each;
    at += 1;
  });
  return found;
}

/** A planned column with a list as it comes into the sheet; a list that can't be read stays out. */
function comingWithList(
  column: Column<FormFormula>,
  list: ListSettings<FormFormula>,
  directory: Directory,
): StoredColumn {
  const unread: string[] = [];
  const read = mapList(list, (formula): StoredFormula => {
    if (!('unread' in formula)) return formula;
    unread.push(formula.unread);
    return { text: '', references: [] };
  });
  const plain = withoutFormula(column);
  if (unread.length > 0) return plain;
  const shownAs = sourceKind(read.source, directory);
  return { ...plain, settings: { ...plain.settings, list: read, ...(shownAs && { shownAs }) } };
}
