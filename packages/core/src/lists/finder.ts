import { foldText, type ListItem } from '../kinds';
import { CodeIndex } from './codeIndex';

/** How well an item goes with what was typed; the least first. */
const FIT = { code: 0, beginning: 1, word: 2, within: 3 } as const;
type Fit = (typeof FIT)[keyof typeof FIT];
const FITS = 4;

/** Between the texts of an item, where no word goes over. */
const END = '\n';

/** Finds the items of a list that go with what is typed, the best first. */
export class ListFinder {
  private readonly folded: readonly string[];
  /** The places of those that may be codes. */
  private readonly codes: CodeIndex<number>;
  private last: { readonly typed: string; readonly found: readonly number[] } | null = null;

  private readonly isUsed: boolean;

  constructor(private readonly items: readonly ListItem[]) {
    this.isUsed = items.some(({ use }) => use !== undefined);
    const textAt = (at: number): string => items[at]?.text ?? '';
    this.codes = new CodeIndex(() => items.keys(), textAt, mayBeCode);
    this.folded = items.map(({ text, label, second }) => {
      const texts = [label, ...(text === label ? [] : [text]), ...(second === '' ? [] : [second])];
      return texts.map(foldText).join(END);
    });
  }

  /**
   * Items that begin with the text, then those one of whose words does, then those that hold it;
   * before all of them a code that was typed short (`ab3` for AB-03). Use settles ties. All while
   * nothing is typed.
   *
   * @param most how many are told
   */
  find(typed: string, most: number): ListItem[] {
    const folded = foldText(typed);
    if (folded === '') return this.items.slice(0, most);
    const begun = END + folded;
    const fits: number[][] = Array.from({ length: FITS }, () => []);
    const found: number[] = [];
    // Whatever holds more of a text holds its beginning.
    const narrowed = this.last && folded.startsWith(this.last.typed) ? this.last.found : null;
    const count = narrowed?.length ?? this.items.length;
    for (let n = 0; n < count; n += 1) {
      const at = narrowed ? (narrowed[n] as number) : n;
      const fit = fitOf(this.folded[at] as string, folded, begun);
      if (fit === null) continue;
      found.push(at);
      (fits[fit] as number[]).push(at);
    }
    if (/\d/.test(folded)) {
      const coded = this.codes.find(typed);
      const held = new Set(coded.length === 0 ? [] : found);
      fits[FIT.code] = coded.filter((at) => !held.has(at));
    }
    this.last = { typed: folded, found };
    return fits
      .flatMap((each) => this.byUse(each, most))
      .slice(0, most)
      .map((at) => this.items[at] as ListItem);
  }

  private byUse(places: number[], most: number): number[] {
    if (!this.isUsed) return places.slice(0, most);
    const useAt = (at: number): number => this.items[at]?.use ?? 0;
    const used = places.filter((at) => useAt(at) > 0);
    used.sort((a, b) => useAt(b) - useAt(a) || a - b);
    const held = new Set(used);
    return [...used, ...places.filter((at) => !held.has(at))].slice(0, most);
  }
}

const mayBeCode = (text: string): boolean => text.length <= 40 && /\d/.test(text);

/** @param begun what is typed, as another text of an item begins with it */
function fitOf(texts: string, typed: string, begun: string): Fit | null {
  const first = texts.indexOf(typed);
  if (first < 0) return null;
  if (first === 0 || texts.includes(begun, first - 1)) return FIT.beginning;
  for (let at = first; at > 0; at = texts.indexOf(typed, at + 1)) {
    if (!isOfWord(texts.charCodeAt(at - 1))) return FIT.word;
  }
  return FIT.within;
}

/** Whether a character goes on with a word: letters and figures; all beyond ASCII count as letters. */
const isOfWord = (code: number): boolean =>
  (code >= 97 && code <= 122) || (code >= 48 && code <= 57) || code > 127;
