import * as fc from 'fast-check';
import { settle } from './settle';

test.each<[what: string, base: string, mine: string, theirs: string, stands: string, is: string]>([
  ['nobody changed', '7', '7', '7', '7', ''],
  ['only I changed', '7', '8', '7', '8', ''],
  ['only they changed', '7', '7', '9', '9', 'taken'],
  ['both changed alike', '7', '8', '8', '8', ''],
  ['both changed otherwise', '7', '8', '9', '8', 'contested'],
  ['I cleared and they changed', '7', '', '9', '', 'contested'],
  ['they cleared and I left', '7', '7', '', '', 'taken'],
  ['both filled in what was blank', '', 'a', 'b', 'a', 'contested'],
])('what %s', (_what, base, mine, theirs, stands, is) => {
  const { texts, taken, contested } = settle({ a: base }, { a: mine }, { a: theirs });
  expect([texts['a'], taken, contested]).toEqual([
    stands,
    is === 'taken' ? ['a'] : [],
    is === 'contested' ? ['a'] : [],
  ]);
});

const texts = fc.dictionary(fc.constantFrom('a', 'b', 'c'), fc.constantFrom('', 'x', 'y', 'z'));

test('nothing of mine or theirs is lost unsaid', () => {
  fc.assert(
    fc.property(texts, texts, texts, (base, mine, theirs) => {
      const settled = settle(base, mine, theirs);
      const at = (of: Record<string, string>, id: string): string => of[id] ?? '';
      for (const id of ['a', 'b', 'c']) {
        const [was, own, other, stands] = [
          at(base, id),
          at(mine, id),
          at(theirs, id),
          at(settled.texts, id),
        ];
        const isContested = settled.contested.includes(id);
        if (own !== was) expect(stands).toBe(own);
        if (other !== was && stands !== other) expect(isContested).toBe(true);
        if (isContested) expect(new Set([was, own, other]).size).toBe(3);
        expect(settled.taken.includes(id)).toBe(stands === other && own === was && other !== was);
      }
    }),
  );
});

test('it does not matter who comes first where nobody has to decide', () => {
  fc.assert(
    fc.property(texts, texts, texts, (base, mine, theirs) => {
      const [one, other] = [settle(base, mine, theirs), settle(base, theirs, mine)];
      expect([...one.contested].sort()).toEqual([...other.contested].sort());
      if (one.contested.length === 0) expect(other.texts).toEqual(one.texts);
      // Settled once, and stored, there is nothing more to settle.
      expect(settle(theirs, one.texts, theirs).contested).toEqual([]);
    }),
  );
});
