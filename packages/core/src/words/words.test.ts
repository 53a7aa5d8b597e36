import { localeFacts, type Problem } from '../values';
import { sayCountOf, sayProblem } from '.';

test.each<[Problem, string]>([
  [{ code: 'required' }, 'An answer is needed here.'],
  [{ code: 'notANumber', text: 'x' }, '‘x’ is not a number. Use figures only.'],
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
  [{ code: 'notYesNo', text: 'si' }, '‘si’ is neither yes nor no. Choose one of them.'],
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
