import type { ColumnChange } from '@varn/contract';
import {
  bindFormula,
  bindList,
  convertCell,
  isHeadingFree,
  judgeRestored,
  resultKind,
  sayFormulaProblem,
  type Calculation,
  type CellValue,
  type StoredColumn,
  type ColumnSettings,
  type GivenSettings,
  isSame,
  type ListSettings,
  listWriter,
  mapList,
  quote,
  type ReadingContext,
  type Rule,
  sourceKind,
  type StoredFormula,
  unreadPart,
} from '@varn/core';
import { Refused } from '../http/refused';
import { nowIn, type SheetFacts } from '../store/catalog';
import { changed, type Decision, type WriteSite } from './decision';
import { groundOf } from './judging';

/** Examples shown of what a conversion would do. */
const EXAMPLES = 5;

/** A cell of a record that gets another value. */
export interface CellChange {
  readonly position: number;
  readonly columnId: string;
  readonly value: CellValue;
}

export const headingsOf = (columns: readonly StoredColumn[]): string[] =>
  columns.map(({ heading }) => heading);

/** Whether two settings read typed text alike, so that nothing stored changes. */
const sameReading = (a: ColumnSettings, b: ColumnSettings): boolean =>
  a.country === b.country &&
  a.separator === b.separator &&
  a.own === b.own &&
  (a.list === undefined) === (b.list === undefined) &&
  JSON.stringify(a.choices) === JSON.stringify(b.choices);

/** A column as a change makes it. @throws Refused 400 where its formula is none */
export function changedColumn(
  before: StoredColumn,
  sheet: SheetFacts,
  { kind, settings, formula, follows }: ColumnChange,
  calculation: Calculation | null,
): StoredColumn {
  const { formula: stored, follows: followed, ...looks } = before.settings;
  const look = settings ? boundSettings(settings, sheet, calculation, looks.list) : looks;
  const as = kind ?? before.kind;
  const column: StoredColumn = { ...before, kind: as, settings: look };
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

/**
 * Settings with what feeds the choices tied to what it refers to.
 *
 * @param held how it was before: written alike, it stays tied to what it was, deleted cells too
 * @throws Refused 400 where it can't be read
 */
export function boundSettings(
  { list, ...settings }: GivenSettings,
  sheet: SheetFacts,
  calculation: Calculation | null,
  held?: ListSettings<StoredFormula>,
): ColumnSettings<StoredFormula> {
  refuseUnreadRules(settings.rules);
  const home = calculation?.sheet(sheet.id);
  if (!list || !calculation || !home) return settings;
  const { locale } = sheet.workbook;
  const written = held && mapList(held, listWriter(home, calculation, locale));
  const bound = isSame(written, list)
    ? ({ ok: true, list: held } as const)
    : bindList(list, home, calculation, locale);
  if (!bound.ok) {
    const says = `${bound.text.slice(0, 60)}: ${sayFormulaProblem(bound.problem)}`;
    throw Refused.badRequest('notAList', says);
  }
  if (!bound.list) return settings;
  const shownAs = sourceKind(bound.list.source, calculation);
  const { shownAs: _before, choices: _typed, ...rest } = settings;
  const own = bound.list.adds === true ? { own: '' } : {};
  return { ...own, ...rest, list: bound.list, ...(shownAs && { shownAs }) };
}

/** @throws Refused 400 where a pattern or a picture in rules can't be read */
export function refuseUnreadRules(rules: readonly Rule[] = []): void {
  for (const rule of rules) {
    const unread = unreadPart(rule);
    if (!unread) continue;
    const { part, text, why } = unread;
    throw Refused.badRequest(
      'notARule',
      `rules: the ${part} ${quote(text)} can’t be read: ${why}.`,
    );
  }
}

/** A column with a formula, tied to what it reads. @throws Refused 400 where it is none */
export function computed(
  column: StoredColumn,
  sheet: SheetFacts,
  calculation: Calculation,
  text: string,
  follows: boolean,
): StoredColumn {
  const home = calculation.sheet(sheet.id);
  if (!home) throw Refused.notFound('sheet');
  const typed = text.trim().replace(/^[=\s]+/, '');
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
  // What is computed is not chosen.
  const { list: _list, ...settings } = column.settings;
  return {
    ...column,
    kind: 'computed',
    settings: {
      ...(shown && { ...shown.settings, shownAs: shown.kind }),
      ...settings,
      formula: bound.formula,
      follows,
    },
  };
}

/** A column computed as of writing that is new: its records count as written now. */
export function filledAtOnce(
  column: StoredColumn,
  { sheet, model }: WriteSite,
  calculation: Calculation | null,
): CellChange[] {
  const { id: columnId, settings } = column;
  if (!settings.formula || settings.follows === true || !calculation) return [];
  const valueOf = calculation.trial(sheet.id, column);
  const changes: CellChange[] = [];
  for (let position = 0; position < model.count; position += 1) {
    if ((model.at(position).cells[columnId] ?? null) !== null) continue;
    const value = valueOf(model.slotAt(position));
    if (value !== null) changes.push({ position, columnId, value });
  }
  return changes;
}

/** How typed texts are read in a sheet now. */
export const readingIn = ({ workbook }: SheetFacts): ReadingContext => ({
  locale: workbook.locale,
  now: nowIn(workbook),
});

export function addExample(
  list: { row: number; from: string; to: string }[],
  row: number,
  from: string,
  to: string,
): void {
  if (list.length < EXAMPLES) list.push({ row, from: from.slice(0, 80), to: to.slice(0, 200) });
}

/** @throws Refused where a heading is blank, or another column's */
export function refuseTaken(heading: string, others: readonly string[]): void {
  if (heading.trim() === '') throw Refused.badRequest('unnamed', 'Every column needs a heading.');
  if (isHeadingFree(heading, others)) return;
  throw Refused.conflict(
    'headingTaken',
    `Another column is headed ‘${heading.trim()}’. Give each its own.`,
  );
}

/** Values of a column that are others under its new kind or formula, as they are now stored. */
export function convertedCells(
  before: StoredColumn,
  after: StoredColumn,
  site: WriteSite,
): CellChange[] {
  if (before.settings.formula === undefined && after.settings.formula === undefined) {
    return rereadCells(before, after, site);
  }
  const { model, calculation } = site;
  // Values that followed are kept as they stand when they follow no more.
  if (before.settings.follows !== true || after.settings.follows === true) {
    return filledAtOnce(after, site, calculation);
  }
  const changes: CellChange[] = [];
  for (let position = 0; position < model.count; position += 1) {
    const value = model.cellAt(position, before.id);
    if (value !== null) changes.push({ position, columnId: before.id, value });
  }
  return changes;
}

/** Values of a column that its new kind, or what it says of reading, makes others. */
export function rereadCells(
  before: StoredColumn,
  after: StoredColumn,
  { sheet, model }: WriteSite,
): CellChange[] {
  if (before.kind === after.kind && sameReading(before.settings, after.settings)) return [];
  const changes: CellChange[] = [];
  const context = readingIn(sheet);
  for (let position = 0; position < model.count; position += 1) {
    const held = model.cellAt(position, before.id);
    const { value } = convertCell(held, before, after, context);
    if (held !== null && value !== held) changes.push({ position, columnId: before.id, value });
  }
  return changes;
}

/**
 * Changes of cells as what is done to their records, each once.
 *
 * @param columns the sheet's columns as they become
 */
export function changedRecords(
  changes: readonly CellChange[],
  columns: readonly StoredColumn[],
  site: WriteSite,
): Decision[] {
  const { model } = site;
  const ground = {
    ...groundOf(site),
    columns: new Map(columns.map((column) => [column.id, column])),
  };
  const byPosition = new Map<number, Record<string, CellValue>>();
  for (const { position, columnId, value } of changes) {
    const cells = byPosition.get(position) ?? {};
    cells[columnId] = value;
    byPosition.set(position, cells);
  }
  return [...byPosition].map(([position, cells]) => {
    const record = model.at(position);
    const whole = { ...record.cells, ...cells };
    return changed(record, judgeRestored(whole, record.cells, ground));
  });
}
