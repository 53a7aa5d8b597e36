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
    dateSeparator: date.find((part) => part.type === 'literal')?.value.trim() || '/',
    months: monthNames(tag),
  };
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
      return (part?.value ?? '').toLocaleLowerCase(locale).replace(/\.$/, '');
    });
    return [...new Set(names)].filter((name) => name !== '' && !/^\d+$/.test(name));
  });
}
