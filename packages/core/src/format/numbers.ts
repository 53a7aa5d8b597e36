import type { LocaleFacts } from '../values';

/** How a number is shown; the stored value is never touched. */
export interface NumberFormat {
  readonly decimals?: number;
  /** Whether digits are parted by thousands. */
  readonly grouping?: boolean;
  readonly percent?: boolean;
  /** ISO 4217, three letters. */
  readonly currency?: string;
  /** Lengths of groups of digits, from the left: 4 4 4. */
  readonly digitGroups?: readonly number[];
}

const formats = new Map<string, Intl.NumberFormat>();

/** More decimals than this are not shown. */
const MOST_DECIMALS = 15;

function formatOf(tag: string, options: Intl.NumberFormatOptions): Intl.NumberFormat {
  const key = `${tag} ${JSON.stringify(options)}`;
  let format = formats.get(key);
  if (!format) {
    format = new Intl.NumberFormat(tag, { numberingSystem: 'latn', ...options });
    formats.set(key, format);
  }
  return format;
}

/** How many decimals a currency has (ISO 4217, as the platform's CLDR data has it). */
export function minorDigits(currency: string): number {
  return (
    formatOf('en', { style: 'currency', currency }).resolvedOptions().maximumFractionDigits ?? 2
  );
}

const CURRENCIES: ReadonlySet<string> = new Set(Intl.supportedValuesOf('currency'));

/** Whether a code is one of three letters that names a currency the platform knows. */
export const isCurrency = (code: string): boolean => CURRENCIES.has(code);

/**
 * A number as a column's format shows it: decimals, groups of digits, percent, currency. `null`
 * where the column has no format and the number is shown with all its digits.
 */
export function showByFormat(
  value: number,
  { decimals, grouping = false, percent = false, currency, digitGroups }: NumberFormat,
  { tag }: LocaleFacts,
): string | null {
  if (digitGroups !== undefined && Number.isSafeInteger(value) && value >= 0) {
    return groupDigits(String(value), digitGroups);
  }
  if (decimals === undefined && !grouping && !percent && currency === undefined) return null;
  return formatOf(tag, {
    ...(currency === undefined
      ? { style: percent ? 'percent' : 'decimal' }
      : { style: 'currency', currency }),
    useGrouping: grouping,
    // What rounds to nothing has no sign.
    signDisplay: 'negative',
    ...(decimals === undefined
      ? { ...(currency === undefined && { maximumFractionDigits: MOST_DECIMALS }) }
      : { minimumFractionDigits: decimals, maximumFractionDigits: decimals }),
  }).format(value);
}

/**
 * Digits parted by spaces into groups of given lengths: 4 4 4 gives `1234 5678 9012`. What is
 * over stands in front, as a shorter or longer first group.
 */
export function groupDigits(text: string, groups: readonly number[]): string {
  const parts: string[] = [];
  let end = text.length;
  for (const length of [...groups].reverse()) {
    if (end <= 0 || length < 1) break;
    parts.unshift(text.slice(Math.max(0, end - length), end));
    end -= length;
  }
  if (end > 0) parts[0] = text.slice(0, end) + (parts[0] ?? '');
  return parts.join(' ');
}
