import { format } from 'numfmt';
import type { ErrorValue } from '../values';

/** The longest number format that is read, in UTF-16 units. */
const LONGEST_PATTERN = 255;

/**
 * A number written by a number format code of ISO/IEC 29500 (18.8.31), such as `#,##0.00` or
 * `yyyy-mm-dd`; `#VALUE!` where the code is none.
 */
export function formatByPattern(
  value: number,
  pattern: string,
  locale: string,
): string | ErrorValue {
  if (pattern.length > LONGEST_PATTERN) return { error: '#VALUE!' };
  try {
    return format(pattern, value, { locale: locale.replace('-', '_'), leap1900: false });
  } catch {
    // The package throws where the code is no format.
    return { error: '#VALUE!' };
  }
}
