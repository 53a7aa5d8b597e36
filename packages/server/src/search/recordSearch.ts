import type { CountsView, FoundRecordsView, QuestionView, RecordPlaceView } from '@varn/contract';
import {
  countsOf,
  foldText,
  isBlankQuestion,
  keyColumnsOf,
  positionsIn,
  questionTests,
  readQuestion,
  sayProblem,
  sayQuestion,
  showValue,
  type Column,
  type Question,
  type SheetModel,
} from '@varn/core';
import { Injectable } from '@nestjs/common';
import { Calculator } from '../calculation/calculator';
import { Refused } from '../http/refused';
import { recordView, SheetReader } from '../sheets/sheetReader';
import { contextOf } from '../sheets/view';
import type { SheetFacts } from '../store/catalog';
import { SheetCache } from '../store/sheetCache';
import { inTurns } from '../turns';

/** Finds records: by their key, by words, by a question. */
@Injectable()
export class RecordSearch {
  constructor(
    private readonly reader: SheetReader,
    private readonly cache: SheetCache,
    private readonly calculator: Calculator,
  ) {}

  /** How many records a question finds, condition by condition. */
  async counts(sheetId: string, question: QuestionView): Promise<CountsView> {
    const { sheet, model } = await this.scene(sheetId);
    const context = contextOf(sheet);
    const { asked, problems } = readable(question, sheet);
    const reading = readQuestion(asked, sheet.columns, context);
    if (!reading.ok) throw new Error('a question was read in part, and then not at all');
    const { parts } = reading;
    const tests = questionTests(asked, reading, sheet.columns, model, context);
    const counts = await inTurns(countsOf(model, tests));
    return {
      count: counts.at(-1) ?? model.count,
      of: model.count,
      says: sayQuestion(sheet.name, parts),
      parts: parts.map(({ column, says }, at) => {
        return { columnId: column?.id ?? null, says, count: counts[at] ?? 0 };
      }),
      problems,
    };
  }

  /** The best of the records that hold some words: those whose key it is first, then the newest. */
  async search(sheetId: string, text: string, most: number): Promise<FoundRecordsView> {
    const { sheet, model } = await this.scene(sheetId);
    const question: Question = { text, filters: [] };
    if (isBlankQuestion(question)) return { count: 0, found: [] };
    const context = contextOf(sheet);
    const reading = readQuestion(question, sheet.columns, context);
    if (!reading.ok) return { count: 0, found: [] };
    const tests = questionTests(question, reading, sheet.columns, model, context);
    const positions = await inTurns(positionsIn(model, tests, null));
    const rank = rankOf(text, sheet, model);
    const best: { position: number; rank: number }[] = [];
    for (let at = positions.length - 1; at >= 0; at -= 1) {
      const position = positions[at] ?? 0;
      if (position >= model.count) continue;
      const found = { position, rank: rank(model.slotAt(position)) };
      const last = best[most - 1];
      if (last && last.rank <= found.rank) continue;
      const before = best.findIndex((each) => each.rank > found.rank);
      best.splice(before < 0 ? best.length : before, 0, found);
      best.length = Math.min(best.length, most);
    }
    return {
      count: positions.length,
      found: best.map((each) => ({
        record: recordView(sheet, model, each.position),
        row: rowOf(sheet, each.position),
        ...(each.rank === Rank.key && { byKey: true }),
      })),
    };
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

const rowOf = ({ headingRow }: SheetFacts, position: number): number => headingRow + 1 + position;

/** How well a record that holds some words answers to them. */
const Rank = { key: 0, endOfKey: 1, other: 2 } as const;

/** Ranks records, by slot, by how their key is what was looked for. */
function rankOf(text: string, sheet: SheetFacts, model: SheetModel): (slot: number) => number {
  const wanted = foldText(text);
  const { locale } = sheet.workbook;
  const shown = (column: Column) => (value: Parameters<typeof showValue>[0]) =>
    foldText(showValue(value, column, locale));
  const keys = columnsToKnowBy(sheet.columns).map((column) => {
    const say = shown(column);
    return {
      isKey: model.testOf(column.id, (value) => say(value) === wanted),
      isEnd: model.testOf(column.id, (value) => say(value).endsWith(wanted)),
    };
  });
  return (slot) => {
    if (keys.some(({ isKey }) => isKey(slot))) return Rank.key;
    return keys.some(({ isEnd }) => isEnd(slot)) ? Rank.endOfKey : Rank.other;
  };
}

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
): { asked: Question; problems: CountsView['problems'] } {
  const context = contextOf(sheet);
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
