import * as fc from 'fast-check';
import { columnIndex, columnLetters } from '.';

test.each([
  [0, 'A'],
  [25, 'Z'],
  [26, 'AA'],
  [51, 'AZ'],
  [52, 'BA'],
  [701, 'ZZ'],
  [702, 'AAA'],
  [999, 'ALL'],
])('column %i is %s', (index, letters) => {
  expect(columnLetters(index)).toBe(letters);
  expect(columnIndex(letters)).toBe(index);
  expect(columnIndex(letters.toLowerCase())).toBe(index);
});

test('letters survive the way out and in', () => {
  fc.assert(
    fc.property(fc.nat(475_253), (index) => {
      expect(columnIndex(columnLetters(index))).toBe(index);
    }),
  );
});

test.each(['', '1', 'A1', 'ABCDE', 'A-', 'Ä', ' A'])('%j is no column', (letters) => {
  expect(columnIndex(letters)).toBeNull();
});
