import iso from 'iso-3166-1';

/** The codes of two letters of ISO 3166-1, in the order of the standard's English names. */
export const COUNTRY_CODES: readonly string[] = iso.all().map(({ alpha2 }) => alpha2);
