import { getLocale, tokenize } from 'numfmt';
import { dateOfSerial, fullYear, plainSigns, serialOfDate, serialOfTime } from '../values';
import { formatByPattern } from './pattern';

/** The parts of a date and a time that a pattern writes in figures. */
type Part = 'year' | 'month' | 'day' | 'hour' | 'minute' | 'second' | 'half';

interface Reader {
  readonly shape: RegExp;
  /** What each group of the shape is. */
  readonly parts: readonly Part[];
  readonly names: Names;
}

interface Names {
  readonly mmm: readonly string[];
  readonly mmmm: readonly string[];
  readonly ampm: readonly string[];
}

/** Patterns are few; whoever tries many does not fill the memory with them. */
const MOST_HELD = 200;
const held = new Map<string, Reader | null>();

/**
 * Reads a date, a time or both as a number format code of ISO/IEC 29500 writes it: what a column
 * shows is read back as what it holds. `null` where the text is not so written, or where the code
 * leaves out what the value needs.
 */
export function readByPattern(
  typed: string,
  pattern: string,
  tag: string,
  now: number,
): number | null {
  const text = asRead(typed);
  const key = `${tag} ${pattern}`;
  if (!held.has(key)) {
    if (held.size >= MOST_HELD) held.clear();
    held.set(key, readerOf(pattern, tag));
  }
  const reader = held.get(key);
  const match = reader?.shape.exec(text);
  if (!reader || !match) return null;
  const found: Partial<Record<Part, string>> = {};
  reader.parts.forEach((part, n) => (found[part] = match[n + 1]?.toLowerCase() ?? ''));
  const value = valueOf(found, reader.names, now);
  if (value === null) return null;
  // A day there is not, or a day of the week that it is not, would be written otherwise.
  const written = formatByPattern(value, pattern, tag);
  return typeof written === 'string' && asRead(written).toLowerCase() === text.toLowerCase()
    ? value
    : null;
}

const asRead = (text: string): string => plainSigns(text).trim().replace(/\s+/g, ' ');

function valueOf(
  { year, month, day, hour, minute = '0', second = '0', half }: Partial<Record<Part, string>>,
  { mmm, mmmm, ampm }: Names,
  now: number,
): number | null {
  const hasDay = year !== undefined && month !== undefined && day !== undefined;
  const some = [year, month, day].some((each) => each !== undefined);
  if (some && !hasDay) return null;
  if (!some && hour === undefined) return null;
  let time = 0;
  if (hour !== undefined) {
    const isLate = half !== undefined && half === ampm[1];
    const hours = half === undefined ? Number(hour) : (Number(hour) % 12) + (isLate ? 12 : 0);
    time = serialOfTime(hours, Number(minute), Number(second));
  }
  if (!hasDay) return time;
  const at = [mmmm, mmm].map((names) => names.indexOf(month)).find((each) => each >= 0);
  const parts = {
    year: fullYear(year, dateOfSerial(Math.floor(now)).year),
    month: at === undefined ? Number(month) : at + 1,
    day: Number(day),
  };
  if (parts.month < 1 || parts.month > 12 || parts.day < 1) return null;
  return serialOfDate(parts) + time;
}

/** What each code of a date stands for, and what it is written as. */
const FIGURES: Readonly<Record<string, readonly [Part, string]>> = {
  yy: ['year', '(\\d{2})'],
  yyyy: ['year', '(\\d{4,5})'],
  m: ['month', '(\\d{1,2})'],
  mm: ['month', '(\\d{2})'],
  d: ['day', '(\\d{1,2})'],
  dd: ['day', '(\\d{2})'],
  h: ['hour', '(\\d{1,2})'],
  hh: ['hour', '(\\d{2})'],
  s: ['second', '(\\d{1,2})'],
  ss: ['second', '(\\d{2})'],
};

function readerOf(pattern: string, tag: string): Reader | null {
  const locale = getLocale(tag.replace('-', '_')) ?? getLocale('en');
  if (!locale) return null;
  const low = (names: readonly string[]): string[] =>
    names.map((name) => asRead(name).toLowerCase());
  const names = { mmm: low(locale.mmm), mmmm: low(locale.mmmm), ampm: low(locale.ampm) };
  const others: Readonly<Record<string, readonly string[]>> = {
    ddd: locale.ddd,
    dddd: locale.dddd,
  };
  const tokens = tokensOf(pattern);
  if (!tokens) return null;
  const parts: Part[] = [];
  let shape = '';
  for (const [n, { type, value, raw }] of tokens.entries()) {
    if (type === 'datetime') {
      const code = value.toLowerCase();
      const figure = FIGURES[code];
      if (figure) {
        parts.push(figure[0] === 'month' && isMinute(tokens, n) ? 'minute' : figure[0]);
        shape += figure[1];
      } else if (code === 'mmm' || code === 'mmmm') {
        parts.push('month');
        shape += `(${oneOf(names[code])})`;
      } else if (others[code]) shape += `(?:${oneOf(low(others[code]))})`;
      else return null;
    } else if (type === 'ampm') {
      parts.push('half');
      shape += `(${oneOf(names.ampm)})`;
    } else if (type === 'space') shape += shape.endsWith(' +') ? '' : ' +';
    else if (LITERAL.has(type)) shape += escaped(asRead(type === 'string' ? value : raw));
    else return null;
  }
  return { shape: new RegExp(`^${shape}$`, 'iu'), parts, names };
}

interface Token {
  readonly type: string;
  readonly value: string;
  readonly raw: string;
}

/** Tokens that stand for themselves. */
const LITERAL: ReadonlySet<string> = new Set([
  'char',
  'string',
  'comma',
  'point',
  'minus',
  'escaped',
  'slash',
]);

/** The tokens of a code of one section, or `null` where it is none. */
function tokensOf(pattern: string): readonly Token[] | null {
  try {
    const tokens = tokenize(pattern) as readonly Token[];
    return tokens.some(({ type }) => type === 'break') ? null : tokens;
  } catch {
    // The package throws where the code is no format.
    return null;
  }
}

/** `m` and `mm` are minutes behind hours and before seconds. */
function isMinute(tokens: readonly Token[], at: number): boolean {
  const dates = ({ type }: Token): boolean => type === 'datetime';
  const before = tokens.slice(0, at).findLast(dates);
  const after = tokens.slice(at + 1).find(dates);
  return /^h+$/i.test(before?.value ?? '') || /^s+$/i.test(after?.value ?? '');
}

const escaped = (text: string): string => text.replace(/[.*+?^${}()|[\]\\/]/g, '\\$&');

/** Longer names first, so that none is taken for the beginning of another. */
const oneOf = (names: readonly string[]): string =>
  [...names]
    .sort((a, b) => b.length - a.length)
    .map(escaped)
    .join('|');
