/** Marks of writing direction, and joiners without width (Unicode: bidi controls, U+FEFF, U+200B). */
const UNSEEN = /[\u061C\u200B\u200E\u200F\u202A-\u202E\u2066-\u2069\uFEFF]/g;
/** Full-width forms of ASCII (Unicode: U+FF01 to U+FF5E), and the full-width yen and space. */
const FULL_WIDTH = /[\uFF01-\uFF5E\uFFE5\u3000]/g;
const ASCII = /^[\x20-\x7E]*$/;

let digits: ReadonlyMap<string, string> | undefined;

/** The decimal digits of all scripts, as the platform's CLDR data has them. */
function digitsOfAll(): ReadonlyMap<string, string> {
  digits ??= new Map(
    Intl.supportedValuesOf('numberingSystem').flatMap((numberingSystem): [string, string][] => {
      const format = new Intl.NumberFormat('en', { numberingSystem, useGrouping: false });
      const ten = Array.from({ length: 10 }, (_, n) => format.format(n));
      // Chinese and its kin count by words; those are no digits.
      const areDigits = ten.every((each) => /^\p{Nd}$/u.test(each));
      return areDigits ? ten.map((each, n) => [each, String(n)]) : [];
    }),
  );
  return digits;
}

function narrow(sign: string): string {
  if (sign === '\uFFE5') return '¥';
  return sign === '\u3000' ? ' ' : String.fromCharCode(sign.charCodeAt(0) - 0xfee0);
}

/**
 * A typed text with the signs that mean the same written one way: digits of any script as 0 to 9,
 * full-width letters and signs as plain ones, no marks of writing direction. For readers of
 * numbers, dates, times and phones; texts are kept as they are typed.
 */
export function plainSigns(text: string): string {
  if (ASCII.test(text)) return text;
  return text
    .replace(UNSEEN, '')
    .replace(FULL_WIDTH, narrow)
    .replace(/\p{Nd}/gu, (digit) => digitsOfAll().get(digit) ?? digit);
}
