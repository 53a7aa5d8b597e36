import type { ReadingContext } from '../kinds';
import { isTyped, judgeCell } from '../records';
import { textIn, type Entered, type Filling } from './filling';
import type { PreparedForm } from './prepared';

/** What is seen in the fields that are there, and which of them nobody touched: what is submitted. */
export function seenAnswers<F>(
  { inputs }: PreparedForm<F>,
  entered: Pick<Entered, 'answers'>,
  filling: Filling,
): { answers: Record<string, string>; untouched: string[] } {
  const { texts, shown, awaited } = filling;
  const there = inputs.filter(({ block, column }) => shown.has(block.id) && isTyped(column));
  const untouched = there.flatMap(({ id }) => (texts[id] === undefined ? [] : [id]));
  const seen = there.flatMap((input): [string, string][] => {
    // What is on its way is seen as on its way.
    if (awaited.has(input.column.id)) return [];
    const text = textIn(input, entered, filling);
    return text === '' ? [] : [[input.id, text]];
  });
  return { answers: Object.fromEntries(seen), untouched };
}

/**
 * Columns whose values came out otherwise than they were seen: what stood in a starting value was
 * older than the answers, or an answer is not there any more by what the conditions say now.
 *
 * @param entered with what was seen in untouched inputs among its answers
 */
export function otherwiseThanSeen<F>(
  { inputs }: PreparedForm<F>,
  { answers }: Entered,
  { texts, shown }: Filling,
  context: ReadingContext,
): string[] {
  return inputs.flatMap(({ id, block, column }) => {
    if (!isTyped(column)) return [];
    const seen = (answers[id] ?? '').trim();
    const stored = shown.has(block.id) ? (texts[id] ?? seen).trim() : '';
    if (seen === stored) return [];
    const [a, b] = [seen, stored].map((typed) => judgeCell({ typed }, column, { context }).value);
    return a === b ? [] : [column.id];
  });
}
