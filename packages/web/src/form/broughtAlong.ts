import {
  narrowedItems,
  typedValue,
  type Answers,
  type Input,
  type ListItem,
  type PreparedForm,
  type ReadingContext,
} from '@varn/core';
import type { FilledIn } from './filledIn';

/** What choosing brings into other fields, by their inputs; nothing where no item is meant. */
function fillsOf(
  { column }: Input,
  text: string,
  inputs: readonly Input[],
  answers: Answers,
  { listed, locale }: ReadingContext,
): ReadonlyMap<string, string> {
  const { fills = [], narrowed = [] } = column.settings.list ?? {};
  if (fills.length === 0) return NOTHING;
  const meant = listed?.(column.id)?.meant(text.trim(), true) ?? [];
  const inputOf = (columnId: string): Input | undefined =>
    inputs.find((input) => input.column.id === columnId);
  const texts = narrowed.map(({ columnId }) => answers[inputOf(columnId)?.id ?? '']?.trim() ?? '');
  // Of one value that goes with several it is that which goes with what is filled in here.
  const goes = (each: ListItem): boolean => narrowedItems([each], texts).length > 0;
  const [item, another] = meant.length > 1 ? meant.filter(goes) : meant;
  if (!item || another) return NOTHING;
  return new Map(
    fills.flatMap(({ columnId }, n) => {
      const target = inputOf(columnId);
      const value = item.fills[n] ?? null;
      return target ? [[target.id, typedValue(value, target.column, locale)] as const] : [];
    }),
  );
}

const NOTHING: ReadonlyMap<string, string> = new Map();

/**
 * Answers after one was typed. Where it chooses an item that brings values along, these go into
 * their fields, unless someone typed something else there.
 */
export function broughtAlong(
  { inputs }: PreparedForm<string>,
  { inputId, text }: { readonly inputId: string; readonly text: string },
  { answers, untouched }: FilledIn,
  context: ReadingContext,
): FilledIn {
  const input = inputs.find(({ id }) => id === inputId);
  const typed = { ...answers, [inputId]: text };
  const touched = new Set(untouched);
  touched.delete(inputId);
  if (!input?.column.settings.list?.fills) return { answers: typed, untouched: touched };
  const before = fillsOf(input, answers[inputId] ?? '', inputs, answers, context);
  for (const [target, fill] of fillsOf(input, text, inputs, typed, context)) {
    const held = answers[target] ?? '';
    if (held !== '' && !untouched.has(target) && held !== before.get(target)) continue;
    typed[target] = fill;
    touched.delete(target);
  }
  return { answers: typed, untouched: touched };
}
