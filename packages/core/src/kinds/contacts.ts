import { plainSigns, read, refuse, quote, type Sentences } from '../values';
import type { Kind, KindId } from './kind';
import { phones } from './phones';
import { showPlain } from './showPlain';

declare module '../values/problem' {
  interface Problems {
    notAnEmail: { readonly text: string };
    notAPhone: { readonly text: string; readonly country: string | null };
    notAWebAddress: { readonly text: string };
  }
}

export const CONTACT_SENTENCES: Sentences<'notAnEmail' | 'notAPhone' | 'notAWebAddress'> = {
  notAnEmail: ({ text }) =>
    `${quote(text)} is not an email address. Write it like name@place.example.`,
  notAPhone: ({ text, country }) =>
    country === null
      ? `${quote(text)} is not a phone number. Start with + and the country code.`
      : `${quote(text)} is not a phone number in ${country}. Check its digits, or start with + and the country code.`,
  notAWebAddress: ({ text }) =>
    `${quote(text)} is not a web address. Write it like https://place.example.`,
};

/** Countries whose English name takes an article. */
const WITH_ARTICLE = /^(?:United|Netherlands|Philippines|Bahamas|Gambia|Maldives|Dominican|Isle)/;

/** A country as it follows ‘in’, by its ISO 3166-1 code. */
function inCountry(code: string | undefined): string | null {
  if (code === undefined) return null;
  const name = new Intl.DisplayNames('en', { type: 'region' }).of(code) ?? code;
  return WITH_ARTICLE.test(name) ? `the ${name}` : name;
}

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
    tail: 'country',
    /** Kept as E.164, `+441632960001`, so that one number is written one way. */
    read(typed, { settings }) {
      const text = typed.trim();
      if (text === '') return read(null);
      const dialled = plainSigns(text)
        // `(+44) 1632 …`, and 00 for + as most of the world dials it (ITU-T E.164, annex).
        .replace(/^\(\s*(\+\d+)\s*\)/, '$1')
        .replace(/^00(?=\s?[1-9])\s?/, '+');
      const number = phones().parse(dialled, settings.country);
      return number?.isPossible === true
        ? read(number.e164)
        : refuse({ code: 'notAPhone', text, country: inCountry(settings.country) });
    },
    show: showPlain,
    format(value, column, locale) {
      const { settings } = column;
      if (typeof value !== 'string') return showPlain(value, column, locale);
      const number = phones().parse(value, undefined);
      if (!number) return value;
      const atHome = number.country !== undefined && number.country === settings.country;
      return atHome ? number.national : number.international;
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
      const hasScheme = /^[a-z][a-z0-9+.-]*:\/\//i.test(text);
      const whole = hasScheme ? text : `https://${text}`;
      return isWebAddress(whole) && (hasScheme || namesHost(text))
        ? read(whole)
        : refuse({ code: 'notAWebAddress', text });
    },
    show: showPlain,
  },
};

/**
 * Whether what was typed without `https://` begins with the name of a host: a mail address or a
 * number is none, and the platform would make one of either.
 */
function namesHost(text: string): boolean {
  const [host = ''] = text.split(/[/?#]/);
  const labels = host.replace(/:\d+$/, '').split('.');
  const isNumber = /^\d*$/.test(labels.at(-1) ?? '');
  return !host.includes('@') && (!isNumber || labels.length === 4);
}

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
