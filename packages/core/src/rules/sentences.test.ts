import * as fc from 'fast-check';
import { KIND_IDS, KINDS, type Column } from '../kinds';
import { localeFacts, serialOfDate } from '../values';
import { readRule, sayRule } from '.';
import { anyRule } from './testing/anyRule';

const column = (id: string, heading: string, kind: Column['kind']): Column => ({
  id,
  heading,
  kind,
  settings: {},
});
const KINDS_RULED = KIND_IDS.filter((kind) => KINDS[kind].filledBy === 'people' && kind !== 'file');
const OTHERS = [
  column('out', 'Out', 'date'),
  column('outer', 'Out and about', 'text'),
  column('contact', 'Contact (when?)', 'yesNo'),
  column('ph', 'pH', 'number'),
];

test('a rule is read back from its own sentence', () => {
  const ruled = fc.constantFrom(...KINDS_RULED).chain((kind) =>
    fc.record({
      kind: fc.constant(kind),
      tag: fc.constantFrom('en-GB', 'de-DE', 'sv-SE', 'fr-FR'),
      rule: anyRule(kind, OTHERS),
    }),
  );
  fc.assert(
    fc.property(ruled, ({ kind, tag, rule }) => {
      const own = column('own', 'Own must-have', kind);
      const columns = [own, ...OTHERS];
      const byId = new Map(columns.map((each) => [each.id, each]));
      const locale = localeFacts(tag);
      const headingOf = (id: string): string => byId.get(id)?.heading ?? '';
      const sentence = sayRule(rule, { column: own, columns: byId, locale, headingOf });
      expect([sentence, readRule(sentence, { column: own, columns, locale })]).toEqual([
        sentence,
        { ok: true, rule },
      ]);
    }),
    { numRuns: 2000 },
  );
});

test.each<[string, unknown]>([
  ['be from 0 to 14', { must: { is: 'between', from: 0, to: 14 } }],
  ['pH must be at most 9; otherwise ask', { must: { is: 'between', to: 9 }, strictness: 'ask' }],
  ['Not be 7.', { must: { is: 'between', from: 7, to: 7, not: true } }],
  [
    'be at least Out and be a whole number',
    {
      must: {
        is: 'all',
        of: [{ is: 'compared', by: '>=', columnId: 'out' }, { is: 'whole' }],
      },
    },
  ],
  [
    'be at most 9 when Out is before today',
    {
      must: { is: 'between', to: 9 },
      when: { columnId: 'out', holds: { is: 'past' } },
    },
  ],
  // Where it can’t be read on, in signs from its beginning.
  ['be frobbed', 3],
  ['be from 0', 9],
  ['be at most 9; otherwise shout', 23],
  ['be at least 3 or be 7 and be 9', 22],
  ['', 0],
])('‘%s’', (sentence, expected) => {
  const own = column('ph', 'pH', 'number');
  const read = readRule(sentence, { column: own, columns: OTHERS, locale: localeFacts('en-GB') });
  expect(read.ok ? read.rule : read.at).toEqual(expected);
});

test('a sentence of a date is read in the workbook’s locale', () => {
  const grammar = { column: column('d', 'D', 'date'), columns: [], locale: localeFacts('de-DE') };
  const rule = { must: { is: 'between', from: serialOfDate({ year: 2026, month: 3, day: 1 }) } };
  expect(readRule('be on or after 1.3.2026', grammar)).toEqual({ ok: true, rule });
});
