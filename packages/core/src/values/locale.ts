import { plainSigns } from './signs';

export type DateOrder = 'dmy' | 'mdy' | 'ymd';

const PERIODS = ['week', 'month', 'quarter', 'year'] as const;

/** A week, month, quarter or year, so many away from this one. */
export interface PeriodWord {
  readonly unit: (typeof PERIODS)[number];
  readonly away: number;
}

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
  /** Lower-case words that say nothing in a date: `de`, `den`, `г`. */
  readonly fillers: ReadonlySet<string>;
  /** Lower-case words for days by how far they are from today: -1, 0 and 1. */
  readonly dayWords: ReadonlyMap<string, number>;
  /** Lower-case words for weeks, months, quarters and years, by how far they are from this one. */
  readonly periodWords: ReadonlyMap<string, PeriodWord>;
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
    fillers: fillersOf(tag),
    dayWords: new Map(relativeWords(tag, 'day').map(({ word, away }) => [word, away])),
    periodWords: new Map(
      PERIODS.flatMap((unit) => relativeWords(tag, unit)).map((each) => [each.word, each]),
    ),
    halves: halves(tag),
  };
}

/** An apostrophe however a keyboard or a typesetter writes it. */
export const plainApostrophes = (text: string): string => text.replace(/[\u2019\u02BC]/g, "'");

/** Lower-case, as it stands in what people type: without the dot that marks it as short. */
const asTyped = (text: string, tag: string): string =>
  plainApostrophes(plainSigns(text))
    .toLocaleLowerCase(tag)
    .replace(/[.\u0970]$/, '');

/** What a part of each moment is called in the locale's tongue and in English. */
function namesOf(
  tag: string,
  moments: readonly number[],
  type: 'weekday' | 'dayPeriod',
  styles: readonly Intl.DateTimeFormatOptions[],
): string[][] {
  const formats = [tag, 'en'].flatMap((locale) =>
    styles.map((options) => ({
      locale,
      format: new Intl.DateTimeFormat(locale, { timeZone: 'UTC', ...options }),
    })),
  );
  return moments.map((at) => {
    const names = formats.map(({ locale, format }) => {
      const part = format.formatToParts(at).find((each) => each.type === type);
      return asTyped(part?.value ?? '', locale);
    });
    return [...new Set(names)].filter((name) => name !== '');
  });
}

/** 2026-11-01 is a Sunday. */
const weekdayNames = (tag: string): string[][] =>
  namesOf(
    tag,
    Array.from({ length: 7 }, (_, day) => Date.UTC(2026, 10, 1 + day)),
    'weekday',
    [{ weekday: 'long' }, { weekday: 'short' }],
  );

/** Hours by which all names of a half are met: some tongues name the night, the evening, noon. */
const HOURS = [0, 3, 6, 9, 11, 12, 13, 15, 18, 21];

function halves(tag: string): LocaleFacts['halves'] {
  const names = namesOf(
    tag,
    HOURS.map((hour) => Date.UTC(2026, 10, 1, hour)),
    'dayPeriod',
    [
      { hour: 'numeric', hour12: true },
      { hour: 'numeric', hour12: true, dayPeriod: 'short' },
    ],
  );
  // A time of its own is no half of a day.
  const of = (isIn: (hour: number) => boolean): string[] =>
    [...new Set(names.filter((_, at) => isIn(HOURS[at] ?? 0)).flat())].filter(
      (name) => name !== 'noon' && name !== 'midnight',
    );
  return { am: of((hour) => hour < 12), pm: of((hour) => hour >= 12) };
}

/** Words for the day, week … before, this one and the next, in the locale's tongue and in English. */
function relativeWords<U extends PeriodWord['unit'] | 'day'>(
  tag: string,
  unit: U,
): { word: string; unit: U; away: number }[] {
  return [tag, 'en'].flatMap((locale) => {
    const format = new Intl.RelativeTimeFormat(locale, { numeric: 'auto' });
    const said = [-1, 0, 1].map((away) => asTyped(format.format(away, unit), locale));
    // A word for yesterday and tomorrow alike means neither.
    return said.flatMap((word, at) =>
      said.indexOf(word) === said.lastIndexOf(word) ? [{ word, unit, away: at - 1 }] : [],
    );
  });
}

/** Names as they stand in a date, in the locale's tongue and in English, long and short. */
function monthNames(tag: string): string[][] {
  const formats = [tag, 'en'].flatMap((locale) =>
    (['long', 'short'] as const).flatMap((month) =>
      [{}, { year: 'numeric' } as const].map((more) => ({
        locale,
        format: new Intl.DateTimeFormat(locale, { ...GREGORIAN, month, day: 'numeric', ...more }),
      })),
    ),
  );
  return Array.from({ length: 12 }, (_, month) => {
    const at = Date.UTC(2026, month, 15);
    const names = formats.flatMap(({ locale, format }) => {
      const parts = format.formatToParts(at);
      const place = parts.findIndex(({ type }) => type === 'month');
      const name = parts[place]?.value ?? '';
      // What is written together with it, as a preposition or an ending is.
      const literalAt = (at: number): string => plainApostrophes(parts[at]?.value ?? '');
      const [ahead = ''] = /[\p{L}\p{M}']+$/u.exec(literalAt(place - 1)) ?? [];
      const [behind = ''] = /^[\p{L}\p{M}']+/u.exec(literalAt(place + 1)) ?? [];
      return [name, ahead + name + behind].map((each) => asTyped(each, locale));
    });
    return [...new Set(names)].filter((name) => name !== '' && !/^\d+$/.test(name));
  });
}

const GREGORIAN = { timeZone: 'UTC', calendar: 'gregory' } as const;

/** Words that stand between the parts of a date, or behind them. */
function fillersOf(tag: string): Set<string> {
  const fillers = new Set<string>();
  for (const dateStyle of ['full', 'long', 'medium', 'short'] as const) {
    const format = new Intl.DateTimeFormat(tag, { ...GREGORIAN, dateStyle });
    for (const { type, value } of format.formatToParts(Date.UTC(2026, 8, 21))) {
      if (type !== 'literal' && type !== 'era') continue;
      for (const word of value.match(/[\p{L}\p{M}]+/gu) ?? []) {
        fillers.add(word.toLocaleLowerCase(tag));
      }
    }
  }
  return fillers;
}
