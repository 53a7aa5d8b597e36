/** How a workbook reads and shows values. */
export interface Ways {
  /** BCP 47. */
  readonly locale: string;
  /** IANA. */
  readonly timeZone: string;
  /** ISO 4217. */
  readonly currency: string;
}

const LOCALES = [
  'en-GB',
  'en-US',
  'de-DE',
  'fr-FR',
  'es-ES',
  'it-IT',
  'nl-NL',
  'pt-BR',
  'pl-PL',
  'sv-SE',
  'ja-JP',
];

/** Locales to choose from, the given one first, each by its name and how it writes a date. */
export function localeNames(own: string): [value: string, name: string][] {
  const names = new Intl.DisplayNames('en', { type: 'language' });
  const today = new Date();
  return [...new Set([own, ...LOCALES])].map((tag) => [
    tag,
    `${names.of(tag) ?? tag}: ${today.toLocaleDateString(tag)}, ${(1.5).toLocaleString(tag)}`,
  ]);
}

export const timeZoneNames = (own: string): [value: string, name: string][] =>
  [...new Set([own, 'UTC', ...Intl.supportedValuesOf('timeZone')])].map((zone) => [
    zone,
    zone.replaceAll('_', ' '),
  ]);

/** Currencies to choose from, each by its code and name. */
export function currencyNames(own: string): [value: string, name: string][] {
  const names = new Intl.DisplayNames('en', { type: 'currency' });
  return [...new Set([own, ...Intl.supportedValuesOf('currency')])].map((code) => [
    code,
    `${code}: ${names.of(code) ?? code}`,
  ]);
}

/** Currencies of countries that are not the euro’s: ISO 3166-1 to ISO 4217. */
const CURRENCIES: Readonly<Record<string, string>> = {
  AU: 'AUD',
  BR: 'BRL',
  CA: 'CAD',
  CH: 'CHF',
  CN: 'CNY',
  CZ: 'CZK',
  DK: 'DKK',
  GB: 'GBP',
  HU: 'HUF',
  IN: 'INR',
  JP: 'JPY',
  KR: 'KRW',
  MX: 'MXN',
  NO: 'NOK',
  NZ: 'NZD',
  PL: 'PLN',
  RO: 'RON',
  SE: 'SEK',
  TR: 'TRY',
  US: 'USD',
  ZA: 'ZAR',
};

/** What the browser’s person is used to. */
export function browserWays(): Ways {
  const { timeZone } = Intl.DateTimeFormat().resolvedOptions();
  const locale = navigator.language;
  const { region = '' } = new Intl.Locale(locale).maximize();
  return { locale, timeZone, currency: CURRENCIES[region] ?? 'EUR' };
}

/** What values look like in these ways: a day and time, a number, an amount. */
export function sampleOf({ locale, timeZone, currency }: Ways, at: Date): string {
  return [
    at.toLocaleString(locale, { dateStyle: 'short', timeStyle: 'short', timeZone }),
    (1234.5).toLocaleString(locale),
    (12.5).toLocaleString(locale, { style: 'currency', currency }),
  ].join('   ·   ');
}
