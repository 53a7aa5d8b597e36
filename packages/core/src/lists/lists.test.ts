import * as fc from 'fast-check';
import type { Column, ListItem } from '../kinds';
import { CodeIndex } from './codeIndex';
import { foldCode, kindOf } from '../kinds';
import { judgeChange, typedCells } from '../records';
import { localeFacts, type CellValue } from '../values';
import {
  editsBetween,
  listCircle,
  ListFinder,
  LiveList,
  narrowedItems,
  pairsOf,
  spliced,
  splicesOf,
  variantsIn,
  type ListShape,
  type SourceRow,
} from '.';

const { compare } = new Intl.Collator('en', { numeric: true });
const show = (value: CellValue): string =>
  value === null || typeof value === 'object' ? '' : String(value);
const shape = (more: Partial<ListShape> = {}): ListShape => ({
  show,
  showLabel: show,
  showSecond: show,
  showBy: [show],
  compare: (a, b) => compare(a, b),
  ...more,
});
const rowsOf = (values: readonly CellValue[]): SourceRow[] => values.map((value) => ({ value }));
const textsOf = ({ items }: { items: readonly ListItem[] }): string[] =>
  items.map(({ text }) => text);
const inSteps = <T>(steps: Generator<void, T>): T => {
  for (;;) {
    const step = steps.next();
    if (step.done === true) return step.value;
  }
};

describe('what a source gives', () => {
  test.each<[says: string, values: CellValue[], more: Partial<ListShape>, items: unknown[]]>([
    [
      'trims, skips blanks, drops doubles',
      [' Ash ', null, 'Birch', 'ash', ''],
      {},
      ['Ash', 'Birch'],
    ],
    ['letter case as set', ['Ash', 'ash'], { exact: true }, ['Ash', 'ash']],
    ['numbers stay numbers, and `007` a text', [7, '007', 7], {}, [7, '007']],
    ['yes and no', [true, false, true], {}, [true, false]],
    ['no errors', [{ error: '#REF!' }, 'a'], {}, ['a']],
    ['2 before 10', ['b 10', 'b 2', 'a 3'], { order: 'rising' }, ['a 3', 'b 2', 'b 10']],
    ['Z to A', ['a', 'c', 'b'], { order: 'falling' }, ['c', 'b', 'a']],
    [
      'numbers by size, before texts',
      ['x', 4.5, -1, 4.125, 10, 4.25, -10, '7'],
      { order: 'rising' },
      [-10, -1, 4.125, 4.25, 4.5, 10, '7', 'x'],
    ],
    ['and down', [4.5, -1, 4.125, -10], { order: 'falling' }, [4.5, 4.125, -1, -10]],
    [
      'moments by date, however they are written',
      [46_023, 45_992, 46_357],
      { order: 'rising', show: (v) => `${Number(v) % 31} of ${Number(v)}` },
      [45_992, 46_023, 46_357],
    ],
    ['newest', ['a', 'c', 'b'], { order: 'newest' }, ['b', 'c', 'a']],
    ['used', ['a', 'c', 'b'], { order: 'used', uses: (t) => (t === 'c' ? 9 : 0) }, ['c', 'a', 'b']],
    ['some first', ['a', 'c', 'b'], { order: 'rising', first: ['c'] }, ['c', 'a', 'b']],
    ['nothing of 10,000 characters', ['x'.repeat(10_000), 'a'], {}, ['a']],
    ['right to left as it is', ['نهر', 'אגם'], {}, ['نهر', 'אגם']],
  ])('%s', (_says, values, more, items) => {
    expect(LiveList.of(rowsOf(values), shape(more)).items.map(({ value }) => value)).toEqual(items);
  });

  test('two labels for one value, and one label for two values, are told', () => {
    const list = LiveList.of(
      [
        { value: '0007', label: 'J. Cray' },
        { value: '0008', label: 'J. Cray' },
        { value: '0007', label: 'Jory Cray' },
      ],
      shape(),
    );
    expect(list.counts).toMatchObject({ rows: 3, doubles: 1 });
    expect(list.mixed(5).map(({ text }) => text)).toEqual(['0007']);
    expect(list.sameLabels(5).map((each) => each.map(({ text }) => text))).toEqual([
      ['0007', '0008'],
    ]);
    expect(list.index.meant('j. cray', false)).toHaveLength(2);
    expect(list.index.meant('0008', false).map(({ label }) => label)).toEqual(['J. Cray']);
  });
});

const value = fc.constantFrom<CellValue>('a', 'A', 'b', ' b', 'c', 3, 10, null, { error: '#N/A' });
const row: fc.Arbitrary<SourceRow> = fc.record({
  value,
  second: fc.constantFrom<CellValue>('x', 'y'),
});

test('a row that comes, goes or changes gives what building the list anew gives, and what it tells makes it', () => {
  const change = fc.record({
    at: fc.nat({ max: 30 }),
    to: fc.option(row, { nil: null }),
    comes: fc.boolean(),
  });
  fc.assert(
    fc.property(
      fc.array(row, { maxLength: 12 }),
      fc.array(change, { maxLength: 12 }),
      fc.constantFrom(undefined, 'rising', 'falling', 'newest'),
      (start, changes, order) => {
        const of = shape({ order });
        let rows = [...start];
        let list = LiveList.of(rows, of);
        for (const { at, to, comes } of changes) {
          const before = list.items.slice();
          const isNew = comes || rows.length === 0;
          const place = isNew ? rows.length : at % rows.length;
          const was = isNew ? null : (rows[place] ?? null);
          rows = to
            ? rows.toSpliced(place, isNew ? 0 : 1, to)
            : rows.filter((each) => each !== was);
          const anew = LiveList.of(rows, of);
          const splices = list.change(was, to, isNew);
          if (splices) {
            expect(textsOf(list)).toEqual(textsOf(anew));
            expect(list.counts).toEqual(anew.counts);
            expect(spliced(before, splices)).toEqual(list.items);
          } else list = anew;
          expect(spliced(before, splicesOf(before, anew.items))).toEqual(anew.items);
        }
      },
    ),
    { numRuns: 400 },
  );
});

const item = (text: string, more: Partial<ListItem> = {}): ListItem => {
  return { value: text, text, label: text, second: '', by: [], fills: [], ...more };
};

test('the way round where lists feed one another leads from each of its columns back to it', () => {
  const names = [...'abcdef'];
  const feeding = fc.dictionary(fc.constantFrom(...names), fc.constantFrom(...names));
  fc.assert(
    fc.property(feeding, fc.constantFrom(...names), (sources, column) => {
      const fed = new Map(Object.entries(sources));
      const way = listCircle(fed, column);
      // Followed as many steps as there are columns, who comes back to itself is on a circle.
      let at: string | undefined = column;
      const back = names.findIndex(() => (at = at && fed.get(at)) === column) + 1;
      expect(way?.length ?? 0).toBe(back > 1 ? back : 0);
      way?.forEach((each, n) => expect(fed.get(each)).toBe(way[(n + 1) % way.length]));
    }),
  );
});

describe('finding by typing', () => {
  const items = ['AB-03', 'AB-13', 'CW-03', 'Élan Weir', 'Stone Élan', 'Belanford'].map((text) =>
    item(text),
  );
  test.each<[typed: string, found: string[]]>([
    ['', ['AB-03', 'AB-13', 'CW-03', 'Élan Weir', 'Stone Élan', 'Belanford']],
    ['ab3', ['AB-03']],
    ['3', ['AB-03', 'AB-13', 'CW-03']],
    ['elan', ['Élan Weir', 'Stone Élan', 'Belanford']],
    ['WEIR', ['Élan Weir']],
    ['zzz', []],
  ])('%p', (typed, found) => {
    expect(new ListFinder(items).find(typed, 10).map(({ text }) => text)).toEqual(found);
  });

  test('typed on, it finds what typing it at once finds; ties go by use', () => {
    const words = fc.array(
      fc.string({ minLength: 1, maxLength: 6, unit: fc.constantFrom('a', 'b', ' ') }),
    );
    fc.assert(
      fc.property(
        words,
        fc.string({ maxLength: 4, unit: fc.constantFrom('a', 'b') }),
        (texts, typed) => {
          const all = [...new Set(texts)].map((text) => item(text));
          const finder = new ListFinder(all);
          for (let n = 1; n <= typed.length; n += 1) {
            expect(finder.find(typed.slice(0, n), 99)).toEqual(
              new ListFinder(all).find(typed.slice(0, n), 99),
            );
          }
        },
      ),
    );
    const used = new ListFinder(
      items.map((each) => (each.text === 'CW-03' ? { ...each, use: 4 } : each)),
    );
    expect(used.find('3', 10)[0]?.text).toBe('CW-03');
  });
});

test('a code is folded alike, whichever way it is read', () => {
  const unit = fc.constantFrom('A', 'b', '0', '1', '7', '-', ' ', '/', '.');
  fc.assert(
    fc.property(fc.string({ maxLength: 12, unit }), (text) => {
      // A sign beyond ASCII goes the slower way, and counts for nothing in a code.
      expect(foldCode(text)).toBe(foldCode(`${text}→`));
    }),
    { numRuns: 2000 },
  );
});

test('codes are found as if each was folded and held against what is typed, whatever came and went', () => {
  const unit = fc.constantFrom('A', 'b', 'é', 'Ж', '0', '1', '7', '-', '→', ' ');
  const text = fc.string({ minLength: 1, maxLength: 5, unit });
  const step = fc.record({ is: fc.constantFrom('find', 'find', 'add', 'remove'), text });
  fc.assert(
    fc.property(
      fc.array(text, { maxLength: 20 }),
      fc.array(step, { maxLength: 25 }),
      (from, steps) => {
        let all = from.map((each) => ({ text: each }));
        const codes = new CodeIndex(
          () => all,
          (one: { text: string }) => one.text,
        );
        for (const { is, text: typed } of steps) {
          const one = { text: typed };
          if (is === 'add') {
            all = [...all, one];
            codes.add(one);
          } else if (is === 'remove') {
            const gone = all.find((each) => each.text === typed) ?? all[0];
            all = all.filter((each) => each !== gone);
            if (gone) codes.remove(gone);
          } else {
            const wanted = all.filter((each) => foldCode(each.text) === foldCode(typed));
            expect(codes.find(typed)).toEqual(wanted);
          }
        }
      },
    ),
    { numRuns: 1000 },
  );
});

describe('a column that is fed', () => {
  const locale = localeFacts('en-GB');
  const list = LiveList.of(
    [
      { value: 'AB-01', label: 'Alder Weir', by: ['Ash Beck'] },
      { value: 'CW-01', label: 'Stone Mill', by: ['Corrow Water'] },
      { value: 'Elsewhere', by: ['Ash Beck'] },
      { value: 'Elsewhere', by: ['Corrow Water'] },
    ],
    shape(),
  );
  const station = (strictness?: 'ask' | 'note', own?: string): Column<string> => ({
    id: 'station',
    heading: 'Station',
    kind: 'oneChoice',
    settings: {
      list: {
        source: 's',
        narrowed: [{ by: 'r', columnId: 'river' }],
        ...(strictness && { strictness }),
      },
      ...(own !== undefined && { own }),
    },
  });
  const river: Column = { id: 'river', heading: 'River', kind: 'text', settings: {} };
  const judged = (
    typed: Record<string, string>,
    before: Record<string, CellValue> | null = null,
    of = station(),
  ) => {
    const { cells, verdicts } = judgeChange(typedCells(typed), before, {
      columns: new Map([of, river].map((column) => [column.id, column])),
      context: { locale, now: 0, listed: (id) => (id === 'station' ? list.index : undefined) },
    });
    return [
      cells['station'] ?? null,
      ...verdicts.map((v) => `${v.columnId} ${v.strictness} ${v.problem.code}`),
    ];
  };

  test.each<[unknown[], Parameters<typeof judged>]>([
    [['AB-01'], [{ station: 'alder weir' }]],
    [['AB-01'], [{ station: 'ab1' }]],
    [[null, 'station refuse notAChoice'], [{ station: 'AB-99', river: 'x' }]],
    [
      [null, 'station ask notAChoice'],
      [{ station: 'AB-99', river: 'x' }, null, station('ask')],
    ],
    [
      ['AB-99', 'station note notAChoice'],
      [{ station: 'AB-99' }, null, station('note')],
    ],
    [['Boathouse'], [{ station: 'Boathouse' }, null, station(undefined, '')]],
    // One value may go with several rivers.
    [['Elsewhere'], [{ station: 'Elsewhere' }]],
    [['Elsewhere'], [{ station: 'elsewhere', river: 'Corrow Water' }]],
    [[null, 'station refuse goesWithOther'], [{ station: 'Elsewhere', river: 'Mereling' }]],
    [[null, 'station refuse goesWithOther'], [{ station: 'CW-01', river: 'ash beck' }]],
    // What left its list is not in the way until it is changed; what it goes with may be changed.
    [['AB-77'], [{ river: 'Ash Beck' }, { station: 'AB-77' }]],
    [['AB-77'], [{ station: 'AB-77' }, { station: 'AB-77', river: 'Corrow Water' }]],
    [
      ['AB-01', 'river ask goesWithOther'],
      [{ river: 'Corrow Water' }, { station: 'AB-01', river: 'Ash Beck' }],
    ],
  ])('%j', (expected, given) => {
    expect(judged(...given)).toEqual(expected);
  });

  test('a choice that has just left its list is asked about, and not refused', () => {
    const { index } = LiveList.of(rowsOf(['AB-05']), shape());
    index.leave(item('AB-06'));
    const context = { locale, now: 0, listed: () => index };
    expect(kindOf(river).id).toBe('text');
    expect(kindOf(station()).read('AB-06', station(), context)).toMatchObject({
      ok: true,
      value: 'AB-06',
      doubt: { code: 'leftTheList' },
    });
  });

  test.each([
    // What is stored, what is written over it, and what stands there then.
    ['AB-01; CW-01', 'AB-01; CW-01', 'AB-01; CW-01'],
    ['CW-01; AB-01', 'CW-01; AB-01; Elsewhere', 'CW-01; AB-01; Elsewhere'],
    ['AB-77; CW-01', 'AB-77; CW-01', 'AB-77; CW-01'],
    ['AB-77; CW-01', 'CW-01', 'CW-01'],
    ['AB-01', 'AB-01; CW-01', 'AB-01; CW-01'],
    ['AB-01; CW-01', 'AB-77', null],
  ])('several choices, %j, corrected to %j, are %j', (stored, typed, expected) => {
    const column: Column = { ...station(), kind: 'severalChoices' };
    const context = { locale, now: 0, listed: () => list.index, held: { [column.id]: stored } };
    const reading = kindOf(column).read(typed, column, context);
    expect(reading.ok ? reading.value : null).toBe(expected);
  });

  test('is narrowed by what is there, and by nothing that is blank', () => {
    const narrowed = (text: string): string[] =>
      narrowedItems(list.items, [text]).map((each) => each.text);
    expect([narrowed(''), narrowed('ASH beck'), narrowed('Mereling')]).toEqual([
      ['AB-01', 'CW-01', 'Elsewhere'],
      ['AB-01', 'Elsewhere'],
      [],
    ]);
  });
});

describe('variants of one name', () => {
  test.each<[names: [string, number][], keep: string | null, others: string[]]>([
    [
      [
        ['Heron', 9],
        ['heron ', 2],
        ['HERON', 1],
      ],
      'Heron',
      ['heron ', 'HERON'],
    ],
    [
      [
        ['Corrow Water', 9],
        ['Corow Water', 1],
      ],
      'Corrow Water',
      ['Corow Water'],
    ],
    [
      [
        ['Drovers Ford', 5],
        ['Drovres Ford', 1],
      ],
      'Drovers Ford',
      ['Drovres Ford'],
    ],
    [
      [
        ['AB-01', 9],
        ['AB-02', 1],
      ],
      null,
      [],
    ],
    [
      [
        ['Ash', 9],
        ['Ask', 1],
      ],
      null,
      [],
    ],
    [
      [
        ['Low', 9],
        ['lów', 1],
      ],
      'Low',
      ['lów'],
    ],
  ])('%j', (names, keep, others) => {
    const [found] = inSteps(variantsIn(names.map(([text, count]) => ({ text, count }))));
    expect([found?.keep.text ?? null, found?.others.map(({ text }) => text) ?? []]).toEqual([
      keep,
      others,
    ]);
  });

  // Optimal string alignment as in Boytsov, "Indexing methods for approximate dictionary searching" (2011).
  test.each<[string, string, number]>([
    ['ca', 'abc', 3],
    ['kitten', 'sitting', 3],
    ['form', 'from', 1],
    ['', 'abc', 3],
  ])('%s and %s are %p edits apart', (a, b, far) => {
    expect([editsBetween(a, b, 9), editsBetween(b, a, 9)]).toEqual([far, far]);
    expect(editsBetween(a, b, far - 1)).toBe(far);
  });

  test('no near name is overlooked: the same as comparing all with all', () => {
    const names = fc.uniqueArray(
      fc.string({ minLength: 4, maxLength: 10, unit: fc.constantFrom('a', 'b', 'c') }),
      {
        maxLength: 12,
      },
    );
    fc.assert(
      fc.property(names, (texts) => {
        const found = inSteps(variantsIn(texts.map((text, n) => ({ text, count: 100 - n }))));
        const folded = new Set(found.flatMap(({ others }) => others.map(({ text }) => text)));
        const kept: string[] = [];
        for (const text of texts) {
          const most = (length: number): number => (length < 9 ? 1 : 2);
          const isNear = kept.some(
            (each) => editsBetween(each, text, 2) <= Math.min(most(each.length), most(text.length)),
          );
          if (!isNear) kept.push(text);
          expect([text, folded.has(text)]).toEqual([text, isNear]);
        }
      }),
    );
  });
});

test('headings are paired with labels by their names, near spellings too, each once', () => {
  expect(
    pairsOf(
      ['Weather', 'Flow ', 'Smel', 'Colour', 'How far do you agree?'],
      ['Smell', 'Weather today', 'flow', 'How far do you agree', 'Notes'],
    ),
  ).toEqual([
    { heading: 0, label: 1 },
    { heading: 1, label: 2 },
    { heading: 2, label: 0 },
    { heading: 4, label: 3 },
  ]);
});
