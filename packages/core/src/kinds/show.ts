import { kindOf } from './table';
import { isErrorValue, type CellValue, type LocaleFacts } from '../values';
import type { Column } from './kind';
import { showFormatted } from './showFormatted';

/** A stored value as people read it in its column, by the column's format; blank is the empty text. */
export function showValue(value: CellValue, column: Column, locale: LocaleFacts): string {
  if (value === null) return '';
  if (isErrorValue(value)) return value.error;
  if (column.kind === 'computed') return showComputed(value, column, locale);
  const kind = kindOf(column);
  return (kind.format ?? kind.show)(value, column, locale);
}

/** A stored value as it is typed: all of its digits, and read back as the same. */
export function typedValue(value: CellValue, column: Column, locale: LocaleFacts): string {
  return value === null ? '' : kindOf(column).show(value, column, locale);
}

/** A formula's value as the kind it is shown as, where it is of that kind. */
function showComputed(
  value: Exclude<CellValue, null>,
  column: Column,
  locale: LocaleFacts,
): string {
  const { shownAs } = column.settings;
  if (shownAs === undefined || shownAs === 'computed' || !isOfKind(value, { kind: shownAs })) {
    return showFormatted(value, column, locale);
  }
  return showValue(value, { ...column, kind: shownAs }, locale);
}

/**
 * Whether a stored value is of its column's kind. Text that could not be read when a file was
 * brought in is kept as text and marked.
 */
export function isOfKind(
  value: CellValue,
  column: Pick<Column, 'kind'> & Partial<Pick<Column, 'settings'>>,
): boolean {
  if (value === null || kindOf(column).holds === 'any') return true;
  // What is fed is stored as its source holds it.
  if (column.settings?.list && !isErrorValue(value)) return true;
  return typeof value === kindOf(column).holds;
}
