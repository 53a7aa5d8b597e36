/** A piece of a line, and where it begins in it. */
export interface Piece {
  readonly text: string;
  readonly at: number;
}

const ESCAPES: Readonly<Record<string, string>> = { '\n': '\\n', '\r': '\\r', '\\': '\\\\' };

/** A text in double quotes: a quote in it doubled, a break as `\n`. */
export function quoted(text: string): string {
  return `"${text.replace(/[\n\r\\]/g, (each) => ESCAPES[each] ?? each).replaceAll('"', '""')}"`;
}

/**
 * An apostrophe quotes only where a word could begin, so that `Don't know` holds none. What stands
 * before it is read as a character, not as half of one.
 */
const OPENING_APOSTROPHE = /(?<![\p{L}\p{N}])'/uy;

function opensQuote(text: string, at: number): boolean {
  OPENING_APOSTROPHE.lastIndex = at;
  return OPENING_APOSTROPHE.test(text);
}

/** A text as it is read aloud where that is exact, else in quotes. */
export function plainOrQuoted(text: string, isPlain: (text: string) => boolean): string {
  return text === text.trim() &&
    text !== '' &&
    !/["\n\r\\]|(?<![\p{L}\p{N}])'/u.test(text) &&
    isPlain(text)
    ? text
    : quoted(text);
}

/** The text of a piece, without the quotes it may stand in. */
export function unquoted(text: string): string {
  const inner = /^"((?:[^"]|"")*)"$/s.exec(text.trim())?.[1];
  if (inner === undefined) return text.trim();
  return inner
    .replaceAll('""', '"')
    .replace(/\\([nr\\])/g, (_whole, each: string) => ({ n: '\n', r: '\r' })[each] ?? '\\');
}

export const isQuoted = (text: string): boolean => /^"(?:[^"]|"")*"$/s.test(text.trim());

/** A piece without its first characters. */
export const cut = ({ text, at }: Piece, length: number): Piece => ({
  text: text.slice(length),
  at: at + length,
});

/** Where a piece begins without the white space around it. */
export function trimmed({ text, at }: Piece): Piece {
  const start = text.length - text.trimStart().length;
  return { text: text.trim(), at: at + start };
}

/** Parts a text at a sign that stands outside of quotes and brackets. */
export function splitAt(piece: Piece, sign: string): Piece[] {
  return split(piece, sign, true) ?? split(piece, sign, false) ?? [piece];
}

function split({ text, at }: Piece, sign: string, apostrophes: boolean): Piece[] | null {
  const pieces: Piece[] = [];
  let from = 0;
  let depth = 0;
  let quote = '';
  for (let n = 0; n < text.length; n += 1) {
    const each = text[n] ?? '';
    if (quote !== '') {
      if (each === quote) quote = '';
    } else if (each === '"') quote = each;
    else if (each === "'" && apostrophes && opensQuote(text, n)) quote = each;
    else if (each === '(' || each === '{') depth += 1;
    else if (each === ')' || each === '}') depth = Math.max(0, depth - 1);
    else if (depth === 0 && text.startsWith(sign, n)) {
      pieces.push({ text: text.slice(from, n), at: at + from });
      from = n + sign.length;
    }
  }
  if (quote !== '' && apostrophes) return null;
  pieces.push({ text: text.slice(from), at: at + from });
  return pieces;
}

/** A formula as a piece of a line: in brackets where a comma would end it. */
export function formulaPiece(formula: string): string {
  const [first = { text: '' }, ...more] = splitAt({ text: formula, at: 0 }, ',');
  return more.length > 0 ? `(${formula})` : first.text.replace(/\s*[\n\r]+\s*/g, ' ');
}
