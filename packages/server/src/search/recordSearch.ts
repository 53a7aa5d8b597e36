import type {
  CountsView,
  FoundRecordsView,
  KnownRecordView,
  QuestionView,
  RecordPlaceView,
} from '@varn/contract';
import {
  countsOf,
  foldText,
  isBlankQuestion,
  judgeCell,
  keyColumnsOf,
  positionsIn,
  questionTests,
  readQuestion,
  sayProblem,
  sayQuestion,
  showValue,
  type CellValue,
  type Column,
  type Question,
  type ReadingContext,
  type SheetModel,
} from '@varn/core';
import { Injectable } from '@nestjs/common';
import { Calculator } from '../calculation/calculator';
import { Lists } from '../lists/lists';
import { Refused } from '../http/refused';
import { recordView, SheetReader } from '../sheets/sheetReader';

import type { SheetFacts } from '../store/catalog';
import { SheetCache } from '../store/sheetCache';
import type { Asker } from '../turns/asker';
import { inTurns, Pace } from '../turns/turns';
import { namedRecord } from './namedRecord';

const listed = (headings: readonly string[]): string =>
  headings
    .filter((heading) => heading !== '')
    .map((heading) => `‘${heading}’`)
    .join(', ') || 'a condition';

/** Finds records: by their key, by words, by a question. */
@Injectable()
export class RecordSearch {
  constructor(
    private readonly reader: SheetReader,
    private readonly cache: SheetCache,
    private readonly calculator: Calculator,
    private readonly lists: Lists,
  ) {}

  /** How many records a question finds, condition by condition. */
  async counts(sheetId: string, question: QuestionView, asker: Asker): Promise<CountsView> {
    const { sheet, model } = await this.scene(sheetId);
    const context = await this.lists.readyIn(sheet);
    const { asked, problems } = readable(question, sheet, context);
    const reading = readQuestion(asked, sheet.columns, context);
    if (!reading.ok) throw new Error('a question was read in part, and then not at all');
    const { parts } = reading;
    const tests = questionTests(asked, reading, sheet.columns, model, context);
    const counts = await inTurns(countsOf(model, tests), asker);
    const headings = problems.map(({ columnId }) => sheet.columnsById.get(columnId)?.heading ?? '');
    return {
      // What can't be read never means all records, nor those that the rest finds.
      count: problems.length > 0 ? 0 : (counts.at(-1) ?? model.count),
      of: model.count,
      says:
        problems.length > 0
          ? `Nothing of ${sheet.name} while ${listed(headings)} can’t be read`
          : sayQuestion(sheet.name, parts),
      parts: parts.map(({ column, says }, at) => {
        return { columnId: column?.id ?? null, says, count: counts[at] ?? 0 };
      }),
      problems,
    };
  }

  /** The best of the records that hold some words: those whose key it is first, then the newest. */
  async search(
    sheetId: string,
    text: string,
    most: number,
    asker: Asker,
  ): Promise<FoundRecordsView> {
    const { sheet, model } = await this.scene(sheetId);
    const question: Question = { text, filters: [] };
    if (isBlankQuestion(question)) return { count: 0, found: [] };
    const context = await this.lists.readyIn(sheet);
    const reading = readQuestion(question, sheet.columns, context);
    if (!reading.ok) return { count: 0, found: [] };
    const tests = questionTests(question, reading, sheet.columns, model, context);
    const positions = await inTurns(positionsIn(model, tests, []), asker);
    const pace = new Pace(asker);
    const { byKey, byEnd } = await this.byKey(sheet, model, foldText(text), positions, pace);
    pace.end();
    const keys = new Set(byKey);
    // Keys first, then what ends with it, then the rest: each from the newest on.
    const best = new Set<number>();
    for (const some of [byKey, byEnd, positions]) {
      for (let at = some.length - 1; at >= 0 && best.size < most; at -= 1) {
        const position = some[at] ?? 0;
        if (position < model.count) best.add(position);
      }
    }
    return {
      count: positions.length,
      found: [...best].map((position) => ({
        record: recordView(sheet, model, position),
        row: rowOf(sheet, position),
        ...(keys.has(position) && { byKey: true }),
      })),
    };
  }

  /** Of the records found, those whose key is the text, or ends with it; in turns with others. */
  private async byKey(
    sheet: SheetFacts,
    model: SheetModel,
    text: string,
    positions: Int32Array,
    pace: Pace,
  ): Promise<{ byKey: number[]; byEnd: number[] }> {
    const byKey: number[] = [];
    const byEnd: number[] = [];
    const { locale } = sheet.workbook;
    for (const column of columnsToKnowBy(sheet.columns)) {
      for (const [n, position] of positions.entries()) {
        if (n % FEW === FEW - 1) await pace.keep();
        // Records may have gone meanwhile.
        if (position >= model.count) break;
        const shown = foldText(showValue(model.cellAt(position, column.id), column, locale));
        if (shown === text) byKey.push(position);
        else if (shown.endsWith(text)) byEnd.push(position);
      }
    }
    return { byKey, byEnd };
  }

  /** The record that has the key of what is typed. */
  async known(
    sheetId: string,
    answers: Readonly<Record<string, string>>,
  ): Promise<KnownRecordView> {
    const sheet = this.reader.facts(sheetId);
    const model = await this.cache.model(sheetId);
    const columns = keyColumnsOf(sheet.columns);
    if (columns.length === 0) return {};
    const ground = { context: this.lists.contextOf(sheet) };
    const cells: Record<string, CellValue> = {};
    for (const { id } of columns) {
      const column = sheet.columnsById.get(id);
      const text = answers[id] ?? '';
      if (!column || text.trim() === '') return {};
      cells[id] = judgeCell({ typed: text }, column, ground).value;
    }
    const index = model.keyIndex(columns.map(({ id }) => id));
    const key = index.keyOf(cells);
    const [holder] = key === null ? [] : index.holdersOf(key);
    return holder === undefined ? {} : { record: namedRecord(sheet, model, holder) };
  }

  /** One record, and where it stands. @throws Refused 404 */
  async place(sheetId: string, recordId: string): Promise<RecordPlaceView> {
    const { sheet, model } = await this.scene(sheetId);
    if (!model.has(recordId)) throw Refused.notFound('record in this sheet');
    const position = model.positionOf(recordId);
    const record = recordView(sheet, model, position);
    return { record, row: rowOf(sheet, position), position, count: model.count };
  }

  private async scene(sheetId: string): Promise<{ sheet: SheetFacts; model: SheetModel }> {
    const sheet = this.reader.facts(sheetId);
    await this.calculator.results(sheet.workbook.id, sheetId);
    return { sheet, model: await this.cache.model(sheetId) };
  }
}

/** How many keys are looked at before it is asked whether others wait. */
const FEW = 500;

const rowOf = ({ headingRow }: SheetFacts, position: number): number => headingRow + 1 + position;

/** The key, or what else numbers the records, or their first column. */
function columnsToKnowBy(columns: readonly Column[]): Column[] {
  const key = keyColumnsOf(columns);
  if (key.length > 0) return key;
  const numbered = columns.filter(({ kind }) => kind === 'runningNumber');
  return numbered.length > 0 ? numbered : columns.slice(0, 1);
}

/** A question without what of it can't be read, and what is wrong with that. */
function readable(
  question: Question,
  sheet: SheetFacts,
  context: ReadingContext,
): { asked: Question; problems: CountsView['problems'] } {
  const problems: CountsView['problems'] = [];
  const filters = question.filters.filter((filter) => {
    const reading = readQuestion({ filters: [filter] }, sheet.columns, context);
    if (reading.ok) return true;
    const { columnId, problem } = reading;
    const message = problem ? sayProblem(problem) : 'This column is not in the sheet any more.';
    problems.push({ columnId, message });
    return false;
  });
  return { asked: { ...question, filters }, problems };
}
