import * as fc from 'fast-check';
import { localeFacts, type Cells, type CellValue } from '../values';
import type { Column } from '../kinds';
import { asTrial, heldValues, ORDER_GAP, SheetModel, usualLength, type StoredRecord } from '.';

const value: fc.Arbitrary<CellValue> = fc.oneof(
  fc.constant(null),
  fc.double({ noNaN: true }),
  fc.string(),
  fc.boolean(),
  fc.record({ error: fc.constantFrom('#N/A', '#VALUE!') }),
);
const cells = fc.dictionary(fc.constantFrom('a', 'b', 'c', 'd'), value);

type Step = { do: 'add' | 'update' | 'remove'; at: number; key: number; cells: Cells };
const step: fc.Arbitrary<Step> = fc.record({
  do: fc.constantFrom('add', 'add', 'update', 'remove'),
  at: fc.nat(),
  key: fc.integer({ min: -5000, max: 5000 }),
  cells,
});

const withoutBlanks = (held: Cells): Cells =>
  Object.fromEntries(Object.entries(held).filter(([, each]) => each !== null));

test('after any changes the model holds what a sorted list would hold', () => {
  fc.assert(
    fc.property(fc.array(step, { maxLength: 120 }), (steps) => {
      const model = new SheetModel();
      const list: StoredRecord[] = [];
      steps.forEach((each, n) => {
        const held = list[each.at % Math.max(1, list.length)];
        if (each.do === 'add') {
          const orderKey = list.some((other) => other.orderKey === each.key)
            ? model.nextOrderKey()
            : each.key;
          const record = { id: `r${n}`, orderKey, revision: 1, cells: each.cells };
          list.push(record);
          list.sort((a, b) => a.orderKey - b.orderKey);
          expect(model.add(record)).toBe(list.indexOf(record));
        } else if (held && each.do === 'update') {
          const record = { ...held, revision: held.revision + 1, cells: each.cells };
          list[list.indexOf(held)] = record;
          expect(model.update(record)).toBe(list.indexOf(record));
        } else if (held) {
          expect(model.remove(held.id)).toBe(list.indexOf(held));
          list.splice(list.indexOf(held), 1);
        }
      });
      expect(model.count).toBe(list.length);
      list.forEach((record, position) => {
        const expected = { ...record, cells: withoutBlanks(record.cells) };
        expect(model.at(position)).toEqual(expected);
        expect(model.get(record.id)).toEqual(expected);
        expect(model.positionOf(record.id)).toBe(position);
        expect(model.positionAfter(record.orderKey)).toBe(position + 1);
        expect(model.cellAt(position, 'a')).toEqual(record.cells['a'] ?? null);
      });
    }),
  );
});

test('what is derived from a column is of its values as they stand, and made once while they do', () => {
  const plain = fc.oneof(
    fc.constantFrom('Ash', 'ASH', 'ash ', '1', ''),
    fc.integer({ min: 0, max: 3 }),
    fc.boolean(),
    fc.constant(null),
  );
  const change = fc.record({ at: fc.nat(), value: plain, remove: fc.boolean() });
  fc.assert(
    fc.property(
      fc.array(plain, { minLength: 1, maxLength: 12 }),
      fc.array(change),
      (first, changes) => {
        const model = new SheetModel();
        first.forEach((a, n) =>
          model.add({ id: `r${n}`, orderKey: -n, revision: 1, cells: { a } }),
        );
        for (const { at, value: a, remove } of changes) {
          if (model.count === 0) break;
          const record = model.at(at % model.count);
          if (remove) model.remove(record.id);
          else model.update({ ...record, cells: { a } });
          const column = Array.from({ length: model.count }, (_, n) => model.cellAt(n, 'a'));
          expect(model.derived('a', 'held', () => ({ column })).column).toEqual(column);
          // Nothing changed: it is not made again.
          const again = model.derived('a', 'held', () => ({ column: [] as CellValue[] }));
          expect(again.column).toEqual(column);
        }
      },
    ),
  );
});

test('an order key is never given twice, whatever was removed', () => {
  const model = new SheetModel();
  const given = new Set<number>();
  for (let n = 0; n < 50; n += 1) {
    const orderKey = model.nextOrderKey();
    expect(given.has(orderKey)).toBe(false);
    given.add(orderKey);
    model.add({ id: `r${n}`, orderKey, revision: 1, cells: {} });
    model.remove(`r${n}`);
  }
  model.noteOrderKey(1e6);
  expect(model.nextOrderKey()).toBe(1e6 + ORDER_GAP);
  for (let n = 0; n < 50; n += 1) {
    const orderKey = model.topOrderKey();
    expect(given.has(orderKey) || orderKey >= Math.min(...given)).toBe(false);
    given.add(orderKey);
    model.add({ id: `t${n}`, orderKey, revision: 1, cells: {} });
    expect(model.positionOf(`t${n}`)).toBe(0);
    model.remove(`t${n}`);
  }
});

test('what is not there is an error, not a silent blank', () => {
  const model = new SheetModel();
  model.add({ id: 'r', orderKey: 1, revision: 1, cells: {} });
  expect(() => model.at(1)).toThrow(RangeError);
  expect(() => model.get('q')).toThrow('q is not in the sheet');
  expect(() => model.add({ id: 'r', orderKey: 2, revision: 1, cells: {} })).toThrow('already');
});

test('the usual length is the 95th percentile by nearest rank', () => {
  const model = new SheetModel();
  const column = { id: 'a', heading: 'A', kind: 'text', settings: {} } as const;
  const locale = localeFacts('en-GB');
  expect(usualLength(model, column, locale)).toBe(0);
  for (let n = 1; n <= 100; n += 1) {
    model.add({ id: `r${n}`, orderKey: n, revision: 1, cells: { a: 'x'.repeat(n) } });
  }
  expect(usualLength(model, column, locale)).toBe(95);
});

test.each<[kind: Column['kind'], settings: object, values: CellValue[], held: string]>([
  ['text', {}, ['b', 'a', 'a', null, 'b', 'a'], 'a×3 b×2'],
  ['text', {}, [], ''],
  ['number', { decimals: 1 }, [1.04, 1, 2], '1.0×2 2.0×1'],
  ['yesNo', {}, [true, false, true], 'yes×2 no×1'],
  ['number', {}, [{ error: '#DIV/0!' }, 3], '3×1'],
  ['severalChoices', {}, ['Earthy; Oil', 'Oil', '"a; b"; Oil'], 'Oil×3 Earthy×1 a; b×1'],
  ['severalChoices', { separator: '|' }, ['x|y', 'y'], 'y×2 x×1'],
])(
  'of a %s column %j it tells what is held, the most frequent first',
  (kind, settings, values, held) => {
    const model = new SheetModel();
    const column: Column = { id: 'c', heading: 'C', kind, settings };
    values.forEach((each, n) =>
      model.add({ id: `r${n}`, orderKey: n, revision: 1, cells: { c: each } }),
    );
    model.add({ id: 'try', orderKey: 99, revision: 1, cells: asTrial({ c: 'tried' }) });
    const told = heldValues(model, column, localeFacts('en-GB'));
    expect(told.map(({ text, count }) => `${text}×${count}`).join(' ')).toBe(held);
  },
);

test('a batch leaves what the same changes one by one leave', () => {
  const change = fc.record({
    is: fc.constantFrom('add' as const, 'remove' as const, 'move' as const, 'update' as const),
    id: fc.nat(12),
    key: fc.integer({ min: 1, max: 1000 }),
  });
  const begun = (): SheetModel => {
    const model = new SheetModel();
    for (let n = 0; n < 6; n += 1) {
      model.add({ id: `${n}`, orderKey: n * 100 + 0.5, revision: 1, cells: { a: n } });
    }
    model.keyIndex(['a']);
    return model;
  };
  const apply = (model: SheetModel, { is, id, key }: { is: string; id: number; key: number }) => {
    const known = model.has(`${id}`);
    const record = { id: `${id}`, orderKey: key, revision: 2, cells: { a: key } };
    if (is === 'add' && !known) model.add(record);
    if (is === 'remove' && known) model.remove(`${id}`);
    if (is === 'update' && known) model.update({ ...model.get(`${id}`), cells: { a: key } });
    if (is === 'move' && known) {
      const { cells } = model.get(`${id}`);
      model.remove(`${id}`);
      model.add({ ...record, cells });
    }
  };
  const all = (model: SheetModel) =>
    Array.from({ length: model.count }, (_, position) => model.at(position));
  fc.assert(
    fc.property(
      fc.uniqueArray(change, { selector: ({ key }) => key, maxLength: 20 }),
      (changes) => {
        const [one, batched] = [begun(), begun()];
        for (const each of changes) apply(one, each);
        batched.inBatch(() => {
          for (const each of changes) apply(batched, each);
        });
        expect(all(batched)).toEqual(all(one));
        for (const { id, cells } of all(one)) {
          expect(batched.positionOf(id)).toBe(one.positionOf(id));
          const key = batched.keyIndex(['a']).keyOf(cells) ?? '';
          expect([...batched.keyIndex(['a']).holdersOf(key)]).toContain(id);
        }
        // It goes on as any other.
        const last = { id: 'last', orderKey: 5000, revision: 1, cells: {} };
        expect(batched.add(last)).toBe(one.add(last));
      },
    ),
  );
});
