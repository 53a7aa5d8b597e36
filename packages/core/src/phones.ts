import { parsePhoneNumberFromString, type CountryCode } from 'libphonenumber-js/min';
import { providePhones } from './kinds/phones';

/** Numbers by the metadata of libphonenumber. Loading this file provides them. */
providePhones({
  parse(text, country) {
    const number = parsePhoneNumberFromString(
      text,
      country === undefined ? {} : { defaultCountry: country as CountryCode, extract: false },
    );
    if (!number) return null;
    return {
      e164: number.number,
      country: number.country,
      isPossible: number.isPossible(),
      get national() {
        return number.formatNational();
      },
      get international() {
        return number.formatInternational();
      },
    };
  },
});
