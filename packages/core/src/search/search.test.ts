import * as fc from 'fast-check';
import type { Column, ReadingContext } from '../kinds';
import { heldValues, SheetModel, ToldNumbers } from '../sheet';
import { localeFacts, serialOfDate, type CellValue } from '../values';
import { sayProblem } from '../words';
import { readPeriod } from './period';
import { readTerms } from './words';
import {
  countsOf,
  dayAtEnd,
  nextOrder,
  positionsIn,
  questionAddress,
  questionOfAddress,
  questionTests,
  readCondition,
  readQuestion,
  readTicked,
  replacing,
  sayQuestion,
  sayTicked,
  withDayAtEnd,
  type Question,
  type ViewOrder,
} from '.';

/** Tuesday, 24 November 2026, 15:00. */
const NOW = serialOfDate({ year: 2026, month: 11, day: 24 }) + 0.625;
const gb: ReadingContext = { locale: localeFacts('en-GB'), now: NOW };
const de: ReadingContext = { locale: localeFacts('de-DE'), now: NOW };
const day = (text: string): number => {
  const [year = 0, month = 0, date = 0] = text.split('-').map(Number);
  return serialOfDate({ year, month, day: date });
};

const column = (kind: Column['kind'], settings: Column['settings'] = {}): Column => ({
  id: kind,
  heading: kind,
  kind,
  settings,
});
const river = column('oneChoice', { choices: ['Ash Beck', 'Long Water', 'Fen, upper'] });
const turbidity = column('oneChoice', { choices: ['< 5', '5 to 40', '> 40'] });
const numbered = column('runningNumber', { pattern: 'RW-0' });
/** Numbers reserved for fiction (Ofcom). */
const PHONES = ['+441632960001', '+441632960002'];
const DAYS = ['2026-09-30', '2026-11-09', '2026-11-22', '2026-11-24', '2026-12-03'].map(day);
const finds = column('severalChoices', { choices: ['Mayfly', 'Caddis', 'Leech'] });

/** Which of some values a condition takes. */
function taken(text: string, of: Column, values: readonly CellValue[], context = gb): CellValue[] {
  const reading = readCondition(text, of, context);
  if (!reading.ok) throw new Error(sayProblem(reading.problem));
  return values.filter(reading.test);
}

test.each<
  [text: string, of: Column, from: CellValue[], takes: CellValue[], context?: ReadingContext]
>([
  ['7', column('number'), [6.9, 7, null, '7'], [7]],
  ['>= 7', column('number'), [6.9, 7, 8, null], [7, 8]],
  ['<>7', column('number'), [6.9, 7, null], [6.9, null]],
  ['not 7', column('number'), [6.9, 7, null], [6.9, null]],
  ['6..7', column('number'), [5.9, 6, 6.5, 7, 7.1], [6, 6.5, 7]],
  ['..7', column('number'), [5, 8, null], [5]],
  ['7..', column('number'), [5, 8, null], [8]],
  ['7, 9', column('number'), [7, 8, 9], [7, 9]],
  ['7,5', column('number'), [7, 7.5, 5], [7.5], de],
  ['7,5; 8', column('number'), [7, 7.5, 8], [7.5, 8], de],
  ['1,200', column('number'), [1, 200, 1200], [1200]],
  ['<= €5', column('money', { currency: 'EUR' }), [4.99, 5, 6], [4.99, 5]],
  ['empty', column('number'), [null, 0], [null]],
  ['Blank', column('text'), [null, 'x'], [null]],
  ['not empty', column('text'), [null, 'x'], ['x']],
  ['yes', column('yesNo'), [true, false, null], [true]],
  ['ash', column('text'), ['Ash Beck', 'splásh', null, 'oak'], ['Ash Beck', 'splásh']],
  ['ash*', column('text'), ['Ash Beck', 'splash'], ['Ash Beck']],
  ['*ash', column('text'), ['Ash Beck', 'splash'], ['splash']],
  ['a?h', column('text'), ['ash', 'Ach', 'ash '], ['ash', 'Ach', 'ash ']],
  ['not ash*', column('text'), ['Ash', 'oak', null], ['oak', null]],
  ['= ash', column('text'), ['Ash', 'Ash Beck'], ['Ash']],
  ['"not ash"', column('text'), ['do not ash it', 'ash'], ['do not ash it']],
  ['ash, oak', column('text'), ['ash', 'an oak', 'elm'], ['ash', 'an oak']],
  ['"ash, oak"', column('text'), ['ash', 'oak', 'ash, oak'], ['ash, oak']],
  ['ash beck', river, ['Ash Beck', 'Ash Beck East', null], ['Ash Beck']],
  ['ash', river, ['Ash Beck', 'Long Water'], ['Ash Beck']],
  ['Fen, upper', river, ['Fen, upper', 'Ash Beck'], ['Fen, upper']],
  [
    'ash beck, long water',
    river,
    ['Ash Beck', 'Long Water', 'Fen, upper'],
    ['Ash Beck', 'Long Water'],
  ],
  ['caddis', finds, ['Mayfly; Caddis', 'Mayfly', 'Caddis'], ['Mayfly; Caddis', 'Caddis']],
  ['not caddis', finds, ['Mayfly; Caddis', 'Mayfly', null], ['Mayfly', null]],
  ['24/11/2026', column('date'), [day('2026-11-24'), day('2026-11-25')], [day('2026-11-24')]],
  ['24 nov', column('date'), [day('2026-11-24'), day('2025-11-24')], [day('2026-11-24')]],
  ['24 nov', column('moment'), [NOW, NOW + 1], [NOW]],
  [
    '2026-03..2026-05',
    column('date'),
    ['2026-02-28', '2026-03-01', '2026-05-31', '2026-06-01'].map(day),
    [day('2026-03-01'), day('2026-05-31')],
  ],
  ['> 2026-03', column('date'), ['2026-03-31', '2026-04-01'].map(day), [day('2026-04-01')]],
  [
    '<= 2026',
    column('writtenAt'),
    [day('2026-12-31') + 0.9, day('2027-01-01')],
    [day('2026-12-31') + 0.9],
  ],
  [
    'this week',
    column('date'),
    ['2026-11-22', '2026-11-23', '2026-11-29', '2026-11-30'].map(day),
    [day('2026-11-23'), day('2026-11-29')],
  ],
  ['14:05', column('time'), [845 / 1440, 0.5], [845 / 1440]],
  ['>= 7', column('computed', { shownAs: 'number' }), [6, 7, { error: '#N/A' }], [7]],
  ['ash', column('computed'), ['ash', 7], ['ash']],
  ['> b', column('text'), ['a', 'B', 'c'], ['c']],
  [
    'rw-3',
    column('runningNumber', { pattern: 'RW-0' }),
    ['RW-3', 'RW-12', 'RW-30'],
    ['RW-3', 'RW-30'],
  ],
  // A choice that begins with a sign is itself first.
  ['> 40', turbidity, ['< 5', '5 to 40', '> 40'], ['> 40']],
  ['not > 40', turbidity, ['< 5', '5 to 40', '> 40', null], ['< 5', '5 to 40', null]],
  ['5 to 40', turbidity, ['< 5', '5 to 40', '> 40'], ['5 to 40']],
  ['"> 40"', turbidity, ['< 5', '> 40'], ['> 40']],
  ['< 5, > 40', turbidity, ['< 5', '5 to 40', '> 40'], ['< 5', '> 40']],
  ['> 40, empty', turbidity, ['< 5', '> 40', null], ['> 40', null]],
  // Quotes hold all together.
  ['"a..b"', column('text'), ['a..b', 'aa', 'b'], ['a..b']],
  ['"wait... what"', column('text'), ['wait... what', 'what'], ['wait... what']],
  ['"say ""go"""', column('text'), ['say "go" now', 'say go'], ['say "go" now']],
  ['"empty"', column('text'), ['empty', null], ['empty']],
  ['">= 7"', column('text'), ['>= 7', '8'], ['>= 7']],
  ['5; 1,234.5', column('number'), [5, 1, 234.5, 1234.5], [5, 1234.5]],
  ['empty, 7', column('number'), [null, 7, 8], [null, 7]],
  // Signs and stretches as people write them.
  ['≥ 7', column('number'), [6, 7, 8], [7, 8]],
  ['≤7', column('number'), [6, 7, 8], [6, 7]],
  ['!= 7', column('number'), [6, 7], [6]],
  ['≠ 7', column('number'), [6, 7], [6]],
  ['6 to 7', column('number'), [5, 6, 7, 8], [6, 7]],
  ['6 – 7', column('number'), [5, 6, 7, 8], [6, 7]],
  ['6 - 7', column('number'), [5, 6, 7, 8], [6, 7]],
  ['6-7', column('number'), [5, 6, 7, 8], [6, 7]],
  ['-7', column('number'), [-7, 7], [-7]],
  [
    '2026-03 to 2026-05',
    column('date'),
    ['2026-02-28', '2026-04-01'].map(day),
    [day('2026-04-01')],
  ],
  ['24-11-2026', column('date'), ['2026-11-24', '2026-11-25'].map(day), [day('2026-11-24')]],
  ['low to high', column('text'), ['low', 'low to high'], ['low to high']],
  // Ids as their numbers stand.
  ['>= 10', numbered, ['RW-9', 'RW-10', 'RW-100000'], ['RW-10', 'RW-100000']],
  ['3..13', numbered, ['RW-2', 'RW-3', 'RW-13', 'RW-30'], ['RW-3', 'RW-13']],
  ['3 to 13', numbered, ['RW-2', 'RW-3', 'RW-13', 'RW-30'], ['RW-3', 'RW-13']],
  [
    'RW-99998..RW-100000',
    numbered,
    ['RW-99997', 'RW-99998', 'RW-100000', 'RW-100001'],
    ['RW-99998', 'RW-100000'],
  ],
  ['> AB-9', column('text'), ['AB-8', 'AB-10', 'AA-50'], ['AB-10']],
  // Phones in any way of writing.
  ['01632 960 001', column('phone', { country: 'GB' }), PHONES, PHONES.slice(0, 1)],
  ['+44 1632 960-001', column('phone', { country: 'GB' }), PHONES, PHONES.slice(0, 1)],
  ['960001', column('phone', { country: 'GB' }), PHONES, PHONES.slice(0, 1)],
  // Whole weeks and quarters before this one; days to come.
  ['last 2 weeks', column('date'), DAYS, ['2026-11-09', '2026-11-22'].map(day)],
  ['next 10 days', column('date'), DAYS, ['2026-11-24', '2026-12-03'].map(day)],
  ['this quarter', column('date'), DAYS, DAYS.slice(1)],
  ['last quarter', column('date'), DAYS, DAYS.slice(0, 1)],
])('‘%s’ on %j', (text, of, from, takes, ...[context]) => {
  expect(taken(text, of, from, context)).toEqual(takes);
});

test.each<[text: string, of: Column, says: string, denied?: string]>([
  ['>= 8', column('number'), 'is at least 8', 'is not at least 8'],
  ['Ash beck', river, 'is Ash Beck', 'is not Ash Beck'],
  ['ash beck, long water', river, 'is Ash Beck or Long Water'],
  ['caddis', finds, 'includes Caddis', 'does not include Caddis'],
  ['ash', column('text'), 'contains ‘ash’', 'does not contain ‘ash’'],
  ['ash*', column('text'), 'begins with ‘ash’'],
  ['*ash', column('text'), 'ends with ‘ash’'],
  ['a*h', column('text'), 'looks like ‘a*h’'],
  ['empty', column('text'), 'is empty', 'is not empty'],
  ['6..7', column('number'), 'is from 6 to 7'],
  ['24/11/2026', column('date'), 'is 24/11/2026'],
  ['>= 24/11/2026', column('date'), 'is on or after 24/11/2026'],
  ['2026-03', column('date'), 'is in March 2026'],
  ['2026-03..2026-05', column('date'), 'is from March 2026 to May 2026'],
  ['last month', column('date'), 'is last month'],
  ['last 7 days', column('date'), 'is in the last 7 days'],
  ['> next 2 weeks', column('date'), 'is after the next 2 weeks'],
  ['< 2026', column('moment'), 'is before 2026'],
  ['> 9:00', column('time'), 'is after 09:00'],
])('‘%s’ on %j is said ‘%s’', (text, of, says, ...[denied]) => {
  const reading = readCondition(text, of, gb);
  expect(reading).toMatchObject({ ok: true, says, ...(denied !== undefined && { denied }) });
});

test.each<[text: string, of: Column, problem: RegExp]>([
  ['>= soon', column('date'), /‘soon’ is not a date/],
  ['7 to x', column('number'), /not a number/],
  ['31/2/2026', column('date'), /There is no 31 February/],
  ['6..x', column('number'), /‘x’ is not a number/],
])('‘%s’ is no condition, and says why', (text, of, problem) => {
  const reading = readCondition(text, of, gb);
  expect(reading.ok ? '' : sayProblem(reading.problem)).toMatch(problem);
});

test.each<[text: string, from: string, to: string, says: string]>([
  ['today', '2026-11-24', '2026-11-25', 'today'],
  ['Yesterday', '2026-11-23', '2026-11-24', 'yesterday'],
  ['last week', '2026-11-16', '2026-11-23', 'last week'],
  ['next week', '2026-11-30', '2026-12-07', 'next week'],
  ['this month', '2026-11-01', '2026-12-01', 'this month'],
  ['next month', '2026-12-01', '2027-01-01', 'next month'],
  ['last year', '2025-01-01', '2026-01-01', 'last year'],
  ['last 7 days', '2026-11-18', '2026-11-25', 'last 7 days'],
  ['next 2 days', '2026-11-24', '2026-11-26', 'next 2 days'],
  ['2026-02', '2026-02-01', '2026-03-01', 'February 2026'],
  ['feb 2024', '2024-02-01', '2024-03-01', 'February 2024'],
  ['december', '2026-12-01', '2027-01-01', 'December 2026'],
  ['2024', '2024-01-01', '2025-01-01', '2024'],
  ['29 feb 2024', '2024-02-29', '2024-03-01', '29/02/2024'],
])('‘%s’ is from %s to before %s', (text, from, to, says) => {
  expect(readPeriod(text, gb)).toMatchObject({ from: day(from), to: day(to), says });
});

// The words are CLDR's, as the platform gives them.
test.each<[tag: string, text: string, from: string, to: string]>([
  ['de-DE', 'heute', '2026-11-24', '2026-11-25'],
  ['de-DE', 'Letzte Woche', '2026-11-16', '2026-11-23'],
  ['de-DE', 'nächsten Monat', '2026-12-01', '2027-01-01'],
  ['de-DE', 'dieses Jahr', '2026-01-01', '2027-01-01'],
  ['de-DE', 'last month', '2026-10-01', '2026-11-01'],
  ['fr-FR', "aujourd'hui", '2026-11-24', '2026-11-25'],
  ['fr-FR', 'le mois dernier', '2026-10-01', '2026-11-01'],
  ['fr-FR', 'ce trimestre', '2026-10-01', '2027-01-01'],
  ['es-ES', 'el año pasado', '2025-01-01', '2026-01-01'],
  ['ja-JP', '先週', '2026-11-16', '2026-11-23'],
  ['nl-NL', 'volgende week', '2026-11-30', '2026-12-07'],
])('in %s ‘%s’ is from %s to before %s', (tag, text, from, to) => {
  const context = { locale: localeFacts(tag), now: NOW };
  expect(readPeriod(text, context)).toMatchObject({ from: day(from), to: day(to) });
});

test.each([
  [
    '24 nov wyn',
    [
      ['24 nov', '2026-11-24'],
      ['wyn', null],
    ],
  ],
  ['2003', [['2003', null]]],
  [
    '"Ash Beck" Ünten',
    [
      ['ash beck', null],
      ['unten', null],
    ],
  ],
  [
    '24/11/2026 7.2',
    [
      ['24/11/2026', '2026-11-24'],
      ['7.2', '2026-02-07'],
    ],
  ],
  [
    'oct wyn',
    [
      ['oct', '2026-10-01'],
      ['wyn', null],
    ],
  ],
  ['', []],
] as [string, [string, string | null][]][])('‘%s’ is looked for as %j', (typed, terms) => {
  expect(readTerms(typed, gb).map((term) => [term.text, term.days?.[0] ?? null])).toEqual(
    terms.map(([text, of]) => [text, of === null ? null : day(of)]),
  );
});

/** A sheet of samples, to look through. */
const COLUMNS = [
  column('runningNumber', { pattern: 'RW-00000', key: true }),
  column('date'),
  river,
  column('text'),
  column('number'),
];
const ROWS: readonly CellValue[][] = [
  ['RW-01999', day('2026-11-24'), 'Ash Beck', 'Wyn', 7.2],
  ['RW-02003', day('2026-11-24'), 'Long Water', 'Ulla', 7.9],
  ['RW-02004', day('2026-11-20'), 'Ash Beck', 'Wyn Éire', 8.1],
  ['RW-02005', null, 'Ash Beck', null, null],
];
function sheet(rows = ROWS): SheetModel {
  const model = new SheetModel();
  rows.forEach((row, n) => {
    const cells = row.flatMap((value, at) =>
      value === null ? [] : [[COLUMNS[at]?.id ?? '', value]],
    );
    model.add({ id: `r${n}`, orderKey: n, revision: 1, cells: Object.fromEntries(cells) as never });
  });
  return model;
}
function asked(question: Question, model = sheet()): number[] | string {
  const reading = readQuestion(question, COLUMNS, gb);
  if (!reading.ok)
    return reading.problem ? sayProblem(reading.problem) : `gone ${reading.columnId}`;
  const tests = questionTests(question, reading, COLUMNS, model, gb);
  return [...toEnd(positionsIn(model, tests, []))];
}
/** What steps come to. */
function toEnd<T>(steps: Generator<void, T>): T {
  let step = steps.next();
  while (step.done !== true) step = steps.next();
  return step.value;
}
const where = (columnId: string, says: string) => ({ columnId, says });

test.each<[question: Question, found: number[] | string, says?: string]>([
  [{ text: '2003', filters: [] }, [1]],
  [{ text: 'rw-02003', filters: [] }, [1]],
  [{ text: '24 nov wyn', filters: [] }, [0], 'Samples where any column holds ‘24 nov wyn’'],
  [{ text: 'nov wyn', filters: [] }, [0, 2]],
  [{ text: 'nov 2025', filters: [] }, []],
  [{ text: 'eire ash', filters: [] }, [2]],
  [{ text: '24/11', filters: [] }, [0, 1]],
  [{ text: '7.', filters: [] }, [0, 1]],
  [
    { filters: [where('oneChoice', 'ash beck'), where('number', '>= 8')] },
    [2],
    'Samples where oneChoice is Ash Beck and number is at least 8',
  ],
  [{ text: 'wyn', filters: [where('number', '< 8')] }, [0]],
  [{ filters: [where('date', 'empty')] }, [3]],
  [{ filters: [where('number', 'soon')] }, '‘soon’ is not a number. Use digits only.'],
  [{ filters: [where('x', '7')] }, 'gone x'],
  [{ text: ' ', filters: [where('number', '')] }, [0, 1, 2, 3], 'All of Samples'],
])('%j finds %j', (question, found, ...[says]) => {
  expect(asked(question)).toEqual(found);
  const reading = readQuestion(question, COLUMNS, gb);
  if (says !== undefined && reading.ok) expect(sayQuestion('Samples', reading.parts)).toBe(says);
});

const anyQuestion: fc.Arbitrary<Question> = fc.record(
  {
    text: fc.string({ minLength: 1 }).filter((text) => text.trim() !== ''),
    filters: fc.array(
      fc.record({
        columnId: fc.string({ minLength: 1 }),
        says: fc.string({ minLength: 1 }).filter((text) => text.trim() !== ''),
      }),
      { maxLength: 4 },
    ),
  },
  { requiredKeys: ['filters'] },
);

test('a question comes back from its address as it was', () => {
  fc.assert(
    fc.property(anyQuestion, (question) => {
      expect(questionOfAddress(questionAddress(question))).toEqual(question);
      expect(questionOfAddress(`row=7&${questionAddress(question)}`)).toEqual(question);
    }),
  );
});

test('whatever is typed, it is read or refused with a sentence, and what denies it takes the rest', () => {
  const typed = fc.oneof(
    fc.string({ maxLength: 12 }),
    fc.constantFrom(
      '>=',
      '..',
      'not',
      'not not a',
      ',',
      ';;',
      '"',
      'a,,b',
      '*',
      '??',
      '2026-13',
      '<>',
      'last 99999 days',
    ),
  );
  const value: fc.Arbitrary<CellValue> = fc.oneof(
    fc.constantFrom(null, true, false, 'Ash Beck', '', 'a'),
    fc.integer({ min: -10, max: 60_000 }),
  );
  fc.assert(
    fc.property(
      typed,
      fc.constantFrom(...COLUMNS, finds, column('yesNo'), column('moment')),
      value,
      (text, of, held) => {
        const reading = readCondition(text, of, gb);
        if (!reading.ok) {
          expect(sayProblem(reading.problem)).not.toBe('');
          return;
        }
        expect(reading.says).not.toBe('');
        const denied = readCondition(`not ${text}`, of, gb);
        if (text.trim() === '' || !denied.ok) return;
        expect(denied.test(held)).toBe(!reading.test(held));
        expect([denied.says, denied.denied]).toEqual([reading.denied, reading.says]);
      },
    ),
  );
});

test('looking through a column is testing value by value', () => {
  const held = fc.constantFrom<CellValue>(
    null,
    'a',
    'b',
    0,
    -0,
    -7,
    7,
    7.25,
    1e9,
    2 ** 40,
    0.1 + 0.2,
    true,
  );
  fc.assert(
    fc.property(fc.array(fc.record({ held, isWanted: fc.boolean() })), (records) => {
      const model = new SheetModel();
      records.forEach(({ held: value }, n) =>
        model.add({
          id: `${n}`,
          orderKey: n,
          revision: 1,
          cells: value === null ? {} : { c: value },
        }),
      );
      const test = (value: CellValue): boolean =>
        typeof value === 'number' ? value > 1 : value === null || value === 'b';
      const count = records.length;
      const wanted = Uint8Array.from(records, ({ isWanted }) => Number(isWanted));
      for (const told of [{}, { told: new ToldNumbers(test) }]) {
        const found = new Uint8Array(count);
        model.scan('c', test, told)(model.slots(), 0, count, wanted, found);
        expect([...found]).toEqual(
          records.map(({ held: value, isWanted }) => Number(isWanted && test(value))),
        );
      }
    }),
  );
});

test.each<[how: string, records: number, different: number]>([
  ['few values', 60, 9],
  ['many texts', 4000, 2600],
  ['more texts than are remembered', 70_000, 69_000],
])(
  'conditions that follow each other on a column are as if each was asked alone: %s',
  (_how, records, different) => {
    const of = [column('text'), column('number'), column('oneChoice')];
    const model = new SheetModel();
    const cells = (n: number): Record<string, CellValue> => ({
      ...(n % 7 > 0 && { text: n % 11 === 0 ? n : `Ähre ${n % different}` }),
      ...(n % 5 > 0 && { number: (n % 90) / 4 }),
      oneChoice: `Ash ${n % 3}`,
    });
    for (let n = 0; n < records; n += 1) {
      model.add({ id: `${n}`, orderKey: n, revision: 1, cells: cells(n) });
    }
    const says = fc.constantFrom(
      '*1*',
      'not *7?*',
      'ahre',
      'Ä*',
      'empty',
      'not empty',
      '??',
      '4, 6',
      '>= 3',
    );
    const condition = fc.record({
      columnId: fc.constantFrom('text', 'text', 'number', 'oneChoice'),
      says,
    });
    const numRuns = Math.max(4, Math.min(60, 200_000 / records));
    fc.assert(
      fc.property(fc.array(condition, { maxLength: 9 }), (filters) => {
        const parts = filters.flatMap(({ columnId, says: text }) => {
          const about = of.find(({ id }) => id === columnId) as Column;
          const reading = readCondition(text, about, gb);
          return reading.ok ? [{ filter: { columnId, says: text }, reading }] : [];
        });
        const question = { filters: parts.map(({ filter }) => filter) };
        const reading = readQuestion(question, of, gb);
        if (!reading.ok) throw new Error('it was read before');
        const tests = questionTests(question, reading, of, model, gb);
        let left = Array.from({ length: records }, (_, n) => n);
        const counts = parts.map(({ filter, reading: { test } }) => {
          left = left.filter((n) => test(cells(n)[filter.columnId] ?? null));
          return left.length;
        });
        expect(toEnd(countsOf(model, tests))).toEqual(counts);
        expect([...toEnd(positionsIn(model, tests, []))]).toEqual(left);
      }),
      { numRuns },
    );
  },
);

test.each<[what: string, value: (n: number) => CellValue]>([
  ['few different values', (n) => n % 7],
  ['many different numbers', (n) => n * 1.5],
  ['many different texts', (n) => `t ${n}`],
  ['a value that comes when there are many', (n) => (n < 2500 ? n % 5 : `late ${n}`)],
  ['errors among them', (n) => (n % 3 === 0 ? { error: 'div0' } : n % 3)],
  ['yes, no and blanks', (n) => [true, false, null][n % 3] ?? null],
])('a column of %s is looked through value by value', (_what, value) => {
  const model = new SheetModel();
  for (let n = 0; n < 3000; n += 1) {
    const held = value(n);
    const cells: Record<string, CellValue> = held === null ? {} : { c: held };
    model.add({ id: `${n}`, orderKey: n, revision: 1, cells });
  }
  // Values change too, some to what no record held before.
  model.update({ id: '5', orderKey: 5, revision: 2, cells: { c: 'changed' } });
  const test = (held: CellValue): boolean =>
    held === 'changed' || held === true || (typeof held === 'number' && held % 2 === 1);
  const found = new Uint8Array(3000);
  model.scan('c', test)(model.slots(), 0, 3000, new Uint8Array(3000).fill(1), found);
  const wanted = Array.from({ length: 3000 }, (_, at) => Number(test(model.cellAt(at, 'c'))));
  expect([...found]).toEqual(wanted);
  expect(wanted).toContain(1);
});

test('what is sure of numbers is what their test gives', () => {
  const number = fc.oneof(
    fc.integer({ min: -3, max: 3 }),
    fc.constantFrom(0.1 + 0.2, 0.3, 1 - 1e-12, 1 + 1e-9, 46_350, 46_351.5, 46_352, Infinity),
    fc.double({ noNaN: true, min: -1e6, max: 1e6 }),
  );
  const bound = fc.constantFrom('0', '1', '0.3', '-2', '2.5');
  const dayText = fc.constantFrom('24/11/2026', 'nov 2026', 'this week', '2026');
  const said = (of: fc.Arbitrary<string>): fc.Arbitrary<string> =>
    fc.oneof(
      fc
        .tuple(fc.constantFrom('', '<', '<=', '>', '>=', '=', '<>', 'not '), of)
        .map((p) => p.join('')),
      fc.tuple(of, of).map((both) => both.join('..')),
      of.map((each) => `..${each}`),
    );
  const asked = fc.oneof(
    said(bound).map((says) => [column('number'), says] as const),
    said(dayText).map((says) => [column('moment'), says] as const),
  );
  fc.assert(
    fc.property(asked, fc.array(number), ([of, says], values) => {
      const reading = readCondition(says, of, gb);
      if (!reading.ok || !reading.sure) return;
      const { noUnder, noOver, yesOver, yesUnder } = reading.sure;
      for (const value of values) {
        if (value < noUnder || value > noOver)
          expect([value, reading.test(value)]).toEqual([value, false]);
        else if (value > yesOver && value < yesUnder) {
          expect([value, reading.test(value)]).toEqual([value, true]);
        }
      }
    }),
  );
  const reading = readCondition('>= 7', column('number'), gb);
  expect(reading.ok && reading.sure?.noUnder).toBeCloseTo(7, 6);
});

describe('a day picked into a condition', () => {
  const picked = day('2026-03-01');
  test.each<[says: string, now: string]>([
    ['', '01/03/2026'],
    ['24/11/2026', '01/03/2026'],
    ['this week', '01/03/2026'],
    ['>= ', '>= 01/03/2026'],
    ['>=24 nov', '>=01/03/2026'],
    ['1/1/2026..', '1/1/2026..01/03/2026'],
    ['1/1/2026..2/1/2026', '1/1/2026..01/03/2026'],
    ['..', '..01/03/2026'],
    ['not 24 nov', 'not 01/03/2026'],
    ['today, ', 'today, 01/03/2026'],
  ])('‘%s’ becomes ‘%s’', (says, now) => {
    expect(withDayAtEnd(says, picked, gb.locale)).toBe(now);
  });

  test('stands there as that day, in any locale', () => {
    const before = fc.constantFrom('', '>= ', '< ', '1/1/2026..', 'not ', 'today, ');
    fc.assert(
      fc.property(before, fc.integer({ min: 30_000, max: 60_000 }), (says, serial) => {
        for (const context of [gb, de]) {
          expect(dayAtEnd(withDayAtEnd(says, serial, context.locale), context)).toBe(serial);
        }
      }),
    );
    for (const says of ['', 'this week', '>= ', 'soon', '2026-03']) {
      expect(dayAtEnd(says, gb)).toBeNull();
    }
  });
});

test('figures are found in whole numbers as they are in what is written', () => {
  const of = column('wholeNumber');
  const number = fc.oneof(fc.nat(1200), fc.integer(), fc.nat(2 ** 40));
  const figures = fc.oneof(fc.nat(120).map(String), fc.constantFrom('00', '07', '007', '0', '-1'));
  fc.assert(
    fc.property(fc.uniqueArray(number, { minLength: 1 }), figures, (values, text) => {
      const model = new SheetModel();
      const question: Question = { text, filters: [] };
      values.forEach((value, n) => {
        model.add({ id: `${n}`, orderKey: n, revision: 1, cells: { [of.id]: value } });
      });
      const reading = readQuestion(question, [of], gb);
      if (!reading.ok) throw new Error('not read');
      const tests = questionTests(question, reading, [of], model, gb);
      const found = [...toEnd(positionsIn(model, tests, []))];
      const wanted = values.flatMap((value, at) => (String(value).includes(text) ? [at] : []));
      expect(found).toEqual(wanted);
    }),
  );
});

test('records in order by several columns are as if sorted by the last first, blanks at the end', () => {
  const cell = fc.oneof(fc.constant(null), fc.integer({ min: -2, max: 2 }));
  const part = fc.record({ columnId: fc.constantFrom('a', 'b', 'c'), falling: fc.boolean() });
  fc.assert(
    fc.property(
      fc.array(fc.tuple(cell, cell, cell), { maxLength: 30 }),
      fc.uniqueArray(part, { selector: ({ columnId }) => columnId }),
      (rows, order) => {
        const model = new SheetModel();
        rows.forEach(([a, b, c], n) => {
          model.add({ id: `${n}`, orderKey: n, revision: 1, cells: { a, b, c } });
        });
        const positions = toEnd(positionsIn(model, [], order));
        // The language's own sort is stable: the last column first, the first one at the end.
        const wanted = rows.map(([a, b, c], at) => ({ a, b, c, at }));
        for (const { columnId, falling } of order.toReversed()) {
          const key = (row: (typeof wanted)[number]): number => {
            const value = row[columnId as 'a'];
            return value === null ? Infinity : falling ? -value : value;
          };
          wanted.sort((one, other) => (key(one) === key(other) ? 0 : key(one) - key(other)));
        }
        expect([...positions]).toEqual(wanted.map(({ at }) => at));
      },
    ),
  );
});

const byA = { columnId: 'a', falling: false };
const byB = { columnId: 'b', falling: true };
test.each<[order: ViewOrder, pressed: string, isThen: boolean, then: ViewOrder]>([
  [[], 'a', false, [byA]],
  [[byA], 'a', false, [{ ...byA, falling: true }]],
  [[{ ...byA, falling: true }], 'a', false, []],
  [[byA], 'b', false, [{ ...byB, falling: false }]],
  [[byA], 'b', true, [byA, { ...byB, falling: false }]],
  [[byB, byA], 'b', true, [byA]],
  [[byB, byA], 'a', true, [byB, { ...byA, falling: true }]],
])('in order %j, %s pressed with Shift %s', (order, pressed, isThen, then) => {
  expect(nextOrder(order, pressed, isThen)).toEqual(then);
});

const sign = fc.constantFrom('=', '"', ',', ';', '>', '<', '..', ' to ', '*', '?', 'not ', 'blank');
const word = fc.array(fc.oneof(sign, fc.constantFrom('ash', '7', 'x')), {
  minLength: 1,
  maxLength: 4,
});
const shownText = word.map((parts) => parts.join('').trim()).filter((text) => text !== '');
test.each<[what: string, of: Column, value: fc.Arbitrary<CellValue>]>([
  ['texts', column('text'), shownText],
  ['choices', column('oneChoice', { choices: ['= 7', '> 40', 'ash'] }), shownText],
  [
    'several choices',
    column('severalChoices', { choices: ['"a", b', '> 40', 'ash'] }),
    fc.subarray(['"""a"", b"', '> 40', 'ash'], { minLength: 1 }).map((all) => all.join('; ')),
  ],
  [
    'rounded numbers',
    column('number', { decimals: 1, grouping: true }),
    fc.double({ min: -9e4, max: 9e4, noNaN: true }),
  ],
  ['days', column('date'), fc.integer({ min: 1, max: 60_000 })],
  ['yes and no', column('yesNo'), fc.boolean()],
])('%s that are ticked are found by what is shown, and ticked again', (_, of, value) => {
  fc.assert(
    fc.property(
      fc.array(fc.option(value), { maxLength: 8 }),
      fc.infiniteStream(fc.boolean()),
      fc.boolean(),
      (values, picks, blank) => {
        const model = new SheetModel();
        values.forEach((each, n) => {
          model.add({ id: `${n}`, orderKey: n, revision: 1, cells: { [of.id]: each } });
        });
        const texts = heldValues(model, of, gb.locale).flatMap(({ text }) =>
          picks.next().value ? [text] : [],
        );
        const says = sayTicked({ texts, blank }, of);
        expect(readTicked(says)).toEqual({ texts, blank });
        fc.pre(says !== '');
        const reading = readCondition(says, of, gb);
        if (!reading.ok) throw new Error(`${says}: ${sayProblem(reading.problem)}`);
        for (const each of values) {
          const shown = each === null ? [] : heldTexts(each, of);
          const isTicked = each === null ? blank : shown.some((text) => texts.includes(text));
          expect([says, each, reading.test(each)]).toEqual([says, each, isTicked]);
        }
      },
    ),
  );
});

function heldTexts(value: CellValue, of: Column): string[] {
  const model = new SheetModel();
  model.add({ id: 'one', orderKey: 0, revision: 1, cells: { [of.id]: value } });
  return heldValues(model, of, gb.locale).map(({ text }) => text);
}

test.each<[held: string, text: string, by: string, becomes: string | null]>([
  ['Under the Bridge, bridge 2', 'bridge', 'ford', 'Under the ford, ford 2'],
  ['a.b*c', '.b*', '$&', 'a$&c'],
  ['a+b', 'a+', '', 'b'],
  ['[x]-{1}', ']-{', '^', '[x^1}'],
  ['ÉIRE', 'é', 'e', 'eIRE'],
  ['ash', 'é', 'e', null],
  ['ash', 'ash', 'ash', null],
  ['ash', '', 'x', null],
])('in %j, %j replaced by %j gives %j', (held, text, by, becomes) => {
  expect(replacing(text, by, 100)(held)).toEqual(becomes === null ? null : { text: becomes });
});

test('what a replaced text would be is never made where it is too long, and never called so where it fits', () => {
  const sign = fc.constantFrom('a', 'b', '.');
  const some = (most: number) => fc.array(sign, { maxLength: most }).map((all) => all.join(''));
  fc.assert(
    fc.property(some(40), some(3), some(12), fc.nat(120), (held, text, by, most) => {
      const whole = text === '' ? held : held.split(text).join(by);
      const wanted = whole === held ? null : { text: whole };
      const got = replacing(text, by, most)(held);
      if (text === '' || held.length > most) return;
      expect(got).toEqual(whole.length > most ? { tooLong: true } : wanted);
    }),
  );
});
