import { minorDigits } from '../format';
import { read, readNumber } from '../values';
import type { Kind } from './kind';
import { showFormatted } from './showFormatted';
import { showPlain } from './showPlain';

/** The currency of a money column that names none. */
export const USUAL_CURRENCY = 'EUR';

/** An amount in one currency (ISO 4217). Its sign or code may be typed, and is left out. */
export const money: Kind = {
  id: 'money',
  label: 'Money',
  align: 'end',
  filledBy: 'people',
  typing: 'number',
  holds: 'number',
  usualLength: 9,
  read(typed, { settings }, { locale }) {
    const currency = settings.currency ?? USUAL_CURRENCY;
    const reading = readNumber(withoutSign(typed, currency, locale.tag), locale);
    if (!reading.ok || typeof reading.value !== 'number') return reading;
    const digits = minorDigits(currency);
    const fine = decimalsOf(reading.value) > digits;
    const problem = { code: 'finerThanMinor', text: typed.trim(), currency, digits } as const;
    return fine ? { ok: true, value: reading.value, ask: problem } : read(reading.value);
  },
  show: showPlain,
  format: (value, { settings, ...column }, locale) =>
    showFormatted(
      value,
      { ...column, settings: { currency: USUAL_CURRENCY, grouping: true, ...settings } },
      locale,
    ),
};

function withoutSign(typed: string, currency: string, tag: string): string {
  const sign = (currencyDisplay: 'narrowSymbol' | 'symbol'): string =>
    new Intl.NumberFormat(tag, { style: 'currency', currency, currencyDisplay })
      .formatToParts(0)
      .find(({ type }) => type === 'currency')?.value ?? currency;
  let text = typed.trim();
  for (const each of [sign('symbol'), sign('narrowSymbol'), currency]) {
    if (text.toUpperCase().startsWith(each.toUpperCase())) text = text.slice(each.length).trim();
    else if (text.toUpperCase().endsWith(each.toUpperCase())) {
      text = text.slice(0, -each.length).trim();
    }
  }
  return text;
}

function decimalsOf(value: number): number {
  const [mantissa = '', exponent = '0'] = String(value).split('e');
  return Math.max(0, (mantissa.split('.')[1] ?? '').length - Number(exponent));
}
