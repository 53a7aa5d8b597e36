import type { Limits } from '../forms';
import { fromWire, kindOf, toWire, type KindId, type Tail } from '../kinds';
import { readFormula } from './attributes';
import type { LineDraft, LineEntry } from './line';
import { readSource, writeSource } from './lists';
import { wordMeant } from './meant';
import { formulaPiece, plainOrQuoted, splitAt, trimmed, unquoted, type Piece } from './pieces';
import { OutlineError } from './problem';

/*
 * What stands right behind the words of a kind: the choices in brackets, the ends of a scale, the
 * limits of a number, a currency, a formula.
 */

const STRETCH = /^(?:from\s+)?(\S*?)\s*(?:\.\.|\bto\b)\s*(\S*)$/;
const AT_LEAST = /^at least\s+(\S+)/;
const AT_MOST = /^(?:at most|up to)\s+(\S+)/;

function readLimit(text: string, kind: KindId, at: number): number {
  const column = { kind };
  const value = kindOf(column).iso ? fromWire(text, column) : Number(text);
  if (typeof value === 'number' && Number.isFinite(value)) return value;
  throw new OutlineError({ code: 'noNumber', text }, at, Math.max(1, text.length));
}

/** Reads `0..40`, `0..`, `..40`, `from 0 to 40`, `at least 0`; ISO 8601 for dates and times. */
export function readStretch(piece: Piece, kind: KindId): Limits | null {
  const { text, at } = trimmed(piece);
  const one = AT_LEAST.exec(text)?.[1];
  const other = AT_MOST.exec(text)?.[1];
  const [, first = one ?? '', last = other ?? ''] = STRETCH.exec(text) ?? [];
  if (first === '' && last === '') return null;
  return {
    ...(first !== '' && { from: readLimit(first, kind, at) }),
    ...(last !== '' && { to: readLimit(last, kind, at) }),
  };
}

function writeStretch({ from, to }: Limits, kind: KindId): string {
  const write = (limit: number | undefined): string => {
    const wire = limit === undefined ? '' : toWire(limit, { kind });
    return typeof wire === 'number' ? String(wire) : typeof wire === 'string' ? wire : '';
  };
  return from === undefined && to === undefined ? '' : ` ${write(from)}..${write(to)}`;
}

const isPlainChoice = (text: string): boolean => !/[,()={}|]/.test(text);

export function readChoices(piece: Piece): string[] {
  const text = piece.text.trim().replace(/^\(/, '').replace(/\)$/, '');
  if (text.trim() === '') return [];
  const sign = splitAt({ text, at: 0 }, '|').length > 1 ? '|' : ',';
  return splitAt({ text, at: 0 }, sign).map((each) => unquoted(each.text));
}

export function writeChoices(choices: readonly string[]): string {
  return `(${choices.map((each) => plainOrQuoted(each, isPlainChoice)).join(', ')})`;
}

/** How what stands behind a kind's words is read into a draft, and written. */
interface TailForm {
  readonly read: (piece: Piece, draft: LineDraft) => void;
  readonly write: (entry: LineEntry) => string;
}

const unread = ({ text, at }: Piece): OutlineError =>
  new OutlineError({ code: 'unknownWord', text, near: wordMeant(text) }, at, text.length);

const isPlainPattern = (text: string): boolean => !/[,(){}]/.test(text);
const isStepped = ({ control }: Pick<LineDraft, 'control'>): boolean =>
  control === 'steps' || control === 'scale';

/** Limits, counted as values of a kind are; of steps and scales, their ends. */
const limitsAs = (measure: (kind: KindId) => KindId): TailForm => ({
  read: (piece, draft) => {
    const { kind, details, field } = draft;
    const limits = readStretch(piece, measure(kind));
    if (!limits) throw unread(piece);
    if (isStepped(draft)) Object.assign(details, limits);
    else field.limits = limits;
  },
  write: (entry) => {
    const { from, to } = isStepped(entry) ? entry.details : entry.limits;
    const ends = { ...(from !== undefined && { from }), ...(to !== undefined && { to }) };
    return writeStretch(ends, measure(entry.column.kind));
  },
});

const limits = limitsAs((kind) => kind);

/** Each tail that a kind may have. */
const TAILS: Readonly<Record<Tail, TailForm>> = {
  limits,
  lengths: limitsAs(() => 'wholeNumber'),
  currency: {
    read: ({ text, at }, draft) => {
      const currency = /^[A-Za-z]{3}\b/.exec(text)?.[0] ?? '';
      if (currency !== '') draft.settings.currency = currency.toUpperCase();
      const { length } = currency;
      const rest = trimmed({ text: text.slice(length), at: at + length });
      if (rest.text !== '') limits.read(rest, draft);
    },
    write: (entry) => {
      const { currency } = entry.column.settings;
      return `${currency === undefined ? '' : ` ${currency}`}${limits.write(entry)}`;
    },
  },
  choices: {
    read: (piece, draft) => {
      const source = readSource(piece);
      if (source === null) draft.settings.choices = readChoices(piece);
      else draft.list = { source };
    },
    write: ({ column: { settings } }) =>
      settings.list
        ? writeSource(settings.list.source)
        : settings.choices
          ? ` ${writeChoices(settings.choices)}`
          : '',
  },
  country: {
    read: ({ text }, { settings }) => {
      settings.country = text.toUpperCase();
    },
    write: ({ column: { settings } }) =>
      settings.country === undefined ? '' : ` ${settings.country}`,
  },
  pattern: {
    read: ({ text }, { settings }) => {
      settings.pattern = unquoted(text);
    },
    write: ({ column: { settings } }) =>
      settings.pattern === undefined ? '' : ` ${plainOrQuoted(settings.pattern, isPlainPattern)}`,
  },
  formula: {
    read: (piece, draft) => {
      if (!piece.text.startsWith('=')) throw unread(piece);
      draft.formula = readFormula(piece, 'computed =');
    },
    write: ({ column: { settings } }) =>
      settings.formula === undefined
        ? ''
        : ` = ${formulaPiece(settings.formula.replace(/^=\s*/, ''))}`,
  },
};

/** Brings what stands behind the words of the kind into the draft. */
export function readTail(piece: Piece, draft: LineDraft): void {
  const behind = trimmed(piece);
  if (behind.text !== '') TAILS[kindOf(draft).tail ?? 'limits'].read(behind, draft);
}

/** What is written right behind the words of the kind. */
export const writeTail = (entry: LineEntry): string =>
  TAILS[kindOf(entry.column).tail ?? 'limits'].write(entry);
