import type { ColumnSettings, KindId } from '@varn/core';

/** Settings of a format that a kind has a use for. */
export type FormatPart =
  | 'decimals'
  | 'grouping'
  | 'percent'
  | 'currency'
  | 'datePattern'
  | 'digitGroups'
  | 'country'
  | 'unit'
  | 'choices'
  | 'pattern';

const PARTS: Partial<Record<KindId, readonly FormatPart[]>> = {
  text: ['digitGroups'],
  wholeNumber: ['grouping', 'unit'],
  number: ['decimals', 'grouping', 'percent', 'unit'],
  money: ['currency', 'decimals', 'grouping'],
  date: ['datePattern'],
  time: ['datePattern'],
  moment: ['datePattern'],
  phone: ['country'],
  oneChoice: ['choices'],
  severalChoices: ['choices'],
  runningNumber: ['pattern'],
  writtenAt: ['datePattern'],
};

export function formatParts(kind: KindId, { shownAs }: ColumnSettings): readonly FormatPart[] {
  if (kind === 'computed')
    return shownAs === undefined ? (PARTS.number ?? []) : (PARTS[shownAs] ?? []);
  return PARTS[kind] ?? [];
}

/** Patterns of dates and times to pick from; codes of ISO/IEC 29500 part 1, 18.8.31. */
export const PATTERNS: Readonly<Record<'date' | 'time' | 'moment', readonly string[]>> = {
  date: ['yyyy-mm-dd', 'd mmm yyyy', 'd mmmm yyyy', 'ddd d mmm', 'dd/mm/yyyy', 'mmm yyyy'],
  time: ['hh:mm', 'hh:mm:ss', 'h:mm AM/PM'],
  moment: ['yyyy-mm-dd hh:mm', 'd mmm yyyy hh:mm', 'ddd d mmm hh:mm'],
};

/** Codes of a list with their names, sorted by name. */
export function named(
  codes: readonly string[],
  type: 'currency' | 'region',
): [code: string, name: string][] {
  const names = new Intl.DisplayNames('en', { type });
  return codes
    .map((code): [string, string] => [code, `${names.of(code) ?? code} (${code})`])
    .sort(([, a], [, b]) => a.localeCompare(b));
}

/** The groups of digits as they are typed, `4 4 4`, and read back; `null` where they are none. */
export const sayGroups = (groups: readonly number[] | undefined): string =>
  (groups ?? []).join(' ');

export function readGroups(text: string): number[] | null {
  const parts = text
    .trim()
    .split(/[\s,]+/)
    .filter((part) => part !== '');
  const groups = parts.map(Number);
  const right = groups.every((each) => Number.isInteger(each) && each > 0 && each < 100);
  return right && groups.length <= 20 ? groups : null;
}

/** Settings with one of them put in or, where it says nothing, taken out. */
export function withSetting<K extends keyof ColumnSettings>(
  settings: ColumnSettings,
  key: K,
  value: ColumnSettings[K] | undefined,
): ColumnSettings {
  const { [key]: _, ...others } = settings;
  const isNothing = value === undefined || value === '' || value === false;
  return isNothing ? others : { ...others, [key]: value };
}
