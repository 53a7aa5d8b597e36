import {
  checkForm,
  localeFacts,
  type Block,
  type CheckGround,
  type Column,
  type FieldBlock,
  type FormCheck,
  type GroupBlock,
} from '@varn/core';
import * as fc from 'fast-check';
import { addLines, listedOn } from './addLine';
import { cureOf } from './cures';
import {
  addMember,
  changeColumn,
  dropMember,
  move,
  putIn,
  renameMember,
  setBeside,
  step,
  storeApart,
  storeTogether,
  takeOff,
  type Layout,
  type PagePlace,
} from './edits';
import { readTyped, type TypedOutline } from './typedOutline';
import type { Composing } from './useCompose';

const column = (id: string): Column<string> => ({ id, heading: id, kind: 'text', settings: {} });
const field = (id: string): Block => ({ is: 'field', id, columnId: `c-${id}` });
const layoutOf = (...ids: string[]): Layout => ({
  definition: { blocks: ids.map(field) },
  columns: ids.map((id) => column(`c-${id}`)),
});
const idsOf = ({ definition }: Layout): string[] => definition.blocks.map(({ id }) => id);
const none: ReadonlySet<string> = new Set();

test.each<[what: string, layout: Layout, order: string]>([
  [
    'a block before another',
    move(layoutOf('a', 'b', 'c'), 'c', { blockId: 'a', side: 'before' }),
    'cab',
  ],
  [
    'a block after another',
    move(layoutOf('a', 'b', 'c'), 'a', { blockId: 'b', side: 'after' }),
    'bac',
  ],
  [
    'a block beside another',
    move(layoutOf('a', 'b', 'c'), 'c', { blockId: 'a', side: 'beside' }),
    'acb',
  ],
  ['a block onto itself', move(layoutOf('a', 'b'), 'a', { blockId: 'a', side: 'after' }), 'ab'],
  ['a step down', step(layoutOf('a', 'b'), 'a', 1), 'ba'],
  ['a step over the edge', step(layoutOf('a', 'b'), 'a', -1), 'ab'],
  [
    'a new one at the end',
    putIn(layoutOf('a'), [field('n')], { blockId: null, side: 'after' }),
    'an',
  ],
  ['one taken off', takeOff(layoutOf('a', 'b'), 'a', none), 'b'],
  ['one that is not there', takeOff(layoutOf('a', 'b'), 'x', none), 'ab'],
])('%s', (_what, layout, order) => {
  expect(idsOf(layout).join('')).toBe(order);
});

test('however blocks are moved, none is lost or doubled', () => {
  const ids = ['a', 'b', 'c', 'd', 'e'];
  const spot: fc.Arbitrary<PagePlace> = fc.record({
    blockId: fc.constantFrom(...ids, null),
    side: fc.constantFrom('before', 'after', 'beside'),
  });
  fc.assert(
    fc.property(fc.array(fc.tuple(fc.constantFrom(...ids), spot)), (moves) => {
      const moved = moves.reduce((layout, [id, to]) => move(layout, id, to), layoutOf(...ids));
      expect(idsOf(moved).sort()).toEqual(ids);
    }),
  );
});

test('a column that is in no sheet goes with its field; one of the sheet stays', () => {
  const planned = takeOff(layoutOf('a', 'b'), 'a', none);
  expect(planned.columns.map(({ id }) => id)).toEqual(['c-b']);
  const stored = takeOff(layoutOf('a', 'b'), 'a', new Set(['c-a']));
  expect(stored.columns.map(({ id }) => id)).toEqual(['c-a', 'c-b']);
});

describe('an outline typed into a blank form', () => {
  const LINES = ['A: date', 'B: time', 'C: text', 'D: long text', '# Next', 'E: number', 'F: date'];
  const blank = { layout: { definition: { blocks: [] }, columns: [] }, columns: [], inSheet: none };
  /** Which of its parts share the row before them, read as a form and typed on from there. */
  const joined = ({ layout }: Pick<TypedOutline, 'layout'>): string =>
    layout.definition.blocks.map((each) => ('beside' in each ? '+' : '.')).join('');
  const typedOn = (texts: readonly string[], from: Layout = blank.layout): TypedOutline | null =>
    texts.reduce<TypedOutline | null>((before, text) => {
      const layout = before?.layout ?? from;
      return readTyped(text, { ...blank, layout, columns: layout.columns }, before);
    }, null);

  test('stands as its lines do on the page, pasted whole or key by key', () => {
    fc.assert(
      fc.property(fc.shuffledSubarray(LINES, { minLength: 1 }), fc.boolean(), (lines, byKey) => {
        const whole = lines.join('\n');
        const texts = byKey ? [...whole].map((_, n) => whole.slice(0, n + 1)) : [whole];
        const onPage = lines.reduce<Layout>((layout, line) => {
          const composing = { ...blank, layout, columns: layout.columns };
          return addLines(line, composing, { blockId: null, side: 'after' }).layout;
        }, blank.layout);
        const typed = typedOn(texts);
        expect(typed && joined(typed)).toBe(joined({ layout: onPage }));
      }),
    );
  });

  test.each<[says: string, text: string, from: string, stands: string]>([
    ['short fields share a row', 'A: date\nB: time', '', '.+'],
    ['as its look says', 'look: one a row\nA: date\nB: time', '', '..'],
    ['as one of its lines says', 'A: date\nB: time\nC: time, same row', '', '..+'],
    ['as it is in a form that had fields', 'A: date\nB: time', 'Z: text', '..'],
  ])('%s', (_says, text, from, stands) => {
    const held = from === '' ? blank.layout : typedOn([from])?.layout;
    const typed = typedOn([text], held);
    expect(typed && joined(typed)).toBe(stands);
  });
});

test('a field joins the row before it, and leaves it again', () => {
  const joined = setBeside(layoutOf('a', 'b'), 'b', true);
  expect(joined.definition.blocks[1]).toMatchObject({ beside: true });
  expect(setBeside(joined, 'b', false)).toEqual(layoutOf('a', 'b'));
});

describe('whatever is done to a layout', () => {
  type Edit = (layout: Layout) => Layout;
  const ids = ['a', 'b', 'c', 'd', 'e'];
  const begun = layoutOf(...ids);
  const blockId = fc.constantFrom(...ids, 'gone');
  const place: fc.Arbitrary<PagePlace> = fc.record({
    blockId: fc.option(blockId),
    side: fc.constantFrom('before', 'after', 'beside'),
  });
  const moves: fc.Arbitrary<Edit> = fc.oneof(
    fc.tuple(blockId, place).map(
      ([id, to]) =>
        (held: Layout) =>
          move(held, id, to),
    ),
    fc.tuple(blockId, fc.constantFrom(1 as const, -1 as const)).map(
      ([id, by]) =>
        (held: Layout) =>
          step(held, id, by),
    ),
    fc.tuple(blockId, fc.boolean()).map(
      ([id, is]) =>
        (held: Layout) =>
          setBeside(held, id, is),
    ),
  );
  test('by moving, each block is there once, and says nothing else than before', () => {
    fc.assert(
      fc.property(fc.array(moves, { maxLength: 12 }), (edits) => {
        const made = edits.reduce((held, edit) => edit(held), begun);
        expect(idsOf(made).sort()).toEqual(ids);
        expect(made.columns).toBe(begun.columns);
        for (const block of made.definition.blocks) {
          const { beside: _beside, ...rest } = block as FieldBlock;
          const before = begun.definition.blocks.find(({ id }) => id === block.id);
          const { beside: _was, ...same } = before as FieldBlock;
          expect(rest).toEqual(same);
        }
      }),
    );
  });

  test('a step down and a step up again change nothing', () => {
    fc.assert(
      fc.property(fc.array(moves, { maxLength: 6 }), blockId, (edits, id) => {
        const held = edits.reduce((layout, edit) => edit(layout), begun);
        const down = step(held, id, 1);
        if (down !== held) expect(idsOf(step(down, id, -1))).toEqual(idsOf(held));
      }),
    );
  });

  test('what is taken off goes with the columns that nothing else uses, and no other', () => {
    const inSheet = fc.subarray(ids.map((id) => `c-${id}`)).map((all) => new Set(all));
    fc.assert(
      fc.property(fc.array(blockId), inSheet, (gone, stored) => {
        const planned = { ...begun, columns: ids.map((id) => column(`c-${id}`)) };
        const made = gone.reduce<Layout>((held, id) => takeOff(held, id, stored), planned);
        const left = ids.filter((id) => !gone.includes(id));
        expect(idsOf(made)).toEqual(left);
        const columns = ids.filter((id) => left.includes(id) || stored.has(`c-${id}`));
        expect(made.columns.map(({ id }) => id)).toEqual(columns.map((id) => `c-${id}`));
      }),
    );
  });
});

test('of boxes, adding a choice adds a column, renaming renames it, taking away keeps what is stored', () => {
  const group: GroupBlock = {
    is: 'group',
    as: 'boxes',
    id: 'g',
    label: 'Smell',
    members: [{ id: 'm', columnId: 'c-a', label: 'Earthy' }],
  };
  const like = column('c-a');
  const begun: Layout = { definition: { blocks: [group] }, columns: [] };
  const grown = addMember(begun, group, 'Sewage', like, { member: 'n', column: 'c-n' });
  expect(grown.columns.map(({ heading }) => heading)).toEqual(['Smell Sewage']);
  const [now] = grown.definition.blocks as GroupBlock[];
  expect(now?.members.map(({ label }) => label)).toEqual(['Earthy', 'Sewage']);
  const renamed = renameMember(grown, now ?? group, 'n', 'Oil');
  expect(renamed.columns.map(({ heading }) => heading)).toEqual(['Smell Oil']);
  const smaller = dropMember(renamed, now ?? group, 'm', new Set(['c-a']));
  expect((smaller.definition.blocks[0] as GroupBlock).members).toHaveLength(1);
  expect(smaller.columns).toHaveLength(1);
  // The last one stays: a block of nothing is none.
  expect(dropMember(begun, group, 'm', none)).toBe(begun);
});

test('several choices go apart into a column each and together into one cell, and lose nothing', () => {
  const choices = ['Earthy', 'a, b', ''];
  const smell: Column<string> = { ...column('c'), kind: 'severalChoices', settings: { choices } };
  const field: FieldBlock = {
    is: 'field',
    id: 'f',
    columnId: 'c',
    label: 'Smell',
    hint: 'All you noticed',
    required: true,
    shownWhen: "'Depth' > 1",
    width: 6,
  };
  const whole: Layout = { definition: { blocks: [field] }, columns: [smell] };
  let n = 0;
  const newId = (): string => `n${(n += 1)}`;
  const apart = storeApart(whole, field, smell, newId);
  expect(apart.columns.map(({ heading, kind }) => [heading, kind])).toEqual([
    ['Smell Earthy', 'yesNo'],
    ['Smell a, b', 'yesNo'],
    ['Smell ', 'yesNo'],
  ]);
  const together = storeTogether(apart, apart.definition.blocks[0] as GroupBlock, newId);
  const { label: _label, columnId: _columnId, ...rest } = field;
  expect(together.definition.blocks).toMatchObject([rest]);
  expect(together.columns).toMatchObject([
    { heading: 'Smell', kind: 'severalChoices', settings: { choices } },
  ]);
  const bare: Column<string> = { ...smell, settings: {} };
  expect(storeApart(whole, field, bare, newId)).toBe(whole);
});

test('a changed column of the sheet is planned with its formula, once', () => {
  const stored: Column<string> = {
    ...column('c-x'),
    settings: { unit: 'm', formula: '=1' },
  };
  const layout = changeColumn(layoutOf('a'), stored);
  expect(layout.columns.at(-1)).toEqual(stored);
  expect(changeColumn(layout, { ...stored, heading: 'y' }).columns).toHaveLength(2);
});

test('typed lines add blocks where they are typed, and never a column twice', () => {
  const layout = layoutOf('a', 'b');
  const composing = {
    layout,
    columns: [...layout.columns, column('Place')],
    inSheet: new Set(['Place']),
  };
  const at: PagePlace = { blockId: 'a', side: 'after' };
  const added = addLines('Depth: number\nplace\nnote: Bring gloves', composing, at);
  expect(added.problems).toEqual([]);
  expect(added.layout.definition.blocks.map(({ is }) => is)).toEqual([
    'field',
    'field',
    'field',
    'note',
    'field',
  ]);
  expect(added.blocks[1]).toMatchObject({ columnId: 'Place' });
  expect(added.layout.columns.map(({ heading }) => heading)).toEqual(['c-a', 'c-b', 'Depth']);
  expect(addLines('c-a: text', composing, at).twice).toBe('c-a');
});

test.each<[typed: string, next: string | null]>([
  ['Notes', null],
  ['How it feels: statements of (Yes, No)', 'How it feels: statements of (Yes, No)\n  '],
  ['How: statements of (a, b)\n  Easy', 'How: statements of (a, b)\n  Easy\n  '],
  ['How: statements of (a, b)\n  Easy\n  ', null],
  ['How: statements of (a, b)\n  ', null],
  ['Depth: number\nPlace', null],
  ['Depth: numbr', null],
  ['', null],
])('Enter after %j goes on to %j', (typed, next) => {
  const composing = { layout: layoutOf(), columns: [], inSheet: none };
  const { problems } = addLines(typed, composing, { blockId: null, side: 'after' });
  expect(listedOn(typed, problems)).toBe(next);
});

/** Looks a form through, and cures what is found with one click. */
function cured(code: FormCheck['code'], layout: Layout, around: Partial<CheckGround> = {}) {
  let held = layout;
  const gone: string[] = [];
  const inSheet = new Set(['ph', 'key', 'other']);
  const ground = {
    name: 'Log',
    columns: layout.columns,
    writtenElsewhere: new Set<string>(),
    planned: layout.columns,
    names: new Set<string>(),
    sheets: new Set<string>(),
    locale: localeFacts('en-GB'),
    ...around,
  };
  const found = (): FormCheck | undefined =>
    checkForm(held.definition, ground).find((check) => check.code === code);
  const check = found();
  if (!check) throw new Error(`${code} was not found`);
  const composing = {
    edit: (by: (layout: Layout) => Layout) => (held = by(held)),
    inSheet,
    layout,
    columns: ground.columns,
  } as unknown as Composing;
  const cure = cureOf(check, {
    composing,
    goTo: (id) => gone.push(`to ${id}`),
    lift: (id) => gone.push(`lift ${id}`),
    addField: () => gone.push('add'),
  });
  cure?.run();
  return { label: cure?.label ?? null, goes: gone.join(), isCured: found() === undefined };
}

const put = (...blocks: Block[]): Layout => ({
  definition: { blocks },
  columns: [{ ...column('ph'), kind: 'number' }, column('other')],
});
const ph: FieldBlock = { is: 'field', id: 'f', columnId: 'ph' };

test.each<[FormCheck['code'], Layout, Partial<CheckGround>, label: string | null, goes: string]>([
  ['unnamed', put(ph), { name: ' ' }, null, ''],
  ['nothingToFill', put({ is: 'divider', id: 'd' }), {}, 'Add a field', 'add'],
  ['columnGone', put(ph, { ...ph, id: 'g', columnId: 'lost' }), {}, 'Take it off', ''],
  ['columnTwice', put(ph, { ...ph, id: 'g' }), {}, 'Take it off', ''],
  ['dependsOnItself', put({ ...ph, shownWhen: "'ph' > 1" }), {}, 'Remove the condition', ''],
  ['startMisfits', put({ ...ph, start: { kind: 'today' } }), {}, 'Start with nothing', ''],
  [
    'startUnread',
    put({ ...ph, start: { kind: 'text', text: 'abc' } }),
    {},
    'Start with nothing',
    '',
  ],
  [
    'computedFromItself',
    changeColumn(put(ph, { ...ph, id: 'o', columnId: 'other' }), {
      ...column('other'),
      kind: 'computed',
      settings: { formula: "'other' + 1" },
    }),
    {},
    'Go to it',
    'to o',
  ],
  [
    'onlySuggested',
    put({ ...ph, start: { kind: 'text', text: '7', suggestion: true } }),
    {},
    'Go to it',
    'to f',
  ],
  ['formulaUnread', put({ ...ph, shownWhen: '1 +' }), {}, 'Go to it', 'to f'],
  ['openScale', put({ ...ph, control: 'scale' }), {}, 'Go to it', 'to f'],
  ['nothingPasses', put({ ...ph, limits: { from: 9, to: 1 } }), {}, 'Go to it', 'to f'],
  ['emptyList', put(ph), { columns: [{ ...column('ph'), kind: 'oneChoice' }] }, 'Go to it', 'to f'],
  ['headingMissing', put(ph), { columns: [{ ...column('ph'), heading: '' }] }, 'Go to it', 'to f'],
  ['notWritten', put(ph), {}, 'Add it to the form', 'lift other'],
  [
    'keyNotOnForm',
    put(ph),
    { columns: [column('ph'), { ...column('key'), settings: { key: true } }] },
    'Add it to the form',
    'lift key',
  ],
  [
    'pictureWithoutWords',
    put(ph, { is: 'picture', id: 'p', fileId: 'x', alt: '' }),
    {},
    'Go to it',
    'to p',
  ],
])('%s is cured by a click, or gone to', (code, layout, around, label, goes) => {
  const cure = cured(code, layout, around);
  expect([cure.label, cure.goes]).toEqual([label, goes]);
  // What is not gone to is done at once.
  if (label !== null && goes === '') expect(cure.isCured).toBe(true);
});
