import type { ChangeEvent, Landed, UploadView, WorkbookView } from '@varn/contract';
import { localeFacts, type Column } from '@varn/core';
import * as fc from 'fast-check';
import { formAfter, sheetAfter, workbookAfter } from './api/applyEvent';
import { nameOf, sayOutcomes, sayRows } from './bringIn/outcomes';
import { stripWindow } from './desk/stripWindow';
import {
  columnsBetween,
  columnWidths,
  fitText,
  fitWhole,
  offsetsOf,
  widthOf,
} from './sheet/columnWidths';
import { formView, sheetView } from './testing/views';
import { ROW_PX, rowsInView, rowTop, scrollOf } from './sheet/scroll';

const column = (id: string, kind: Column['kind'] = 'text'): Column<string> => ({
  id,
  heading: id,
  kind,
  settings: kind === 'runningNumber' ? { pattern: 'RW-000' } : {},
});
const sheet = sheetView({ columns: [column('n', 'runningNumber'), column('a')] });
const empty = formView(sheet, { nextTexts: { t: 'RW-009' }, nextNumbers: { n: 1 } });

type Step = { add: boolean; at: number };

test('whatever is written and taken back, the desk holds the end of the sheet as the server would tell it', () => {
  const step: fc.Arbitrary<Step> = fc.record({ add: fc.boolean(), at: fc.nat() });
  fc.assert(
    fc.property(fc.array(step, { maxLength: 60 }), (steps) => {
      // The sheet as the server has it: ids in order, those taken back in a bin with their place.
      let stored: number[] = [];
      const bin: number[] = [];
      let given = 0;
      let form = empty;
      steps.forEach(({ add, at }, index) => {
        const before = stored.length;
        const recent = stored.slice(-3);
        const putBack = add && at % 3 === 0 ? bin.pop() : undefined;
        const id = putBack ?? (add ? (given += 1) : recent[at % Math.max(1, recent.length)]);
        if (id === undefined) return;
        const after = add
          ? [...stored, id].sort((a, b) => a - b)
          : stored.filter((each) => each !== id);
        if (!add) bin.push(id);
        const position = (add ? after : stored).indexOf(id);
        const landed: Landed = {
          writeId: `w${index}`,
          seq: index + 1,
          kind: add ? (putBack === undefined ? 'recordAdded' : 'recordPutBack') : 'recordRemoved',
          sheetId: 's',
          recordId: `r${id}`,
          revision: 1,
          row: position + 5,
          before,
          after: after.length,
          cells: { n: `RW-${String(id).padStart(3, '0')}`, a: 'x' },
        };
        stored = after;
        const event: ChangeEvent = {
          seq: index + 1,
          kind: landed.kind,
          sheetId: 's',
          writeId: landed.writeId,
          by: 'x',
          personId: 'person',
          landed,
        };
        // An event that comes twice changes nothing the second time.
        form = formAfter(formAfter(form, event), event);
      });
      expect(form.sheet.count).toBe(stored.length);
      expect(form.last.count).toBe(stored.length);
      expect(form.nextNumbers['n']).toBe(given + 1);
      const ids = form.last.records.map((record) => record.id);
      expect(ids.length).toBeLessThanOrEqual(8);
      expect(ids).toEqual(
        stored.slice(form.last.from, form.last.from + ids.length).map((id) => `r${id}`),
      );
      if (ids.length > 0) expect(ids.at(-1)).toBe(`r${String(stored.at(-1))}`);
    }),
  );
});

test.each([
  ['recordAdded', 'Mereling', ['Mereling', 'Ash Beck']],
  ['recordChanged', 'Mereling', ['Mereling', 'Ash Beck']],
  ['recordAdded', 'Ash Beck', ['Ash Beck']],
  ['recordRemoved', 'Mereling', ['Ash Beck']],
  ['recordAdded', null, ['Ash Beck']],
])('after %s with %j, the column suggests %j', (kind, text, expected) => {
  const form = { ...empty, suggestions: { t: ['Ash Beck'] } };
  const landed = { sheetId: 's', row: 5, after: 1, kind, cells: { t: text } } as unknown as Landed;
  const rest = { sheetId: 's', writeId: 'w', by: '', personId: 'person', landed };
  const after = formAfter(form, { seq: 1, kind: landed.kind, ...rest });
  expect(after.suggestions).toEqual({ t: expected });
});

test('events of other sheets, and old ones, change nothing', () => {
  const landed = {
    sheetId: 'other',
    row: 5,
    after: 1,
    kind: 'recordAdded',
    cells: {},
  } as unknown as Landed;
  const event: ChangeEvent = {
    seq: 1,
    kind: 'recordAdded',
    sheetId: 'other',
    writeId: 'w',
    by: '',
    personId: 'person',
    landed,
  };
  expect(formAfter(empty, event)).toBe(empty);
  expect(sheetAfter(sheet, event)).toBe(sheet);
  const workbook: WorkbookView = {
    id: 'w',
    name: 'W',
    locale: 'en-GB',
    timeZone: 'UTC',
    currency: 'EUR',
    role: 'owner',
    seq: 1,
    sheets: [],
    questions: [],
    removedForms: [],
  };
  expect(workbookAfter(workbook, event)).toBe(workbook);
});

test('any row of a sheet of any length can be scrolled to, and stands in view there', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 5_000_000 }),
      fc.integer({ min: 60, max: 1200 }),
      fc.double({ min: 0, max: 1, noNaN: true }),
      (rows, viewport, at) => {
        const scroll = scrollOf(rows, viewport);
        expect(scroll.height).toBeLessThanOrEqual(15_000_000);
        const most = Math.max(0, scroll.height - viewport);
        const row = Math.floor(at * (rows - 1));
        const to = Math.min(most, (row * ROW_PX) / scroll.scale);
        const [first, end] = rowsInView(scroll, to, viewport, rows, 0);
        expect(row).toBeGreaterThanOrEqual(first);
        expect(row).toBeLessThan(end);
        const seen = rowTop(scroll, row, to) - to;
        expect(seen).toBeGreaterThan(-ROW_PX);
        expect(seen).toBeLessThan(viewport);
      },
    ),
  );
});

test('columns in view are exactly those that touch it, with a spare each side', () => {
  fc.assert(
    fc.property(
      fc.array(fc.integer({ min: 40, max: 320 }), { minLength: 1, maxLength: 300 }),
      fc.nat(60_000),
      fc.integer({ min: 100, max: 2000 }),
      (widths, left, width) => {
        const offsets = offsetsOf(widths);
        const [from, to] = columnsBetween(offsets, left, left + width);
        widths.forEach((_, index) => {
          const touches = (offsets[index] ?? 0) < left + width && (offsets[index + 1] ?? 0) > left;
          if (touches) expect(index >= from && index < to).toBe(true);
        });
        expect(to - from).toBeLessThanOrEqual(Math.ceil(width / 40) + 3);
      },
    ),
  );
});

test('the strip of a wide sheet always holds the column typed into, and never more than 80', () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 1000 }), fc.nat(), (columns, at) => {
      const focused = at % columns;
      const [from, to] = stripWindow(columns, focused);
      expect(from >= 0 && to <= columns && from <= focused && focused < to).toBe(true);
      expect(to - from).toBe(Math.min(80, columns));
      expect(stripWindow(columns, -1)[0]).toBe(0);
    }),
  );
});

test('a column is as wide as its heading or 95 % of its values need', () => {
  const rows = Array.from({ length: 100 }, (_, n) => ['x'.repeat(n < 95 ? 10 : 200)]);
  const [wide = 0] = columnWidths([column('A')], rows, localeFacts('en-GB'));
  expect(wide).toBeGreaterThan(10 * 7);
  expect(wide).toBeLessThan(20 * 9);
});

test.each([
  ['short', 120, 'short', false],
  ['exactly twelve', 140, 'exactly twelve', false],
  ['x'.repeat(500), 120, `${'x'.repeat(11)}…`, false],
  ['שלום', 120, 'שלום', true],
])('%j in %i px is put as %j', (text, width, shown, clipped) => {
  expect(fitText(text, width)).toEqual({ text: shown, clipped });
});

test.each([
  [[4], 'row 4'],
  [[4, 9], 'rows 4 and 9'],
  [[4, 9, 1200], 'rows 4, 9 and 1,200'],
  [[1, 2, 3, 4, 5, 6, 7, 8, 9, 10], 'rows 1, 2, 3, 4, 5, 6, 7, 8 and 2 more'],
])('%j is said as %s', (rows, said) => {
  expect(sayRows(rows)).toBe(said);
});

test('each thing left out or renamed is told in a sentence', () => {
  const of = (letters: string, origin: string, isEmpty = false): object => ({
    letters,
    origin,
    empty: isEmpty,
  });
  const upload = {
    blankRows: [7],
    totalsRows: [9, 12],
    shortRows: 1,
    longRows: 2,
    headingRow: 4,
    doubles: [],
    columns: [of('A', 'given'), of('B', 'alike'), of('C', 'blank', true), of('D', 'blank')],
  } as unknown as UploadView;
  expect(sayOutcomes(upload)).toHaveLength(8);
  expect(
    sayOutcomes({
      ...upload,
      headingRow: 0,
      blankRows: [],
      totalsRows: [],
      shortRows: 0,
      longRows: 0,
      columns: [],
    }),
  ).toEqual(['No heading was found: columns are named by their letters.']);
});

test.each([
  ['kit_returns.csv', 'kit returns'],
  ['a.b.tsv', 'a.b'],
  ['.csv', '.csv'],
  ['عينات.csv', 'عينات'],
])('%s starts as %s', (file, name) => {
  expect(nameOf(file)).toBe(name);
});

test('a number is shown whole or as not fitting, and its own width always takes it', () => {
  fc.assert(
    fc.property(fc.double({ noNaN: true }), fc.integer({ min: 20, max: 400 }), (value, width) => {
      const text = String(value);
      expect([text, '…']).toContain(fitWhole(text, width));
      if (text.length <= 30) expect(fitWhole(text, widthOf(text.length))).toBe(text);
    }),
  );
  expect(fitWhole('136,220.47', 90)).toBe('…');
});
