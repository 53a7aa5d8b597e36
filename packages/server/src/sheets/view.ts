import {
  orderedBy,
  positionsIn,
  questionTests,
  readQuestion,
  sayProblem,
  type Question,
  type ReadingContext,
  type SheetModel,
  type ViewOrder,
} from '@varn/core';
import { viewShape } from '@varn/contract';
import { Refused } from '../http/refused';
import type { SheetFacts } from '../store/catalog';
import type { Asker } from '../turns/asker';
import { inTurns } from '../turns/turns';

/** A question and an order of one's own, as they are asked for. */
interface ViewAsked extends Question {
  readonly order?: ViewOrder;
}

/** Views of a sheet that are kept, so that stepping through one reads it once. */
const MOST_KEPT = 8;
interface Kept {
  readonly version: number;
  readonly positions: Int32Array;
}
const keptOf = new WeakMap<SheetModel, Map<string, Kept>>();

/** The positions of the records of a view. @param asker who alone waits for them @throws Refused 400 where a condition is none */
export async function viewPositions(
  sheet: SheetFacts,
  model: SheetModel,
  asked: string,
  context: ReadingContext,
  asker: Asker | null,
): Promise<Int32Array> {
  const view = viewIn(asked);
  let kept = keptOf.get(model);
  if (!kept) keptOf.set(model, (kept = new Map<string, Kept>()));
  // What a condition means changes with the day, and with the columns.
  const name = `${Math.floor(context.now)} ${sheet.revision} ${asked}`;
  const known = kept.get(name);
  if (known?.version === model.version) return known.positions;
  const { version } = model;
  const positions = await inTurns(positionsOf(view, sheet, model, context), asker);
  // Records may have gone meanwhile: who is at the end is told by event, and reads again.
  const isThere = (position: number): boolean => position < model.count;
  const there = positions.every(isThere) ? positions : positions.filter(isThere);
  if (version === model.version) {
    if (kept.size >= MOST_KEPT) kept.clear();
    kept.set(name, { version, positions: there });
  }
  return there;
}

function positionsOf(
  view: ViewAsked,
  sheet: SheetFacts,
  model: SheetModel,
  context: ReadingContext,
): Generator<void, Int32Array> {
  const reading = readQuestion(view, sheet.columns, context);
  if (!reading.ok) {
    const { columnId, problem } = reading;
    if (!problem) {
      throw Refused.badRequest('noSuchColumn', 'view: a column it names is not there.');
    }
    const heading = sheet.columnsById.get(columnId)?.heading ?? '';
    throw Refused.badRequest('notACondition', `${heading}: ${sayProblem(problem)}`);
  }
  const tests = questionTests(view, reading, sheet.columns, model, context);
  const order = (view.order ?? []).map((part) => {
    const column = sheet.columnsById.get(part.columnId);
    return { ...part, ...(column && { by: orderedBy(column) }) };
  });
  return positionsIn(model, tests, order);
}

function viewIn(asked: string): ViewAsked {
  let view: unknown;
  try {
    view = JSON.parse(asked);
  } catch {
    throw Refused.badRequest('notAView', 'view: must be JSON.');
  }
  // What can't be read never means all records: a part of another name is refused.
  const problem = viewShape(view);
  if (problem !== null) throw Refused.badRequest('notAView', `view${problem}.`);
  const { text = '', filters = [], order } = view as Partial<ViewAsked>;
  return { text, filters, ...(order && { order }) };
}
