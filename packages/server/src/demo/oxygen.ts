/**
 * Oxygen saturation of fresh water at 1 atm, in mg/L (Benson & Krause 1984, as tabled in
 * Standard Methods 4500-O).
 *
 * @param celsius the water's temperature
 */
export function oxygenSaturation(celsius: number): number {
  const t = celsius + 273.15;
  return Math.exp(
    -139.34411 + 1.575701e5 / t - 6.642308e7 / t ** 2 + 1.2438e10 / t ** 3 - 8.621949e11 / t ** 4,
  );
}
