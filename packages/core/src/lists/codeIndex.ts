import { foldCode, foldText } from '../kinds';

const ZERO = 48;
const FIRST_BEYOND_ASCII = 128;
const IS_LETTER = /^[\p{L}\p{N}]/u;

/**
 * Texts by their codes, found by what is typed short (`ab3` for AB-03). Those that begin as one code
 * does are indexed when one of them is first looked for: a key is pressed then, and the list may be long.
 */
export class CodeIndex<T> {
  private readonly byFirst = new Map<number, Map<string, T[]>>();

  /**
   * @param all what is indexed, as it stands whenever it is asked
   * @param textOf the text of one
   * @param isCode whether a text may be a code at all
   */
  constructor(
    private readonly all: () => Iterable<T>,
    private readonly textOf: (one: T) => string,
    private readonly isCode: (text: string) => boolean = () => true,
  ) {}

  /** Those whose code is that of what is typed, in their order. */
  find(typed: string): readonly T[] {
    const code = foldCode(typed);
    const first = code.charCodeAt(0);
    let codes = this.byFirst.get(first);
    if (!codes) {
      codes = new Map();
      for (const one of this.all()) {
        const text = this.textOf(one);
        if (!mayBegin(text, first) || !this.isCode(text)) continue;
        const own = foldCode(text);
        const held = codes.get(own);
        if (held) held.push(one);
        else codes.set(own, [one]);
      }
      this.byFirst.set(first, codes);
    }
    return codes.get(code) ?? [];
  }

  add(one: T): void {
    if (this.byFirst.size === 0) return;
    const code = foldCode(this.textOf(one));
    const codes = this.byFirst.get(code.charCodeAt(0));
    codes?.set(code, [...(codes.get(code) ?? []), one]);
  }

  remove(one: T): void {
    if (this.byFirst.size === 0) return;
    const code = foldCode(this.textOf(one));
    const codes = this.byFirst.get(code.charCodeAt(0));
    codes?.set(
      code,
      (codes.get(code) ?? []).filter((each) => each !== one),
    );
  }
}

/** Whether the code of a text may begin with a character: with its first, or after signs and zeros. */
function mayBegin(text: string, first: number): boolean {
  const begins = text.charCodeAt(0);
  if (begins >= FIRST_BEYOND_ASCII) {
    const folded = foldText(text);
    return folded.charCodeAt(0) === first || !IS_LETTER.test(folded);
  }
  // Most are plain, and many: their first character tells without folding them.
  const isCapital = begins >= 65 && begins <= 90;
  const folded = isCapital ? begins + 32 : begins;
  if (folded === first || folded === ZERO) return true;
  const isLetter = folded >= 97 && folded <= 122;
  const isFigure = folded >= ZERO && folded <= 57;
  return !isLetter && !isFigure;
}
