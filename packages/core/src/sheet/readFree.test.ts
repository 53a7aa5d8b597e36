import * as fc from 'fast-check';
import type { Column, KindId } from '../kinds';
import { isoDate, localeFacts, readIsoDate, readIsoMoment } from '../values';
import { readFree, type FreeCell } from '.';

const now = readIsoMoment('2026-11-25T09:30') ?? 0;
const day = (iso: string): number => readIsoDate(iso) ?? 0;
const cell = (
  value: FreeCell['value'],
  kind?: KindId,
  settings?: Column<never>['settings'],
): object => ({
  what: 'cell',
  cell: { value, ...(kind && { kind }), ...(settings && { settings }) },
});
const held = (kind: KindId, settings: Column<never>['settings'] = {}): FreeCell => ({
  value: 'before',
  kind,
  settings,
});

test.each<[typed: string, locale: string, held: FreeCell | undefined, reading: object]>([
  ['12.5', 'en-GB', undefined, cell(12.5)],
  ['12,5', 'de-DE', undefined, cell(12.5)],
  ['1,250', 'en-GB', undefined, cell(1250)],
  ['-3', 'en-GB', undefined, cell(-3)],
  ['15 %', 'en-GB', undefined, cell(0.15, 'number', { percent: true })],
  ['0.1%', 'en-GB', undefined, cell(0.001, 'number', { percent: true })],
  ['28/03/2026', 'en-GB', undefined, cell(day('2026-03-28'), 'date')],
  ['03/28/2026', 'en-US', undefined, cell(day('2026-03-28'), 'date')],
  ['28 March', 'en-GB', undefined, cell(day('2026-03-28'), 'date')],
  ['2026-03-28', 'en-US', undefined, cell(day('2026-03-28'), 'date')],
  ['14:30', 'en-GB', undefined, cell(14.5 / 24, 'time')],
  ['08:15', 'en-GB', undefined, cell(8.25 / 24, 'time')],
  ['01/04/2026', 'en-GB', undefined, cell(day('2026-04-01'), 'date')],
  ['00.5', 'en-GB', undefined, cell(0.5)],
  // What would lose something as a number, or only looks like a date or time, stays a text.
  ['007', 'en-GB', undefined, cell('007')],
  ['1234567890123456', 'en-GB', undefined, cell('1234567890123456')],
  ['25:00', 'en-GB', undefined, cell('25:00')],
  ['31/02/2026', 'en-GB', undefined, cell('31/02/2026')],
  ['Ash Beck', 'en-GB', undefined, cell('Ash Beck')],
  [' two words ', 'en-GB', undefined, cell(' two words ')],
  ['%', 'en-GB', undefined, cell('%')],
  ['=', 'en-GB', undefined, cell('=')],
  ['=SUM(A1:A3)', 'en-GB', undefined, { what: 'formula', text: 'SUM(A1:A3)' }],
  // A kind that was set reads what is typed, keeps its look over a blank, and refuses with a reason.
  ['=SUM(A1:A3)', 'en-GB', held('text'), cell('=SUM(A1:A3)', 'text', {})],
  ['=A1', 'en-GB', held('number'), { what: 'formula', text: 'A1' }],
  ['1.5', 'en-GB', held('text'), cell('1.5', 'text', {})],
  [
    '',
    'en-GB',
    held('number', { decimals: 2 }),
    { what: 'cell', cell: { kind: 'number', settings: { decimals: 2 } } },
  ],
  ['7.25', 'en-GB', held('number', { decimals: 2 }), cell(7.25, 'number', { decimals: 2 })],
  ['yes', 'en-GB', held('yesNo'), cell(true, 'yesNo', {})],
  [
    'x',
    'en-GB',
    held('wholeNumber'),
    { what: 'problem', problem: { code: 'notANumber', text: 'x' } },
  ],
  // A kind nobody types, as of a cell that was copied, does not stand in the way.
  ['3', 'en-GB', held('computed'), cell(3)],
])('‘%s’ in a free cell of a workbook in %s', (typed, locale, before, reading) => {
  expect(readFree(typed, before, { locale: localeFacts(locale), now })).toEqual(reading);
});

test('whatever number or day is typed in ISO form is read back the same, in any locale', () => {
  const tag = fc.constantFrom('en-GB', 'en-US', 'de-DE', 'sv-SE', 'ja-JP');
  fc.assert(
    fc.property(tag, fc.integer({ min: 1, max: 80_000 }), (locale, serial) => {
      const context = { locale: localeFacts(locale), now };
      expect(readFree(isoDate(serial), undefined, context)).toEqual(cell(serial, 'date'));
      expect(readFree(String(serial), undefined, context)).toEqual(cell(serial));
    }),
  );
});
