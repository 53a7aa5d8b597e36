/** Signs before which no two make one that people see as one, but for line ends. */
const COMBINING = 0x300;
const RETURN = 13;

/** A piece of a text that people see as one sign. */
interface Segmenter {
  segment(text: string): Iterable<{ readonly segment: string }>;
}
declare const Intl: { Segmenter: new (tag: string, options: object) => Segmenter };

let segmenter: Segmenter | null = null;

/** The signs of a text as people see them: extended grapheme clusters (Unicode Standard Annex #29). */
export function graphemesOf(text: string): string[] {
  if (isSimple(text)) return text.split('');
  segmenter ??= new Intl.Segmenter('en', { granularity: 'grapheme' });
  return Array.from(segmenter.segment(text), ({ segment }) => segment);
}

/** How many signs people see in a text. */
export const graphemeCount = (text: string): number =>
  isSimple(text) ? text.length : graphemesOf(text).length;

function isSimple(text: string): boolean {
  for (let at = 0; at < text.length; at += 1) {
    const code = text.charCodeAt(at);
    if (code >= COMBINING || code === RETURN) return false;
  }
  return true;
}
