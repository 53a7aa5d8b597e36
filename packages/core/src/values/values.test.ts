import { addDays, isValid, parse } from 'date-fns';
import * as fc from 'fast-check';
import {
  dateOfSerial,
  daysInMonth,
  isoDate,
  isoMoment,
  isoTime,
  localeFacts,
  readDate,
  readIsoDate,
  readIsoMoment,
  readIsoTime,
  readNumber,
  readTime,
  serialNow,
  serialOfDate,
  showDate,
  showNumber,
  type Reading,
} from '.';

const gb = localeFacts('en-GB');
const us = localeFacts('en-US');
const de = localeFacts('de-DE');
const fr = localeFacts('fr-FR');
const jp = localeFacts('ja-JP');
const ch = localeFacts('de-CH');

/** The value, or the problem's code. */
const told = (reading: Reading): unknown => (reading.ok ? reading.value : reading.problem.code);

describe('serials', () => {
  // ODF 1.3 part 4, 4.3.2: dates count from the null date 1899-12-30.
  test.each([
    ['1899-12-30', 0],
    ['1899-12-31', 1],
    ['1900-01-01', 2],
    ['1900-03-01', 61],
    ['1970-01-01', 25_569],
    ['2000-02-29', 36_585],
    ['2026-11-25', 46_351],
    ['0001-01-01', -693_593],
    ['9999-12-31', 2_958_465],
  ])('%s is %i', (iso, serial) => {
    expect(readIsoDate(iso)).toBe(serial);
    expect(isoDate(serial)).toBe(iso);
  });

  test('agree with date-fns over 200 years', () => {
    const start = new Date(1900, 0, 1);
    const wrong: string[] = [];
    for (let n = 0; n < 73_049; n += 1) {
      const there = addDays(start, n);
      const parts = {
        year: there.getFullYear(),
        month: there.getMonth() + 1,
        day: there.getDate(),
      };
      const { year, month, day } = dateOfSerial(n + 2);
      const same =
        serialOfDate(parts) === n + 2 &&
        year === parts.year &&
        month === parts.month &&
        day === parts.day;
      if (!same) wrong.push(there.toISOString());
    }
    expect(wrong).toEqual([]);
  });

  test('moments and times survive the way out and in, to the second', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: -600_000, max: 2_900_000 }),
        fc.integer({ min: 0, max: 86_399 }),
        (day, second) => {
          const serial = day + second / 86_400;
          expect(isoMoment(readIsoMoment(isoMoment(serial)) ?? NaN)).toBe(isoMoment(serial));
          expect(readIsoTime(isoTime(second / 86_400))).toBe(second / 86_400);
        },
      ),
    );
  });

  test.each([
    ['Europe/London', '2026-07-01T12:00:00Z', '2026-07-01T13:00'],
    ['Pacific/Auckland', '2026-07-01T12:00:30Z', '2026-07-02T00:00:30'],
    ['America/Los_Angeles', '2026-01-01T00:30:00Z', '2025-12-31T16:30'],
    ['UTC', '2028-02-29T23:59:59Z', '2028-02-29T23:59:59'],
  ])('now in %s at %s is %s', (zone, utc, local) => {
    expect(isoMoment(serialNow(Date.parse(utc), zone))).toBe(local);
  });
});

describe('numbers', () => {
  test.each([
    [gb, '7', 7],
    [gb, ' 7.50 ', 7.5],
    [gb, '-0.25', -0.25],
    [gb, '−3', -3],
    [gb, '+3', 3],
    [gb, '.5', 0.5],
    [gb, '5.', 5],
    [gb, '1,234,567.8', 1_234_567.8],
    [gb, '12,34,567', 1_234_567],
    [gb, '1e3', 1000],
    [gb, '-0', 0],
    [gb, '007', 7],
    [gb, '', null],
    [gb, '   ', null],
    [de, '1.234,5', 1234.5],
    [de, '-7,25', -7.25],
    [fr, '1 234,5', 1234.5],
    [fr, '1 234,5', 1234.5],
    [ch, '1’234.5', 1234.5],
    [ch, "1'234.5", 1234.5],
    [gb, '7,5', 'otherDecimalSign'],
    [de, '7.5', 'otherDecimalSign'],
    [gb, '12,34', 'otherDecimalSign'],
    [gb, '１２．５', 12.5],
    [localeFacts('ar-EG'), '١٬٢٣٤٫٥', 1234.5],
    [localeFacts('hi-IN'), '१२.५', 12.5],
    [gb, 'seven', 'notANumber'],
    [gb, '7 mg', 'notANumber'],
    [gb, '1.2.3', 'notANumber'],
    [gb, '1,2345', 'otherDecimalSign'],
    [gb, '--1', 'notANumber'],
    [gb, '0x10', 'notANumber'],
    [gb, 'Infinity', 'notANumber'],
    [gb, 'NaN', 'notANumber'],
    [gb, '1e400', 'tooLarge'],
    [gb, '-1e400', 'tooLarge'],
    [gb, '1234567890123456', 'tooManyDigits'],
    [gb, '0.1234567890123456', 'tooManyDigits'],
    [gb, '1000000000000000000', 1e18],
  ])('%#: %j gives %j', (locale, text, expected) => {
    expect(told(readNumber(text, locale))).toBe(expected);
  });

  test('what is shown reads back as the same number, in every locale', () => {
    const fifteen = fc
      .double({ noNaN: true, min: -1e300, max: 1e300 })
      .map((x) => Number(x.toPrecision(15)));
    fc.assert(
      fc.property(fifteen, fc.constantFrom(gb, us, de, fr, ch, jp), (value, locale) => {
        expect(told(readNumber(showNumber(value, locale), locale))).toBe(value === 0 ? 0 : value);
      }),
    );
  });

  test('a long hostile text is refused in linear time', () => {
    expect(told(readNumber(`${'1,111'.repeat(200_000)}x`, gb))).toBe('notANumber');
  });
});

describe('dates', () => {
  const today = readIsoDate('2026-11-25') ?? 0;
  test.each([
    [gb, '2026-03-28', '2026-03-28'],
    [gb, '28/03/2026', '2026-03-28'],
    [gb, '28.3.26', '2026-03-28'],
    [gb, '28-3-2026', '2026-03-28'],
    [gb, '28 3 2026', '2026-03-28'],
    [gb, '3/4', '2026-04-03'],
    [us, '3/4', '2026-03-04'],
    [us, '03/28/2026', '2026-03-28'],
    [jp, '2026/3/28', '2026-03-28'],
    [jp, '26/3/28', '2026-03-28'],
    [gb, '2026/3/28', '2026-03-28'],
    [gb, '28 March 2026', '2026-03-28'],
    [gb, '28 mar', '2026-03-28'],
    [gb, 'March 28, 2026', '2026-03-28'],
    [gb, '1st Sept 2026', '2026-09-01'],
    [de, '28. März 2026', '2026-03-28'],
    [fr, '1 août 2026', '2026-08-01'],
    [gb, '29/2/2024', '2024-02-29'],
    [gb, '1/1/46', '2046-01-01'],
    [gb, '1/1/47', '1947-01-01'],
    [gb, '', null],
    [gb, '2026-04-??', 'dateIncomplete'],
    [gb, '????-??-31', 'dateIncomplete'],
    [gb, '31/2/2026', 'noSuchDay'],
    [gb, '29 February 2026', 'noSuchDay'],
    [gb, '31/4', 'noSuchDay'],
    [gb, '0/4/2026', 'noSuchDay'],
    [gb, '1/13/2026', 'noSuchMonth'],
    [us, '13/1/2026', 'noSuchMonth'],
    [gb, '2026-02-30', 'noSuchDay'],
    [gb, 'tomorrow', '2026-11-26'],
    [gb, 'Yesterday', '2026-11-24'],
    [de, 'heute', '2026-11-25'],
    [fr, 'hier', '2026-11-24'],
    [gb, 'someday', 'notADate'],
    [gb, '24', '2026-11-24'],
    [gb, '31', 'noSuchDay'],
    [gb, '24112026', '2026-11-24'],
    [us, '11242026', '2026-11-24'],
    [jp, '20261124', '2026-11-24'],
    [gb, '20261124', '2026-11-24'],
    [gb, '241126', '2026-11-24'],
    [gb, '31022026', 'noSuchDay'],
    [gb, '24nov', '2026-11-24'],
    [gb, '24nov2025', '2025-11-24'],
    [gb, 'nov24', '2026-11-24'],
    [gb, 'Tue 24 Nov', '2026-11-24'],
    [gb, 'Tuesday, 24 November 2026', '2026-11-24'],
    [gb, '24/11/2026 (Tue)', '2026-11-24'],
    [gb, 'Mon 24 Nov', 'otherWeekday'],
    [fr, 'mar. 24 nov.', '2026-11-24'],
    [de, 'Di., 24.11.2026', '2026-11-24'],
    [jp, '1982年3月3日', '1982-03-03'],
    [jp, '3月3日', '2026-03-03'],
    [jp, '2026年11月24日(火)', '2026-11-24'],
    [localeFacts('ko-KR'), '1982년 3월 3일', '1982-03-03'],
    [localeFacts('hi-IN'), '3 जनवरी 2026', '2026-01-03'],
    [localeFacts('hi-IN'), '३ फ़र॰ २०२६', '2026-02-03'],
    [localeFacts('ar-EG'), '٢٤/١١/٢٠٢٦', '2026-11-24'],
    [localeFacts('ar-EG'), '24\u200f/11\u200f/2026', '2026-11-24'],
    [gb, '２４／１１／２０２６', '2026-11-24'],
    [gb, '2026', 'notADate'],
    [gb, '1/2/3/4', 'notADate'],
    [gb, '1/2-2026', 'notADate'],
    [gb, '28 Ma 2026', 'notADate'],
  ])('%#: %j gives %j', (locale, text, expected) => {
    const reading = readDate(text, locale, today);
    expect(
      reading.ok && typeof reading.value === 'number' ? isoDate(reading.value) : told(reading),
    ).toBe(expected);
  });

  test('a day exists exactly when date-fns says so', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 9999 }),
        fc.integer({ min: 1, max: 14 }),
        fc.integer({ min: 1, max: 33 }),
        (y, m, d) => {
          const text = `${String(y).padStart(4, '0')}-${String(m).padStart(2, '0')}-${String(d).padStart(2, '0')}`;
          expect(readDate(text, gb, today).ok).toBe(
            isValid(parse(text, 'yyyy-MM-dd', new Date(0))),
          );
          expect(d <= daysInMonth(y, m)).toBe(isValid(parse(text, 'yyyy-MM-dd', new Date(0))));
        },
      ),
    );
  });

  test('what is shown reads back as the same day', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: -690_000, max: 2_950_000 }),
        fc.constantFrom(
          gb,
          us,
          de,
          fr,
          jp,
          ...['ar-EG', 'he-IL', 'ko-KR', 'fa-IR', 'hu-HU', 'th-TH'].map(localeFacts),
        ),
        (serial, locale) => {
          expect(told(readDate(showDate(serial, locale), locale, today))).toBe(serial);
        },
      ),
    );
  });
});

test.each([
  ['14:05', '14:05'],
  ['14.05', '14:05'],
  ['1405', '14:05'],
  ['905', '09:05'],
  ['9', '09:00'],
  ['14h05', '14:05'],
  ['2pm', '14:00'],
  ['2:05 p.m.', '14:05'],
  ['12 am', '00:00'],
  ['12:30pm', '12:30'],
  ['23:59:59', '23:59:59'],
  ['', null],
  ['24:00', 'notATime'],
  ['25:00', 'notATime'],
  ['9:60', 'notATime'],
  ['13pm', 'notATime'],
  ['0 am', 'notATime'],
  ['noon', '12:00'],
  ['Midnight', '00:00'],
  ['9 30', '09:30'],
  ['9 30 pm', '21:30'],
  ['٩:٣٠', '09:30'],
  ['soon', 'notATime'],
  ['1:2', 'notATime'],
])('time %j gives %j', (text, expected) => {
  const reading = readTime(text);
  expect(
    reading.ok && typeof reading.value === 'number' ? isoTime(reading.value) : told(reading),
  ).toBe(expected);
});

test.each([
  ['ar-EG', '2:05 م', '14:05'],
  ['ar-EG', '2:05 ص', '02:05'],
  ['ja-JP', '午後2:05', '14:05'],
  ['ko-KR', '오전 9:30', '09:30'],
  ['en-US', '2:05 PM', '14:05'],
])('in %s the time %j is %s', (tag, text, expected) => {
  const reading = readTime(text, localeFacts(tag));
  expect(reading.ok && isoTime(Number(reading.value))).toBe(expected);
});

test('what stands in a file says no more than is written', () => {
  const today = readIsoDate('2026-11-25') ?? 0;
  for (const text of ['24', '24112026', 'today', 'heute']) {
    expect(told(readDate(text, de, today, { asWritten: true }))).toBe('notADate');
  }
  expect(told(readDate('Tue 24 Nov', gb, today, { asWritten: true }))).toBe(46_350);
});

/** Tongues of all scripts and orders; what they write of dates and times is CLDR's, by the platform. */
const TAGS =
  'en-GB en-US fr-FR de-DE es-ES it-IT pt-BR pt-PT nl-NL sv-SE da-DK nb-NO fi-FI pl-PL cs-CZ sk-SK hu-HU ro-RO bg-BG ru-RU uk-UA el-GR tr-TR ja-JP ko-KR zh-CN zh-TW ar-EG ar-SA he-IL hi-IN id-ID vi-VN th-TH ca-ES hr-HR sl-SI lt-LT lv-LV et-EE fa-IR bn-BD ta-IN is-IS ga-IE cy-GB eu-ES gl-ES sr-RS ms-MY sw-KE af-ZA'.split(
    ' ',
  );
test.each(TAGS)('dates, times and words for days are read as %s writes them', (tag) => {
  const facts = localeFacts(tag);
  const today = serialOfDate({ year: 2026, month: 1, day: 5 });
  const wrong: string[] = [];
  const hold = (text: string, reading: ReturnType<typeof readDate>, wanted: number): void => {
    const value = reading.ok && typeof reading.value === 'number' ? reading.value : NaN;
    if (!(Math.abs(value - wanted) < 1e-9)) wrong.push(text);
  };
  for (let month = 1; month <= 12; month += 1) {
    const date = { year: 2026, month, day: 1 + ((month * 7) % 28) };
    const at = Date.UTC(2026, month - 1, date.day);
    for (const dateStyle of ['full', 'long', 'medium', 'short'] as const) {
      const format = new Intl.DateTimeFormat(tag, {
        dateStyle,
        timeZone: 'UTC',
        calendar: 'gregory',
      });
      const text = format.format(at);
      hold(text, readDate(text, facts, today), serialOfDate(date));
    }
  }
  for (const timeStyle of ['short', 'medium'] as const) {
    for (let hour = 0; hour < 24; hour += 1) {
      const format = new Intl.DateTimeFormat(tag, { timeStyle, timeZone: 'UTC' });
      const text = format.format(Date.UTC(2026, 0, 5, hour, 5, 7));
      const seconds = hour * 3600 + 300 + (timeStyle === 'medium' ? 7 : 0);
      hold(text, readTime(text, facts), seconds / 86_400);
    }
  }
  const days = new Intl.RelativeTimeFormat(tag, { numeric: 'auto' });
  const said = [-1, 0, 1].map((away) => days.format(away, 'day'));
  for (const [n, text] of said.entries()) {
    // One word for yesterday and tomorrow can't be read as either.
    if (said.indexOf(text) !== said.lastIndexOf(text)) continue;
    // As the keyboard has it.
    const typed = text.replaceAll('’', "'");
    hold(typed, readDate(typed, facts, today), today + n - 1);
  }
  expect(wrong).toEqual([]);
});
