import * as fc from 'fast-check';
import { isoMoment, localeFacts, readIsoMoment, type CellValue } from '../values';
import {
  formatRunningNumber,
  fromWire,
  isOfKind,
  KIND_IDS,
  kindOf,
  KINDS,
  parseRunningNumber,
  showValue,
  toWire,
  type Column,
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
  ['runningNumber', 'RW-1', 'notTyped'],
  ['computed', '1', 'notTyped'],
])('%s reads %j as %j', (kind, text, expected) => {
  expect(told(kind, text)).toBe(expected);
});

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
        expect(told(id, showValue(value, column(id), locale))).toBe(value);
        expect(fromWire(toWire(value, column(id)), column(id))).toBe(value);
        expect(isOfKind(value, column(id))).toBe(true);
      }),
    );
  },
);

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
])('running number %s of %i is %s', (pattern, number, text) => {
  expect(formatRunningNumber(pattern, number)).toBe(text);
  expect(parseRunningNumber(pattern, text)).toBe(number);
});

test.each(['RW-x', 'XX-00001', 'RW-', '', 'RW-1.5'])(
  '%j is no running number of RW-00000',
  (text) => {
    expect(parseRunningNumber('RW-00000', text)).toBeNull();
  },
);
