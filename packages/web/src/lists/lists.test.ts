import type { ListChangeView, ListsView } from '@varn/contract';
import { broughtAlong, ListFinder, localeFacts, prepareForm, type Column } from '@varn/core';
import { byColumn, listsAfter, offeredIn } from '../api/lists';
import { offeredFor } from '../form/offered';
import {
  columnSource,
  goingDown,
  headingOf,
  kindOfSource,
  sheetOf,
  sourceOf,
} from '../sheet/lists/sources';
import { sayCounts } from './parts';

const STATIONS = [
  { value: 'AB-01', label: 'Alder Weir', by: ['Ash Beck'], fills: ['Ash Beck', 0.5] },
  { value: 'CW-01', label: 'Stone Mill', by: ['Corrow Water'], fills: ['Corrow Water', 1] },
];
const held: ListsView = {
  lists: [{ columnIds: ['station', 'other'], version: 3, items: STATIONS }],
};
const change = (more: Partial<ListChangeView>): ListChangeView => {
  return { columnIds: ['station'], from: 3, version: 4, splices: [], ...more };
};
const offered = (view: ListsView): string[] =>
  (byColumn(view).get('other')?.items ?? []).map(({ label }) => label);

test.each<[says: string, change: ListChangeView, labels: string[], isLost: boolean]>([
  [
    'one that comes and one that goes',
    change({
      splices: [
        { at: 0, remove: 1, items: [] },
        { at: 1, remove: 0, items: [{ value: 'ME-01' }] },
      ],
    }),
    ['Stone Mill', 'ME-01'],
    false,
  ],
  [
    'a version that is known already',
    change({ from: 2, version: 3 }),
    ['Alder Weir', 'Stone Mill'],
    false,
  ],
  ['one that was missed', change({ from: 4, version: 5 }), ['Alder Weir', 'Stone Mill'], true],
  [
    'one told without what changed',
    { columnIds: ['station'], from: 3, version: 4 },
    ['Alder Weir', 'Stone Mill'],
    true,
  ],
  ['another list', change({ columnIds: ['elsewhere'] }), ['Alder Weir', 'Stone Mill'], false],
])('%s', (_says, told, labels, isLost) => {
  const copy: ListsView = {
    lists: held.lists.map((each) => ({ ...each, items: [...each.items] })),
  };
  const found = listsAfter(copy, [told]);
  expect([offered(found.after), found.isLost]).toEqual([labels, isLost]);
});

test('what left a list is known to have left, and what came is found', () => {
  const copy: ListsView = { lists: held.lists.map((each) => ({ ...each })) };
  byColumn(copy);
  const { after } = listsAfter(copy, [
    change({ splices: [{ at: 0, remove: 1, items: [{ value: 'ME-01', label: 'Marl Pool' }] }] }),
  ]);
  const list = byColumn(after).get('station');
  expect(list?.index.gone('AB-01')?.label).toBe('Alder Weir');
  expect(list?.index.meant('marl pool', false).map(({ value }) => value)).toEqual(['ME-01']);
  expect(new ListFinder(list?.items ?? []).find('m', 9)).toHaveLength(2);
});

const column = (id: string, settings: Column<string>['settings'] = {}): Column<string> => {
  return {
    id,
    heading: id,
    kind: settings.list ? 'oneChoice' : id === 'depth' ? 'number' : 'text',
    settings,
  };
};
const station = column('station', {
  list: {
    source: "Stations!'Code'",
    narrowed: [{ by: "'River'", columnId: 'river' }],
    fills: [
      { from: "'River'", columnId: 'river' },
      { from: "'Depth'", columnId: 'depth' },
    ],
  },
});
const columns = new Map([station, column('river'), column('depth')].map((each) => [each.id, each]));
const lists = byColumn(held);
const context = {
  locale: localeFacts('en-GB'),
  now: 0,
  listed: (id: string) => lists.get(id)?.index,
};

test.each<[typed: string, before: Record<string, string>, after: Record<string, string>]>([
  ['AB-01', {}, { station: 'AB-01', river: 'Ash Beck', depth: '0.5' }],
  // What someone typed stays; what the choice before brought gives way.
  [
    'CW-01',
    { station: 'AB-01', river: 'Ash Beck', depth: '9' },
    { station: 'CW-01', river: 'Corrow Water', depth: '9' },
  ],
  ['AB', { river: 'Mereling' }, { station: 'AB', river: 'Mereling' }],
])('choosing %s over %j brings along what is blank', (text, before, after) => {
  const definition = {
    blocks: ['station', 'river', 'depth'].map((id) => ({ is: 'field' as const, id, columnId: id })),
  };
  const form = prepareForm<string>(definition, columns);
  const filled = { answers: before, untouched: new Set<string>() };
  expect(broughtAlong(form, { inputId: 'station', text }, filled, context).answers).toEqual(after);
});

test('a field offers what goes with its record, the same object while it is the same', () => {
  const of = (river: string | null) => offeredFor(station, { river }, columns, lists, context);
  expect(of('ash beck').map(({ text }) => text)).toEqual(['AB-01']);
  expect(of('ash beck')).toBe(of('ash beck'));
  expect(of(null)).toBe(offeredIn(station, lists));
  expect(offeredIn(column('typed', { choices: ['a'] }), lists).map(({ label }) => label)).toEqual([
    'a',
  ]);
});

test.each([
  ['Choices!B4:B9', 'Choices!B4..'],
  ['Choices!B4', 'Choices!B4..'],
  ['Choices!B4..', 'Choices!B4..'],
  ['Choices!B4:D4', 'Choices!B4:D4'],
  ['SEQUENCE(31)', 'SEQUENCE(31)'],
  ["Stations!'Code'", "Stations!'Code'"],
])('%s goes on down as %s', (range, down) => {
  expect(goingDown(range)).toBe(down);
});

test('sources are told apart, and written so that they are read again', () => {
  const source = sourceOf("Ines' kit", "What's lent");
  expect(columnSource(source)).toEqual({ sheet: "Ines' kit", heading: "What's lent" });
  expect([
    sheetOf('Choices!B4..'),
    sheetOf('SEQUENCE(3)'),
    headingOf("'Name'"),
    headingOf("'A'&'B'"),
  ]).toEqual(['Choices', null, 'Name', null]);
  const kinds = [undefined, source, 'Choices!B4..', "Own!'A'"].map((each) =>
    kindOfSource(each === undefined ? undefined : { source: each }, "Own!'A'"),
  );
  expect(kinds).toEqual(['typed', 'column', 'range', 'own']);
  const counts = { items: 46, rows: 48, blanks: 1, doubles: 1, errors: 0, long: 0, over: 0 };
  expect(sayCounts(counts)).toBe('46 choices, 1 blank skipped, 1 double dropped');
});
