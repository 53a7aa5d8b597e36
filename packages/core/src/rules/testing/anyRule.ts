import * as fc from 'fast-check';
import {
  isRule,
  RELATIONS,
  SIGN_SETS,
  type Column,
  type Condition,
  type KindId,
  type Rule,
} from '../../kinds';
import { fitsKind } from '../check';

/*
 * Rules at random, with texts that are hard on sentences: quotes, brackets, words of the sentence.
 */

const word = fc.string({
  unit: fc.constantFrom('a', 'B', '’', '‘', '"', "'", ' ', 'or', 'and', '.', ';', '(', '9', 'é'),
  minLength: 1,
  maxLength: 8,
});
const count = fc.nat(20_000);
const day = fc.integer({ min: 40_000, max: 47_000 });

/** A span of which one end at least is said. */
const span = (ends: fc.Arbitrary<number>) =>
  fc
    .tuple(fc.option(ends, { nil: undefined }), ends, fc.boolean())
    .map(([one, other, isTo]) =>
      one === undefined ? (isTo ? { to: other } : { from: other }) : { from: one, to: other },
    );

function tests(kind: KindId, place: fc.Arbitrary<string>): fc.Arbitrary<Condition> {
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
  const one = fc
    .oneof(...all)
    .filter((each) => fitsKind(each as never, { id: 'x', heading: 'X', kind, settings: {} }));
  return fc.tuple(one, fc.boolean()).map(([test, not]) => (not ? { ...test, not } : test) as never);
}

const conditions = (kind: KindId, place: fc.Arbitrary<string>): fc.Arbitrary<Condition> => {
  const one = tests(kind, place);
  const group = (of: fc.Arbitrary<Condition>): fc.Arbitrary<Condition> =>
    fc.record({
      is: fc.constantFrom('all' as const, 'any' as const),
      of: fc.array(of, { minLength: 2, maxLength: 3 }),
    });
  return fc.oneof(one, group(fc.oneof(one, group(one))));
};

/** A rule that says something of a kind, and may be about other columns. */
export function anyRule(
  kind: KindId,
  others: readonly Pick<Column, 'id' | 'kind'>[],
): fc.Arbitrary<Rule> {
  const place = fc.constantFrom(...others.map(({ id }) => id));
  const when = fc.constantFrom(...others).chain((other) =>
    fc.record({
      columnId: fc.constant(other.id),
      holds: fc.oneof(
        fc.constantFrom('answer' as const, 'blank' as const),
        conditions(other.kind, place),
      ),
    }),
  );
  const ofValue = fc.record(
    {
      must: conditions(kind, place),
      always: fc.constant(true as const),
      when,
      message: word,
      strictness: fc.constantFrom('ask' as const, 'note' as const),
    },
    { requiredKeys: ['must'] },
  );
  const unique = fc.record({
    must: fc.record(
      { is: fc.constant('unique' as const), with: fc.array(place, { minLength: 1, maxLength: 3 }) },
      { requiredKeys: ['is'] },
    ),
  });
  const secret = fc.record({
    must: fc.record(
      { is: fc.constant('secretWord' as const), name: word, forgotten: fc.constant(true as const) },
      { requiredKeys: ['is', 'name'] },
    ),
  });
  return fc
    .oneof({ weight: 9, arbitrary: ofValue }, { weight: 2, arbitrary: fc.oneof(unique, secret) })
    .filter(isRule);
}
