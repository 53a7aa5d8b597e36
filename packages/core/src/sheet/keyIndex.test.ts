import * as fc from 'fast-check';
import { atOnce, type Cells } from '../values';
import { asTrial, keyConflicts, ORDER_GAP, SheetModel, type KeyChange } from '.';

const id = fc.constantFrom('a', 'b', 'c', 'd');
const cells: fc.Arbitrary<Cells> = fc
  .record({ k: fc.constantFrom(null, '0063', 'x', ' X ', 7, true), n: fc.nat(3) })
  .map(({ k, n }) => ({ ...(k !== null && { k }), n }));

/** A key as people would take it. */
const said = ({ k = null }: Cells): string | null =>
  k === null
    ? null
    : typeof k === 'string'
      ? k.trim().toLowerCase()
      : `${typeof k}${JSON.stringify(k)}`;

test('no write gives two records one key, whatever came before it in memory', () => {
  const change = fc.record({ id, after: fc.option(cells) });
  const writes = fc.array(fc.uniqueArray(change, { selector: (each) => each.id, maxLength: 4 }));
  fc.assert(
    fc.property(writes, (all) => {
      const model = new SheetModel();
      for (const write of all) {
        const changes: KeyChange[] = write.map(({ id, after }) => {
          const before = model.has(id) ? model.get(id).cells : null;
          return { id, before, after: before && !after ? null : (after ?? {}) };
        });
        const conflicts = atOnce(keyConflicts(model.keyIndex(['k']), changes));
        const rest = changes.filter((_, at) => !conflicts.some((each) => each.at === at));
        for (const { id, before, after } of rest) {
          const stored = { id, orderKey: model.nextOrderKey(), revision: 1, cells: after ?? {} };
          if (!after) model.remove(id);
          else if (before) model.update({ ...stored, orderKey: model.get(id).orderKey });
          else model.add(stored);
        }
        const keys = Array.from({ length: model.count }, (_, at) => said(model.at(at).cells));
        const given = keys.filter((key) => key !== null);
        expect(new Set(given).size).toBe(given.length);
      }
    }),
  );
});

test.each<[says: string, changes: KeyChange[], conflicts: [at: number, holderId: string][]]>([
  ['another’s key', [{ id: 'n', before: null, after: { k: 'ONE' } }], [[0, 'r1']]],
  ['a blank one is none', [{ id: 'n', before: null, after: {} }], []],
  ['a trial has none', [{ id: 'n', before: null, after: asTrial({ k: 'one' }) }], []],
  ['its own', [{ id: 'r1', before: { k: 'one' }, after: { k: 'One' } }], []],
  [
    'two exchange theirs',
    [
      { id: 'r1', before: { k: 'one' }, after: { k: 'two' } },
      { id: 'r2', before: { k: 'two' }, after: { k: 'one' } },
    ],
    [],
  ],
  [
    'one goes, another takes it',
    [
      { id: 'n', before: null, after: { k: 'one' } },
      { id: 'r1', before: { k: 'one' }, after: null },
    ],
    [],
  ],
  [
    'of two that come, the first',
    [
      { id: 'n', before: null, after: { k: 'new' } },
      { id: 'm', before: null, after: { k: 'new' } },
    ],
    [[1, 'n']],
  ],
  [
    'one that took the key of one that could not change',
    [
      { id: 'r1', before: { k: 'one' }, after: { k: 'two' } },
      { id: 'n', before: null, after: { k: 'new' } },
      { id: 'r2', before: { k: 'two' }, after: { k: 'new' } },
    ],
    [
      [2, 'n'],
      [0, 'r2'],
    ],
  ],
])('%s', (_says, changes, expected) => {
  const model = new SheetModel();
  for (const [n, k] of ['one', 'two'].entries()) {
    model.add({ id: `r${n + 1}`, orderKey: (n + 1) * ORDER_GAP, revision: 1, cells: { k } });
  }
  const found = atOnce(keyConflicts(model.keyIndex(['k']), changes));
  expect(found.map(({ at, holderId }) => [at, holderId])).toEqual(expected);
});
