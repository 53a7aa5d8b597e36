import {
  positionsIn,
  readCondition,
  sayProblem,
  type SheetModel,
  type ViewOrder,
} from '@varn/core';
import { Refused } from '../http/refused';
import { nowIn, type SheetFacts } from '../store/catalog';
import { inTurns } from '../turns';

/** A filter and an order of one's own, as they are asked for. */
interface ViewAsked {
  readonly filters?: readonly { readonly columnId: string; readonly says: string }[];
  readonly order?: ViewOrder;
}

/** The positions of the records of a view. @throws Refused 400 where a condition is none */
export async function viewPositions(
  sheet: SheetFacts,
  model: SheetModel,
  asked: string,
): Promise<Int32Array> {
  const { filters = [], order } = viewIn(asked);
  const context = { locale: sheet.workbook.locale, now: nowIn(sheet.workbook) };
  const tests = filters.map(({ columnId, says }) => {
    const column = sheet.columnsById.get(columnId);
    if (!column) throw Refused.badRequest('noSuchColumn', 'view: a column it names is not there.');
    const reading = readCondition(says, column, context);
    if (!reading.ok) {
      const message = `${column.heading}: ${sayProblem(reading.problem)}`;
      throw Refused.badRequest('notACondition', message);
    }
    return { columnId, test: reading.test };
  });
  const positions = await inTurns(positionsIn(model, tests, order ?? null));
  // Records may have gone meanwhile: who is at the end is told by event, and reads again.
  return positions.filter((position) => position < model.count);
}

function viewIn(text: string): ViewAsked {
  let view: unknown;
  try {
    view = JSON.parse(text);
  } catch {
    throw Refused.badRequest('notAView', 'view: must be JSON.');
  }
  const { filters = [], order } = (view ?? {}) as { filters?: unknown; order?: unknown };
  const fits =
    typeof view === 'object' &&
    view !== null &&
    !Array.isArray(view) &&
    Array.isArray(filters) &&
    filters.every((each) => isTexts(each, ['columnId', 'says'])) &&
    (order === undefined || isTexts(order, ['columnId']));
  if (!fits) throw Refused.badRequest('notAView', 'view: must have filters and an order.');
  return view as ViewAsked;
}

function isTexts(value: unknown, names: readonly string[]): boolean {
  return (
    typeof value === 'object' &&
    value !== null &&
    names.every((name) => typeof (value as Record<string, unknown>)[name] === 'string')
  );
}
