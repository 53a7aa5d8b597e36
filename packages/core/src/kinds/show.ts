import { kindOf } from './table';
import type { CellValue, LocaleFacts } from '../values';
import type { Column } from './kind';

/** A stored value as people read it in its column; blank is the empty text. */
export function showValue(value: CellValue, column: Column, locale: LocaleFacts): string {
  return value === null ? '' : kindOf(column).show(value, column, locale);
}

/**
 * Whether a stored value is of its column's kind. Text that could not be read when a file was
 * brought in is kept as text and marked.
 */
export function isOfKind(value: CellValue, column: Pick<Column, 'kind'>): boolean {
  return value === null || kindOf(column).holds === 'any' || typeof value === kindOf(column).holds;
}
