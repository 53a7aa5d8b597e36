import { questionAddress, questionOfAddress, type Question } from '@varn/core';
import type { MatchOrder } from './Matches';

/** What is looked at on a desk: a question, the order of its matches, the columns they show. */
export interface Looked {
  readonly question: Question;
  /** `null` as in the sheet. */
  readonly order: MatchOrder | null;
  /** Ids of columns in the order they stand; `null` for all, as in the sheet. */
  readonly shown: readonly string[] | null;
}

const RISING = 'rising';
const FALLING = 'falling';
const SHOWS = 'shows';

/** What is looked at as the query of an address, to be kept or handed to others. */
export function lookedAddress({ question, order, shown }: Looked): string {
  const more = new URLSearchParams();
  if (order) more.set(order.falling ? FALLING : RISING, order.columnId);
  for (const columnId of shown ?? []) more.append(SHOWS, columnId);
  return [questionAddress(question), more.toString()].filter((part) => part !== '').join('&');
}

/** What an address looks at; what else stands there is left alone. */
export function lookedOfAddress(query: string): Looked {
  const parts = new URLSearchParams(query);
  const falling = parts.get(FALLING);
  const columnId = falling ?? parts.get(RISING);
  const shown = parts.getAll(SHOWS);
  return {
    question: questionOfAddress(query),
    order: columnId === null ? null : { columnId, falling: falling !== null },
    shown: shown.length > 0 ? shown : null,
  };
}
