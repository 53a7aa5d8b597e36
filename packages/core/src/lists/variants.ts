import { foldText } from '../kinds';

/** A value a column holds, and in how many records. */
export interface CountedText {
  readonly text: string;
  readonly count: number;
}

/** Spellings that are likely one name, and the one to keep: that which most records have. */
export interface Variants {
  readonly keep: CountedText;
  /** The others, the most frequent first. */
  readonly others: readonly (CountedText & {
    /** Whether it differs in letter case, accents, blanks or signs alone. */
    readonly isWritten: boolean;
  })[];
}

/** Shorter names are too like each other, and a long name may have two letters wrong. */
const LEAST_LETTERS = 4;
const LONG_LETTERS = 9;
const edits = (length: number): number =>
  length < LEAST_LETTERS ? 0 : length < LONG_LETTERS ? 1 : 2;

/** Names looked at before other work may go between. */
const SLICE = 10;

/** A name without what people leave out of it: case, accents, blanks and signs. */
const bare = (text: string): string => foldText(text).replace(/[^\p{L}\p{N}]+/gu, '');
/** Figures tell names apart: AB-01 and AB-02 are two. */
const figuresIn = (text: string): string => text.replace(/\D+/g, ' ').trim();

interface Name {
  readonly bare: string;
  readonly figures: string;
  /** A bit for each letter or figure in it. */
  readonly signs: number;
  readonly spellings: CountedText[];
  count: number;
  /** The name it was compared with last. */
  compared: Name | null;
}

function signsIn(text: string): number {
  let signs = 0;
  for (let at = 0; at < text.length; at += 1) signs |= 1 << (text.charCodeAt(at) & 31);
  return signs;
}

/** How many of 32 bits are set (Warren, "Hacker's Delight", 5-1). */
function bitsIn(bits: number): number {
  const pairs = bits - ((bits >>> 1) & 0x55555555);
  const fours = (pairs & 0x33333333) + ((pairs >>> 2) & 0x33333333);
  return (((fours + (fours >>> 4)) & 0x0f0f0f0f) * 0x01010101) >>> 24;
}

/**
 * Finds spellings of one name among the values of a column, in steps between which other work can
 * be done. Names that differ in letter case, accents, blanks and signs alone are one; so are those
 * within one edit (a letter put in, left out, changed, or two that changed places: optimal string
 * alignment), within two from nine letters on, unless their figures differ.
 */
export function* variantsIn(values: readonly CountedText[]): Generator<void, Variants[]> {
  const names = new Map<string, Name>();
  for (const value of values) {
    const key = bare(value.text);
    if (key === '') continue;
    const held = names.get(key);
    if (held) {
      held.spellings.push(value);
      held.count += value.count;
    } else {
      names.set(key, {
        bare: key,
        figures: figuresIn(key),
        signs: signsIn(key),
        spellings: [value],
        count: value.count,
        compared: null,
      });
    }
  }
  // The most frequent name is the one that others are spellings of.
  const ordered = [...names.values()].sort((a, b) => b.count - a.count);
  const segments = new Segments();
  const kept = new Map<Name, Name[]>();
  let looked = 0;
  for (const name of ordered) {
    looked += 1;
    if (looked % SLICE === 0) yield;
    const of = segments.nearest(name);
    if (of) kept.get(of)?.push(name);
    else {
      kept.set(name, []);
      segments.add(name);
    }
  }
  return [...kept].flatMap(([name, near]) => variantsOf(name, near));
}

function variantsOf(name: Name, near: readonly Name[]): Variants[] {
  const [keep, ...written] = name.spellings.toSorted((a, b) => b.count - a.count);
  const misspelt = near.flatMap(({ spellings }) => spellings);
  if (!keep || written.length + misspelt.length === 0) return [];
  const others = [
    ...written.map((each) => ({ ...each, isWritten: true })),
    ...misspelt.map((each) => ({ ...each, isWritten: false })),
  ];
  return [{ keep, others: others.sort((a, b) => b.count - a.count) }];
}

/** Names of one length by one of their pieces. */
type ByPiece = Map<string, Name[]>;

/** The most pieces a name has. */
const MOST_PIECES = 8;

/**
 * Names by pieces of them: of two names within d edits, one of 2d + 1 pieces of the one stands
 * untouched in the other, as an edit touches one piece and a swap two (the pigeonhole principle of
 * Li, Deng, Wang and Feng, "Pass-Join", 2011). What is put in before it less what is left out moves
 * it by no more than the edits that the difference in length leaves.
 */
class Segments {
  /** By figures, which never differ; then by length and piece. */
  private readonly byFigures = new Map<string, Map<number, ByPiece>>();

  add(name: Name): void {
    const { length } = name.bare;
    const alike = this.byFigures.get(name.figures) ?? new Map<number, ByPiece>();
    this.byFigures.set(name.figures, alike);
    for (const [n, from, to] of pieces(length)) {
      const key = length * MOST_PIECES + n;
      const byPiece = alike.get(key) ?? new Map<string, Name[]>();
      alike.set(key, byPiece);
      const piece = name.bare.slice(from, to);
      const held = byPiece.get(piece);
      if (held) held.push(name);
      else byPiece.set(piece, [name]);
    }
  }

  /** The most frequent of the nearest names. */
  nearest(name: Name): Name | null {
    const { length } = name.bare;
    const most = edits(length);
    const alike = this.byFigures.get(name.figures);
    if (!alike || most === 0) return null;
    let best: Name | null = null;
    let least = most + 1;
    for (let other = length - most; other <= length + most; other += 1) {
      const limit = Math.min(most, edits(other));
      const longer = length - other;
      for (const [n, from, to] of pieces(other)) {
        const byPiece = alike.get(other * MOST_PIECES + n);
        if (!byPiece || limit === 0) continue;
        const last = Math.floor((limit + longer) / 2);
        for (let shift = -Math.floor((limit - longer) / 2); shift <= last; shift += 1) {
          if (from + shift < 0 || to + shift > length) continue;
          for (const each of byPiece.get(name.bare.slice(from + shift, to + shift)) ?? NONE) {
            if (each.compared === name) continue;
            each.compared = name;
            // One edit takes out a sign, and puts in another, at most.
            if (bitsIn(name.signs ^ each.signs) > 2 * Math.min(limit, least)) continue;
            const far = editsBetween(name.bare, each.bare, Math.min(limit, least));
            if (far > limit || far > least) continue;
            if (far < least || each.count > (best?.count ?? 0)) [best, least] = [each, far];
          }
        }
      }
    }
    return best;
  }
}

const NONE: readonly Name[] = [];

/** The pieces of names of a length: two for each edit it may have, and one. */
function pieces(length: number): readonly (readonly [n: number, from: number, to: number])[] {
  const known = PIECES.get(length);
  if (known) return known;
  const count = 2 * edits(length) + 1;
  const made = Array.from({ length: count }, (_, n) => {
    return [n, Math.floor((n * length) / count), Math.floor(((n + 1) * length) / count)] as const;
  });
  PIECES.set(length, made);
  return made;
}
const PIECES = new Map<number, ReturnType<typeof pieces>>();

/**
 * Optimal string alignment distance (Damerau 1964, without edits inside a swap), as far as `most`.
 *
 * @returns the distance, or `most + 1` where it is more
 */
export function editsBetween(a: string, b: string, most: number): number {
  if (Math.abs(a.length - b.length) > most) return most + 1;
  // What both begin and end with takes no edit.
  let from = 0;
  while (from < a.length && from < b.length && a.charCodeAt(from) === b.charCodeAt(from)) from += 1;
  let [endA, endB] = [a.length, b.length];
  while (endA > from && endB > from && a.charCodeAt(endA - 1) === b.charCodeAt(endB - 1)) {
    endA -= 1;
    endB -= 1;
  }
  const [rows, columns] = [endA - from, endB - from];
  if (rows === 0 || columns === 0) return Math.min(rows + columns, most + 1);
  let [older, previous, current] = scratchOf(columns + 1);
  for (let j = 0; j <= columns; j += 1) previous[j] = j;
  for (let i = 1; i <= rows; i += 1) {
    current[0] = i;
    let least = i;
    const [one, before] = [a.charCodeAt(from + i - 1), a.charCodeAt(from + i - 2)];
    for (let j = 1; j <= columns; j += 1) {
      const other = b.charCodeAt(from + j - 1);
      let far = Math.min(
        (previous[j] as number) + 1,
        (current[j - 1] as number) + 1,
        (previous[j - 1] as number) + (one === other ? 0 : 1),
      );
      const isSwapped = i > 1 && j > 1 && one === b.charCodeAt(from + j - 2) && before === other;
      if (isSwapped) far = Math.min(far, (older[j - 2] as number) + 1);
      current[j] = far;
      least = Math.min(least, far);
    }
    if (least > most) return most + 1;
    [older, previous, current] = [previous, current, older];
  }
  return Math.min(previous[columns] as number, most + 1);
}

type Line = Uint16Array;
let scratch: readonly [Line, Line, Line] = [
  new Uint16Array(64),
  new Uint16Array(64),
  new Uint16Array(64),
];

/** Three lines to count in, used again and again: names are compared by the million. */
function scratchOf(length: number): readonly [Line, Line, Line] {
  if (scratch[0].length < length) {
    scratch = [new Uint16Array(length), new Uint16Array(length), new Uint16Array(length)];
  }
  return scratch;
}
