import * as fc from 'fast-check';
import {
  isRule,
  KIND_IDS,
  KINDS,
  RELATIONS,
  SIGN_SETS,
  type Column,
  type Condition,
} from '../kinds';
import { localeFacts, serialOfDate } from '../values';
import { fitsKind, readRule, sayRule } from '.';

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

const word = fc.string({
  unit: fc.constantFrom('a', 'B', '’', '‘', '"', "'", ' ', 'or', 'and', '.', ';', '(', '9', 'é'),
  minLength: 1,
  maxLength: 8,
});
const count = fc.nat(20_000);
const day = fc.integer({ min: 40_000, max: 47_000 });
const place = fc.constantFrom(...OTHERS.map(({ id }) => id));

/** A span of which one end at least is said. */
const span = (ends: fc.Arbitrary<number>) =>
  fc
    .tuple(fc.option(ends, { nil: undefined }), ends, fc.boolean())
    .map(([one, other, isTo]) =>
      one === undefined ? (isTo ? { to: other } : { from: other }) : { from: one, to: other },
    );

function tests(kind: Column['kind']): fc.Arbitrary<Condition> {
  const isDay = kind === 'date' || kind === 'moment';
  const ends = isDay
    ? day
    : kind === 'time'
      ? fc.nat(1439).map((minutes) => minutes / 1440)
      : kind === 'number'
        ? fc.double({ min: -1e6, max: 1e6, noNaN: true }).map((each) => Number(each.toFixed(4)) + 0)
        : fc.nat(9_999_999);
  const all = [
    span(count).map((ends_) => ({ is: 'length' as const, ...ends_ })),
    fc.record({ is: fc.constantFrom('contains', 'begins', 'ends'), text: word }),
    fc.record(
      {
        is: fc.constant('madeOf'),
        of: fc.subarray([...SIGN_SETS], { minLength: 1 }),
        also: word,
      },
      { requiredKeys: ['is', 'of'] },
    ),
    fc.record({ is: fc.constant('picture'), picture: word }),
    fc.record({ is: fc.constant('matches'), pattern: word }),
    fc.record({ is: fc.constant('oneOf'), values: fc.array(word, { minLength: 1, maxLength: 4 }) }),
    fc.constantFrom({ is: 'mail' }, { is: 'webAddress' }, { is: 'phone' }),
    fc.constant({ is: 'phone', country: 'GB' }),
    fc.record({ is: fc.constant('compared'), by: fc.constantFrom(...RELATIONS), columnId: place }),
    span(ends).map((ends_) => ({ is: 'between' as const, ...ends_ })),
    fc.constant({ is: 'whole' }),
    fc.record({
      is: fc.constant('multiple'),
      of: kind === 'time' ? fc.constant(0.5) : fc.constantFrom(5, 12),
    }),
    fc.constantFrom({ is: 'past' }, { is: 'future' }, { is: 'weekday' }),
    fc.record({ is: fc.constant('within'), days: count }),
  ] as fc.Arbitrary<Condition>[];
  const one = fc.oneof(...all).filter((each) => fitsKind(each as never, column('x', 'X', kind)));
  return fc.tuple(one, fc.boolean()).map(([test, not]) => (not ? { ...test, not } : test) as never);
}

const conditions = (kind: Column['kind']): fc.Arbitrary<Condition> => {
  const one = tests(kind);
  const group = (of: fc.Arbitrary<Condition>): fc.Arbitrary<Condition> =>
    fc.record({
      is: fc.constantFrom('all' as const, 'any' as const),
      of: fc.array(of, { minLength: 2, maxLength: 3 }),
    });
  return fc.oneof(one, group(fc.oneof(one, group(one))));
};

const whens = fc.constantFrom(...OTHERS).chain(({ id, kind }) =>
  fc.record({
    columnId: fc.constant(id),
    holds: fc.oneof(fc.constantFrom('answer' as const, 'blank' as const), conditions(kind)),
  }),
);

test('a rule is read back from its own sentence', () => {
  const ruled = fc.constantFrom(...KINDS_RULED).chain((kind) =>
    fc.record({
      kind: fc.constant(kind),
      tag: fc.constantFrom('en-GB', 'de-DE', 'sv-SE', 'fr-FR'),
      rule: fc.oneof(
        {
          weight: 9,
          arbitrary: fc.record(
            {
              must: conditions(kind),
              when: whens,
              message: word,
              strictness: fc.constantFrom('ask' as const, 'note' as const),
            },
            { requiredKeys: ['must'] },
          ),
        },
        {
          weight: 1,
          arbitrary: fc.record({
            must: fc.record(
              { is: fc.constant('unique' as const), with: fc.array(place, { minLength: 1 }) },
              { requiredKeys: ['is'] },
            ),
          }),
        },
      ),
    }),
  );
  fc.assert(
    fc.property(ruled, ({ kind, tag, rule }) => {
      fc.pre(isRule(rule));
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
