import * as fc from 'fast-check';
import { columnIndex, columnLetters, formatAddress, parseAddress } from '.';

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

test('addresses survive the way out and in', () => {
  fc.assert(
    fc.property(fc.nat(16_383), fc.integer({ min: 1, max: 9_999_999 }), (column, row) => {
      expect(parseAddress(formatAddress({ column, row }))).toEqual({ column, row });
    }),
  );
});

test.each(['', 'A', '1', 'A0', 'A01', '1A', 'ABCDE1', 'A1B', 'A-1', 'A12345678', 'Ä1'])(
  '%j is no address',
  (text) => {
    expect(parseAddress(text)).toBeNull();
  },
);
