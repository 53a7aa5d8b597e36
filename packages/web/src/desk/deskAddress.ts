import { questionAddress, questionOfAddress, type Question, type ViewOrder } from '@varn/core';

/** What is looked at on a desk: a question, the order of its matches, the columns they show. */
export interface Looked {
  readonly question: Question;
  /** Empty: as in the sheet. */
  readonly order: ViewOrder;
  /** Ids of columns in the order they stand; `null` for all, as in the sheet. */
  readonly shown: readonly string[] | null;
}

const RISING = 'rising';
const FALLING = 'falling';
const SHOWS = 'shows';

/** What is looked at as the query of an address, to be kept or handed to others. */
export function lookedAddress({ question, order, shown }: Looked): string {
  const more = new URLSearchParams();
  for (const { columnId, falling } of order) more.append(falling ? FALLING : RISING, columnId);
  for (const columnId of shown ?? []) more.append(SHOWS, columnId);
  return [questionAddress(question), more.toString()].filter((part) => part !== '').join('&');
}

/** What an address looks at; what else stands there is left alone. */
export function lookedOfAddress(query: string): Looked {
  const parts = new URLSearchParams(query);
  const order = [...parts]
    .filter(([name]) => name === FALLING || name === RISING)
    .map(([name, columnId]) => ({ columnId, falling: name === FALLING }));
  const shown = parts.getAll(SHOWS);
  return {
    question: questionOfAddress(query),
    order,
    shown: shown.length > 0 ? shown : null,
  };
}
