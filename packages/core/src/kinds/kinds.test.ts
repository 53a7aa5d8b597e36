import * as fc from 'fast-check';
import { getCountries, getExampleNumber } from 'libphonenumber-js/min';
import examples from 'libphonenumber-js/examples.mobile.json';
import { isoMoment, localeFacts, readIsoMoment, type CellValue } from '../values';
import {
  firstNumberOf,
  formatRunningNumber,
  fromWire,
  isOfKind,
  joinChoices,
  KIND_IDS,
  kindOf,
  KINDS,
  ownText,
  parseRunningNumber,
  sayFirstNumbers,
  rewrittenChoices,
  showValue,
  splitChoices,
  toWire,
  typedValue,
  type Column,
  type ColumnSettings,
  type KindId,
} from '.';

const locale = localeFacts('en-GB');
const now = readIsoMoment('2026-11-25T09:00') ?? 0;
const choices = ['Ash Beck', 'Corrow Water', 'Mereling', 'Élan'];
const column = (kind: KindId): Column => ({ id: 'c', heading: 'C', kind, settings: { choices } });

function told(kind: KindId, text: string): unknown {
  const reading = kindOf(column(kind)).read(text, column(kind), { locale, now });
  return reading.ok ? reading.value : reading.problem.code;
}

test.each<[KindId, string, CellValue]>([
  ['text', '0042', '0042'],
  ['text', ' kept as typed ', ' kept as typed '],
  ['text', ' \n\t', null],
  ['text', '=1+1', '=1+1'],
  ['wholeNumber', '12', 12],
  ['wholeNumber', '12.0', 12],
  ['wholeNumber', '12.5', 'notWhole'],
  ['wholeNumber', 'x', 'notANumber'],
  ['yesNo', 'Y', true],
  ['yesNo', 'no', false],
  ['yesNo', '', null],
  ['yesNo', 'maybe', 'notYesNo'],
  ['oneChoice', 'ash  beck', 'Ash Beck'],
  ['oneChoice', 'elan', 'Élan'],
  ['oneChoice', 'Ash', 'notAChoice'],
  ['oneChoice', '', null],
  ['severalChoices', 'mereling; Ash Beck;;mereling', 'Mereling; Ash Beck'],
  ['severalChoices', 'Ash Beck; Nowhere', 'notAChoice'],
  ['moment', '25/11/2026', readIsoMoment('2026-11-25T00:00')],
  ['moment', '25/11/2026 14:05', readIsoMoment('2026-11-25T14:05')],
  ['moment', '25 Nov 2026, 2:05 pm', readIsoMoment('2026-11-25T14:05')],
  ['moment', '2026-11-25T14:05:30', readIsoMoment('2026-11-25T14:05:30')],
  ['moment', '31/2/2026 14:05', 'noSuchDay'],
  ['moment', 'noon', 'notAMoment'],
  ['money', '12.50', 12.5],
  ['money', '€ 1,234.50', 1234.5],
  ['money', '12.50 EUR', 12.5],
  ['money', '-€5.00', -5],
  ['money', '€-5.00', -5],
  ['money', '−5 EUR', -5],
  ['money', '€', 'notANumber'],
  ['money', '- €', 'notANumber'],
  ['money', '￥500', 'notANumber'],
  ['money', 'x', 'notANumber'],
  // Published shapes of the WHATWG HTML standard for input type=email, and RFC 5321's lengths.
  ['email', 'a.b+c@place.example', 'a.b+c@place.example'],
  ['email', 'a@localhost', 'a@localhost'],
  ['email', 'a@-b.example', 'notAnEmail'],
  ['email', 'a b@place.example', 'notAnEmail'],
  ['email', 'a@b@c', 'notAnEmail'],
  ['email', `${'a'.repeat(65)}@place.example`, 'notAnEmail'],
  ['email', `a@${'b.'.repeat(130)}example`, 'notAnEmail'],
  ['webAddress', 'https://place.example/a?b=c', 'https://place.example/a?b=c'],
  ['webAddress', 'place.example', 'https://place.example'],
  ['webAddress', 'javascript:alert(1)', 'notAWebAddress'],
  ['webAddress', 'no where.example', 'notAWebAddress'],
  ['webAddress', 'place', 'notAWebAddress'],
  ['webAddress', '1.5', 'notAWebAddress'],
  ['webAddress', '1.5/x', 'notAWebAddress'],
  ['webAddress', '192.0.2.7:80/x', 'https://192.0.2.7:80/x'],
  ['webAddress', 'ann@b.example', 'notAWebAddress'],
  ['webAddress', 'mailto:ann@b.example', 'notAWebAddress'],
  ['webAddress', 'localhost:4180/x', 'https://localhost:4180/x'],
  ['door', 'x', 'notTyped'],
  ['runningNumber', 'RW-1', 'notTyped'],
  ['computed', '1', 'notTyped'],
])('%s reads %j as %j', (kind, text, expected) => {
  expect(told(kind, text)).toBe(expected);
});

/** A column's settings, what is typed, and the value or the problem. */
test.each<[KindId, ColumnSettings, string, CellValue]>([
  ['number', { percent: true }, '50%', 0.5],
  ['number', { percent: true }, '12.5 %', 0.125],
  ['number', { percent: true }, '0.5', 0.5],
  // As the same text is read in a cell outside of the records.
  ['number', {}, '50%', 0.5],
  ['number', {}, '12 %', 0.12],
  ['number', {}, '£ 3.20', 3.2],
  ['number', {}, '-£3.20', -3.2],
  ['number', {}, '3.20 €', 3.2],
  ['number', {}, '£', 'notANumber'],
  ['number', {}, '££3', 'notANumber'],
  ['number', {}, '-£-3', 'notANumber'],
  ['wholeNumber', {}, '50%', 'notWhole'],
  ['number', { unit: '°C' }, '7.5 °C', 7.5],
  ['number', { unit: 'mg/L' }, '7.5mg/l', 7.5],
  ['number', { unit: 'mg/L' }, 'mg/L', 'notANumber'],
  ['number', { unit: '%' }, '88%', 88],
  // Two signs are none, and a sign alone is no number.
  ['number', {}, '--5', 'notANumber'],
  ['number', {}, '+-5', 'notANumber'],
  ['number', { percent: true }, '%', 'notANumber'],
  ['number', { percent: true }, '-%', 'notANumber'],
  ['money', { currency: 'EUR' }, '--5', 'notANumber'],
  ['money', { currency: 'EUR' }, '-€-5', 'notANumber'],
  ['money', { currency: 'EUR' }, '-+5', 'notANumber'],
  ['money', { currency: 'EUR' }, '€', 'notANumber'],
  ['wholeNumber', { digitGroups: [4, 4, 4] }, '1234 5678 9012', 123456789012],
  ['text', { digitGroups: [3, 3, 4] }, '012 345 6789', '0123456789'],
  ['text', { digitGroups: [3, 3, 4] }, '01 2345 6789', '01 2345 6789'],
  ['money', { currency: 'JPY' }, '¥500', 500],
  ['money', { currency: 'JPY' }, '￥500', 500],
  ['money', { currency: 'JPY' }, 'JP¥1,234', 1234],
  ['phone', { country: 'DE' }, '＋44 1632 960001', '+441632960001'],
  ['phone', { country: 'DE' }, '0044 1632 960001', '+441632960001'],
  ['phone', { country: 'US' }, '00 44 1632 960001', '+441632960001'],
  ['phone', { country: 'DE' }, '(+44) 1632 960001', '+441632960001'],
  ['phone', { country: 'GB' }, '01632 960001', '+441632960001'],
  ['oneChoice', { choices: ['AB-03', 'AB-13'] }, 'ab3', 'AB-03'],
  ['oneChoice', { choices: ['AB-03', 'AB-13'] }, 'AB 3', 'AB-03'],
  ['oneChoice', { choices: ['AB-3', 'AB-03'] }, 'ab3', 'notAChoice'],
  ['oneChoice', { choices: ['AB-1-2', 'AB-12'] }, 'ab12', 'AB-12'],
  ['oneChoice', { choices: ['Ash Beck'] }, 'ashbeck', 'notAChoice'],
  ['date', { datePattern: 'dddd, d mmmm yyyy' }, 'Monday, 5 January 2026', 46027],
  ['date', { datePattern: 'dd.mm.yy' }, '05.01.26', 46027],
  ['time', { datePattern: 'h:mm AM/PM' }, '6:00 PM', 0.75],
  ['moment', { datePattern: 'yyyy-mm-dd hh:mm' }, '2026-01-05 18:00', 46027.75],
  ['moment', {}, '24/11/2026 noon', 46350.5],
])('%s with %j reads %j as %j', (kind, settings, text, expected) => {
  const of = { ...column(kind), settings };
  const reading = kindOf(of).read(text, of, { locale, now });
  expect(reading.ok ? reading.value : reading.problem.code).toBe(expected);
});

// Locales that are offered, and others that write otherwise: other digits, directions, orders.
const LOCALES =
  'en-GB en-US de-DE de-CH fr-FR es-ES it-IT nl-NL pt-BR pl-PL sv-SE nb-NO ja-JP zh-CN ko-KR hi-IN ar-EG he-IL fa-IR tr-TR th-TH ru-RU hu-HU'.split(
    ' ',
  );
const DAYS = fc.integer({ min: 20_000, max: 60_000 });
const AMOUNTS = fc.integer({ min: -1e9, max: 1e9 }).map((cents) => cents / 100);
const MOMENTS = fc
  .tuple(DAYS, fc.integer({ min: 0, max: 1439 }))
  .map(([day, minute]) => day + minute / 1440);
test.each<[KindId, ColumnSettings, fc.Arbitrary<number>]>([
  ['number', {}, AMOUNTS],
  ['number', { decimals: 1, grouping: true }, AMOUNTS],
  ['number', { percent: true, decimals: 1 }, AMOUNTS],
  ['wholeNumber', { grouping: true }, fc.integer()],
  ['wholeNumber', { digitGroups: [4, 4] }, fc.nat()],
  ['money', { currency: 'EUR' }, AMOUNTS],
  ['money', { currency: 'GBP' }, AMOUNTS],
  ['money', { currency: 'JPY' }, fc.integer({ min: -1e9, max: 1e9 })],
  ['date', {}, DAYS],
  ['date', { datePattern: 'dddd, d mmmm yyyy' }, DAYS],
  ['date', { datePattern: 'ddd d mmm yyyy' }, DAYS],
  ['date', { datePattern: 'yyyy"年"m"月"d"日"' }, DAYS],
  ['time', {}, fc.integer({ min: 0, max: 1439 }).map((minute) => minute / 1440)],
  ['time', { datePattern: 'h:mm AM/PM' }, fc.integer({ min: 0, max: 1439 }).map((m) => m / 1440)],
  ['moment', {}, MOMENTS],
  ['moment', { datePattern: 'd mmm yyyy h:mm AM/PM' }, MOMENTS],
])(
  '%s with %j: what a column shows it reads back, in every locale',
  (kind, settings, arbitrary) => {
    const of = { ...column(kind), settings };
    fc.assert(
      fc.property(fc.constantFrom(...LOCALES), arbitrary, (tag, value) => {
        const locale = localeFacts(tag);
        for (const shown of [showValue(value, of, locale), typedValue(value, of, locale)]) {
          const reading = kindOf(of).read(shown, of, { locale, now });
          const again = reading.ok ? reading.value : null;
          // To the digits that are shown.
          expect([tag, showValue(again, of, locale)]).toEqual([tag, showValue(value, of, locale)]);
        }
      }),
    );
  },
);

test('every kind stands in the table under its own id', () => {
  expect(Object.keys(KINDS).sort()).toEqual([...KIND_IDS].sort());
  for (const id of KIND_IDS) expect(KINDS[id].id).toBe(id);
});

/** Values a column of each typed kind may hold. */
const values: Partial<Record<KindId, fc.Arbitrary<CellValue>>> = {
  text: fc.string({ unit: 'grapheme', minLength: 1 }).filter((text) => text.trim() !== ''),
  number: fc
    .double({ noNaN: true, min: -1e300, max: 1e300 })
    .map((x) => Number(x.toPrecision(15)) || 0),
  wholeNumber: fc.integer(),
  date: fc.integer({ min: -690_000, max: 2_950_000 }),
  time: fc.integer({ min: 0, max: 86_399 }).map((seconds) => seconds / 86_400),
  yesNo: fc.boolean(),
  oneChoice: fc.constantFrom(...choices),
};

test.each(Object.entries(values))(
  '%s: shown, it reads back; through the wire, it is the same',
  (kind, arbitrary) => {
    const id = kind as KindId;
    fc.assert(
      fc.property(arbitrary, (value) => {
        expect(told(id, typedValue(value, column(id), locale))).toBe(value);
        expect(fromWire(toWire(value, column(id)), column(id))).toBe(value);
        expect(isOfKind(value, column(id))).toBe(true);
      }),
    );
  },
);

test.each<[KindId, string, held: CellValue, asked: boolean]>([
  ['date', '28/3/2569', null, true],
  ['moment', '28/3/1447 10:00', null, true],
  ['date', '28/3/1999', null, false],
  ['date', '28/3/2569', readIsoMoment('2569-03-28T00:00') ?? 0, false],
])('a %s far from today is asked about: %s', (kind, typed, held, asked) => {
  const column = { id: 'd', heading: 'D', kind, settings: {} };
  const context = { locale: localeFacts('en-GB'), now, held: { d: held } };
  const reading = KINDS[kind].read(typed, column, context);
  expect(reading.ok && (reading.doubt?.code ?? null)).toBe(asked ? 'farDate' : null);
  // In a file it stands as it is written.
  const asWritten = KINDS[kind].read(typed, column, { ...context, asWritten: true });
  expect(asWritten.ok && asWritten.doubt).toBeUndefined();
});

test('an amount finer than its currency is counted is asked about (ISO 4217: EUR 2, JPY 0, KWD 3)', () => {
  const ask = (currency: string, text: string): string | undefined => {
    const of = { ...column('money'), settings: { currency } };
    const reading = kindOf(of).read(text, of, { locale, now });
    return reading.ok ? reading.doubt?.code : reading.problem.code;
  };
  expect(ask('EUR', '1.234')).toBe('finerThanMinor');
  expect(ask('EUR', '1.23')).toBeUndefined();
  expect(ask('JPY', '1.2')).toBe('finerThanMinor');
  expect(ask('KWD', '1.234')).toBeUndefined();
});

// Example numbers of libphonenumber-js, one per country it knows.
test.each(getCountries())(
  'a phone number of %s is kept as E.164 and shown as its country does',
  (country) => {
    const example = getExampleNumber(country, examples);
    if (!example) throw new Error(`no example of ${country}`);
    const of = { ...column('phone'), settings: { country } };
    const reading = kindOf(of).read(example.formatNational(), of, { locale, now });
    expect(reading).toEqual({ ok: true, value: example.number });
    expect(example.number).toMatch(/^\+[1-9]\d{1,14}$/);
    const again = kindOf(of).read(showValue(example.number, of, locale), of, { locale, now });
    expect(again).toEqual(reading);
  },
);

test.each<[KindId, ColumnSettings, CellValue, string]>([
  ['number', {}, 1234.5678, '1234.5678'],
  ['number', { decimals: 2 }, 1234.5678, '1234.57'],
  ['number', { decimals: 2, grouping: true }, 1234.5678, '1,234.57'],
  ['number', { percent: true }, 0.125, '12.5%'],
  ['number', { percent: true, decimals: 0 }, 0.125, '13%'],
  ['number', { decimals: 1 }, 'kept', 'kept'],
  ['wholeNumber', { digitGroups: [4, 4, 4] }, 123456789012, '1234 5678 9012'],
  ['text', { digitGroups: [3, 3, 4] }, '0123456789', '012 345 6789'],
  ['money', { currency: 'GBP' }, 1234.5, '£1,234.50'],
  ['money', { currency: 'JPY' }, 1234, 'JP¥1,234'],
  ['date', { datePattern: 'd mmm yyyy' }, 46027, '5 Jan 2026'],
  ['date', { datePattern: 'dddd' }, 46027, 'Monday'],
  ['moment', { datePattern: 'yyyy-mm-dd hh:mm' }, 46027.75, '2026-01-05 18:00'],
  ['time', { datePattern: 'h:mm AM/PM' }, 0.75, '6:00 PM'],
  ['computed', {}, 1.5, '1.5'],
  ['computed', { shownAs: 'date' }, 46027, '05/01/2026'],
  ['computed', { shownAs: 'money', currency: 'EUR' }, 2, '€2.00'],
  ['computed', { shownAs: 'date' }, { error: '#N/A' }, '#N/A'],
])('%s with %j shows %j as %s', (kind, settings, value, shown) => {
  expect(showValue(value, { ...column(kind), settings }, locale)).toBe(shown);
});

test('text kept in a column of another kind stays text on the wire, and is told apart', () => {
  for (const kind of ['date', 'time', 'moment', 'number'] as const) {
    expect(fromWire(toWire('n/a', column(kind)), column(kind))).toBe('n/a');
    expect(isOfKind('n/a', column(kind))).toBe(false);
  }
  expect(showValue(now, column('writtenAt'), locale)).toBe('25/11/2026 09:00');
  expect(toWire(now, column('writtenAt'))).toBe(isoMoment(now));
});

test.each([
  ['RW-00000', 1, 'RW-00001'],
  ['RW-00000', 123_456, 'RW-123456'],
  ['0', 7, '7'],
  ['A00/0000 x', 42, 'A00/0042 x'],
  ['No figures ', 3, 'No figures 3'],
  // The last figures are the number, whatever they are; zeros alone go before.
  ['INV-0001', 2, 'INV-0002'],
  ['INV-0041', 100, 'INV-0100'],
  ['A100', 101, 'A101'],
  ['000/26', 7, '007/26'],
  ['2026-00', 3, '2026-03'],
])('running number %s of %i is %s', (pattern, number, text) => {
  expect(formatRunningNumber(pattern, number)).toBe(text);
  expect(parseRunningNumber(pattern, text)).toBe(number);
});

test.each<[pattern: string, first: number, numbers?: string]>([
  ['RW-00000', 1],
  ['0', 1],
  ['INV-0001', 1],
  ['INV-0041', 41],
  ['A100', 100],
  ['000/26', 1],
  ['none', 1],
  ['INV-0009', 9, 'INV-0009, INV-0010, INV-0011'],
])('running number %s begins with %i', (pattern, first, ...[numbers]) => {
  expect(firstNumberOf(pattern)).toBe(first);
  if (numbers !== undefined) expect(sayFirstNumbers(pattern)).toBe(numbers);
});

test.each(['RW-x', 'XX-00001', 'RW-', '', 'RW-1.5'])(
  '%j is no running number of RW-00000',
  (text) => {
    expect(parseRunningNumber('RW-00000', text)).toBeNull();
  },
);

test('several choices in one cell come back as they were, whatever they hold', () => {
  const choice = fc
    .string({ unit: 'grapheme', minLength: 1, maxLength: 8 })
    .filter((each) => each.trim() !== '');
  const separator = fc.constantFrom('; ', ';', ' | ', ', ', '/', '\n');
  fc.assert(
    fc.property(fc.array(choice, { maxLength: 5 }), separator, (choices, sign) => {
      expect(splitChoices(joinChoices(choices, sign), sign)).toEqual(choices);
    }),
    {
      examples: [
        [['"', '!'], '\n'],
        [['" ', '"'], ' | '],
      ],
    },
  );
});

test.each<[typed: string, settings: ColumnSettings, value: unknown]>([
  ['peat', { choices: ['Clear', 'Peaty'], own: '' }, 'peat'],
  ['peaty', { choices: ['Clear', 'Peaty'], own: '' }, 'Peaty'],
  ['oily', { choices: ['Clear'], own: 'Other: ' }, 'Other: oily'],
  ['Other: oily', { choices: ['Clear'], own: 'Other: ' }, 'Other: oily'],
  ['Other:', { choices: ['Clear'], own: 'Other: ' }, null],
])('%j as a choice of %j is %j', (typed, settings, value) => {
  const column = { id: 'c', heading: 'Colour', kind: 'oneChoice', settings } as const;
  const reading = kindOf(column).read(typed, column, { locale: localeFacts('en-GB'), now: 0 });
  expect(reading).toEqual({ ok: true, value });
});

test('choices of a cell are the same choices under another separator, another mark, and back', () => {
  const choices = ['Earthy', 'Mud; silt', 'a|b', '"quoted"', ' '];
  const separator = fc.constantFrom(undefined, '; ', '|', ', ', ' / ');
  const own = fc.constantFrom('Other: ', '+', '');
  const settings = fc.record({ choices: fc.constant(choices), separator, own });
  const answer = fc.oneof(fc.constantFrom(...choices), fc.constantFrom('Peat', 'x; y', 'p|q, r'));
  const several = (of: Column['settings']): Column => ({
    id: 'c',
    heading: 'C',
    kind: 'severalChoices',
    settings: JSON.parse(JSON.stringify(of)) as Column['settings'],
  });
  fc.assert(
    fc.property(settings, settings, fc.uniqueArray(answer, { maxLength: 4 }), (a, b, given) => {
      const [before, after] = [several(a), several(b)];
      const typed = joinChoices(given, a.separator);
      const reading = KINDS.severalChoices.read(typed, before, { locale, now });
      if (!reading.ok || typeof reading.value !== 'string') return;
      const held = reading.value;
      const said = (text: string, column: Column): string[] =>
        splitChoices(text, column.settings.separator).map((part) => ownText(part, column) ?? part);
      const written = rewrittenChoices(held, before, after);
      expect(said(written, after)).toEqual(said(held, before));
      expect(KINDS.severalChoices.read(written, after, { locale, now })).toEqual({
        ok: true,
        value: written,
      });
      expect(rewrittenChoices(written, after, before)).toBe(held);
    }),
  );
});
