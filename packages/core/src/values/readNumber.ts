import type { LocaleFacts } from './locale';
import { read, refuse, type Reading } from './problem';
import { plainSigns } from './signs';

/** IEEE doubles keep 15 significant decimal digits whatever the number. */
export const KEPT_DIGITS = 15;

/** Signs for minus that keyboards and other programs produce: hyphen, minus sign, en dash. */
const MINUS = /^[-\u2212\u2013]\s?/;
/** Spaces and apostrophes that locales group digits with. */
const SPACES = /[\s\u00A0\u202F]/g;
const APOSTROPHES = /[\u2019']/g;

type NumberStyle = Pick<LocaleFacts, 'decimal' | 'group'>;

const patterns = new Map<string, RegExp>();

function pattern({ decimal, group }: NumberStyle): RegExp {
  const key = decimal + group;
  let made = patterns.get(key);
  if (!made) {
    const escape = (text: string): string => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');
    const groups =
      group === '' ? '' : `|\\d{1,3}(?:${escape(group)}\\d{2,3})*${escape(group)}\\d{3}`;
    made = new RegExp(
      `^(?:(?:\\d+${groups})(?:${escape(decimal)}\\d*)?|${escape(decimal)}\\d+)(?:e[-+]?\\d{1,4})?$`,
      'i',
    );
    patterns.set(key, made);
  }
  return made;
}

/**
 * Reads a number as the locale writes it: digits, grouped or not, its decimal sign, a sign in
 * front, an exponent. Refuses what a double cannot hold.
 */
export function readNumber(text: string, style: NumberStyle): Reading {
  const trimmed = text.trim();
  if (trimmed === '') return read(null);
  // U+066B and U+066C: the decimal and thousands signs of Arabic.
  const plain = plainSigns(trimmed)
    .replace('\u066B', style.decimal)
    .replaceAll('\u066C', style.group);
  const negative = MINUS.test(plain);
  let body = (negative ? plain.replace(MINUS, '') : plain.replace(/^\+/, ''))
    .replace(SPACES, ' ')
    .replace(APOSTROPHES, "'");
  const group = style.group.replace(SPACES, ' ').replace(APOSTROPHES, "'");
  if (!pattern({ decimal: style.decimal, group }).test(body)) {
    const meant = otherSign(body, style);
    return refuse(
      meant === null
        ? { code: 'notANumber', text: trimmed }
        : { code: 'otherDecimalSign', text: trimmed, meant: (negative ? '-' : '') + meant },
    );
  }
  if (group !== '') body = body.split(group).join('');
  body = body.replace(style.decimal, '.');
  const digits = body.replace(/e.*$/i, '').replace('.', '').replace(/^0+/, '').replace(/0+$/, '');
  if (digits.length > KEPT_DIGITS) {
    return refuse({ code: 'tooManyDigits', text: trimmed, digits: digits.length });
  }
  const value = Number(body) * (negative ? -1 : 1);
  if (!Number.isFinite(value)) return refuse({ code: 'tooLarge', text: trimmed });
  return read(value === 0 ? 0 : value);
}

/** `7,5` where the locale writes `7.5`, or the other way round: what was meant, else null. */
function otherSign(body: string, { decimal }: NumberStyle): string | null {
  const other = decimal === '.' ? ',' : '.';
  return new RegExp(`^\\d+\\${other}\\d+$`).test(body) ? body.replace(other, decimal) : null;
}

/** Writes a number as the locale does, all its digits and no more, without grouping. */
export function showNumber(value: number, style: Pick<LocaleFacts, 'decimal'>): string {
  const text = String(value);
  return style.decimal === '.' ? text : text.replace('.', style.decimal);
}
