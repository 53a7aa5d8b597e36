import type { UsesView, UseView } from '@varn/contract';
import {
  columnIdsOf,
  columnLetters,
  columnsRead,
  formulasOf,
  labelOfBlock,
  type ListSettings,
  mapList,
  printSheetName,
  useOf,
  type Deletable,
  type FormulaPlace,
  isEntry,
  type Rule,
  type StoredFormula,
  type Use,
} from '@varn/core';
import { Injectable } from '@nestjs/common';
import type { FormFormula } from '../store/storedForm';
import { Refused } from '../http/refused';
import { Catalog, type FormFacts, type SheetFacts } from '../store/catalog';
import { SheetCache } from '../store/sheetCache';

/** What is told by name; more is counted. */
const MOST_TOLD = 20;

/** What becomes of a form's formula that loses what it reads. */
const BECOMES: Readonly<Record<FormulaPlace<FormFormula>['use'], string>> = {
  shownWhen: 'no longer hides it',
  requiredWhen: 'no longer asks for it',
  start: 'is left blank',
  message: 'disappears',
};

/** Tells what uses a column, a sheet or a name, and what becomes of that without it. */
@Injectable()
export class UsesReader {
  constructor(
    private readonly catalog: Catalog,
    private readonly cache: SheetCache,
  ) {}

  async uses(
    sheetId: string,
    { columnId, nameId }: { columnId?: string | undefined; nameId?: string | undefined },
  ): Promise<UsesView> {
    const sheet = this.catalog.sheet(sheetId);
    if (!sheet) throw Refused.notFound('sheet');
    const target = targetOf(sheet, columnId, nameId);
    const sheets = this.catalog.sheetsOf(sheet.workbook.id);
    const all: UseView[] = [];
    for (const each of sheets) {
      const stays = target.is !== 'sheet' || each.id !== sheetId;
      if (stays) all.push(...(await this.formulasIn(each, target, sheets)));
      for (const form of this.catalog.formsOf(each.id)) {
        all.push(...(stays ? formUses(form, target, placesOf(sheets)) : [goesWith(form)]));
      }
    }
    all.push(...this.namesOn(sheet, target, sheets));
    const values = columnId === undefined ? 0 : await this.valuesOf(sheetId, columnId);
    return { uses: all.slice(0, MOST_TOLD), more: Math.max(0, all.length - MOST_TOLD), values };
  }

  /** Formulas of cells and columns of one sheet. */
  private async formulasIn(
    sheet: SheetFacts,
    target: Deletable,
    sheets: readonly SheetFacts[],
  ): Promise<UseView[]> {
    const uses: UseView[] = [];
    const name = printSheetName(sheet.name);
    const note = (where: string, formula: StoredFormula | undefined): void => {
      const use = formula && worstOf(formula, target, placesOf(sheets));
      if (use) uses.push({ where, becomes: use === 'lost' ? 'gives #REF!' : 'leaves it out' });
    };
    for (const { id, heading, settings } of sheet.columns) {
      const isItself = target.is === 'column' && target.column === id;
      if (isItself) continue;
      note(`${name}!'${heading}'`, settings.formula);
      if (readsIn(settings.rules, target)) {
        uses.push({ where: `A rule of ${name}!'${heading}'`, becomes: NOT_HELD });
      }
      const { list } = settings;
      const use = list && worstIn(list, target, placesOf(sheets));
      if (use) {
        const becomes = use === 'lost' ? 'has no choices any more' : 'leaves it out';
        uses.push({ where: `The list of ${name}!'${heading}'`, becomes });
      }
    }
    const letters = new Map(
      [...sheet.columns.map(({ id }) => id), ...sheet.looseColumns].map((id, n) => [
        id,
        columnLetters(n),
      ]),
    );
    const rows = await this.cache.rows(sheet.id);
    for (const [index, row] of rows.all().entries()) {
      for (const [id, { formula }] of Object.entries(row.cells)) {
        note(`${name}!${letters.get(id) ?? ''}${index + 1}`, formula);
      }
    }
    return uses;
  }

  private namesOn(
    { workbook }: SheetFacts,
    target: Deletable,
    sheets: readonly SheetFacts[],
  ): UseView[] {
    return workbook.names.flatMap(({ name, reference }) => {
      const use = useOf(reference, target, placesOf(sheets));
      if (!use || target.is === 'name') return [];
      const becomes = use === 'lost' ? 'stands for nothing any more' : 'leaves it out';
      return [{ where: `The name ${name}`, becomes }];
    });
  }

  private async valuesOf(sheetId: string, columnId: string): Promise<number> {
    return (await this.cache.model(sheetId)).figures(columnId).filled;
  }
}

function targetOf(sheet: SheetFacts, columnId?: string, nameId?: string): Deletable {
  if (nameId !== undefined) {
    const known = sheet.workbook.names.some(({ id }) => id === nameId);
    if (!known) throw Refused.notFound('name');
    return { is: 'name', id: nameId };
  }
  if (columnId === undefined) return { is: 'sheet', sheet: sheet.id };
  if (!sheet.columnsById.has(columnId)) throw Refused.notFound('column in this sheet');
  return { is: 'column', sheet: sheet.id, column: columnId };
}

/** What becomes of a rule that reads a column which is gone. */
const NOT_HELD = 'no longer applies';

/** Whether rules read a column besides their own. */
const readsIn = (rules: readonly Rule[] = [], target: Deletable): boolean =>
  target.is === 'column' && rules.some((rule) => rulesRead(rule).includes(target.column));

/** The columns that a rule reads, those among which a value is to be unique included. */
const rulesRead = (rule: Rule): readonly string[] => [
  ...columnsRead(rule),
  ...(rule.must.is === 'unique' ? (rule.must.with ?? []) : []),
];

type PlaceOf = Parameters<typeof useOf>[2];

const placesOf =
  (sheets: readonly SheetFacts[]): PlaceOf =>
  (sheetId, columnId) => {
    const sheet = sheets.find(({ id }) => id === sheetId);
    if (!sheet) return undefined;
    const ids = [...sheet.columns.map(({ id }) => id), ...sheet.looseColumns];
    const at = ids.indexOf(columnId);
    return at < 0 ? undefined : at;
  };

/** How a formula is about it: that it is lost counts before that it becomes narrower. */
function worstOf({ references }: StoredFormula, target: Deletable, placeOf: PlaceOf): Use | null {
  const uses = references.map((reference) => useOf(reference, target, placeOf));
  return uses.find((use) => use === 'lost') ?? uses.find((use) => use !== null) ?? null;
}

/** The same of a list: of what feeds it, and of what it says of its rows. */
function worstIn(
  list: ListSettings<StoredFormula>,
  target: Deletable,
  placeOf: PlaceOf,
): Use | null {
  const formulas: StoredFormula[] = [];
  mapList(list, (formula) => formulas.push(formula));
  const uses = formulas.map((formula) => worstOf(formula, target, placeOf));
  return uses.find((use) => use === 'lost') ?? uses.find((use) => use !== null) ?? null;
}

const goesWith = ({ name }: FormFacts): UseView => ({
  where: `The form ${name}`,
  becomes: 'goes with the sheet',
});

/** The fields and formulas of one form, in use and as it is laid out. */
function formUses(
  { name, sheet, definition, draft }: FormFacts,
  target: Deletable,
  placeOf: PlaceOf,
): UseView[] {
  const uses = new Map<string, UseView>();
  const note = (where: string, becomes: string): void => void uses.set(where, { where, becomes });
  for (const { blocks } of [definition, ...(draft ? [draft.definition] : [])]) {
    for (const block of blocks) {
      const called = labelOfBlock(block, sheet.columnsById);
      if (isEntry(block) && readsIn(block.rules, target)) {
        note(`A rule of ${called} in ${name}`, NOT_HELD);
      }
      if (target.is === 'column' && columnIdsOf(block).includes(target.column)) {
        note(`The field ${called} of ${name}`, 'is taken off the form');
      }
    }
    for (const { block, use, formula } of formulasOf({ blocks })) {
      if ('unread' in formula || !worstOf(formula, target, placeOf)) continue;
      const called = labelOfBlock(block, sheet.columnsById);
      const what = { shownWhen: 'condition', requiredWhen: 'condition', start: 'starting value' };
      const part = use === 'message' ? 'A live message' : `The ${what[use]} of ${called}`;
      note(`${part} in ${name}`, BECOMES[use]);
    }
  }
  return [...uses.values()];
}
