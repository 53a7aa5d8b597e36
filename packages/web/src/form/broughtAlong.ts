import { typedValue, type Input, type PreparedForm, type ReadingContext } from '@varn/core';
import type { FilledIn } from './filledIn';

/** What choosing brings into other fields, by their inputs; nothing where no item is meant. */
function fillsOf(
  { column }: Input,
  text: string,
  inputs: readonly Input[],
  { listed, locale }: ReadingContext,
): ReadonlyMap<string, string> {
  const fills = column.settings.list?.fills ?? [];
  const meant = fills.length === 0 ? [] : (listed?.(column.id)?.meant(text.trim(), true) ?? []);
  const [item] = meant;
  if (!item || meant.length > 1) return NOTHING;
  return new Map(
    fills.flatMap(({ columnId }, n) => {
      const target = inputs.find((input) => input.column.id === columnId);
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
  const before = fillsOf(input, answers[inputId] ?? '', inputs, context);
  for (const [target, fill] of fillsOf(input, text, inputs, context)) {
    const held = answers[target] ?? '';
    if (held !== '' && !untouched.has(target) && held !== before.get(target)) continue;
    typed[target] = fill;
    touched.delete(target);
  }
  return { answers: typed, untouched: touched };
}
