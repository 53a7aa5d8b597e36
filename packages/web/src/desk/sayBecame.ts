import type { Landed } from '@varn/contract';
import { fromWire, showValue, type Input, type LocaleFacts } from '@varn/core';

/** What was stored otherwise than it was seen: “Deposit became £120.00.” Nothing, mostly. */
export function sayBecame(
  { became = [], cells }: Pick<Landed, 'became' | 'cells'>,
  inputs: readonly Input[],
  locale: LocaleFacts,
): string {
  return became
    .flatMap((columnId) => {
      const input = inputs.find(({ column }) => column.id === columnId);
      if (!input) return [];
      const value = fromWire(cells[columnId] ?? null, input.column);
      const shown = value === null ? 'blank' : showValue(value, input.column, locale);
      return [`${input.label} became ${shown}.`];
    })
    .join(' ');
}
