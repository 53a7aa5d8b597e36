import type { Limits } from '../forms';
import { fromWire, kindOf, toWire, type KindId } from '../kinds';
import { formulaPiece, readFormula } from './attributes';
import type { LineDraft, LineEntry } from './line';
import { plainOrQuoted, splitAt, trimmed, unquoted, type Piece } from './pieces';
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

/** Brings what stands behind the words of the kind into the draft. */
export function readTail(piece: Piece, draft: LineDraft): void {
  const { text, at } = trimmed(piece);
  const { kind, control, settings, details, field } = draft;
  if (text === '') return;
  const unread = (): OutlineError =>
    new OutlineError({ code: 'unknownWord', text, near: null }, at, text.length);
  if (kind === 'computed') {
    if (!text.startsWith('=')) throw unread();
    draft.formula = readFormula({ text, at }, 'computed =');
  } else if (kind === 'runningNumber') settings.pattern = unquoted(text);
  else if (kind === 'phone') settings.country = text.toUpperCase();
  else if (kindOf(draft).typing === 'choice') settings.choices = readChoices({ text, at });
  else {
    const currency = kind === 'money' ? /^[A-Za-z]{3}\b/.exec(text)?.[0] : undefined;
    if (currency !== undefined) settings.currency = currency.toUpperCase();
    const rest = trimmed({
      text: text.slice(currency?.length ?? 0),
      at: at + (currency?.length ?? 0),
    });
    if (rest.text === '') return;
    const limits = readStretch(rest, MEASURED_AS[kind] ?? kind);
    if (!limits) throw unread();
    if (control === 'steps' || control === 'scale') {
      if (limits.from !== undefined) details.from = limits.from;
      if (limits.to !== undefined) details.to = limits.to;
    } else field.limits = limits;
  }
}

/** What limits of a kind are counted in, where that is not the kind itself. */
const MEASURED_AS: Partial<Record<KindId, KindId>> = { text: 'wholeNumber' };

/** What is written right behind the words of the kind. */
export function writeTail(entry: LineEntry, formula: string | undefined): string {
  const { column, control, details, limits } = entry;
  const { kind, settings } = column;
  if (kind === 'computed')
    return formula === undefined ? '' : ` = ${formulaPiece(formula.replace(/^=\s*/, ''))}`;
  if (kind === 'runningNumber') {
    return settings.pattern === undefined
      ? ''
      : ` ${plainOrQuoted(settings.pattern, isPlainPattern)}`;
  }
  if (kind === 'phone') return settings.country === undefined ? '' : ` ${settings.country}`;
  if (kindOf(column).typing === 'choice') {
    return settings.choices ? ` ${writeChoices(settings.choices)}` : '';
  }
  const currency =
    kind === 'money' && settings.currency !== undefined ? ` ${settings.currency}` : '';
  const isStepped = control === 'steps' || control === 'scale';
  const stretch = isStepped ? stretchOf(details) : limits;
  return currency + writeStretch(stretch, MEASURED_AS[kind] ?? kind);
}

const isPlainPattern = (text: string): boolean => !/[,(){}]/.test(text);

const stretchOf = ({ from, to }: Limits): Limits => ({
  ...(from !== undefined && { from }),
  ...(to !== undefined && { to }),
});
