import type { Total } from '@varn/contract/limits';
import {
  isErrorValue,
  sayErrorValue,
  showValue,
  type CellValue,
  type Column,
  type LocaleFacts,
} from '@varn/core';
import { widthOf } from './columnWidths';

const LABELS: Readonly<Record<Total, string>> = {
  SUM: 'Sum',
  AVERAGE: 'Mean',
  COUNT: 'Count',
  MIN: 'Minimum',
  MAX: 'Maximum',
};

/** A total as it stands at the foot of its column. */
export interface ShownTotal {
  readonly label: string;
  readonly text: string;
}

export function showTotal(
  value: CellValue,
  total: Total,
  column: Column,
  locale: LocaleFacts,
): ShownTotal {
  const shown: Column =
    total === 'COUNT' ? { ...column, kind: 'wholeNumber', settings: {} } : column;
  const text = isErrorValue(value) ? sayErrorValue(value) : showValue(value, shown, locale);
  return { label: LABELS[total], text };
}

/** Column widths at which each total, with its label, is seen whole. */
export function widenForTotals(
  widths: readonly number[],
  totals: readonly (ShownTotal | null)[],
): number[] {
  return widths.map((width, index) => {
    const total = totals[index];
    return total ? widthOf(total.label.length + 1 + total.text.length, width) : width;
  });
}
