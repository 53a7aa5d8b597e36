import { FormulaError, type Span } from './grammar/expression';
import { lex, type Notation, type Token } from './grammar/lexer';
import { FUNCTIONS } from './functions/table';
import { moveReference, printReference, type WrittenReference } from './references/written';

/** The most function names offered at once. */
const MOST_OFFERED = 8;

/** A reference in a formula's text, and where it stands there. */
export interface ReferenceSpan extends Span {
  readonly reference: WrittenReference;
}

/** The references of a formula, also of one that is not whole yet. @param text without `=` */
export function referencesIn(text: string, notation: Notation): ReferenceSpan[] {
  return readable(text, notation).flatMap((token) =>
    token.type === 'reference'
      ? [{ reference: token.reference, from: token.from, to: token.to }]
      : [],
  );
}

/** What could be meant: a function, or a column by its heading. */
export interface Offer {
  readonly is: 'function' | 'column';
  readonly name: string;
}

/** What is being written where the caret is. */
export interface CaretHelp {
  /** What begins like the word before the caret, and where that word begins. */
  readonly offers: readonly Offer[];
  readonly from: number;
  /** The innermost call around the caret, and which argument it is in, from 0. */
  readonly call: { readonly name: string; readonly argument: number } | null;
}

/**
 * @param text a formula without `=`; `caret` the place in it
 * @param headings of the columns that can be named without their sheet
 */
export function helpAt(
  text: string,
  caret: number,
  notation: Notation,
  headings: readonly string[] = [],
): CaretHelp {
  const before = text.slice(0, caret);
  const tokens = readable(before, notation);
  const open: { name: string | null; argument: number }[] = [];
  let name: string | null = null;
  for (const token of tokens) {
    if (token.type === 'function') name = token.name;
    if (token.type !== 'sign') continue;
    if (token.text === '(' || token.text === '{') {
      open.push({ name: token.text === '(' ? name : null, argument: 0 });
      name = null;
    } else if (token.text === ')' || token.text === '}') open.pop();
    else if (token.text === ';' || token.text === ',') {
      const inner = open.at(-1);
      if (inner) inner.argument += 1;
    }
  }
  const call = open.findLast((each) => each.name !== null && FUNCTIONS.has(each.name));
  const word = /[A-Za-z][A-Za-z0-9.]*$/.exec(before);
  // Inside of a text, or right behind another word, nothing is offered.
  const last = tokens.at(-1);
  const isWord = word !== null && last !== undefined && last.to === caret && last.type !== 'text';
  const start = word?.[0].toUpperCase() ?? '';
  const functions = isWord
    ? [...FUNCTIONS.keys()].filter((each) => each.startsWith(start)).sort(byLength)
    : [];
  const columns = columnsAt(before, tokens, headings);
  const named = columns.names.map((name): Offer => ({ is: 'column', name }));
  const called = functions.map((name): Offer => ({ is: 'function', name }));
  // What reaches further back is meant by more of what was typed.
  const reach = columns.names.length > 0 ? caret - columns.from : 0;
  const offers = reach > start.length ? named : [...named, ...called];
  const length = reach > start.length ? reach : start.length;
  return {
    offers: offers.slice(0, MOST_OFFERED),
    from: offers.length > 0 ? caret - length : caret,
    call: call?.name ? { name: call.name, argument: call.argument } : null,
  };
}

/** Headings that go on with what stands before the caret, in apostrophes that are open or bare. */
function columnsAt(
  before: string,
  tokens: readonly Token[],
  headings: readonly string[],
): { names: readonly string[]; from: number } {
  const end = tokens.at(-1)?.to ?? 0;
  const open = before[end] === "'" ? end : null;
  const starts =
    open === null
      ? [...before.matchAll(/(?<![\p{L}\p{N}_.$!'"])[\p{L}_]/gu)].map(({ index }) => index)
      : [open];
  // Texts and names that are closed are no beginnings.
  const closed = tokens.filter(({ type }) => type === 'text' || type === 'reference');
  for (const from of starts) {
    if (open === null && end < before.length) break;
    if (closed.some((token) => from >= token.from && from < token.to)) continue;
    const typed = before.slice(open === null ? from : from + 1).toLowerCase();
    const names = headings.filter((each) => each.toLowerCase().startsWith(typed));
    if (typed !== '' && names.length > 0) return { names, from };
  }
  return { names: [], from: before.length };
}

const byLength = (a: string, b: string): number => a.length - b.length || (a < b ? -1 : 1);

/**
 * A formula as it reads when it is copied `down` rows and `across` columns. A reference that
 * would leave the sheet becomes `#REF!`. A text that can't be read is given back as it is.
 */
export function moveFormula(
  text: string,
  down: number,
  across: number,
  notation: Notation,
): string {
  let moved = '';
  let at = 0;
  for (const { reference, from, to } of referencesIn(text, notation)) {
    const there = moveReference(reference, down, across);
    moved += text.slice(at, from) + (there ? printReference(there) : '#REF!');
    at = to;
  }
  return moved + text.slice(at);
}

/** The tokens of a formula up to where it stops being one. */
function readable(text: string, notation: Notation): Token[] {
  try {
    return lex(text, notation);
  } catch (error) {
    if (!(error instanceof FormulaError)) throw error;
    const end = Math.min(error.problem.from, text.length - 1);
    return end > 0 ? readable(text.slice(0, end), notation) : [];
  }
}
