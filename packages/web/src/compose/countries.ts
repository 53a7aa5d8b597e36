import { iso31661, iso31662 } from 'iso-3166';

/** The codes of two letters of ISO 3166-1. */
export const COUNTRY_CODES: readonly string[] = iso31661.map(({ alpha2 }) => alpha2);

/** The names of the parts of a country: ISO 3166-2, of any depth. @param code ISO 3166-1, two letters */
export function partsOf(code: string): readonly string[] {
  const parts = iso31662.filter((part) => part.code.startsWith(`${code}-`));
  return [...new Set(parts.map(({ name }) => name))];
}
