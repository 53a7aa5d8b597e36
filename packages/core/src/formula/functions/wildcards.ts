import { compareTexts, foldCase } from './convert';
import { spend } from './budget';

/** Whether a text is to be read as a pattern: `*` stands for any characters, `?` for one, `~` takes either as it is. */
export const isPattern = (text: string): boolean => /[*?~]/.test(text);

/** Whether a whole text is as a pattern says, without regard to case. */
export function textTest(pattern: string): (text: string) => boolean {
  if (!isPattern(pattern)) return (text) => compareTexts(text, pattern) === 0;
  const segments = segmentsOf(pattern);
  return (text) => matchesWhole(charactersOf(text), segments);
}

/** Where a pattern first matches in a text at or after a place, in characters from 0, or `null`. */
export function findPattern(text: string, pattern: string, from: number): number | null {
  const characters = charactersOf(text);
  if (from > characters.length) return null;
  let at = from;
  let found: number | null = null;
  // Where the rest is not found after the first match, it is not after a later one either.
  for (const segment of segmentsOf(pattern)) {
    const place = segment.find(characters, at, characters.length);
    if (place === null) return null;
    found ??= place;
    at = place + segment.length;
  }
  return found;
}

function matchesWhole(text: Characters, segments: readonly Segment[]): boolean {
  const [first] = segments;
  const last = segments.at(-1);
  if (!first || !last) return text.length === 0;
  if (segments.length === 1) return text.length === first.length && first.isAt(text, 0);
  const end = text.length - last.length;
  if (end < first.length || !first.isAt(text, 0) || !last.isAt(text, end)) return false;
  let at = first.length;
  for (const segment of segments.slice(1, -1)) {
    const place = segment.find(text, at, end);
    if (place === null) return false;
    at = place + segment.length;
  }
  return true;
}

/** The characters of a text, each as it is compared: one may become several units, and stays one. */
type Characters = ArrayLike<string>;

function charactersOf(text: string): Characters {
  const folded = foldCase(text);
  if (folded.length === text.length && !/[\uD800-\uDFFF]/.test(text)) {
    spend(8 + (text.length >> 1));
    return folded;
  }
  spend(text.length * 3);
  return Array.from(text, foldCase);
}

/** Any one character. */
const ANY = null;

/** What stands between two `*` of a pattern. */
class Segment {
  /** By length of what has matched: how much of it still has when the next does not. */
  private readonly fallback: number[] | null;

  constructor(private readonly parts: readonly (string | typeof ANY)[]) {
    this.fallback = parts.includes(ANY) ? null : fallbackOf(parts);
  }

  get length(): number {
    return this.parts.length;
  }

  isAt(text: Characters, at: number): boolean {
    return this.parts.every((part, index) => part === ANY || part === text[at + index]);
  }

  /** The first place from `from` on where it stands before `end`. */
  find(text: Characters, from: number, end: number): number | null {
    return this.fallback ? this.search(this.fallback, text, from, end) : this.scan(text, from, end);
  }

  /** Looks at each character once or twice (Knuth, Morris, Pratt 1977). */
  private search(fallback: number[], text: Characters, from: number, end: number): number | null {
    const { parts } = this;
    if (parts.length === 0) return from;
    let matched = 0;
    for (let at = from; at < end; at += 1) {
      while (matched > 0 && parts[matched] !== text[at]) matched = fallback[matched - 1] ?? 0;
      if (parts[matched] === text[at]) matched += 1;
      if (matched === parts.length) return at + 1 - matched;
    }
    return null;
  }

  /** Tries each place, where `?` is part of it. */
  private scan(text: Characters, from: number, end: number): number | null {
    for (let at = from; at + this.length <= end; at += 1) {
      let index = 0;
      while (
        index < this.length &&
        (this.parts[index] === ANY || this.parts[index] === text[at + index])
      ) {
        index += 1;
      }
      spend(1 + (index >> 2));
      if (index === this.length) return at;
    }
    return null;
  }
}

function fallbackOf(parts: readonly unknown[]): number[] {
  const fallback = [0];
  let matched = 0;
  for (let at = 1; at < parts.length; at += 1) {
    while (matched > 0 && parts[matched] !== parts[at]) matched = fallback[matched - 1] ?? 0;
    if (parts[matched] === parts[at]) matched += 1;
    fallback.push(matched);
  }
  return fallback;
}

/** The parts of a pattern between its `*`; one more than there are of these. */
function segmentsOf(pattern: string): Segment[] {
  const segments: (string | typeof ANY)[][] = [[]];
  spend(60 + pattern.length * 3);
  const characters = Array.from(pattern, foldCase);
  for (let at = 0; at < characters.length; at += 1) {
    const character = characters[at] ?? '';
    const following = characters[at + 1] ?? '';
    if (character === '~' && /[*?~]/.test(following)) {
      segments.at(-1)?.push(following);
      at += 1;
    } else if (character === '*') {
      // Several in a row stand for any characters as one does.
      if (segments.length === 1 || segments.at(-1)?.length !== 0) segments.push([]);
    } else segments.at(-1)?.push(character === '?' ? ANY : character);
  }
  return segments.map((parts) => new Segment(parts));
}
