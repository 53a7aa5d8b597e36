import fc from 'fast-check';
import type { Column, KindId } from '../kinds';
import { SheetModel, type KeyChange } from '../sheet';
import { localeFacts, type Cells, type CellValue, type Problem } from '../values';
import { sayProblem } from '../words';
import {
  convertCell,
  judgeCell,
  judgeChange,
  judgeWrite,
  typedCells,
  type RecordGround,
  type WeighedCheck,
} from '.';

const column = (id: string, kind: KindId, settings: Column['settings'] = {}): Column => ({
  id,
  heading: id,
  kind,
  settings,
});
const context = { locale: localeFacts('en-GB'), now: 46_109.5 };
const COLUMNS = [
  column('price', 'money', { currency: 'EUR' }),
  column('day', 'date'),
  column('number', 'runningNumber'),
  column('note', 'text'),
  column('ph', 'number'),
  column('total', 'computed'),
];
const ground: RecordGround = {
  columns: new Map(COLUMNS.map((each) => [each.id, each])),
  context,
  partly: true,
};
const judge = (
  typed: Record<string, string>,
  before: Cells | null = null,
  more: Partial<RecordGround> = {},
): { cells: Cells; said: string[]; taken: string[] } => {
  const { cells, verdicts, taken } = judgeChange(typedCells(typed), before, { ...ground, ...more });
  const said = verdicts.map((each) => `${each.columnId} ${each.strictness} ${each.problem.code}`);
  return { cells, said, taken: [...taken] };
};
const underNine: WeighedCheck = {
  strictness: 'refuse',
  check: (value) =>
    Number(value) < 9
      ? null
      : { code: 'outOfLimits', text: `${Number(value)}`, allowed: 'at most 9' },
};
const noted: WeighedCheck = { ...underNine, strictness: 'note', by: 'Log a sample' };

describe('a record', () => {
  test.each<[string, Record<string, string>, Cells | null, Cells, string[]]>([
    ['is read by kinds', { day: '1/2/2026', ph: '7.5' }, null, { day: 46_054, ph: 7.5 }, []],
    ['leaves out blanks', { note: '', ph: '1' }, null, { ph: 1 }, []],
    ['leaves out columns that are not there', { elsewhere: 'x', ph: '1' }, null, { ph: 1 }, []],
    ['keeps what is not given', { ph: '1' }, { note: 'a', ph: 2 }, { note: 'a', ph: 1 }, []],
    ['loses what is blanked', { ph: '' }, { note: 'a', ph: 2 }, { note: 'a' }, []],
    [
      'keeps what was there where a text is refused',
      { ph: 'x' },
      { ph: 2 },
      { ph: 2 },
      ['ph refuse notANumber'],
    ],
    [
      'tells each refusal',
      { ph: 'x', day: '31/2/2026' },
      null,
      {},
      ['ph refuse notANumber', 'day refuse noSuchDay'],
    ],
    ['asks', { price: '3.999' }, { price: 1 }, { price: 1 }, ['price ask finerThanMinor']],
    [
      'takes nothing for what nobody types',
      { number: 'RW-1' },
      { number: 'RW-7' },
      { number: 'RW-7' },
      ['number refuse notTyped'],
    ],
    [
      'keeps its number where a blank is pasted over it',
      { number: '', ph: '1' },
      { number: 'RW-7' },
      { number: 'RW-7', ph: 1 },
      [],
    ],
    ['is none while nothing is typed', { note: '' }, null, {}, ['note refuse nothingTyped']],
    ['is not left blank', { note: '' }, { note: 'a' }, {}, ['note refuse nothingLeft']],
    ['may stay blank', { note: '' }, {}, {}, []],
  ])('%s', (_what, typed, before, cells, said) => {
    expect(judge(typed, before)).toMatchObject({ cells, said });
  });

  test('that would be blank takes nothing', () => {
    expect(judge({ note: '', ph: '' }, { note: 'a' }).taken).toEqual([]);
    expect(judge({ note: '', ph: '1' }).taken).toEqual(['note', 'ph']);
  });

  test('is written as it is when what is asked about is meant', () => {
    const meant = new Set(['price']);
    expect(judge({ price: '3.999' }, null, { meant })).toEqual({
      cells: { price: 3.999 },
      said: [],
      taken: ['price'],
    });
    expect(judge({ ph: 'x' }, null, { meant: new Set(['ph']) }).said).toHaveLength(1);
  });

  test.each<[WeighedCheck, string, Cells, string[]]>([
    [underNine, '10', {}, ['ph refuse outOfLimits']],
    [underNine, '8', { ph: 8 }, []],
    [noted, '10', { ph: 10 }, ['ph note outOfLimits']],
    [noted, 'x', {}, ['ph refuse notANumber']],
    [{ ...noted, strictness: 'ask' }, '10', {}, ['ph ask outOfLimits']],
  ])('is held against checks by their weight', (check, ph, cells, said) => {
    const checksOf = (): WeighedCheck[] => [check];
    expect(judge({ ph }, null, { checksOf })).toMatchObject({ cells, said });
  });

  test('is told of no value that it has already', () => {
    const checksOf = (): WeighedCheck[] => [noted];
    expect(judge({ ph: '10' }, { ph: 10 }, { checksOf }).said).toEqual([]);
    expect(judge({ ph: '11' }, { ph: 10 }, { checksOf }).said).toEqual(['ph note outOfLimits']);
  });

  test('given by its own values is itself, whatever they are, and in whatever order', () => {
    const value = fc.oneof(fc.string({ minLength: 1 }), fc.integer(), fc.boolean());
    const record = fc.dictionary(fc.constantFrom(...COLUMNS.map(({ id }) => id)), value);
    fc.assert(
      fc.property(record, record, (given, before) => {
        const values = (cells: Cells): Record<string, { value: CellValue }> =>
          Object.fromEntries(Object.entries(cells).map(([id, each]) => [id, { value: each }]));
        const { cells, verdicts } = judgeChange(values(given), before, ground);
        expect(cells).toEqual({ ...before, ...given });
        expect(verdicts).toEqual([]);
        const reversed = Object.fromEntries(Object.entries(values(given)).reverse());
        expect(judgeChange(reversed, before, ground).cells).toEqual(cells);
        expect(judgeChange(values(cells), cells, ground).cells).toEqual(cells);
      }),
    );
  });

  test('never loses what is not given, and stores nothing that is refused', () => {
    const text = fc.oneof(fc.string(), fc.constantFrom('', '7', '1/2/2026', '3.999', '31/2/26'));
    const ids = COLUMNS.map(({ id }) => id);
    const typed = fc.dictionary(fc.constantFrom(...ids), text);
    const before = fc.dictionary(fc.constantFrom(...ids), fc.integer({ min: 1 }), { minKeys: 1 });
    fc.assert(
      fc.property(typed, before, (texts, stored) => {
        const { cells, said, taken } = judge(texts, stored);
        const refused = new Set(said.map((each) => each.split(' ')[0]));
        for (const id of ids) {
          if (!taken.includes(id) && !refused.has(id)) expect(cells[id]).toBe(stored[id]);
          if (taken.includes(id)) expect(refused.has(id)).toBe(false);
        }
      }),
    );
  });
});

describe('a cell', () => {
  const unread = { context: { ...context, asWritten: true }, keepsUnread: true };
  test.each<[KindId, string, CellValue, Problem['code'] | null]>([
    ['number', 'about 7', 'about 7', 'notANumber'],
    ['number', '7,500', 7500, null],
    ['date', '24', '24', 'notADate'],
    ['date', '24 Feb 2026', 46_077, null],
    ['yesNo', 'perhaps', 'perhaps', 'notYesNo'],
    ['email', 'nobody', 'nobody', 'notAnEmail'],
    ['text', 'anything', 'anything', null],
  ])('of %s that is kept unread: %s', (kind, typed, value, code) => {
    const judged = judgeCell({ typed }, column('a', kind), unread);
    expect([judged.value, judged.doubts.map(({ problem }) => problem.code)]).toEqual([
      value,
      code === null ? [] : [code],
    ]);
    expect(judged.doubts.every(({ strictness }) => strictness === 'note')).toBe(true);
  });

  test.each<[Column, CellValue, Column, CellValue, boolean]>([
    [column('a', 'text'), '7.5', column('a', 'number'), 7.5, true],
    [column('a', 'text'), 'x', column('a', 'number'), 'x', false],
    [column('a', 'number'), 7.5, column('a', 'text'), '7.5', true],
    [column('a', 'number'), 7.5, column('a', 'wholeNumber'), '7.5', false],
    [column('a', 'number'), 3, column('a', 'money'), 3, true],
    [column('a', 'number'), 3, column('a', 'date'), '3', false],
    [column('a', 'date'), 46_077, column('a', 'text'), '24/02/2026', true],
    [column('a', 'date'), 46_077, column('a', 'moment'), 46_077, true],
    [column('a', 'text'), '3.999', column('a', 'money'), 3.999, true],
    [column('a', 'yesNo'), true, column('a', 'text'), 'yes', true],
    [column('a', 'text'), 'x', column('a', 'computed'), 'x', true],
    [column('a', 'text'), null, column('a', 'number'), null, true],
  ])('of %j holding %j becomes one of %j: %j', (before, value, after, becomes, isConverted) => {
    const judged = convertCell(value, before, after, context);
    expect([judged.value, judged.doubts.length === 0]).toEqual([becomes, isConverted]);
  });

  test('that is a number comes back from text as it was', () => {
    const [number, text] = [column('a', 'number'), column('a', 'text')];
    const there = (value: CellValue): CellValue => convertCell(value, number, text, context).value;
    const back = (value: CellValue): CellValue => convertCell(value, text, number, context).value;
    fc.assert(
      fc.property(
        fc.integer({ min: -1e9, max: 1e9 }),
        fc.integer({ min: 0, max: 4 }),
        (n, digits) => {
          const value = n / 10 ** digits;
          expect(back(there(value))).toBe(value);
        },
      ),
    );
  });
});

describe('a write', () => {
  const key = [column('code', 'text', { key: true }), column('name', 'text')];
  const unique = (message?: string, others?: string[]): Column[] => [
    column('code', 'text', {
      rules: [
        { must: { is: 'unique', ...(others && { with: others }) }, ...(message && { message }) },
      ],
    }),
    column('name', 'text'),
  ];
  const modelOf = (codes: readonly string[]): SheetModel => {
    const model = new SheetModel();
    codes.forEach((code, n) =>
      model.add({ id: `r${n}`, orderKey: n + 1, revision: 1, cells: { code, name: `Name ${n}` } }),
    );
    return model;
  };
  const told = (
    codes: readonly string[],
    changes: readonly KeyChange[],
    columns: readonly Column[] = key,
  ): string[] =>
    judgeWrite(changes, {
      block: { headingRow: 3, columns },
      model: modelOf(codes),
      locale: context.locale,
    }).map(({ at, problem }) => `${at}: ${sayProblem(problem)}`);
  const change = (id: string, before: string | null, after: string | null): KeyChange => ({
    id,
    before: before === null ? null : { code: before },
    after: after === null ? null : { code: after },
  });

  test('says whose a key is, and where that record stands', () => {
    expect(told(['0063'], [change('x', null, ' 0063 ')])).toEqual([
      '0: ‘ 0063 ’ is already taken by Name 0, in row 4. Give another, or correct that row.',
    ]);
    expect(told(['a'], [change('x', null, 'b'), change('y', null, 'B')])).toHaveLength(1);
    expect(told(['a', 'b'], [change('r0', 'a', 'b'), change('r1', 'b', 'a')])).toEqual([]);
    expect(told(['a'], [change('r0', 'a', null), change('x', null, 'a')])).toEqual([]);
  });

  test('holds rules against doubles as it holds a key', () => {
    const anew = [change('x', null, 'A')];
    expect(told(['a'], anew, unique())).toEqual([
      '0: ‘A’ is already taken by Name 0, in row 4. Give another, or correct that row.',
    ]);
    expect(told(['a'], anew, unique('{value} twice'))).toEqual(['0: A twice']);
    // Together with its name it is another.
    expect(told(['a'], anew, unique(undefined, ['name']))).toEqual([]);
    // A column that is gone tells nothing apart, and blanks are no doubles.
    expect(told(['a'], anew, unique(undefined, ['gone']))).toEqual([]);
    const blank: KeyChange = { id: 'x', before: null, after: { name: 'Name 0' } };
    expect(told(['a'], [blank, { ...blank, id: 'y' }], unique(undefined, ['name']))).toEqual([]);
  });

  test('leaves out whoever took what one that is left out keeps', () => {
    const both = [...key, column('mail', 'text', { rules: [{ must: { is: 'unique' } }] })];
    const taken = judgeWrite(
      [
        { id: 'r0', before: { code: 'a' }, after: { code: 'z', mail: 'm' } },
        { id: 'n', before: null, after: { code: 'a' } },
      ],
      {
        block: { headingRow: 3, columns: both },
        model: ((model) => {
          model.add({ id: 'h', orderKey: 9, revision: 1, cells: { mail: 'm' } });
          return model;
        })(modelOf(['a'])),
        locale: context.locale,
      },
    );
    expect(taken.map(({ at, columnId }) => `${at} ${columnId}`)).toEqual(['0 mail', '1 code']);
  });

  test('whatever it does, leaves no key to two records once those told of are left out', () => {
    const code = fc.constantFrom('a', 'b', 'c', 'd', '');
    const codes = fc.uniqueArray(fc.constantFrom('a', 'b', 'c', 'd'));
    const changes = fc.array(fc.record({ to: fc.option(code), of: fc.nat({ max: 5 }) }), {
      maxLength: 5,
    });
    fc.assert(
      fc.property(codes, changes, (stored, wanted) => {
        const seen = new Set<number>();
        const list = wanted
          .filter(({ of }) => !seen.has(of) && seen.add(of))
          .map(({ of, to }) => change(`r${of}`, stored[of] ?? null, to));
        const out = new Set(told(stored, list).map((each) => Number(each.split(':')[0])));
        const after = new Map<string, string>(stored.map((each, n) => [`r${n}`, each]));
        list.forEach(({ id, after: cells }, at) => {
          if (out.has(at)) return;
          const written = cells?.['code'];
          if (typeof written === 'string') after.set(id, written);
          else after.delete(id);
        });
        const keys = [...after.values()].filter((each) => each !== '');
        expect(new Set(keys).size).toBe(keys.length);
      }),
    );
  });
});
