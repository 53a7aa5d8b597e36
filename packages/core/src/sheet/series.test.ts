import * as fc from 'fast-check';
import { addMonths, lastDayOfMonth } from 'date-fns';
import type { Column, KindId } from '../kinds';
import { dateOfSerial, localeFacts, serialOfDate } from '../values';
import { seriesOf } from './series';

const on = (
  given: readonly string[],
  many: number,
  { kind, tag = 'en-GB' }: { kind?: KindId; tag?: string } = {},
): string[] | null => {
  const column: Column | null = kind ? { id: 'c', heading: 'C', kind, settings: {} } : null;
  const series = seriesOf(given, column, { locale: localeFacts(tag), now: 46_000 });
  return series && Array.from({ length: many }, (_, n) => series(n + 1));
};

test.each<[given: string[], goesOn: string[] | null, more?: { kind?: KindId; tag?: string }]>([
  [
    ['1', '2'],
    ['3', '4', '5'],
  ],
  [['5'], ['6', '7']],
  [
    ['10', '7.5'],
    ['5', '2.5', '0', '-2.5'],
  ],
  [
    ['0.1', '0.2'],
    ['0.3', '0.4', '0.5', '0.6', '0.7'],
  ],
  [['0,5', '1'], ['1,5', '2'], { kind: 'number', tag: 'de-DE' }],
  [
    ['12/11/2026', '13/11/2026'],
    ['14/11/2026', '15/11/2026'],
  ],
  [['12/11/2026', '19/11/2026'], ['26/11/2026', '03/12/2026'], { kind: 'date' }],
  [['15/11/2026', '15/12/2026'], ['15/01/2027', '15/02/2027'], { kind: 'date' }],
  [['31/01/2026', '28/02/2026'], ['31/03/2026', '30/04/2026'], { kind: 'date' }],
  [['09:00', '09:30'], ['10:00', '10:30'], { kind: 'time' }],
  [
    ['Mon', 'Tue'],
    ['Wed', 'Thu', 'Fri', 'Sat', 'Sun', 'Mon'],
  ],
  [['Friday'], ['Saturday', 'Sunday', 'Monday']],
  [
    ['MON', 'WED'],
    ['FRI', 'SUN', 'TUE'],
  ],
  [
    ['Oct', 'Nov'],
    ['Dec', 'Jan'],
  ],
  [['janvier', 'mars'], ['mai', 'juillet'], { tag: 'fr-FR' }],
  [
    ['AB-01', 'AB-03'],
    ['AB-05', 'AB-07', 'AB-09', 'AB-11'],
  ],
  [['Week 9'], ['Week 10', 'Week 11']],
  [['1st round', '2st round'], ['3st round']],
  [['0099', '0100'], ['0101'], { kind: 'text' }],
  [['Ash', 'Birch'], null],
  [['AB-1', 'CD-2'], null],
  [['1', 'two'], null],
  [['', '2'], null],
  [[], null],
  [['x'], null, { kind: 'number' }],
])('%j goes on', (given, goesOn, ...[more]) => {
  expect(on(given, goesOn?.length ?? 1, more)).toEqual(goesOn);
});

test('months go on as date-fns has them, at their end where both stood there', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 140_000 }),
      fc.integer({ min: 1, max: 14 }),
      (from, n) => {
        const { year, month, day } = dateOfSerial(from);
        const isEnd = dateOfSerial(from + 1).day === 1;
        const next = isEnd ? lastDayOfMonth(new Date(year, month, 1)) : new Date(year, month, day);
        fc.pre(isEnd || next.getDate() === day);
        const text = (at: Date): string =>
          [at.getDate(), at.getMonth() + 1].map((each) => String(each).padStart(2, '0')).join('/') +
          `/${at.getFullYear()}`;
        const start = text(new Date(year, month - 1, day));
        const wanted = isEnd
          ? lastDayOfMonth(addMonths(new Date(year, month, 1), n))
          : addMonths(next, n);
        expect(on([start, text(next)], n, { kind: 'date' })?.at(-1)).toBe(text(wanted));
        expect(serialOfDate({ year, month, day })).toBe(from);
      },
    ),
  );
});
