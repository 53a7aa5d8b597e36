import type { BrokenView, ProblemsView, SuggestedRulesView } from '@varn/contract';
import {
  ruleDoubts,
  sayProblem,
  showValue,
  suggestIn,
  type Rule,
  type StoredColumn,
} from '@varn/core';
import { Injectable } from '@nestjs/common';
import { Calculator } from '../calculation/calculator';
import { Refused } from '../http/refused';
import { Catalog, nowIn } from '../store/catalog';
import { SheetCache } from '../store/sheetCache';
import type { Asker } from '../turns/asker';
import { inTurns } from '../turns/turns';
import { KeptTallies } from './keptTallies';
import type { Looked } from './looked';
import { refuseUnreadRules } from '../write/columns';

/** Records that break rules and are told one by one. */
const MOST_TOLD = 100;

/** Tells which stored values break the rules of their column, or rules it may get. */
@Injectable()
export class RuleReader {
  constructor(
    private readonly catalog: Catalog,
    private readonly cache: SheetCache,
    private readonly calculator: Calculator,
    private readonly tallies: KeptTallies,
  ) {}

  /** Holds a column's stored values against rules, whether or not the column has them. */
  async broken(sheetId: string, columnId: string, rules: readonly Rule[]): Promise<BrokenView> {
    refuseUnreadRules(rules);
    const looked = await this.look(sheetId, columnId);
    const { sheet, column, columns, model, context } = looked;
    const ruled: StoredColumn = { ...column, settings: { ...column.settings, rules } };
    const { locale } = context;
    const found = await this.tallies.broken(looked, ruled, MOST_TOLD);
    return {
      counts: [...found.counts],
      records: found.records,
      first: found.first.flatMap(({ position, rules: places }) => {
        // Records may have gone while others were answered.
        if (position >= model.count) return [];
        const { id, cells: stored } = model.at(position);
        // What follows is not stored, but known.
        const value = model.cellAt(position, columnId);
        const cells = { ...stored, [columnId]: value };
        const text = showValue(value, column, locale);
        const doubled = places.flatMap((at) => doubleSays(rules[at], text));
        const doubts = ruleDoubts(ruled, value, { columns, context, cells });
        const says = [...doubts.map(({ problem }) => sayProblem(problem)), ...doubled];
        if (says.length === 0) return [];
        const row = sheet.headingRow + 1 + position;
        return [{ recordId: id, row, text, says }];
      }),
    };
  }

  /** How many stored values of each sheet break rules of their column. */
  async problems(workbookId: string): Promise<ProblemsView> {
    const view: ProblemsView = { sheets: [] };
    for (const { id: sheetId, columns } of this.catalog.sheetsOf(workbookId)) {
      let values = 0;
      for (const { id, settings } of columns) {
        // One may be deleted while others are looked through.
        const isThere = this.catalog.sheetInUse(sheetId)?.columnsById.has(id) === true;
        if (!isThere || (settings.rules?.length ?? 0) === 0) continue;
        const looked = await this.look(sheetId, id);
        values += (await this.tallies.broken(looked, looked.column, 0)).records;
      }
      if (values > 0) view.sheets.push({ sheetId, values });
    }
    return view;
  }

  /** Rules that nearly all stored values of a column follow, besides those it has. */
  async suggested(sheetId: string, columnId: string, asker: Asker): Promise<SuggestedRulesView> {
    const { sheet, column, columns, model, context } = await this.look(sheetId, columnId);
    const ground = { ...context, columns };
    const suggestions = await inTurns(suggestIn(model, column, sheet.columns, ground), asker);
    return { suggestions: [...suggestions] };
  }

  /** @throws Refused 404 where there is no such column */
  private async look(sheetId: string, columnId: string): Promise<Looked> {
    const sheet = this.catalog.sheetInUse(sheetId);
    if (!sheet) throw Refused.notFound('sheet');
    const column = sheet.columnsById.get(columnId);
    if (!column) throw Refused.notFound('column in this sheet');
    await this.calculator.results(sheet.workbook.id, sheetId);
    const model = await this.cache.model(sheetId);
    const context = { locale: sheet.workbook.locale, now: nowIn(sheet.workbook) };
    return { sheet, column, columns: sheet.columnsById, model, context };
  }
}

/** What is said of a value that another record has as well. */
function doubleSays(rule: Rule | undefined, text: string): string[] {
  if (rule?.must.is !== 'unique') return [];
  const { message = null } = rule;
  return [sayProblem({ code: 'breaksRule', text, must: 'be unique', message })];
}
