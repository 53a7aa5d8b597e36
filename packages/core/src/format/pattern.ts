import { format, getFormatInfo } from 'numfmt';
import { roundAt, type ErrorValue } from '../values';

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
    return format(pattern, rounded(value, pattern), {
      locale: locale.replace('-', '_'),
      leap1900: false,
    });
  } catch {
    // The package throws where the code is no format.
    return { error: '#VALUE!' };
  }
}

/** A value rounded as `ROUND` does to the decimals a pattern shows: shown and computed, it is one number. */
function rounded(value: number, pattern: string): number {
  const sections = pattern.split(';');
  const section = value < 0 && sections.length > 1 ? (sections[1] ?? '') : pattern;
  const { type, maxDecimals, scale } = getFormatInfo(section);
  if (!ROUNDED.has(type)) return value;
  return roundAt(value, maxDecimals + Math.round(Math.log10(scale)));
}

const ROUNDED: ReadonlySet<string> = new Set(['number', 'grouped', 'currency', 'percent']);
