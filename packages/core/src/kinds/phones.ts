/** A phone number as it was read. */
export interface PhoneNumber {
  /** ITU-T E.164: `+441632960001`. */
  readonly e164: string;
  /** As it is written in its own country, and from elsewhere. */
  readonly national: string;
  readonly international: string;
  /** ISO 3166-1 alpha-2, where its country is known. */
  readonly country: string | undefined;
  /** Whether a number of this length can be dialled. */
  readonly isPossible: boolean;
}

/** What knows the phone numbers of all countries. */
export interface Phones {
  /** @param country whose number it is where it begins with no country's code */
  readonly parse: (text: string, country: string | undefined) => PhoneNumber | null;
}

let known: Phones | null = null;

/**
 * Gives what knows phone numbers. It is large, so that whoever starts core chooses when it is
 * loaded: at once (`@varn/core/phones`), or when the first column of phones is met.
 */
export function providePhones(phones: Phones): void {
  known = phones;
}

/** @throws Error where it was not provided before a column of phones was read or shown */
export function phones(): Phones {
  if (!known) throw new Error('phone numbers were met before what knows them was provided');
  return known;
}
