import { parseWritten, callProblem, FormulaError, type FormulaProblem } from '../formula';
import { localeFacts, sayCountOf, type ErrorValue, type Problem } from '../values';
import { sayErrorValue, sayFormulaProblem, sayProblem, sayShapeChange } from '.';

test.each<[Problem, string]>([
  [{ code: 'required' }, 'Answer this question.'],
  [{ code: 'notANumber', text: 'x' }, '‘x’ is not a number. Use digits only.'],
  [
    { code: 'otherDecimalSign', text: '7,5', meant: '7.5' },
    '‘7,5’ has another decimal sign. Write 7.5.',
  ],
  [
    { code: 'tooLarge', text: '1e400' },
    '‘1e400’ is larger than a number can be. Check the exponent.',
  ],
  [{ code: 'notWhole', text: '1.5' }, '‘1.5’ is not a whole number. Leave out the fraction.'],
  [
    { code: 'noSuchMonth', month: 13, order: 'mdy' },
    'There is no month 13. Write the date like 03/28/2026 or March 28.',
  ],
  [{ code: 'notATime', text: '25:00' }, '‘25:00’ is not a time of day. Write it like 14:05.'],
  [
    { code: 'notAMoment', text: 'x', order: 'dmy' },
    '‘x’ is not a date and time. Write it like 28/03/2026 14:05.',
  ],
  [{ code: 'notYesNo', text: 'si' }, '‘si’ is neither yes nor no. Choose one.'],
  [
    { code: 'notAChoice', text: 'ash', near: 'Ash Beck' },
    '‘ash’ is not one of the choices. Did you mean ‘Ash Beck’?',
  ],
  [
    { code: 'notAChoice', text: 'x', near: null },
    '‘x’ is not one of the choices. Pick one from the list.',
  ],
  [
    { code: 'notADate', text: `a\n${'b'.repeat(100)}`, order: 'ymd' },
    `‘a ${'b'.repeat(27)}…’ is not a date. Write it like 2026-03-28.`,
  ],
  [
    { code: 'tooManyDigits', text: '12345678901234567', digits: 17 },
    '‘12345678901234567’ has 17 digits; a number keeps 15. Shorten it, or keep it in a text column.',
  ],
  [
    { code: 'noSuchDay', day: 30, month: 2, year: 2026, days: 28 },
    'There is no 30 February 2026: the month has 28 days. Check the day.',
  ],
  [
    { code: 'finerThanMinor', text: '3.5', currency: 'JPY', digits: 0 },
    '‘3.5’ is finer than JPY is counted: it has no decimals. Shorten it, or say that it is meant.',
  ],
  [
    { code: 'finerThanMinor', text: '3.555', currency: 'EUR', digits: 2 },
    '‘3.555’ is finer than EUR is counted: it has 2 decimals. Shorten it, or say that it is meant.',
  ],
  [
    { code: 'notAPhone', text: '12', country: null },
    '‘12’ is not a phone number. Start with + and the country code.',
  ],
  [
    { code: 'notAPhone', text: '12', country: 'Sweden' },
    '‘12’ is not a phone number in Sweden. Check its digits, or start with + and the country code.',
  ],
  [
    { code: 'notAnEmail', text: 'a@' },
    '‘a@’ is not an email address. Write it like name@place.example.',
  ],
  [
    { code: 'notAWebAddress', text: 'x' },
    '‘x’ is not a web address. Write it like https://place.example.',
  ],
  [
    { code: 'noStep', text: '7', from: 1, to: 5 },
    '‘7’ is not a step from 1 to 5. Choose one of them.',
  ],
  [{ code: 'outOfLimits', text: '15', allowed: 'from 0 to 14' }, '‘15’ must be from 0 to 14.'],
  [{ code: 'tooShort', length: 1, least: 10 }, '1 character of at least 10. Write more.'],
  [{ code: 'tooLong', length: 27, most: 24 }, '27 of 24 characters. Shorten it.'],
  [
    { code: 'fileGone', text: 'weir.png' },
    'The file ‘weir.png’ is not there any more. Choose it again.',
  ],
  [
    { code: 'keyTaken', text: '0063', holder: 'Ulla Fallow', row: 45 },
    '‘0063’ is already taken by Ulla Fallow, in row 45. Give another, or correct that row.',
  ],
  [
    { code: 'keyTaken', text: '7', holder: '', row: 1200 },
    '‘7’ is already taken, in row 1,200. Give another, or correct that row.',
  ],
  [{ code: 'dateIncomplete', open: ['day'] }, 'Choose the day as well.'],
  [{ code: 'dateIncomplete', open: ['day', 'year'] }, 'Choose the day and the year as well.'],
  [
    { code: 'otherWeekday', day: 24, month: 11, year: 2026, weekday: 2 },
    '24 November 2026 is a Tuesday. Check the day.',
  ],
  [{ code: 'notChecked' }, 'This is confirmed with a tick, or left blank.'],
  [{ code: 'nothingTyped' }, 'Nothing is filled in yet. Type at least one answer.'],
])('%j is said as %s', (problem, sentence) => {
  expect(sayProblem(problem)).toBe(sentence);
});

test.each([
  [0, '0 records'],
  [1, '1 record'],
  [2405, '2,405 records'],
])('%i is %s', (count, said) => {
  expect(sayCountOf(count, 'record')).toBe(said);
});

// From memory of CLDR; the platform's own data is what is asked.
test.each([
  ['en-GB', '.', ',', 'dmy', '/'],
  ['en-US', '.', ',', 'mdy', '/'],
  ['de-DE', ',', '.', 'dmy', '.'],
  ['fr-FR', ',', '\u202F', 'dmy', '/'],
  ['sv-SE', ',', '\u00A0', 'ymd', '-'],
  ['ja-JP', '.', ',', 'ymd', '/'],
])('%s writes %s, %j, %s, %s', (tag, decimal, group, dateOrder, dateSeparator) => {
  expect(localeFacts(tag)).toMatchObject({ decimal, group, dateOrder, dateSeparator });
  expect(localeFacts(tag).months).toHaveLength(12);
});

test('a tag that is none is an error', () => {
  expect(() => localeFacts('not a tag')).toThrow(RangeError);
});

/** What is wrong with a formula as it is typed. */
function problemOf(text: string): FormulaProblem | null {
  try {
    return callProblem(parseWritten(text, { decimal: '.' }));
  } catch (error) {
    if (error instanceof FormulaError) return error.problem;
    throw error;
  }
}

test.each([
  ['', 'There is no formula after =.'],
  ['1 +', 'A value is missing here.'],
  ['1 + )', 'A value is missing before ‘)’.'],
  ['1 2', '‘2’ can’t follow what comes before it. Put an operator such as + or & between them.'],
  ['"open', 'The text has no closing quotation mark ".'],
  ["'open", "The heading or sheet name has no closing apostrophe '."],
  ['(1', 'This parenthesis is not closed. Add a ).'],
  ['SUM(1', 'The parenthesis of SUM is not closed. Add a ).'],
  ['{1;2', 'This array is not closed. Add a }.'],
  ['{1;2|3}', 'The array’s first row has 2 values, another one 1. Give each row the same number.'],
  ['1 ~ 2', '‘~’ has no meaning here. Take it out.'],
  ['1e999', '1e999 is larger than a number can be. Check the exponent.'],
  ['AVERGE(1)', 'There is no function AVERGE. Did you mean AVERAGE?'],
  ['XYZZY(1)', 'There is no function XYZZY. Check its spelling.'],
  ['LEN()', 'LEN takes 1 argument, and 0 are given.'],
  ['LEN(1;2)', 'LEN takes 1 argument, and 2 are given.'],
  ['IF()', 'IF takes 1 to 3 arguments, and 0 are given.'],
  ['SUM()', 'SUM takes at least 1 argument, and 0 are given.'],
])('the formula ‘%s’: %s', (text, sentence) => {
  const problem = problemOf(text);
  expect(problem && sayFormulaProblem(problem)).toBe(sentence);
});

test.each<[ErrorValue, string]>([
  [{ error: '#DIV/0!' }, 'A number is divided by zero, or the mean of no number is asked for.'],
  [{ error: '#N/A' }, 'No value was found.'],
  [
    { error: '#REF!', why: { code: 'circle', path: ['A1', 'B1', 'A1'] } },
    'It depends on itself: A1 → B1 → A1. Take one of them out.',
  ],
  [
    { error: '#REF!', why: { code: 'blocked', by: 'B2' } },
    'Its values need room, and B2 is not blank. Clear that cell or move it.',
  ],
  [
    { error: '#REF!', why: { code: 'gone', what: 'Weight' } },
    'It reads Weight, which was deleted. Put that back, or rewrite the formula.',
  ],
  [
    { error: '#VALUE!', why: { code: 'several', count: 3 } },
    'It gives 3 values, and a record’s cell holds one. Choose one, or sum them.',
  ],
])('a cell that shows %j says %s', (value, sentence) => {
  expect(sayErrorValue(value)).toBe(sentence);
});

const shape = {
  name: 'Boats',
  place: 1,
  columns: [
    { id: 'a', heading: 'Boat', kind: 'text' as const, settings: {} },
    { id: 'b', heading: 'Price', kind: 'money' as const, settings: {} },
  ],
  looseColumns: ['l'],
  look: { widths: { a: 90 } },
};
const [boat, price] = shape.columns as [(typeof shape.columns)[0], (typeof shape.columns)[0]];
test.each<[change: Partial<Parameters<typeof sayShapeChange>[0]>, says: string]>([
  [{ removed: { at: 1 } }, 'sheet deleted'],
  [{ name: 'Ships' }, 'sheet renamed to Ships'],
  [{ columns: [boat, { ...price, heading: 'Deposit' }] }, 'column Price renamed to Deposit'],
  [{ columns: [boat, { ...price, kind: 'number' }] }, 'column Price changed'],
  [{ columns: [boat] }, 'column Price deleted'],
  [{ columns: [] }, '2 columns deleted'],
  [{ columns: [boat, price, { ...boat, id: 'c', heading: 'Crew' }] }, 'column Crew inserted'],
  [{ columns: [price, boat] }, 'columns moved'],
  [{ looseColumns: [] }, 'columns moved'],
  [{ look: { widths: { a: 120 } } }, 'column widths changed'],
  [{ look: { widths: { a: 90 }, marks: {} } }, 'marks changed'],
  [{ look: { rowLines: 2 } }, 'look changed'],
  [{ place: 2 }, 'sheet moved'],
  [{}, 'sheet changed'],
])('a sheet with %j is said to be ‘%s’', (change, says) => {
  expect(sayShapeChange(shape, { ...shape, ...change })).toBe(says);
  if (says === 'sheet deleted')
    expect(sayShapeChange({ ...shape, ...change }, shape)).toBe('sheet restored');
});
