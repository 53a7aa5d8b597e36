import * as fc from 'fast-check';
import type { Column, Rule } from '../kinds';
import { asTrial, ORDER_GAP, SheetModel } from '../sheet';
import { localeFacts, type Cells } from '../values';
import { type BrokenRecords, BrokenTally } from '.';

const rules: Rule[] = [
  { must: { is: 'between', to: 5 } },
  { must: { is: 'unique' } },
  { must: { is: 'compared', by: '>=', columnId: 'b' } },
  { must: { is: 'unique', with: ['b'] } },
];
const column = (id: string, settings: Column['settings'] = {}): Column => {
  return { id, heading: id, kind: 'number', settings };
};
const a = column('a', { rules });
const columns = new Map([a, column('b')].map((each) => [each.id, each]));
const ground = { locale: localeFacts('en-GB'), now: 46_000, columns };

function run(tally: BrokenTally): BrokenRecords {
  const steps = tally.refresh();
  while (!steps.next().done);
  return tally.told(3);
}

/** What one would count by hand, with no memory of what was before. */
function byHand(model: SheetModel): BrokenRecords {
  const cells = (n: number): Cells => model.at(n).cells;
  const held = [...Array(model.count).keys()].filter(
    (n) => cells(n)['a'] !== undefined && !model.isTrialAt(n),
  );
  const has = (n: number, ...ids: string[]): number =>
    held.filter((m) => ids.every((id) => cells(m)[id] === cells(n)[id])).length;
  const broken = held.map((n) => {
    const { a: value = 0, b = null } = cells(n);
    const tests = [Number(value) <= 5, has(n, 'a') === 1, b === null || Number(value) >= Number(b)];
    const found = [...tests, has(n, 'a', 'b') === 1].flatMap((isKept, rule) =>
      isKept ? [] : [rule],
    );
    return { position: n, rules: found.sort() };
  });
  const told = broken.filter((each) => each.rules.length > 0);
  const counts = rules.map((_, rule) => told.filter((each) => each.rules.includes(rule)).length);
  return { counts, records: told.length, first: told.slice(0, 3) };
}

const value = fc.option(fc.integer({ min: 3, max: 7 }), { nil: null });
const change = fc.tuple(
  fc.nat(9),
  value,
  value,
  fc.constantFrom('put', 'trial', 'remove', 'count'),
);

test('what breaks rules is the same counted as records come, change and go, and by hand', () => {
  const changes = fc.array(change, { maxLength: 40 });
  fc.assert(
    fc.property(changes, fc.boolean(), (given, inBatch) => {
      const model = new SheetModel();
      const tally = new BrokenTally(model, a, ground);
      const put = ([n, first, second, what]: (typeof given)[number]): void => {
        if (what === 'count' && !inBatch) run(tally);
        const id = `r${n}`;
        const filled = Object.entries({ a: first, b: second }).filter(([, each]) => each !== null);
        const plain = Object.fromEntries(filled) as Cells;
        const cells = what === 'trial' ? asTrial(plain) : plain;
        const record = { id, orderKey: n * ORDER_GAP, revision: 1, cells };
        if (what === 'remove') {
          if (model.has(id)) model.remove(id);
        } else if (model.has(id)) model.update(record);
        else model.add(record);
      };
      if (inBatch) {
        run(tally);
        model.inBatch(() => given.forEach(put));
      } else given.forEach(put);
      const found = run(tally);
      const first = found.first.map((each) => ({ ...each, rules: [...each.rules].sort() }));
      expect({ ...found, first }).toEqual(byHand(model));
      tally.stop();
      expect(run(tally)).toEqual(found);
    }),
    { numRuns: 300 },
  );
});
