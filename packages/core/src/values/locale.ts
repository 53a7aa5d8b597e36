import { plainSigns } from './signs';

export type DateOrder = 'dmy' | 'mdy' | 'ymd';

/** How a workbook's locale writes numbers and dates, as the platform's CLDR data has it. */
export interface LocaleFacts {
  readonly tag: string;
  readonly decimal: string;
  readonly group: string;
  readonly dateOrder: DateOrder;
  readonly dateSeparator: string;
  /** Lower-case month names, long and short: `months[0]` are January's. */
  readonly months: readonly (readonly string[])[];
  /** Lower-case names of the days of the week, long and short: `weekdays[0]` are Sunday's. */
  readonly weekdays: readonly (readonly string[])[];
  /** Lower-case words for days by how far they are from today: -1, 0 and 1. */
  readonly dayWords: ReadonlyMap<string, number>;
  /** Lower-case words for before and after noon. */
  readonly halves: { readonly am: readonly string[]; readonly pm: readonly string[] };
}

const known = new Map<string, LocaleFacts>();

/** Facts of a BCP 47 locale. Throws RangeError where the tag is not well formed. */
export function localeFacts(tag: string): LocaleFacts {
  let facts = known.get(tag);
  if (!facts) {
    facts = factsFromPlatform(tag);
    known.set(tag, facts);
  }
  return facts;
}

function factsFromPlatform(tag: string): LocaleFacts {
  const number = new Intl.NumberFormat(tag, { numberingSystem: 'latn', useGrouping: true });
  const numberParts = number.formatToParts(-1234567.5);
  const date = new Intl.DateTimeFormat(tag, {
    calendar: 'gregory',
    numberingSystem: 'latn',
    timeZone: 'UTC',
    year: 'numeric',
    month: '2-digit',
    day: '2-digit',
  }).formatToParts(Date.UTC(2026, 3, 13));
  const letters: Partial<Record<Intl.DateTimeFormatPartTypes, string>> = {
    year: 'y',
    month: 'm',
    day: 'd',
  };
  const order = date.map((part) => letters[part.type] ?? '').join('');
  return {
    tag,
    decimal: numberParts.find((part) => part.type === 'decimal')?.value ?? '.',
    group: numberParts.find((part) => part.type === 'group')?.value ?? ',',
    dateOrder: order === 'mdy' || order === 'ymd' ? order : 'dmy',
    dateSeparator:
      plainSigns(date.find((part) => part.type === 'literal')?.value ?? '').trim() || '/',
    months: monthNames(tag),
    weekdays: weekdayNames(tag),
    dayWords: dayWords(tag),
    halves: { am: halfNames(tag, 9), pm: halfNames(tag, 15) },
  };
}

/** Lower-case, as it stands in what people type: without the dot that marks it as short. */
const asTyped = (text: string, tag: string): string =>
  plainSigns(text)
    .toLocaleLowerCase(tag)
    .replace(/[.\u0970]$/, '');

/** What a part of a date is called in the locale's tongue and in English. */
function namesOf(
  tag: string,
  at: number,
  type: 'weekday' | 'dayPeriod',
  styles: readonly Intl.DateTimeFormatOptions[],
): string[] {
  const names = [tag, 'en'].flatMap((locale) =>
    styles.map((options) => {
      const format = new Intl.DateTimeFormat(locale, { timeZone: 'UTC', ...options });
      const part = format.formatToParts(at).find((each) => each.type === type);
      return asTyped(part?.value ?? '', locale);
    }),
  );
  return [...new Set(names)].filter((name) => name !== '');
}

/** 2026-11-01 is a Sunday. */
const weekdayNames = (tag: string): string[][] =>
  Array.from({ length: 7 }, (_, day) =>
    namesOf(tag, Date.UTC(2026, 10, 1 + day), 'weekday', [
      { weekday: 'long' },
      { weekday: 'short' },
    ]),
  );

const halfNames = (tag: string, hour: number): string[] =>
  namesOf(tag, Date.UTC(2026, 10, 1, hour), 'dayPeriod', [
    { hour: 'numeric', hour12: true },
    { hour: 'numeric', hour12: true, dayPeriod: 'short' },
  ]);

function dayWords(tag: string): Map<string, number> {
  const words = new Map<string, number>();
  for (const locale of [tag, 'en']) {
    const format = new Intl.RelativeTimeFormat(locale, { numeric: 'auto' });
    for (const days of [-1, 0, 1]) words.set(asTyped(format.format(days, 'day'), locale), days);
  }
  return words;
}

/** Names as they stand in a date, in the locale's tongue and in English, long and short. */
function monthNames(tag: string): string[][] {
  const formats = [tag, 'en'].flatMap((locale) =>
    (['long', 'short'] as const).map((month) => ({
      locale,
      format: new Intl.DateTimeFormat(locale, {
        timeZone: 'UTC',
        calendar: 'gregory',
        month,
        day: 'numeric',
      }),
    })),
  );
  return Array.from({ length: 12 }, (_, month) => {
    const at = Date.UTC(2026, month, 15);
    const names = formats.map(({ locale, format }) => {
      const part = format.formatToParts(at).find(({ type }) => type === 'month');
      return asTyped(part?.value ?? '', locale);
    });
    return [...new Set(names)].filter((name) => name !== '' && !/^\d+$/.test(name));
  });
}
