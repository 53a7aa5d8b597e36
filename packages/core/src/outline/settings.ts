import type { AfterSubmit, Entering, FormLook } from '../forms';
import { plainOrQuoted, quoted, splitAt, trimmed, unquoted, type Piece } from './pieces';
import { nearest } from './phrases';
import { OutlineError } from './problem';

/** A word of a settings line and what it sets. */
type Words<T> = Readonly<Record<string, T>>;

const LOOK: Words<FormLook> = {
  'accent brass': { accent: 'brass' },
  'accent slate': { accent: 'slate' },
  'accent pine': { accent: 'pine' },
  'accent madder': { accent: 'madder' },
  dense: { density: 'dense' },
  roomy: { density: 'roomy' },
  narrow: { width: 'narrow' },
  wide: { width: 'wide' },
  'labels beside': { labels: 'beside' },
  'one a row': { rows: 'single' },
};

const ENTERING: Words<Entering> = {
  'Enter submits': { enter: 'submits' },
  'held back until ready': { early: 'heldBack' },
  'opens on the last record': { opensOn: 'last' },
  'newest on top': { lands: 'top' },
};

const AFTER: Words<{ readonly keep?: 'all'; readonly then?: 'record' | 'close' }> = {
  'keep all': { keep: 'all' },
  'go to the record': { then: 'record' },
  close: { then: 'close' },
};

function readWords<T extends object>(piece: Piece, words: Words<T>): T {
  const { text, at } = trimmed(piece);
  const known = Object.keys(words);
  const found = known.find((each) => each.toLowerCase() === text.toLowerCase());
  const set = found === undefined ? undefined : words[found];
  if (set) return set;
  const near = nearest(text, known);
  throw new OutlineError({ code: 'unknownWord', text, near }, at, Math.max(1, text.length));
}

function writeWords<T extends object>(set: T, words: Words<Partial<T>>): string[] {
  const given = Object.entries(set);
  return Object.entries(words)
    .filter(([, part]) => given.some(([name, value]) => part[name as keyof T] === value))
    .map(([word]) => word);
}

export const readLook = (rest: Piece): FormLook =>
  Object.assign({}, ...splitAt(rest, ',').map((each) => readWords(each, LOOK))) as FormLook;

export const writeLook = (look: FormLook): string => `look: ${writeWords(look, LOOK).join(', ')}`;

export const readEntering = (rest: Piece): Entering =>
  Object.assign({}, ...splitAt(rest, ',').map((each) => readWords(each, ENTERING))) as Entering;

export const writeEntering = (entering: Entering): string =>
  `entering: ${writeWords(entering, ENTERING).join(', ')}`;

/** Reads what happens after a submit. What is kept is told by labels. */
export function readAfter(rest: Piece): AfterSubmit {
  const parts = splitAt(rest, ',').map((piece): AfterSubmit => {
    const { text } = trimmed(piece);
    const [, said] = /^say\s+(.+)$/s.exec(text) ?? [];
    const [, kept] = /^keep\s*\((.*)\)$/s.exec(text) ?? [];
    if (said !== undefined) return { message: unquoted(said) };
    if (kept !== undefined) {
      return { keep: splitAt({ text: kept, at: 0 }, ',').map((each) => unquoted(each.text)) };
    }
    return readWords(piece, AFTER);
  });
  return Object.assign({}, ...parts) as AfterSubmit;
}

const isPlainLabel = (text: string): boolean => !/[,()='{}]/.test(text);

export function writeAfter({ message, keep, then }: AfterSubmit): string {
  const parts = [
    ...(Array.isArray(keep)
      ? [`keep (${keep.map((each: string) => plainOrQuoted(each, isPlainLabel)).join(', ')})`]
      : []),
    ...writeWords(
      { ...(keep === 'all' && { keep: 'all' as const }), ...(then && { then }) },
      AFTER,
    ),
    ...(message === undefined ? [] : [`say ${quoted(message)}`]),
  ];
  return `after: ${parts.join(', ')}`;
}
