import { kindOf, typedValue, type Column, type ReadingContext } from '../kinds';
import { isErrorValue, type Cells, type CellValue } from '../values';
import type { StartingValue } from './definition';
import type { Answers } from './inputs';
import type { PreparedForm } from './prepared';

/** What starting values are made of besides the answers. */
export interface StartingContext extends ReadingContext {
  /** The number a column goes on with, as it is written. */
  readonly next?: (column: Column, pattern: string | undefined) => string;
  /** What Varn fills in of a new record, where it is known: rules may read it. */
  readonly filled?: Cells;
}

/** A starting value as it would be typed. @param computed gives what its formula comes to */
export function startText<F>(
  start: StartingValue<F>,
  column: Column,
  context: StartingContext,
  computed: (formula: F) => CellValue = () => null,
): string {
  switch (start.kind) {
    case 'text':
    case 'beginning':
      return start.text;
    case 'formula': {
      const value = computed(start.formula);
      return isErrorValue(value) ? '' : typedValue(value, column, context.locale);
    }
    case 'next':
      return context.next?.(column, start.pattern) ?? '';
    default:
      return typedValue(serialOf(start.kind, column, context), column, context.locale);
  }
}

function serialOf(start: 'today' | 'now', column: Column, { now }: ReadingContext): number {
  const day = Math.floor(now);
  if (start === 'today') return day;
  // To the minute, as people tell the time.
  const minutes = Math.floor((now - day) * 1440) / 1440;
  return kindOf(column).iso === 'time' ? minutes : day + minutes;
}

/** Whether only the fixed start stands there, which is no answer alone. */
export function isBeginning<F>(start: StartingValue<F>, text: string): boolean {
  return start.kind === 'beginning' && text.trim() === start.text.trim();
}

/** Values that were typed over starting ones and are kept, by input id. */
export type Kept = Answers;

/** The answers a form starts with. What is kept stands where it was typed before; nothing is suggested here. */
export function startingAnswers<F>(
  { inputs }: PreparedForm<F>,
  context: StartingContext,
  kept: Kept = {},
): { answers: Answers; untouched: ReadonlySet<string> } {
  const answers: Record<string, string> = {};
  const untouched = new Set<string>();
  for (const { id, block, column } of inputs) {
    const held = kept[id];
    if (held !== undefined && held !== '') answers[id] = held;
    else if (block.start && (!block.start.suggestion || block.readOnly)) {
      answers[id] = startText(block.start, column, context);
      untouched.add(id);
    }
  }
  return { answers, untouched };
}

/**
 * What of the answers is kept for the next record: what was typed over a starting value that is
 * kept, and what the form keeps after each submit. Choices are kept only where the form says so.
 */
export function keptAnswers<F>(
  { inputs, definition: { after } }: PreparedForm<F>,
  answers: Answers,
  untouched: ReadonlySet<string>,
): Kept {
  const kept: Record<string, string> = {};
  for (const { id, block } of inputs) {
    const text = answers[id] ?? '';
    // A starting value that nobody touched starts afresh.
    if (text === '' || untouched.has(id)) continue;
    const byForm = after?.keep === 'all' || after?.keep?.includes(block.id) === true;
    if (byForm || block.start?.kept) kept[id] = text;
  }
  return kept;
}
