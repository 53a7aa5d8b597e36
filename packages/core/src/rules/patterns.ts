/** A pattern as it was read: what tells whether a whole text matches it, or why it is none. */
export type ReadPattern =
  | { readonly ok: true; readonly test: (text: string) => boolean }
  | { readonly ok: false; readonly why: string };

/** What reads patterns, and matches them in time that grows with the text alone. */
export interface Patterns {
  readonly read: (pattern: string) => ReadPattern;
}

let known: Patterns | null = null;
const MOST_KEPT = 500;
const kept = new Map<string, ReadPattern>();

/**
 * Gives what matches patterns. It is large, so that whoever starts core chooses when it is loaded:
 * at once (`@varn/core/patterns`), or when the first rule with a pattern is met.
 */
export function providePatterns(patterns: Patterns): void {
  known = patterns;
}

/** @throws Error where it was not provided before a pattern was met */
export function readPattern(pattern: string): ReadPattern {
  if (!known) throw new Error('a pattern was met before what matches patterns was provided');
  let read = kept.get(pattern);
  if (!read) {
    read = known.read(pattern);
    if (kept.size >= MOST_KEPT) kept.clear();
    kept.set(pattern, read);
  }
  return read;
}

/** Whether a whole text matches a pattern; `null` where the pattern can’t be read. */
export function patternTest(pattern: string): ((text: string) => boolean) | null {
  const read = readPattern(pattern);
  return read.ok ? read.test : null;
}
