import { distance } from 'fastest-levenshtein';

/**
 * The word most like a text by Levenshtein's distance; `null` where none is near enough.
 *
 * @param most how far a word may be
 * @param beginnings whether a word that begins as the text does is as near as one letter changed
 */
export function nearestWord(
  text: string,
  words: Iterable<string>,
  most: (word: string) => number,
  beginnings = false,
): string | null {
  let best: string | null = null;
  let least = Infinity;
  for (const word of words) {
    const limit = Math.min(most(word), least);
    const isBegun = beginnings && text !== '' && word.startsWith(text);
    // Words whose lengths differ by more can't be nearer.
    if (!isBegun && Math.abs(word.length - text.length) > limit) continue;
    const far = isBegun ? 1 : distance(text, word);
    if (far <= limit && far < least) [best, least] = [word, far];
  }
  return best;
}
