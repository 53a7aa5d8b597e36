import { isErrorValue, showNumber, type CellValue, type LocaleFacts } from '../values';
import type { Column } from './kind';

/** Shows a value by what it is; every kind falls back on it for what its column cannot hold. */
export function showPlain(
  value: Exclude<CellValue, null>,
  _column: Column,
  locale: LocaleFacts,
): string {
  if (typeof value === 'number') return showNumber(value, locale);
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  return isErrorValue(value) ? value.error : value;
}
