import { formatByPattern } from '../../format';
import { isErrorValue, readNumber, type CellValue, type ErrorValue } from '../../values';
import { eachValue, isArea } from './area';
import { LONGEST_TEXT, spend, spendText } from './budget';
import { ERRORS, numberInText, toText } from './convert';
import { findPattern } from './wildcards';
import {
  define,
  defineList,
  logical,
  maybe,
  optional,
  scalar,
  text,
  whole,
  type Argument,
  type FunctionDefinition,
  type Moment,
} from './define';

const standard = { standing: 'standard', group: 'text' } as const;
const common = { standing: 'common practice', group: 'text' } as const;

/** The characters of a text, so that none is ever cut in two. */
function charactersOf(value: string): readonly string[] | string {
  spend(value.length >> 5);
  if (!/[\uD800-\uDFFF]/.test(value)) return value;
  spend(value.length);
  return [...value];
}

function slice(value: string, from: number, to: number): string {
  const characters = charactersOf(value);
  return typeof characters === 'string'
    ? characters.slice(from, to)
    : characters.slice(from, to).join('');
}

/** How many UTF-16 units stand before a character, counted from 1; `null` where there is none. */
function unitsBefore(value: string, character: number): number | null {
  const characters = charactersOf(value);
  if (character < 1 || character > characters.length + 1) return null;
  return slice(value, 0, character - 1).length;
}

/** Makes a text of so many units, unless that is too long. */
const made = (length: number, make: () => string): string | ErrorValue =>
  spendText(length) ?? make();

/** How often a text stands in another, without overlap. */
function occurrences(value: string, part: string): number {
  let count = 0;
  for (let at = value.indexOf(part); at >= 0; at = value.indexOf(part, at + part.length))
    count += 1;
  return count;
}

const lengthOf = (texts: readonly string[]): number =>
  texts.reduce((sum, { length }) => sum + length, 0);

/** The texts of arguments, one after the other; areas row by row. */
function textsOf(args: readonly Argument[], { locale }: Moment): string[] | ErrorValue {
  const texts: string[] = [];
  let length = 0;
  const add = (value: CellValue): ErrorValue | null => {
    const taken = toText(value, locale);
    if (isErrorValue(taken)) return taken;
    texts.push(taken);
    length += taken.length;
    // What is too long together is not gone through to its end.
    return length > LONGEST_TEXT ? spendText(length) : null;
  };
  for (const given of args) {
    const value = given.value();
    const failure = isArea(value) ? eachValue(value, add) : add(value);
    if (failure) return failure;
  }
  return texts;
}

const joined = (about: string): FunctionDefinition =>
  defineList(
    { ...(about === CONCAT ? common : standard), about },
    [],
    ['Text'],
    (moment, _fixed, args) => {
      const texts = textsOf(args, moment);
      return 'error' in texts ? texts : made(lengthOf(texts), () => texts.join(''));
    },
  );
const CONCAT = 'All texts one after the other, of ranges too.';

const LETTERS = /[\p{L}\p{M}]+(?:['’][\p{L}\p{M}]+)*/gu;

export const texts = {
  TEXT: define(
    {
      ...standard,
      effort: 5,
      about: 'A value written by a number format, such as 0.00 or yyyy-mm-dd.',
    },
    [scalar('Value'), text('Format')],
    ({ locale }, value, format) =>
      typeof value === 'number'
        ? formatByPattern(value, format, locale.tag)
        : toText(value, locale),
  ),
  VALUE: define(
    { ...standard, effort: 2, about: 'The number a text stands for.' },
    [scalar('Text')],
    ({ locale }, value) => {
      if (typeof value === 'number') return value;
      if (typeof value !== 'string') return value === null ? 0 : ERRORS.value;
      const reading = readNumber(value, locale);
      if (reading.ok && typeof reading.value === 'number') return reading.value;
      return numberInText(value, locale) ?? ERRORS.value;
    },
  ),
  LEN: define(
    { ...standard, about: 'How many characters a text has.' },
    [text('Text')],
    (_moment, value) => charactersOf(value).length,
  ),
  LEFT: define(
    { ...standard, about: 'The first characters of a text.' },
    [text('Text'), optional(whole('Count'), 1)],
    (_moment, value, count) => (count < 0 ? ERRORS.value : slice(value, 0, count)),
  ),
  RIGHT: define(
    { ...standard, about: 'The last characters of a text.' },
    [text('Text'), optional(whole('Count'), 1)],
    (_moment, value, count) => {
      const { length } = charactersOf(value);
      return count < 0 ? ERRORS.value : slice(value, Math.max(0, length - count), length);
    },
  ),
  MID: define(
    { ...standard, about: 'Characters from within a text.' },
    [text('Text'), whole('From'), whole('Count')],
    (_moment, value, from, count) =>
      from < 1 || count < 0 ? ERRORS.value : slice(value, from - 1, from - 1 + count),
  ),
  TRIM: define(
    { ...standard, about: 'The text without spaces around it, and with single ones within.' },
    [text('Text')],
    (_moment, value) => value.replace(/ +/g, ' ').replace(/^ | $/g, ''),
  ),
  CLEAN: define(
    { ...standard, about: 'The text without characters that cannot be printed.' },
    [text('Text')],
    (_moment, value) => value.replace(/\p{Cc}/gu, ''),
  ),
  UPPER: define(
    { ...standard, about: 'The text in capital letters.' },
    [text('Text')],
    ({ locale }, value) => value.toLocaleUpperCase(locale.tag),
  ),
  LOWER: define(
    { ...standard, about: 'The text in small letters.' },
    [text('Text')],
    ({ locale }, value) => value.toLocaleLowerCase(locale.tag),
  ),
  PROPER: define(
    { ...standard, about: 'Each word with a capital first letter.' },
    [text('Text')],
    ({ locale }, value) =>
      value.replace(
        LETTERS,
        (word) =>
          slice(word, 0, 1).toLocaleUpperCase(locale.tag) +
          slice(word, 1, Infinity).toLocaleLowerCase(locale.tag),
      ),
  ),
  SUBSTITUTE: define(
    { ...standard, about: 'A text with one part put for another, everywhere or once.' },
    [text('Text'), text('Old'), text('New'), maybe(whole('Which'))],
    (_moment, value, old, put, which) => {
      if (which !== undefined && which < 1) return ERRORS.value;
      if (old === '') return value;
      const count = occurrences(value, old);
      const times = which === undefined ? count : Number(count >= which);
      if (times === 0) return value;
      return made(value.length + times * (put.length - old.length), () => {
        const parts = value.split(old);
        if (which === undefined) return parts.join(put);
        return `${parts.slice(0, which).join(old)}${put}${parts.slice(which).join(old)}`;
      });
    },
  ),
  REPLACE: define(
    { ...standard, about: 'A text with characters at a place replaced.' },
    [text('Text'), whole('From'), whole('Count'), text('New')],
    (_moment, value, from, count, put) =>
      from < 1 || count < 0
        ? ERRORS.value
        : made(
            value.length + put.length,
            () => slice(value, 0, from - 1) + put + slice(value, from - 1 + count, Infinity),
          ),
  ),
  FIND: define(
    { ...standard, about: 'Where a text stands in another, matching capitals and small letters.' },
    [text('Find'), text('Text'), optional(whole('From'), 1)],
    (_moment, find, value, from) => {
      const start = unitsBefore(value, from);
      const at = start === null ? -1 : value.indexOf(find, start);
      return at < 0 ? ERRORS.value : charactersOf(value.slice(0, at)).length + 1;
    },
  ),
  SEARCH: define(
    { ...standard, about: 'Where a text stands in another; * and ? stand for any characters.' },
    [text('Find'), text('Text'), optional(whole('From'), 1)],
    (_moment, find, value, from) => {
      const at = from < 1 ? null : findPattern(value, find, from - 1);
      return at === null ? ERRORS.value : at + 1;
    },
  ),
  CONCATENATE: joined('All texts one after the other.'),
  CONCAT: joined(CONCAT),
  TEXTJOIN: defineList(
    { ...common, about: 'All texts with a separator between them.' },
    [text('Separator'), logical('Skip blanks')],
    ['Text'],
    (moment, [separator, skip], args) => {
      const found = textsOf(args, moment);
      if ('error' in found) return found;
      const texts = skip ? found.filter((each) => each !== '') : found;
      const length = lengthOf(texts) + separator.length * Math.max(0, texts.length - 1);
      return made(length, () => texts.join(separator));
    },
  ),
  EXACT: define(
    { ...standard, about: 'TRUE when two texts are the same to the letter.' },
    [text('Text'), text('Other')],
    (_moment, one, other) => one === other,
  ),
  REPT: define(
    { ...standard, about: 'A text repeated.' },
    [text('Text'), whole('Times')],
    (_moment, value, times) =>
      times < 0 ? ERRORS.value : made(value.length * times, () => value.repeat(times)),
  ),
  ENCODEURL: define(
    { ...common, about: 'A text as it may stand in a web address.' },
    [text('Text')],
    (_moment, value) =>
      // Half of a pair of surrogates has no UTF-8.
      /\p{Cs}/u.test(value)
        ? ERRORS.value
        : encodeURIComponent(value).replace(
            /[!'()*]/g,
            (sign) => `%${sign.charCodeAt(0).toString(16).toUpperCase()}`,
          ),
  ),
} satisfies Record<string, FunctionDefinition>;
