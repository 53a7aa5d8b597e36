import type { Column, ReadingContext } from '../kinds';
import type { SheetModel } from '../sheet';
import { quote, type CellValue, type Problem } from '../values';
import { readCondition, shownOf, type Condition } from './condition';
import { readTerms, termsScan } from './words';
import type { ViewTest } from './view';

/** Which records are meant: words that each holds, and conditions on its columns. All must hold. */
export interface Question {
  /** Looked for in all columns. */
  readonly text?: string;
  readonly filters: readonly { readonly columnId: string; readonly says: string }[];
}

export const NO_QUESTION: Question = { filters: [] };

/** A question as it is understood, condition by condition, or what of it is not. */
export type QuestionReading =
  | { readonly ok: true; readonly parts: readonly QuestionPart[] }
  | { readonly ok: false; readonly columnId: string; readonly problem: Problem | null };

/** One thing that must hold. */
export interface QuestionPart {
  /** The column it is about; `null` for words in any. */
  readonly column: Column | null;
  /** `pH is at least 8`. */
  readonly says: string;
  readonly condition: Condition | null;
}

export const isBlankQuestion = ({ text = '', filters }: Question): boolean =>
  text.trim() === '' && filters.every(({ says }) => says.trim() === '');

/** @returns with `problem: null` where a column is not there any more */
export function readQuestion(
  { text = '', filters }: Question,
  columns: readonly Column[],
  context: ReadingContext,
): QuestionReading {
  const parts: QuestionPart[] = [];
  if (text.trim() !== '') {
    parts.push({ column: null, says: `any column holds ${quote(text.trim())}`, condition: null });
  }
  for (const { columnId, says } of filters) {
    if (says.trim() === '') continue;
    const column = columns.find(({ id }) => id === columnId);
    if (!column) return { ok: false, columnId, problem: null };
    const reading = readCondition(says, column, context);
    if (!reading.ok) return { ok: false, columnId, problem: reading.problem };
    parts.push({ column, says: `${column.heading} ${reading.says}`, condition: reading });
  }
  return { ok: true, parts };
}

/** What a question asks of each record of a sheet: for its view. */
export function questionTests(
  { text = '' }: Question,
  { parts }: { readonly parts: readonly QuestionPart[] },
  columns: readonly Column[],
  model: SheetModel,
  context: ReadingContext,
): ViewTest[] {
  return parts.map(({ column, condition }): ViewTest => {
    if (column && condition) {
      const { test, sure, ofShown } = condition;
      const show = (value: CellValue): string | null => shownOf(value, column, context.locale);
      return { columnId: column.id, test, sure, ...(ofShown && { ofShown, show }) };
    }
    return { scan: () => termsScan(readTerms(text, context), columns, model, context) };
  });
}

/** The question as a sentence: `Samples where River is Ash Beck and pH is at least 8`. */
export function sayQuestion(sheetName: string, parts: readonly QuestionPart[]): string {
  if (parts.length === 0) return `All of ${sheetName}`;
  const all = parts.map(({ says }) => says);
  const last = all.pop() ?? '';
  return `${sheetName} where ${all.length > 0 ? `${all.join(', ')} and ${last}` : last}`;
}

/** The part of an address that holds words, and what stands before a column's id. */
const HOLDS = 'holds';
const IS = 'is.';

/** A question as the query of an address, to be kept or handed to others. */
export function questionAddress({ text = '', filters }: Question): string {
  const parts = [[HOLDS, text], ...filters.map(({ columnId, says }) => [IS + columnId, says])];
  return parts
    .filter(([, says = '']) => says.trim() !== '')
    .map((part) => part.map(encoded).join('='))
    .join('&');
}

/** The question of an address; what else stands there is left alone. */
export function questionOfAddress(query: string): Question {
  const parts = query
    .replace(/^\?/, '')
    .split('&')
    .map((part) => {
      const [name = '', ...says] = part.split('=');
      return [decoded(name), decoded(says.join('='))] as const;
    });
  const text = parts.find(([name]) => name === HOLDS)?.[1] ?? '';
  const filters = parts
    .filter(([name]) => name.startsWith(IS))
    .map(([name, says]) => ({ columnId: name.slice(IS.length), says }));
  return { ...(text !== '' && { text }), filters };
}

/** Half of a character outside of the basic plane stands in no address. */
const encoded = (text: string): string =>
  encodeURIComponent(text.replace(/\p{Surrogate}/gu, '\uFFFD'));

/** An address that someone cut or wrote by hand is read as it stands. */
function decoded(text: string): string {
  const spaced = text.replace(/\+/g, ' ');
  try {
    return decodeURIComponent(spaced);
  } catch {
    return spaced;
  }
}
