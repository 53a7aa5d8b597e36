import type { BrokenView } from '@varn/contract';
import {
  brokenIn,
  ruleDoubts,
  sayProblem,
  showValue,
  type ReadingContext,
  type Rule,
  type StoredColumn,
} from '@varn/core';
import { Injectable } from '@nestjs/common';
import { Calculator } from '../calculation/calculator';
import { Refused } from '../http/refused';
import { Catalog, nowIn } from '../store/catalog';
import { SheetCache } from '../store/sheetCache';
import { inTurns } from '../turns';

/** Records that break rules and are told one by one. */
const MOST_TOLD = 100;

/** Tells which stored values break the rules of their column, or rules it may get. */
@Injectable()
export class RuleReader {
  constructor(
    private readonly catalog: Catalog,
    private readonly cache: SheetCache,
    private readonly calculator: Calculator,
  ) {}

  /** Holds a column's stored values against rules, whether or not the column has them. */
  async broken(sheetId: string, columnId: string, rules: readonly Rule[]): Promise<BrokenView> {
    const sheet = this.catalog.sheetInUse(sheetId);
    if (!sheet) throw Refused.notFound('sheet');
    const held = sheet.columnsById.get(columnId);
    if (!held) throw Refused.notFound('column in this sheet');
    await this.calculator.results(sheet.workbook.id, sheetId);
    const model = await this.cache.model(sheetId);
    const column: StoredColumn = { ...held, settings: { ...held.settings, rules } };
    const { locale } = sheet.workbook;
    const context: ReadingContext = { locale, now: nowIn(sheet.workbook) };
    const found = await inTurns(brokenIn(model, column, context, MOST_TOLD));
    return {
      counts: [...found.counts],
      records: found.records,
      first: found.first.flatMap(({ position }) => {
        // Records may have gone while others were answered.
        if (position >= model.count) return [];
        const { id, cells } = model.at(position);
        const value = cells[columnId] ?? null;
        const scope = { columns: sheet.columnsById, context, cells };
        const says = ruleDoubts(column, value, scope).map(({ problem }) => sayProblem(problem));
        if (says.length === 0) return [];
        const row = sheet.headingRow + 1 + position;
        return [{ recordId: id, row, text: showValue(value, column, locale), says }];
      }),
    };
  }
}
