import { minorDigits } from '../format';
import {
  plainSigns,
  read,
  readNumber,
  refuse,
  type LocaleFacts,
  type Reading,
  quote,
  type Sentences,
} from '../values';
import type { Kind } from './kind';
import { withoutUnit } from './measured';
import { showFormatted } from './showFormatted';
import { showPlain } from './showPlain';

declare module '../values/problem' {
  interface Problems {
    finerThanMinor: {
      readonly text: string;
      readonly currency: string;
      readonly digits: number;
    };
  }
}

export const MONEY_SENTENCES: Sentences<'finerThanMinor'> = {
  finerThanMinor: ({ text, currency, digits }) =>
    `${quote(text)} is finer than ${currency} is counted: it has ${digits === 0 ? 'no decimals' : `${digits} decimals`}. Shorten it, or say that it is meant.`,
};

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
  tail: 'currency',
  read(typed, { settings }, { locale }) {
    const currency = settings.currency ?? USUAL_CURRENCY;
    const reading = readAmount(typed, currency, settings.unit, locale);
    if (!reading.ok || typeof reading.value !== 'number') return reading;
    const digits = minorDigits(currency);
    const fine = decimalsOf(reading.value) > digits;
    const problem = { code: 'finerThanMinor', text: typed.trim(), currency, digits } as const;
    return fine ? { ok: true, value: reading.value, doubt: problem } : read(reading.value);
  },
  show: showPlain,
  format: (value, { settings, ...column }, locale) =>
    showFormatted(
      value,
      { ...column, settings: { currency: USUAL_CURRENCY, grouping: true, ...settings } },
      locale,
    ),
};

/** Minus stands before the currency or between it and the figures: `-€5`, `€-5`, `-5 EUR`. */
function readAmount(
  typed: string,
  currency: string,
  unit: string | undefined,
  locale: LocaleFacts,
): Reading {
  const whole = withoutUnit(plainSigns(typed).trim(), unit);
  const bare = whole.replace(MINUS, '');
  const amount = withoutSign(bare, currency, locale.tag);
  // A sign alone is no amount, and neither is one with two.
  const isTwice = bare !== whole && SIGN.test(amount);
  if ((amount === '' && whole !== '') || isTwice) {
    return refuse({ code: 'notANumber', text: typed.trim() });
  }
  const reading = readNumber(amount, locale);
  if (!reading.ok || typeof reading.value !== 'number') return reading;
  return read(bare === whole || reading.value === 0 ? reading.value : -reading.value);
}

const MINUS = /^[-\u2212\u2013]\s*/;
const SIGN = /^[-+\u2212\u2013]/;

/** What the currency is called in a locale: its sign, its narrow sign, its code. */
const signs = new Map<string, readonly string[]>();

function signsOf(currency: string, tag: string): readonly string[] {
  const key = `${tag} ${currency}`;
  let found = signs.get(key);
  if (!found) {
    const sign = (currencyDisplay: 'narrowSymbol' | 'symbol'): string =>
      new Intl.NumberFormat(tag, { style: 'currency', currency, currencyDisplay })
        .formatToParts(0)
        .find(({ type }) => type === 'currency')?.value ?? currency;
    found = [sign('symbol'), sign('narrowSymbol'), currency].map((each) =>
      plainSigns(each).trim().toUpperCase(),
    );
    signs.set(key, found);
  }
  return found;
}

function withoutSign(typed: string, currency: string, tag: string): string {
  for (const each of signsOf(currency, tag)) {
    const text = typed.toUpperCase();
    if (text.startsWith(each)) return typed.slice(each.length).trim();
    if (text.endsWith(each)) return typed.slice(0, -each.length).trim();
  }
  return typed;
}

function decimalsOf(value: number): number {
  const [mantissa = '', exponent = '0'] = String(value).split('e');
  return Math.max(0, (mantissa.split('.')[1] ?? '').length - Number(exponent));
}
