import { usualLength, type Column, type LocaleFacts, type SheetModel } from '@varn/core';

/** Lengths are measured anew once the records have become this share more, or fewer. */
const NOTABLE = 0.1;

interface Measured {
  readonly count: number;
  readonly length: number;
}

const kept = new WeakMap<SheetModel, WeakMap<object, Measured>>();

/**
 * How long the stored values of columns usually are, by column id, in characters. What was measured
 * is kept: a form is asked for by everyone who opens it, and is to be laid out alike for them.
 */
export function usualLengths(
  model: SheetModel,
  columns: readonly Column[],
  locale: LocaleFacts,
): Record<string, number> {
  const known = kept.get(model) ?? new WeakMap<object, Measured>();
  kept.set(model, known);
  const { count } = model;
  return Object.fromEntries(
    columns.map((column) => {
      const before = known.get(column);
      if (before && Math.abs(count - before.count) <= before.count * NOTABLE) {
        return [column.id, before.length];
      }
      const length = usualLength(model, column, locale);
      known.set(column, { count, length });
      return [column.id, length];
    }),
  );
}
