import { graphemesOf } from './graphemes';

/** One place of a picture: fixed text, or any sign of a set, so often. */
export type Place =
  | { readonly is: 'fixed'; readonly text: string }
  | { readonly is: 'letter' | 'figure' | 'any'; readonly times: number };

const SYMBOLS: Readonly<Record<string, 'letter' | 'figure' | 'any'>> = {
  A: 'letter',
  '9': 'figure',
  X: 'any',
};
const MOST_TIMES = 200;

/**
 * Reads a picture of a text's places: `A` is a letter, `9` a figure, `X` any sign, `9(5)` five
 * figures (the symbols of ISO/IEC 1989, PICTURE); text in quotes and other signs stand for themselves.
 *
 * @returns `null` where a quote or a bracket is left open, or nothing is said
 */
export function readPicture(picture: string): Place[] | null {
  const places: Place[] = [];
  const parts = /'([^']*)'|([A9X])(?:\((\d{1,3})\))?|([^A9X'()])/gy;
  let at = 0;
  while (at < picture.length) {
    parts.lastIndex = at;
    const found = parts.exec(picture);
    if (!found) return null;
    const [all, quoted, symbol, times, other] = found;
    at += all.length;
    const is = symbol === undefined ? undefined : SYMBOLS[symbol];
    const count = times === undefined ? 1 : Number(times);
    if (count < 1 || count > MOST_TIMES) return null;
    if (is) places.push({ is, times: count });
    else places.push({ is: 'fixed', text: quoted ?? other ?? '' });
  }
  return places.length === 0 ? null : places;
}

const LETTER = /^\p{L}\p{M}*$/u;
const FIGURE = /^[0-9]$/;

/** Whether a text has exactly the places of a picture. */
export function fitsPicture(text: string, places: readonly Place[]): boolean {
  const signs = graphemesOf(text.normalize('NFC'));
  let at = 0;
  for (const place of places) {
    if (place.is === 'fixed') {
      for (const sign of graphemesOf(place.text.normalize('NFC'))) {
        if (signs[at] !== sign) return false;
        at += 1;
      }
      continue;
    }
    for (let n = 0; n < place.times; n += 1, at += 1) {
      const sign = signs[at];
      if (sign === undefined || !isAt(sign, place.is)) return false;
    }
  }
  return at === signs.length;
}

function isAt(sign: string, is: 'letter' | 'figure' | 'any'): boolean {
  if (is === 'any') return true;
  return (is === 'letter' ? LETTER : FIGURE).test(sign);
}
