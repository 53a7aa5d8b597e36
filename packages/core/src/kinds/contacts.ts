import { parsePhoneNumberFromString, type CountryCode } from 'libphonenumber-js/min';
import { read, refuse } from '../values';
import type { Kind, KindId } from './kind';
import { showPlain } from './showPlain';

/** The pattern of the WHATWG HTML standard for `input type=email`. It runs in linear time. */
const EMAIL =
  /^[a-zA-Z0-9.!#$%&'*+/=?^_`{|}~-]+@[a-zA-Z0-9](?:[a-zA-Z0-9-]{0,61}[a-zA-Z0-9])?(?:\.[a-zA-Z0-9](?:[a-zA-Z0-9-]{0,61}[a-zA-Z0-9])?)*$/;
/** RFC 5321, 4.5.3.1: before the sign, and all of it. */
const LONGEST_LOCAL = 64;
const LONGEST_EMAIL = 254;

/** The platform's reader of web addresses (WHATWG URL); the same in browsers and on the server. */
declare const URL: new (text: string) => { protocol: string; hostname: string };

type ContactId = Extract<KindId, 'email' | 'phone' | 'webAddress'>;

const contact = { align: 'start', filledBy: 'people', typing: 'line', holds: 'string' } as const;

/** Ways to reach someone. All are kept as text, as typed but for space around it. */
export const contactKinds: Readonly<Record<ContactId, Kind>> = {
  email: {
    ...contact,
    id: 'email',
    label: 'Email',
    usualLength: 24,
    read(typed) {
      const text = typed.trim();
      if (text === '') return read(null);
      const fits = text.length <= LONGEST_EMAIL && text.indexOf('@') <= LONGEST_LOCAL;
      return fits && EMAIL.test(text) ? read(text) : refuse({ code: 'notAnEmail', text });
    },
    show: showPlain,
  },
  phone: {
    ...contact,
    id: 'phone',
    label: 'Phone',
    usualLength: 16,
    /** Kept as E.164, `+441632960001`, so that one number is written one way. */
    read(typed, { settings }) {
      const text = typed.trim();
      if (text === '') return read(null);
      const country = (settings.country ?? '') as CountryCode;
      const number = parsePhoneNumberFromString(
        text,
        country === ('' as string) ? {} : { defaultCountry: country, extract: false },
      );
      return number?.isPossible() === true
        ? read(number.number)
        : refuse({ code: 'notAPhone', text, country: settings.country ?? null });
    },
    show: showPlain,
    format(value, column, locale) {
      const { settings } = column;
      if (typeof value !== 'string') return showPlain(value, column, locale);
      const number = parsePhoneNumberFromString(value);
      if (!number) return value;
      const atHome = number.country !== undefined && number.country === settings.country;
      return atHome ? number.formatNational() : number.formatInternational();
    },
  },
  webAddress: {
    ...contact,
    id: 'webAddress',
    label: 'Web address',
    usualLength: 28,
    read(typed) {
      const text = typed.trim();
      if (text === '') return read(null);
      const whole = /^[a-z][a-z0-9+.-]*:/i.test(text) ? text : `https://${text}`;
      return isWebAddress(whole) ? read(whole) : refuse({ code: 'notAWebAddress', text });
    },
    show: showPlain,
  },
};

/** Whether a text is an address of the web, with a host that has a name or a number. */
function isWebAddress(text: string): boolean {
  if (/\s/.test(text)) return false;
  try {
    const { protocol, hostname } = new URL(text);
    return (
      (protocol === 'https:' || protocol === 'http:') &&
      (hostname.includes('.') || hostname === 'localhost' || hostname.startsWith('['))
    );
  } catch {
    // The platform throws where the text is no address.
    return false;
  }
}
