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
const SLICE = 250;

/** A name without what people leave out of it: case, accents, blanks and signs. */
const bare = (text: string): string => foldText(text).replace(/[^\p{L}\p{N}]+/gu, '');
/** Figures tell names apart: AB-01 and AB-02 are two. */
const figuresIn = (text: string): string => text.replace(/\D+/g, ' ').trim();

interface Name {
  readonly bare: string;
  readonly figures: string;
  readonly spellings: CountedText[];
  count: number;
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
        spellings: [value],
        count: value.count,
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

/**
 * Names by pieces of them: of two names within d edits, one of d + 1 pieces of the one stands in the
 * other, moved by no more than d (the pigeonhole principle of Li, Deng, Wang and Feng 2011).
 */
class Segments {
  private readonly byPiece = new Map<string, Name[]>();

  add(name: Name): void {
    const { length } = name.bare;
    for (const [n, from, to] of pieces(length)) {
      const key = `${length} ${n} ${name.bare.slice(from, to)}`;
      const held = this.byPiece.get(key);
      if (held) held.push(name);
      else this.byPiece.set(key, [name]);
    }
  }

  /** The most frequent of the nearest names. */
  nearest(name: Name): Name | null {
    const { length } = name.bare;
    const most = edits(length);
    let best: Name | null = null;
    let least = most + 1;
    for (let other = length - most; most > 0 && other <= length + most; other += 1) {
      const limit = Math.min(most, edits(other));
      if (limit === 0) continue;
      for (const [n, from, to] of pieces(other)) {
        for (let shift = -most; shift <= most; shift += 1) {
          const start = from + shift;
          if (start < 0 || to + shift > length) continue;
          const key = `${other} ${n} ${name.bare.slice(start, to + shift)}`;
          for (const each of this.byPiece.get(key) ?? []) {
            if (each === best || each.figures !== name.figures) continue;
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

/** The pieces of names of a length: one more than the edits it may have. */
function pieces(length: number): readonly (readonly [n: number, from: number, to: number])[] {
  const known = PIECES.get(length);
  if (known) return known;
  const count = edits(length) + 1;
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
  let [older, previous] = [new Uint16Array(b.length + 1), new Uint16Array(b.length + 1)];
  let current = new Uint16Array(b.length + 1);
  for (let j = 0; j <= b.length; j += 1) previous[j] = j;
  for (let i = 1; i <= a.length; i += 1) {
    current[0] = i;
    let least = i;
    for (let j = 1; j <= b.length; j += 1) {
      const changed = a.charCodeAt(i - 1) === b.charCodeAt(j - 1) ? 0 : 1;
      let far = Math.min(
        (previous[j] as number) + 1,
        (current[j - 1] as number) + 1,
        (previous[j - 1] as number) + changed,
      );
      const isSwapped =
        i > 1 &&
        j > 1 &&
        a.charCodeAt(i - 1) === b.charCodeAt(j - 2) &&
        a.charCodeAt(i - 2) === b.charCodeAt(j - 1);
      if (isSwapped) far = Math.min(far, (older[j - 2] as number) + 1);
      current[j] = far;
      least = Math.min(least, far);
    }
    if (least > most) return most + 1;
    [older, previous, current] = [previous, current, older];
  }
  return Math.min(previous[b.length] as number, most + 1);
}
