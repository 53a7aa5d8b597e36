import { localeFacts } from '../values';
import { ATTRIBUTE_WORDS, attributeOf } from './attributes';
import { OFFERED_WORDS, offersAt } from './offers';
import { readOutline } from './read';

const ground = {
  open: ['River', 'Owner: name', 'Price'],
  headings: new Set(['Price', 'Quantity', 'Water temp', 'B', "Owner's mark"]),
  names: new Set(['Rates']),
  sheets: new Set(['Samples']),
  locale: localeFacts('en-GB'),
};

/** What is offered at the end of a text, or at its bar. */
function offered(text: string): string[] {
  const at = text.indexOf('|');
  return offersAt(text.replace('|', ''), at < 0 ? text.length : at, ground).offers.map(
    (offer) => offer.text,
  );
}

test.each([
  // Labels: columns that are not on the form, then parts of a page.
  ['Ri', ['River']],
  ['own', ['"Owner: name"']],
  ['p', ['Price', 'page: ']],
  ['mess', ['message note: ', 'message good: ', 'message caution: ']],
  ['', []],
  ['River', []],
  // Kinds.
  ['Temp: nu', ['number', 'number with steps', 'number steps', 'number scale']],
  ['Temp: NUMBER W', ['number with steps']],
  ['Temp: on', ['one of (', 'one line']],
  ['Temp: drop', ['dropdown of (']],
  ['Temp: ', ['text', 'number', 'one of (', 'date', 'yes/no', 'money', 'lines']],
  ['Temp: number 0..', []],
  ['Temp: zzz', []],
  // What else can be said, as it fits the kind and is not said yet.
  ['Temp: number, req', ['required', 'required when ']],
  ['Temp: number, required, req', ['required when ']],
  ['Temp: number, ', ['required', 'hint "', 'starts ', 'shown when ', 'must be ']],
  ['Temp: number, de', ['decimals ']],
  ['Temp: text, de', []],
  ['River: one of (Ash Beck, Mer', []],
  ['River: one of (Ash Beck, Mereling), ow', ['own answer']],
  ['Day: date, starts t', ['starts today']],
  ['Day: date, hint "to', []],
  // The line the caret is in, and not in the middle of a word.
  [
    'pH: number\nTemp: numb|\nDay: date',
    ['number', 'number with steps', 'number steps', 'number scale'],
  ],
  ['Temp: num|ber', []],
  ['note: nu', []],
  ['// nu', []],
  ['  nu', []],
  // Formulas.
  ['Total: computed = Price * Quantity', ["'Price' * 'Quantity'"]],
  ['Total: computed = ROUND(water temp; 1) & "Price"', ['ROUND(\'Water temp\'; 1) & "Price"']],
  ['Note: text, shown when price > 3', ["'Price' > 3"]],
  ['Total: computed = (IF(Price > 1, Quantity, 2))', ["(IF('Price' > 1, 'Quantity', 2))"]],
  ['Total: computed = (Price + 1) * Quantity', ["('Price' + 1) * 'Quantity'"]],
  ["Total: computed = 'Price' * 'Qu", ["'Quantity'"]],
  ["Total: computed = 'Price' * wa", ["'Water temp'"]],
  ['Total: computed = MEDI', ['MEDIAN(']],
  ["Total: computed = 'Price' * 'Quantity'", []],
  ['message note: Price', ["'Price'"]],
])('%j goes on with %j', (text, expected) => {
  expect(offered(text)).toEqual(expected);
});

test('what is taken stands in place of the word, and mends what could not be read', () => {
  const text = 'pH: number\nTotal: computed = Price * Rates';
  const { from, to, offers } = offersAt(text, text.length, ground);
  expect(offers[0]).toMatchObject({ mends: true });
  const taken = text.slice(0, from) + (offers[0]?.text ?? '') + text.slice(to);
  expect(taken).toBe("pH: number\nTotal: computed = 'Price' * Rates");
  let n = 0;
  const { problems } = readOutline(taken, { columns: [], newId: () => `${(n += 1)}` });
  expect(problems).toEqual([]);
});

test.each(OFFERED_WORDS)('the outline reads what it offers: $text', ({ text }) => {
  const word = text.replace(/"$/, '').trim();
  expect(attributeOf({ text, at: 0 })).not.toBeNull();
  expect(ATTRIBUTE_WORDS.some((each) => word === each || word.startsWith(`${each} `))).toBe(true);
});
