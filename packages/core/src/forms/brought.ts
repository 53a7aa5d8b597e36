import { typedValue, type ListItem, type ReadingContext } from '../kinds';
import { narrowedItems } from '../lists';
import type { Cells } from '../values';
import type { Answers, Input } from './inputs';
import type { PreparedForm } from './prepared';

/** An answer that brings values into other fields, with the items of its list that it may mean. */
interface Bringing<F> {
  readonly input: Input<F>;
  readonly meant: readonly ListItem[];
}

/**
 * What a choice brings into other fields, by their inputs; nothing where no one item is meant.
 *
 * @param textOf what stands in an input: of one value that goes with several, it is that which goes
 *   with what is filled in
 */
function broughtBy<F>(
  { input, meant }: Bringing<F>,
  inputs: readonly Input<F>[],
  textOf: (input: Input<F>) => string,
  { locale }: ReadingContext,
): ReadonlyMap<Input<F>, string> {
  const { fills = [], narrowed = [] } = input.column.settings.list ?? {};
  const inputOf = (columnId: string): Input<F> | undefined =>
    inputs.find(({ column }) => column.id === columnId);
  const texts = narrowed.map(({ columnId }) => {
    const by = inputOf(columnId);
    return by ? textOf(by).trim() : '';
  });
  const goes = (each: ListItem): boolean => narrowedItems([each], texts).length > 0;
  const [item, another] = meant.length > 1 ? meant.filter(goes) : meant;
  if (!item || another) return new Map();
  return new Map(
    fills.flatMap(({ columnId }, n) => {
      const target = inputOf(columnId);
      const value = item.fills[n] ?? null;
      return target ? [[target, typedValue(value, target.column, locale)] as const] : [];
    }),
  );
}

/** What was filled in, and what of it nobody touched. */
interface FilledIn {
  readonly answers: Answers;
  readonly untouched: ReadonlySet<string>;
}

/**
 * Answers after one was typed. Where it chooses an item that brings values along, these go into
 * their fields, unless someone typed something else there. What is read only follows by itself.
 */
export function broughtAlong<F>(
  { inputs }: PreparedForm<F>,
  { inputId, text }: { readonly inputId: string; readonly text: string },
  { answers, untouched }: FilledIn,
  context: ReadingContext,
): FilledIn {
  const input = inputs.find(({ id }) => id === inputId);
  const typed = { ...answers, [inputId]: text };
  const touched = new Set(untouched);
  touched.delete(inputId);
  if (!input?.column.settings.list?.fills) return { answers: typed, untouched: touched };
  const bringing = (by: string, all: Answers): ReadonlyMap<Input<F>, string> => {
    const meant = context.listed?.(input.column.id)?.meant(by.trim(), true) ?? [];
    return broughtBy({ input, meant }, inputs, ({ id }) => all[id] ?? '', context);
  };
  const before = bringing(answers[inputId] ?? '', answers);
  for (const [target, fill] of bringing(text, typed)) {
    if (target.block.readOnly) continue;
    const held = answers[target.id] ?? '';
    if (held !== '' && !untouched.has(target.id) && held !== before.get(target)) continue;
    typed[target.id] = fill;
    touched.delete(target.id);
  }
  return { answers: typed, untouched: touched };
}

/** What read-only texts are made of. */
interface Standing<F> {
  /** Starting values, by input id. */
  readonly starts: Answers;
  /** The record that is corrected; `null` for a new one. */
  readonly held: Cells | null;
  readonly isShown: (input: Input<F>) => boolean;
  /** What stands in an input, given what stands in the read-only ones. */
  readonly textOf: (input: Input<F>, texts: Answers) => string;
  /** The items of its list that a text in it may mean. */
  readonly meantBy: (input: Input<F>, text: string) => readonly ListItem[];
}

/**
 * What stands in the fields nobody can type in, by input id: what a choice brings there, else what is
 * stored of the record that is corrected, else the starting value. A formula is computed anew.
 */
export function readOnlyTexts<F>(
  { inputs }: PreparedForm<F>,
  { starts, held, isShown, textOf, meantBy }: Standing<F>,
  context: ReadingContext,
): Answers {
  const readOnly = inputs.filter(({ block }) => block.readOnly === true);
  if (readOnly.length === 0) return starts;
  const { locale } = context;
  const storedText = ({ column }: Input<F>): string =>
    typedValue(held?.[column.id] ?? null, column, locale);
  const base: Record<string, string> = { ...starts };
  for (const input of readOnly) {
    const { start } = input.block;
    if (held && start?.kind !== 'formula') base[input.id] = storedText(input);
    else base[input.id] ??= '';
  }
  const bringing = inputs.filter(({ column }) => column.settings.list?.fills !== undefined);
  let texts: Answers = base;
  // What is brought may choose in its turn.
  for (let round = 0; round <= bringing.length; round += 1) {
    const next = { ...base };
    for (const input of bringing) {
      const text = textOf(input, texts);
      // What is stored beside a stored choice was brought when it was chosen.
      if (!isShown(input) || text === '' || (held && text === storedText(input))) continue;
      const meant = meantBy(input, text);
      const brought = broughtBy({ input, meant }, inputs, (of) => textOf(of, texts), context);
      for (const [target, fill] of brought) if (target.block.readOnly) next[target.id] = fill;
    }
    const isSettled = readOnly.every(({ id }) => next[id] === texts[id]);
    texts = next;
    if (isSettled) break;
  }
  return texts;
}
