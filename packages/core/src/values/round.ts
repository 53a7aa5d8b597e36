/** From here on doubles stand further apart than a tenth: their decimal digits are their own. */
const WHOLE = 1e15;

/** A number without what is beyond 15 digits, which is of its double and not of what was meant. */
export const asMeant = (value: number): number =>
  Math.abs(value) < WHOLE ? Number(value.toPrecision(15)) : value;

/**
 * A number times a power of ten, rounded by `round`, and back. Done on the decimal digits, so
 * that 1.005 rounds to 1.01 as it is written and not as its double stands.
 */
export function roundAt(
  value: number,
  digits: number,
  round: (value: number) => number = Math.round,
): number {
  const size = Math.abs(asMeant(value));
  if (size === 0 || digits > 300 || (size >= WHOLE && digits > 0)) return value;
  return Math.sign(value) * shift(round(asMeant(shift(size, digits))), -digits);
}

function shift(value: number, digits: number): number {
  const [mantissa = '0', exponent = '0'] = String(value).split('e');
  return Number(`${mantissa}e${Number(exponent) + digits}`);
}
