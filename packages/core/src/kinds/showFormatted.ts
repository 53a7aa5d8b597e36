import { formatByPattern, groupDigits, readByPattern, showByFormat } from '../format';
import type { CellValue, LocaleFacts } from '../values';
import { isErrorValue } from '../values';
import type { Column } from './kind';
import { showPlain } from './showPlain';

/** Reads a date or time as its column shows it by a pattern; `null` where it is written otherwise. */
export function readShown(
  typed: string,
  pattern: string | undefined,
  { tag }: LocaleFacts,
  now: number,
): number | null {
  return pattern === undefined ? null : readByPattern(typed, pattern, tag, now);
}

/** Shows a value by its column's format, or plainly where it has none. */
export function showFormatted(
  value: Exclude<CellValue, null>,
  column: Column,
  locale: LocaleFacts,
): string {
  const { settings } = column;
  if (typeof value === 'number') {
    if (settings.datePattern !== undefined) {
      const text = formatByPattern(value, settings.datePattern, locale.tag);
      if (typeof text === 'string') return text;
    }
    const shown = showByFormat(value, settings, locale);
    if (shown !== null) return shown;
  }
  if (typeof value === 'string' && settings.digitGroups && /^\d+$/.test(value)) {
    return groupDigits(value, settings.digitGroups);
  }
  return isErrorValue(value) ? value.error : showPlain(value, column, locale);
}
