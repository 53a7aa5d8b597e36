import { readCorner, type WrittenReference } from '../references/written';
import { FormulaError, type Span } from './expression';

/** The longest formula, in UTF-16 units. */
export const LONGEST_FORMULA = 10_000;

/** How numbers and arguments are told apart: `1.5` and `,` or `;`, or `1,5` and `;` alone. */
export interface Notation {
  readonly decimal: string;
}

/** The notation in which formulas are stored, that of OpenFormula: `1.5`, arguments by `;`. */
export const STORED_NOTATION: Notation = { decimal: '.' };

export type Token = Span &
  (
    | { readonly type: 'number'; readonly text: string }
    | { readonly type: 'text'; readonly value: string }
    | { readonly type: 'error'; readonly text: string }
    | { readonly type: 'reference'; readonly reference: WrittenReference }
    /** In a stored formula: the reference at this place of its list. */
    | { readonly type: 'slot'; readonly index: number }
    /** A function's name, right before its parenthesis. */
    | { readonly type: 'function'; readonly name: string }
    | { readonly type: 'word'; readonly text: string }
    | { readonly type: 'sign'; readonly text: string }
    | { readonly type: 'space' }
  );

const SPACE = /[ \t\r\n\u00A0]+/y;
const TEXT = /"(?:[^"]|"")*"/y;
const ERROR = /#(?:NULL!|DIV\/0!|VALUE!|REF!|NAME\?|NUM!|N\/A)/iy;
const SLOT = /⟨(\d+)⟩/y;
const QUOTED = /'((?:[^']|'')+)'/y;
const BARE_SHEET = /([\p{L}_][\p{L}\p{N}_]*)!/uy;
/** `B3`, `B3:D9`; `B3..` and `B3..D`, which go on down; `B:D`, whole columns. */
const CORNERS =
  /(?<from>\$?[A-Za-z]{1,4}\$?[1-9]\d{0,6})(?::(?<to>\$?[A-Za-z]{1,4}\$?[1-9]\d{0,6})|\.\.(?<across>\$?[A-Za-z]{1,4})?)?|(?<first>\$?[A-Za-z]{1,4}):(?<last>\$?[A-Za-z]{1,4})/y;
/** A range that goes on down as other programs write it, after its first cell. */
const OPEN_COLON = /:(\$?[A-Za-z]{1,4})(?![\p{L}\p{N}_.($])/uy;
const FUNCTION = /([A-Za-z][A-Za-z0-9._]*)[ \t]*(?=\()/y;
const WORD = /[\p{L}_][\p{L}\p{N}_.]*/uy;
const SIGN = /<>|<=|>=|[-+*/^&=<>%(){};,|]/y;
const IN_A_WORD = /[\p{L}\p{N}_.(]/u;
const NUMBER = {
  '.': /(?:\d+(?:\.\d*)?|\.\d+)(?:[eE][-+]?\d+)?/y,
  ',': /(?:\d+(?:,\d*)?|,\d+)(?:[eE][-+]?\d+)?/y,
};

function match(pattern: RegExp, text: string, at: number): RegExpExecArray | null {
  pattern.lastIndex = at;
  return pattern.exec(text);
}

/**
 * Cuts a formula, written without its leading `=`, into tokens, spaces included.
 *
 * @throws FormulaError at the first character that belongs to no token
 */
export function lex(text: string, notation: Notation): Token[] {
  if (text.length > LONGEST_FORMULA) {
    throw new FormulaError({
      code: 'tooLong',
      length: text.length,
      most: LONGEST_FORMULA,
      from: LONGEST_FORMULA,
      to: text.length,
    });
  }
  const tokens: Token[] = [];
  let at = 0;
  while (at < text.length) {
    const token = next(text, at, notation);
    tokens.push(token);
    at = token.to;
  }
  return tokens;
}

function next(text: string, at: number, { decimal }: Notation): Token {
  const span = (to: number): Span => ({ from: at, to });
  const upTo = (found: RegExpExecArray): Span => span(at + found[0].length);
  let found: RegExpExecArray | null;
  if ((found = match(SPACE, text, at))) return { type: 'space', ...upTo(found) };
  if ((found = match(NUMBER[decimal === ',' ? ',' : '.'], text, at))) {
    return { type: 'number', text: found[0].replace(',', '.'), ...upTo(found) };
  }
  if ((found = match(TEXT, text, at))) {
    const value = found[0].slice(1, -1).replaceAll('""', '"');
    return { type: 'text', value, ...upTo(found) };
  }
  if ((found = match(ERROR, text, at))) {
    return { type: 'error', text: found[0].toUpperCase(), ...upTo(found) };
  }
  if ((found = match(SLOT, text, at))) {
    return { type: 'slot', index: Number(found[1]), ...upTo(found) };
  }
  const reference = referenceAt(text, at);
  if (reference) return reference;
  if ((found = match(FUNCTION, text, at))) {
    return { type: 'function', name: (found[1] ?? '').toUpperCase(), ...upTo(found) };
  }
  if ((found = match(WORD, text, at))) return { type: 'word', text: found[0], ...upTo(found) };
  if ((found = match(SIGN, text, at))) return { type: 'sign', text: found[0], ...upTo(found) };
  const character = String.fromCodePoint(text.codePointAt(at) ?? 0);
  if (character === '"') throw new FormulaError({ code: 'unclosedText', ...span(text.length) });
  if (character === "'") throw new FormulaError({ code: 'unclosedQuote', ...span(text.length) });
  throw new FormulaError({ code: 'strayCharacter', character, ...span(at + character.length) });
}

/** A cell, range or heading, with or without its sheet; `null` where none begins here. */
function referenceAt(text: string, from: number): Token | null {
  const quoted = match(QUOTED, text, from);
  const bare = match(BARE_SHEET, text, from);
  let at = from;
  let sheet: string | null = null;
  if (quoted && text[from + quoted[0].length] === '!') {
    sheet = unquote(quoted);
    at += quoted[0].length + 1;
  } else if (quoted) {
    const reference = { kind: 'heading', sheet: null, heading: unquote(quoted) } as const;
    return { type: 'reference', reference, from, to: from + quoted[0].length };
  } else if (bare) {
    sheet = bare[1] ?? '';
    at += bare[0].length;
  }
  const heading = sheet === null ? null : match(QUOTED, text, at);
  if (heading) {
    const reference = { kind: 'heading', sheet, heading: unquote(heading) } as const;
    return { type: 'reference', reference, from, to: at + heading[0].length };
  }
  const corners = match(CORNERS, text, at);
  const to = at + (corners?.[0].length ?? 0);
  // `LOG10(` is a function and `B2B` a name, though both begin like a cell.
  if (corners && !IN_A_WORD.test(text[to] ?? '')) {
    refuseOpenColon(text, at, to, corners);
    return { type: 'reference', reference: cornersOf(corners, sheet), from, to };
  }
  if (sheet === null) return null;
  throw new FormulaError({ code: 'valueWanted', found: text.slice(at, at + 1), from: at, to: at });
}

function cornersOf(
  { 0: whole, groups = {} }: RegExpExecArray,
  sheet: string | null,
): WrittenReference {
  const { from, to, across, first, last } = groups;
  const start = readCorner(from ?? first ?? '');
  if (whole.includes('..')) {
    const end = across === undefined ? start : readCorner(across);
    return { kind: 'range', sheet, from: start, to: { ...end, row: null, fixedRow: false } };
  }
  const end = to ?? last;
  return end === undefined
    ? { kind: 'cell', sheet, cell: start }
    : { kind: 'range', sheet, from: start, to: readCorner(end) };
}

/** Tells whoever writes `B4:B` how a range that goes on down is written here. */
function refuseOpenColon(
  text: string,
  from: number,
  to: number,
  { groups }: RegExpExecArray,
): void {
  const open = groups?.['to'] === undefined ? match(OPEN_COLON, text, to) : null;
  if (!open || groups?.['from'] === undefined) return;
  const cell = groups['from'];
  const across =
    readCorner(open[1] ?? '').column === readCorner(cell).column ? '' : (open[1] ?? '');
  const span = { from, to: to + open[0].length };
  throw new FormulaError({
    code: 'openColon',
    instead: `${cell}..${across.toUpperCase()}`,
    ...span,
  });
}

const unquote = (found: RegExpExecArray): string => (found[1] ?? '').replaceAll("''", "'");
