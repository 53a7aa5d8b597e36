import * as fc from 'fast-check';
import { KIND_IDS, type Column, type KindId } from '../kinds';
import { asTrial } from '../sheet';
import { localeFacts, readIsoMoment, type CellValue } from '../values';
import { sayBlockDifference, sayFormCheck, sayFormDifference, sayProblem } from '../words';
import {
  afterMessage,
  checkForm,
  compareForms,
  choicesIn,
  CONTROL_IDS,
  CONTROLS,
  controlsOf,
  fill,
  flowBehind,
  formOfSheet,
  isSame,
  keptAnswers,
  landingRow,
  mapFormulas,
  PAGE_PARTS,
  pagesOf,
  prepareForm,
  readiness,
  READY_MADE,
  readyMade,
  rowsOf,
  sharing,
  startingAnswers,
  TextEvaluator,
  TextFormulas,
  type Block,
  type Entered,
  type FieldBlock,
  type FieldSettings,
  type Filling,
  type FormDefinition,
} from '.';

import { stepsTaken } from '../formula';
import { MOST_STEPS } from '../formula/functions/budget';

const locale = localeFacts('en-GB');
const context = { locale, now: readIsoMoment('2026-11-25T09:30') ?? 0 };
const moment = { locale, now: () => context.now };
const column = (
  id: string,
  kind: KindId,
  settings: Omit<Column<string>['settings'], 'formula'> = {},
): Column<string> => ({
  id,
  heading: id,
  kind,
  settings,
});
/** Columns that carry formulas as people write them. @param formulas by column id */
const carrying = (
  all: readonly Column<string>[],
  formulas: Readonly<Record<string, string>> = {},
): Column<string>[] =>
  all.map(({ settings, ...each }) => {
    const formula = formulas[each.id];
    const { formula: _held, ...others } = settings;
    return { ...each, settings: formula === undefined ? others : { ...others, formula } };
  });
const columns = [
  column('number', 'runningNumber', { pattern: 'RW-000' }),
  column('date', 'date'),
  column('river', 'oneChoice', { choices: ['Ash Beck', 'Mereling'] }),
  column('ph', 'number'),
  column('price', 'money'),
  column('rinsed', 'yesNo'),
  column('total', 'computed'),
  column('notes', 'text'),
  column('smell', 'severalChoices', { choices: ['Earthy', 'Mud; silt'] }),
  column('a', 'yesNo'),
  column('b', 'yesNo'),
  column('at', 'writtenAt'),
  column('by', 'writtenBy'),
];
const byId = new Map(columns.map((each) => [each.id, each]));
const formulas = { total: "'ph' * 'price'" };

const field = (columnId: string, settings: Partial<FieldBlock> = {}): FieldBlock => ({
  is: 'field',
  id: `f-${columnId}`,
  columnId,
  ...settings,
});
const form = (...blocks: Block[]): FormDefinition => ({ blocks });
const filled = (
  definition: FormDefinition,
  answers: Record<string, string>,
  rest: Omit<Entered, 'answers'> = {},
): Filling =>
  fill(
    prepareForm(definition, byId),
    { answers, ...rest },
    context,
    new TextEvaluator(new TextFormulas({ columns: carrying(columns, formulas), moment })),
  );
const codes = (filling: Filling): Record<string, string> =>
  Object.fromEntries(filling.verdicts.map((each) => [each.columnId, each.problem.code]));

const sample = form(
  field('date', { required: true, start: { kind: 'today' } }),
  field('river', { required: true }),
  field('ph', { required: true, limits: { from: 0, to: 14 } }),
  field('rinsed'),
  field('notes', { control: 'lines' }),
  field('number'),
);

test('a filled form becomes values by column; blanks are left out', () => {
  const answers = { 'f-date': '24 nov', 'f-river': 'mereling', 'f-ph': '7.10', 'f-rinsed': 'y' };
  const { cells, verdicts } = filled(sample, { ...answers, 'f-notes': '  ' });
  expect(cells).toEqual({ date: 46_350, river: 'Mereling', ph: 7.1, rinsed: true });
  expect(verdicts).toEqual([]);
});

test.each([
  [
    { 'f-date': '31/2/2026', 'f-ph': 'x' },
    { date: 'noSuchDay', river: 'required', ph: 'notANumber' },
  ],
  [{ 'f-date': '24/11', 'f-river': 'Mereling', 'f-ph': ' ' }, { ph: 'required' }],
  [{ 'f-date': '24/11', 'f-river': 'Mereling', 'f-ph': '19' }, { ph: 'outOfLimits' }],
  [
    { 'f-date': '24/11', 'f-river': 'Mereling', 'f-ph': '7', 'f-number': 'RW-9' },
    { number: 'notTyped' },
  ],
])('%j gives one verdict per column: %j', (answers, expected) => {
  expect(codes(filled(sample, answers))).toEqual(expected);
});

/** A field's settings, what is typed, and the value or the problem that comes of it. */
test.each<[columnId: string, settings: FieldSettings, typed: string, gives: CellValue]>([
  ['ph', { control: 'steps', details: { from: 1, to: 5 } }, '5', 5],
  ['ph', { control: 'steps', details: { from: 1, to: 5 } }, '6', 'noStep'],
  ['ph', { control: 'scale', details: { from: 0, to: 10 } }, '0', 0],
  ['ph', { control: 'scale', details: { from: 0, to: 10 } }, '2.5', 'noStep'],
  ['ph', { control: 'scale', details: { from: 0, to: 10 } }, '11', 'noStep'],
  ['rinsed', { control: 'checked' }, 'yes', true],
  ['rinsed', { control: 'checked' }, 'no', 'notChecked'],
  ['notes', { limits: { to: 5 } }, '34 of 5', 'tooLong'],
  ['notes', { limits: { from: 3 } }, 'é̂1', 'é̂1'],
  ['notes', { start: { kind: 'beginning', text: 'WQ-' } }, ' WQ- ', 'nothingTyped'],
  ['notes', { start: { kind: 'beginning', text: 'WQ-' } }, 'WQ-7', 'WQ-7'],
  ['smell', {}, '"Mud; silt"; earthy', '"Mud; silt"; Earthy'],
  ['date', { limits: { from: 46_023 } }, '31/12/2025', 'outOfLimits'],
  ['price', {}, '1.005', 'finerThanMinor'],
])('%s with %j: %s gives %s', (columnId, settings, typed, gives) => {
  const { cells, verdicts } = filled(form(field(columnId, settings)), { [`f-${columnId}`]: typed });
  expect(verdicts[0]?.problem.code ?? cells[columnId]).toEqual(gives);
});

test('what is seen is what is stored: a starting value is an answer, a suggestion is none', () => {
  const of = (more: { suggestion?: true } = {}): FormDefinition =>
    form(
      field('date', { required: true, start: { kind: 'today', ...more } }),
      field('notes', { start: { kind: 'text', text: 'as usual', ...more } }),
      field('price', { start: { kind: 'formula', formula: '2*3', ...more } }),
      field('ph', { readOnly: true, start: { kind: 'text', text: '7', ...more } }),
    );
  const started = (definition: FormDefinition): Filling => {
    const { answers, untouched } = startingAnswers(prepareForm(definition, byId), context);
    return filled(definition, answers, { untouched });
  };
  const stands = started(of());
  expect(stands.cells).toEqual({ date: 46_351, notes: 'as usual', price: 6, ph: 7 });
  expect([stands.texts['f-date'], stands.suggested]).toEqual(['25/11/2026', {}]);
  const suggested = started(of({ suggestion: true }));
  expect([suggested.cells, codes(suggested)]).toEqual([{ ph: 7 }, { date: 'required' }]);
  expect(suggested.suggested).toEqual({
    'f-date': '25/11/2026',
    'f-notes': 'as usual',
    'f-price': '6',
  });
  expect(filled(of({ suggestion: true }), { 'f-notes': 'x' }).suggested).not.toHaveProperty(
    'f-notes',
  );
});

test('what is looked up elsewhere is awaited while it is older than the answers', () => {
  const lookedUp = 'XLOOKUP(\'river\';Choices!A1:A2;Choices!B1:B2;"")';
  const definition = form(
    field('river'),
    field('price', { required: true, start: { kind: 'formula', formula: lookedUp } }),
    field('ph', { start: { kind: 'formula', formula: "'price' + 1" } }),
    field('notes', { requiredWhen: lookedUp }),
  );
  const all = new TextFormulas({ columns: carrying(columns, formulas), moment });
  expect(all.elsewhere([lookedUp, "'price' + 1"])).toEqual([lookedUp]);
  const read = all.readIn(lookedUp, { river: 'Mereling' });
  const values = new Map([[lookedUp, { value: 25, read }]]);
  const at = (river: string, isCurrent: boolean): Filling =>
    fill(
      prepareForm(definition, byId),
      { answers: { 'f-river': river }, untouched: new Set(['f-price', 'f-ph']) },
      context,
      new TextEvaluator(all, { values, isCurrent }),
    );
  // Told of this river: it stands, also while other answers change.
  expect(at('Mereling', false)).toMatchObject({ cells: { price: 25, ph: 26 }, awaited: new Set() });
  const old = at('Ash Beck', false);
  expect(old.cells).toEqual({ river: 'Ash Beck' });
  expect([...old.awaited].sort()).toEqual(['ph', 'price', 'total']);
  expect([...old.required]).toEqual(['f-price']);
  expect(codes(old)).toEqual({});
  const told = { locale, nextNumbers: {} };
  expect(landingRow([column('price', 'money')], old, told)[0]?.state).toBe('awaited');
  expect(at('Ash Beck', true).cells).toMatchObject({ price: 25, ph: 26 });
});

test.each<[formula: string, care: string, other: string, isThere: boolean]>([
  ["'ph' < 3", '', '', false],
  ["'ph' < 3", '2', '', true],
  ["'ph' >= 0", '', '', false],
  ["-'ph' * 2 < 3", '', '', false],
  ["OR('ph' < 3; 'notes' = \"x\")", '', 'x', true],
  ["OR('ph' < 3; 'notes' = \"x\")", '', '', false],
  ["AND('ph' < 3; 'notes' = \"x\")", '2', 'x', true],
  ["NOT('ph' < 3)", '', '', false],
  // Each comparison is taken by itself.
  ["OR('ph' < 3; 'ph' >= 3)", '', '', false],
  // A function decides by itself what a blank is to it.
  ["IF('ph' = \"\"; 0; 'ph') < 3", '', '', true],
  ["LEN('notes') < 3", '', '', true],
  ['\'ph\' = ""', '', '', true],
  ["NOT(ISBLANK('ph'))", '', '', false],
])('while answers are %s, with pH %j and notes %j, holds: %s', (shownWhen, ph, notes, isThere) => {
  const tone = 'note' as const;
  const definition = form(
    field('ph'),
    field('notes'),
    field('river', { shownWhen }),
    field('price', { requiredWhen: shownWhen }),
    { is: 'message', id: 'm', tone, formula: `IF(${shownWhen};"so it is";"")` },
  );
  const { shown, required, messages } = filled(definition, { 'f-ph': ph, 'f-notes': notes });
  expect(shown.has('f-river')).toBe(isThere);
  expect(required.has('f-price')).toBe(isThere);
  expect(messages.map(({ text }) => text)).toEqual(isThere ? ['so it is'] : []);
});

test('starting values stand, and are kept once changed', () => {
  const definition = form(
    field('date', { start: { kind: 'today', kept: true } }),
    field('notes', { start: { kind: 'text', text: 'WQ' } }),
    field('river'),
  );
  const prepared = prepareForm({ ...definition, after: { keep: ['f-river'] } }, byId);
  const { answers, untouched } = startingAnswers(prepared, context);
  expect(answers).toEqual({ 'f-date': '25/11/2026', 'f-notes': 'WQ' });
  expect([...untouched]).toEqual(['f-date', 'f-notes']);
  const typed = { 'f-date': '24/11/2026', 'f-notes': 'x', 'f-river': 'Mereling' };
  const kept = keptAnswers(prepared, typed, new Set());
  expect(kept).toEqual({ 'f-date': '24/11/2026', 'f-river': 'Mereling' });
  const next = startingAnswers(prepared, context, kept);
  expect(next.answers).toEqual({ ...kept, 'f-notes': 'WQ' });
  expect([...next.untouched]).toEqual(['f-notes']);
  expect(keptAnswers(prepared, answers, untouched)).toEqual({});
});

test('what a formula reads decides what is there, what is needed, and what is said', () => {
  const definition = form(
    field('river'),
    field('ph', { shownWhen: `'river' = "Ash Beck"`, required: true }),
    field('notes', { requiredWhen: "'ph' > 9", shownWhen: "NOT(ISBLANK('ph'))" }),
    { is: 'message', id: 'm', tone: 'good', formula: `IF('ph'>9;"Please say what you saw";"")` },
    field('price', { start: { kind: 'formula', formula: "'ph' + 1" } }),
  );
  const at = (answers: Record<string, string>): Filling =>
    filled(definition, answers, { untouched: new Set(['f-price']) });
  const nothing = at({ 'f-ph': '10' });
  expect([...nothing.shown]).toEqual(['f-river', 'm', 'f-price']);
  expect([nothing.cells, codes(nothing)]).toEqual([{ price: 1 }, {}]);
  const all = at({ 'f-river': 'Ash Beck', 'f-ph': '10' });
  expect(all.shown.size).toBe(5);
  expect(codes(all)).toEqual({ notes: 'required' });
  expect(all.messages.map(({ text }) => text)).toEqual(['Please say what you saw']);
  expect(all.cells).toEqual({ river: 'Ash Beck', ph: 10, price: 11 });
  expect(all.computed).toEqual({ total: 110 });
  // Hidden answers are kept aside, and come back with what they depend on.
  const { cells } = at({ 'f-river': 'Mereling', 'f-ph': '10', 'f-notes': 'x' });
  expect(cells).toEqual({ river: 'Mereling', price: 1 });
});

test('a heading’s condition holds for its section, a page’s for the page', () => {
  const { shown } = filled(
    form(
      { is: 'heading', id: 'h', text: 'Chemistry', shownWhen: "'rinsed'" },
      field('ph'),
      { is: 'heading', id: 'i', text: 'Else' },
      field('rinsed'),
      { is: 'page', id: 'p', title: 'Money', shownWhen: 'FALSE()' },
      { is: 'heading', id: 'j', text: 'Price' },
      field('price'),
    ),
    {},
  );
  expect([...shown]).toEqual(['i', 'f-rinsed']);
});

test('boxes with a column each: one tick makes the others no, and none leaves all blank', () => {
  const boxes: Block = {
    is: 'group',
    as: 'boxes',
    id: 'g',
    label: 'Smell',
    required: true,
    members: [
      { id: 'ga', columnId: 'a', label: 'Earthy' },
      { id: 'gb', columnId: 'b', label: 'Sewage' },
    ],
  };
  expect(filled(form(boxes), { gb: 'yes' })).toMatchObject({
    cells: { a: false, b: true },
    verdicts: [],
  });
  expect(codes(filled(form(boxes), {}))).toEqual({ a: 'required' });
  expect(filled(form({ ...boxes, as: 'statements' }), { ga: 'yes' }).verdicts).toHaveLength(1);
});

test.each<[what: string, FieldSettings, text: string, said: string, note: string]>([
  [
    'a rule of the field',
    { rules: [{ must: { is: 'between', to: 9 } }] },
    '9.5',
    '‘9.5’ must be at most 9.',
    '',
  ],
  [
    'one that only notes',
    { rules: [{ must: { is: 'whole' }, strictness: 'note', message: '{value}, to the tenth' }] },
    '7.5',
    '',
    '7.5, to the tenth',
  ],
  [
    'missing, in its own words',
    { required: true, says: 'Read the meter.' },
    '',
    'Read the meter.',
    '',
  ],
  ['unread, in its own words', { says: 'Read the meter.' }, 'high', 'Read the meter.', ''],
  [
    'out of limits, in Varn’s',
    { says: 'Read the meter.', limits: { to: 14 } },
    '15',
    '‘15’ must be at most 14.',
    '',
  ],
])('%s', (_what, settings, text, said, note) => {
  const { verdicts, notes } = filled(form(field('ph', settings), field('notes')), {
    'f-ph': text,
    'f-notes': 'x',
  });
  expect(verdicts.map(({ problem }) => sayProblem(problem)).join()).toBe(said);
  expect([...notes.values()].map(sayProblem).join()).toBe(note);
});

// The worked examples of ISO/IEC 7812 (Luhn) and of GS1 for a GTIN-13, and each with a figure wrong.
test.each<[what: string, formula: string, right: string, wrong: string]>([
  [
    'Luhn',
    "MOD(SUM(MOD(VALUE(MID('code';LEN('code')+1-SEQUENCE(LEN('code'));1))*(2-MOD(SEQUENCE(LEN('code'));2));10)+INT(VALUE(MID('code';LEN('code')+1-SEQUENCE(LEN('code'));1))*(2-MOD(SEQUENCE(LEN('code'));2))/10));10)=0",
    '79927398713',
    '79927398710',
  ],
  [
    'GS1',
    "MOD(SUM(VALUE(MID('code';SEQUENCE(13);1))*(3-2*MOD(SEQUENCE(13);2)));10)=0",
    '6291041500213',
    '6291041500231',
  ],
])('a check digit by %s as a rule of a computed column', (_what, formula, right, wrong) => {
  const rules = [{ must: { is: 'oneOf' as const, values: ['yes'] }, message: 'Check the digits.' }];
  const coded: Column<string>[] = [
    column('code', 'text'),
    column('holds', 'computed', { shownAs: 'yesNo', rules }),
  ];
  const prepared = prepareForm<string>(
    form(field('code')),
    new Map(coded.map((each) => [each.id, each])),
  );
  const evaluator = new TextEvaluator(
    new TextFormulas({ columns: carrying(coded, { holds: formula }), moment }),
  );
  const told = (code: string): string[] =>
    fill(prepared, { answers: { 'f-code': code } }, context, evaluator).verdicts.map(
      ({ fieldId, problem }) => `${fieldId}: ${sayProblem(problem)}`,
    );
  expect([told(right), told(wrong)]).toEqual([[], ['f-code: Check the digits.']]);
});

test('of repeated fields that are all different, the second of two alike is refused', () => {
  const members = ['notes', 'river', 'number'].map((columnId, n) => ({ id: `m${n}`, columnId }));
  const catches: Block = { is: 'group', as: 'repeated', id: 'g', label: 'Catch', members };
  const answers = { m0: 'Ash Beck', m1: 'ash beck' };
  expect(filled(form(catches), answers).verdicts).toEqual([]);
  const { verdicts } = filled(form({ ...catches, different: true }), answers);
  expect(verdicts.map(({ fieldId, problem }) => `${fieldId}: ${sayProblem(problem)}`)).toEqual([
    'm1: ‘Ash Beck’ is already in notes. Give another.',
  ]);
});

test('rules of a field and its column that leave nothing to pass keep the form from use', () => {
  const ruled = column('ph', 'number', { rules: [{ must: { is: 'between', from: 10 } }] });
  const ground = { name: 'A', columns: [ruled], planned: [], writtenElsewhere: new Set<string>() };
  const checked = (settings: FieldSettings) =>
    checkForm(form(field('ph', settings)), {
      ...ground,
      locale,
      names: new Set(),
      sheets: new Set(),
    }).map(({ code }) => code);
  expect(checked({ rules: [{ must: { is: 'between', to: 9 } }] })).toEqual(['nothingPasses']);
  expect(checked({ limits: { to: 12 }, rules: [{ must: { is: 'whole' } }] })).toEqual([]);
});

test('a form with nothing typed is held back, even when nothing is required', () => {
  const { verdicts } = filled(formOfSheet(columns), {});
  expect(verdicts).toEqual([
    { fieldId: 'date', columnId: 'date', problem: { code: 'nothingTyped' }, strictness: 'refuse' },
  ]);
});

test('a field holds on to its column by id: moved, renamed and added columns change nothing', () => {
  const entered = { answers: { 'f-date': '24/11/2026', 'f-river': 'Mereling', 'f-ph': '7' } };
  const moved = [column('new', 'text'), ...[...columns].reverse()].map((each) => ({
    ...each,
    heading: `${each.heading}!`,
  }));
  const there = prepareForm(sample, new Map(moved.map((each) => [each.id, each])));
  expect(fill(there, entered, context, null).cells).toEqual(filled(sample, entered.answers).cells);
  // A column that is gone takes its field off the page, and nothing else.
  const without = prepareForm(sample, new Map([...byId].filter(([id]) => id !== 'river')));
  expect(fill(without, entered, context, null)).toMatchObject({
    cells: { date: 46_350, ph: 7 },
    verdicts: [],
  });
});

test('Varn fills in what no one types; a trial takes no number', () => {
  const { judged } = filled(sample, { 'f-date': '24 nov' });
  const facts = { by: 'Ines', at: context.now, door: 'Grid' };
  const written = { ...judged.cells, at: context.now, by: 'Ines' };
  const numbered = judged.asNew(columns, { ...facts, nextNumber: () => 42 }, undefined);
  expect(numbered.cells).toEqual({ ...written, number: 'RW-042' });
  const trial = judged.asNew(columns, { ...facts, nextNumber: null }, undefined, true);
  expect(trial.cells).toEqual(asTrial(written));
});

test('the landing row tells each cell as it will be stored, and what is missing', () => {
  const filling = filled(sample, { 'f-date': '24 nov', 'f-ph': 'x' });
  const row = landingRow(columns, filling, { locale, nextNumbers: { number: 43 } });
  expect(row.slice(0, 4).map(({ state, text }) => [state, text])).toEqual([
    ['byVarn', 'will be RW-043'],
    ['value', '24/11/2026'],
    ['missing', ''],
    ['refused', ''],
  ]);
  expect(readiness(filling)).toEqual({ required: 3, missing: ['f-river'], refused: ['f-ph'] });
});

test('the landing row shows exactly what fill would store, whatever is typed', () => {
  const ids = sample.blocks.map(({ id }) => id).filter((id) => id !== 'f-number');
  fc.assert(
    fc.property(fc.dictionary(fc.constantFrom(...ids), fc.string()), (answers) => {
      const filling = fill(prepareForm(sample, byId), { answers }, context, null);
      const row = landingRow(columns, filling, { locale, nextNumbers: {} });
      const shown = row.filter(({ state }) => state === 'value').map(({ columnId }) => columnId);
      expect(new Set(shown)).toEqual(new Set(Object.keys(filling.cells)));
      for (const { problem } of filling.verdicts)
        expect(sayProblem(problem)).toMatch(/^.{10,200}$/su);
    }),
  );
});

test('what is said after a submit quotes the answers', () => {
  const prepared = prepareForm(
    { ...sample, after: { message: 'On {#date}, pH {#ph}. {#gone} {x}' } },
    byId,
  );
  const filling = { cells: { date: 46_350, ph: 7.1 }, computed: {} };
  expect(afterMessage(prepared, filling, locale)).toBe('On 24/11/2026, pH 7.1. {#gone} {x}');
});

test('rows end where the page does, keep their order, and hold four fields at most', () => {
  const blocks = fc.array(
    fc.record({
      beside: fc.boolean(),
      width: fc.option(fc.integer({ min: 1, max: 12 }), { nil: undefined }),
      span: fc.constantFrom(2, 3, 4, 6, 12),
    }),
    { minLength: 1, maxLength: 40 },
  );
  fc.assert(
    fc.property(blocks, (made) => {
      const fields = made.map(({ beside, width }, n) =>
        field('ph', { id: `${n}`, ...(beside && { beside }), ...(width && { width }) }),
      );
      const rows = rowsOf(fields, ({ id }) => made[Number(id)]?.span ?? 12);
      expect(rows.flat().map(({ block }) => block)).toEqual(fields);
      for (const row of rows) {
        expect(row.length).toBeLessThanOrEqual(4);
        const used = row.reduce((sum, { span }) => sum + span, 0);
        expect(used).toBeLessThanOrEqual(PAGE_PARTS);
        row.forEach(({ span }) => expect(span).toBeGreaterThanOrEqual(1));
      }
    }),
  );
});

test('pages part where their breaks stand', () => {
  const page = (id: string): Block => ({ is: 'page', id, title: id });
  const pages = pagesOf(form(field('ph'), page('two'), field('date'), page('three')));
  expect(pages.map(({ start, blocks }) => [start?.id, blocks.length])).toEqual([
    [undefined, 1],
    ['two', 1],
    ['three', 0],
  ]);
  expect(pagesOf(form(page('one'), field('ph')))).toHaveLength(1);
  expect(pagesOf(form())).toEqual([{ start: null, blocks: [] }]);
});

test('one click makes as many fields as there are columns, to 1,000, as many on a row as fit', () => {
  const many = Array.from({ length: 1000 }, (_, n) =>
    column(`c${n}`, KIND_IDS[n % KIND_IDS.length] ?? 'text'),
  );
  const { blocks } = formOfSheet(many);
  expect(blocks.map((block) => block.is === 'field' && block.columnId)).toEqual(
    many.map(({ id }) => id),
  );
  expect(blocks.filter((block) => block.is === 'field' && block.beside).length).toBeGreaterThan(
    400,
  );
});

test('each kind has a usual control, and each control fits the kinds it says', () => {
  for (const kind of KIND_IDS) expect(controlsOf({ kind })).not.toEqual([]);
  for (const id of CONTROL_IDS) {
    for (const kind of CONTROLS[id].kinds) expect(controlsOf({ kind })).toContain(CONTROLS[id]);
  }
});

const ground = {
  name: 'Log',
  columns: carrying(columns),
  planned: [],
  writtenElsewhere: new Set(columns.map(({ id }) => id)),
  names: new Set(['Limits']),
  sheets: new Set(['Samples']),
  locale,
};

test.each<[code: string, blocks: Block[]]>([
  ['nothingToFill', [field('number')]],
  ['columnGone', [field('ph'), field('gone')]],
  ['columnTwice', [field('ph'), field('ph', { id: 'again' })]],
  ['nothingPasses', [field('ph', { limits: { from: 5, to: 1 } })]],
  ['nothingPasses', [field('ph', { control: 'steps', details: { from: 3, to: 2 } })]],
  ['openScale', [field('ph', { control: 'scale' })]],
  ['openScale', [field('ph', { control: 'scale', details: { from: 0 } })]],
  ['choiceHoldsSeparator', [field('smell')]],
  ['formulaUnread', [field('ph', { shownWhen: "'Nowhere' = 1" })]],
  ['formulaUnread', [field('ph', { requiredWhen: 'SUM(' })]],
  ['formulaUnread', [field('ph', { shownWhen: 'Alpha' })]],
  ['formulaUnread', [field('ph', { shownWhen: "1 + IF(TRUE; Gone!A1; 2) > 'ph'" })]],
  ['dependsOnItself', [field('ph', { shownWhen: "'ph' = 1" })]],
  [
    'dependsOnItself',
    [field('ph', { shownWhen: "'price' = 1" }), field('price', { shownWhen: "'ph' = 1" })],
  ],
  ['dependsOnItself', [{ is: 'heading', id: 'h', text: 'H', shownWhen: "'ph' = 1" }, field('ph')]],
  ['pictureWithoutWords', [field('ph'), { is: 'picture', id: 'p', fileId: 'x', alt: '' }]],
])('a check finds %s', (code, blocks) => {
  const checks = checkForm({ blocks }, ground);
  expect(checks.map((check) => check.code)).toContain(code);
  for (const check of checks) expect(sayFormCheck(check, (id) => id)).toMatch(/^.{10,}[.]$/su);
});

test('a form that is right passes; what is odd around it is told', () => {
  expect(checkForm(sample, ground)).toEqual([]);
  const knowing = "COUNTIF(Samples!'pH'; limits) > 0";
  expect(checkForm({ blocks: [field('ph', { shownWhen: knowing })] }, ground)).toEqual([]);
  const brought = checkForm(sample, {
    ...ground,
    planned: carrying([column('ph', 'computed')], { ph: 'Alpha * 2' }),
  });
  expect(brought.map(({ code }) => code)).toEqual(['computedUnread']);
  const others = [
    column('', 'text'),
    column('twin', 'text'),
    { ...column('twin', 'text'), id: 'twin2' },
    column('key', 'text', { key: true }),
    column('alone', 'text'),
    column('list', 'oneChoice'),
  ];
  const blocks = [field('ph'), field('list')];
  const checks = checkForm(
    { blocks },
    { ...ground, name: ' ', columns: carrying([...columns, ...others]) },
  );
  expect(checks.map(({ code }) => code).sort()).toEqual([
    'emptyList',
    'headingMissing',
    'headingTwice',
    'keyNotOnForm',
    'notWritten',
    'notWritten',
    'unnamed',
  ]);
  const weights = checks.map(({ strictness }) => ['refuse', 'ask', 'note'].indexOf(strictness));
  expect(weights).toEqual([...weights].sort());
});

test('a list that can’t be read and a secret word that is not set keep a form from use', () => {
  const secret = { must: { is: 'secretWord', name: 'Keepers' } } as const;
  const blocks = [field('ph'), field('notes', { rules: [secret] })];
  const checks = (more: object) =>
    checkForm({ blocks }, { ...ground, columns: carrying(columns), ...more })
      .filter(({ strictness }) => strictness === 'refuse')
      .map((each) => sayFormCheck(each, (id) => id));
  expect(checks({})).toEqual([]);
  expect(checks({ keptWords: new Set(['Keepers']), unreadLists: new Map() })).toEqual([]);
  expect(
    checks({ keptWords: new Set(), unreadLists: new Map([['ph', 'There is no X.']]) }),
  ).toEqual([
    'The list that feeds ‘f-ph’ can’t be read. There is no X.',
    '‘f-notes’ asks for the secret word ‘Keepers’, which is not set. Set it in the rule.',
  ]);
});

test('formulas are written anew one by one, and all else stays', () => {
  const definition = form(
    field('ph', {
      shownWhen: 'a',
      requiredWhen: 'b',
      start: { kind: 'formula', formula: 'c', kept: true },
    }),
    { is: 'message', id: 'm', tone: 'note', formula: 'd', shownWhen: 'e' },
    { is: 'divider', id: 'x' },
  );
  const there = mapFormulas(definition, (text) => ({ text }));
  expect(mapFormulas(there, ({ text }) => text)).toEqual(definition);
});

test('a date that is refused names the day and the month', () => {
  const problem = { code: 'noSuchDay', day: 31, month: 2, year: 2026, days: 28 } as const;
  expect(sayProblem(problem)).toBe(
    'There is no 31 February 2026: the month has 28 days. Check the day.',
  );
});

test.each<[pasted: string, choices: string[]]>([
  ['Low, Normal,High', ['Low', 'Normal', 'High']],
  ['Low; Normal, dry; Low', ['Low', 'Normal, dry']],
  ['Low\nNormal, dry\n\nLow\n', ['Low', 'Normal, dry']],
  ['Low\tNormal\r\nHigh', ['Low', 'Normal', 'High']],
  ['  ', []],
])('%j, pasted, are the choices %j', (pasted, choices) => {
  expect(choicesIn(pasted)).toEqual(choices);
});

// ISO 3166-1 (from memory): 249 countries have a code of two letters.
test('ready-made lists are in the workbook’s language', () => {
  expect(readyMade('weekdays', 'en-GB').join()).toBe(
    'Monday,Tuesday,Wednesday,Thursday,Friday,Saturday,Sunday',
  );
  expect(readyMade('months', 'nb')[2]).toBe('mars');
  expect(readyMade('countries', 'en', ['SE', 'NO', 'AX'])).toEqual([
    'Åland Islands',
    'Norway',
    'Sweden',
  ]);
  expect(READY_MADE.every(([set]) => readyMade(set, 'en', ['SE']).length > 0)).toBe(true);
});

test('what holds the same as before is the same as before, and nothing else is', () => {
  const plain = fc.jsonValue({ maxDepth: 3 });
  fc.assert(
    fc.property(plain, plain, (one, other) => {
      expect(isSame(one, one)).toBe(true);
      const canonical = (value: unknown): string =>
        JSON.stringify(value, (_name, each: unknown) =>
          typeof each === 'object' && each !== null && !Array.isArray(each)
            ? Object.fromEntries(Object.entries(each).sort(([a], [b]) => (a < b ? -1 : 1)))
            : Object.is(each, -0)
              ? '-0'
              : each,
        );
      expect(isSame(one, other)).toBe(canonical(one) === canonical(other));
    }),
  );
  const before = [
    { id: 'a', of: [1] },
    { id: 'b', of: [2] },
  ];
  const now = sharing(before, [
    { id: 'b', of: [2] },
    { id: 'a', of: [3] },
    { id: 'c', of: [] },
  ]);
  expect([now[0] === before[1], now[1] === before[0], now.length]).toEqual([true, false, 3]);
});

/** A form as fields of columns, and what is told of it before it is put to use. */
test.each<
  [
    says: string,
    columns: Column<string>[],
    blocks: Partial<FieldBlock>[],
    formulas: Record<string, string>,
    told: string[],
  ]
>([
  [
    'a circle of one',
    [column('c', 'computed')],
    [{}],
    { c: "'c' + 1" },
    ['The column ‘c’ is computed from itself.'],
  ],
  [
    'a circle of two',
    [column('c', 'computed'), column('d', 'computed')],
    [{}, {}],
    { c: "'d'", d: "'c'" },
    [
      'The column ‘c’ is computed from itself: ‘c’ reads ‘d’ reads ‘c’.',
      'The column ‘d’ is computed from itself: ‘d’ reads ‘c’ reads ‘d’.',
    ],
  ],
  [
    'a circle through what a field starts with',
    [column('a', 'number'), column('c', 'computed')],
    [{ start: { kind: 'formula', formula: "'c'" } }, {}],
    { c: "'a' * 2" },
    [
      'Whether ‘a’ is there, or what it starts with, depends on its own answer.',
      'The column ‘c’ is computed from itself.',
    ],
  ],
  ['no circle', [column('a', 'number'), column('c', 'computed')], [{}, {}], { c: "'a'" }, []],
  [
    'a unit of no number',
    [column('a', 'email', { unit: 'kg' })],
    [{}],
    {},
    ['The column ‘a’ has a unit, which email does not use.'],
  ],
  ['a unit of a number', [column('a', 'number', { unit: 'kg', decimals: 1 })], [{}], {}, []],
  [
    'today in a number',
    [column('a', 'number')],
    [{ start: { kind: 'today' } }],
    {},
    ['‘a’ can’t start with today: its column holds number.'],
  ],
  [
    'now in a date',
    [column('a', 'date')],
    [{ start: { kind: 'now' } }],
    {},
    ['‘a’ can’t start with now: its column holds date.'],
  ],
  [
    'the next date',
    [column('a', 'date')],
    [{ start: { kind: 'next' } }],
    {},
    ['‘a’ can’t start with the next number: its column holds date.'],
  ],
  ['today in a moment', [column('a', 'moment')], [{ start: { kind: 'today' } }], {}, []],
  [
    'a word in a number',
    [column('a', 'number')],
    [{ start: { kind: 'text', text: 'abc' } }],
    {},
    ['‘a’ can’t start with what is given. ‘abc’ is not a number. Use digits only.'],
  ],
  [
    'beyond the limits',
    [column('a', 'number')],
    [{ limits: { to: 5 }, start: { kind: 'text', text: '9' } }],
    {},
    ['‘a’ can’t start with what is given. ‘9’ must be at most 5.'],
  ],
  [
    'only suggested',
    [column('a', 'date')],
    [{ start: { kind: 'today', suggestion: true } }],
    {},
    ['What ‘a’ starts with is only suggested: left as it is, it stays blank.'],
  ],
])('checks before use tell of %s', (_says, columns, blocks, formulas, told) => {
  const fields = columns.map(({ id }, n) => field(id, blocks[n]));
  const checks = checkForm(form(field('extra'), ...fields), {
    name: 'F',
    columns: carrying([column('extra', 'text'), ...columns], formulas),
    planned: carrying(columns, formulas),
    writtenElsewhere: new Set(),
    names: new Set(),
    sheets: new Set(),
    locale,
  });
  const call = (id: string): string => id.replace('f-', '');
  expect(checks.map((check) => sayFormCheck(check, call))).toEqual(told);
});

test('two layouts of a form are compared block by block, and those that moved are few', () => {
  const [a, b, c, d] = ['a', 'b', 'c', 'd'].map((id) => field('ph', { id, label: id })) as [
    FieldBlock,
    FieldBlock,
    FieldBlock,
    FieldBlock,
  ];
  const told = (mine: FormDefinition, theirs: FormDefinition): string[] => {
    const { blocks, parts } = compareForms(mine, theirs);
    return [
      ...blocks.map((each) =>
        sayBlockDifference(each, 'label' in each.block ? (each.block.label ?? '') : ''),
      ),
      ...parts.map(sayFormDifference),
    ];
  };
  expect(told(form(a, b, c, d), form(a, b, c, d))).toEqual([]);
  expect(told(form(a, b, c), form(c, a, b))).toEqual(['‘c’ stands in another place.']);
  expect(
    told(
      { ...form(a, { ...b, required: true, hint: 'x' }), look: { density: 'dense' } },
      form(a, b, d),
    ),
  ).toEqual([
    '‘b’ differs: whether it is required, hint.',
    '‘d’ is only in theirs.',
    'Its look differs.',
  ]);
  const layouts = fc.shuffledSubarray([a, b, c, d]);
  fc.assert(
    fc.property(layouts, layouts, (mine, theirs) => {
      const { blocks } = compareForms(form(...mine), form(...theirs));
      const of = (is: string): string[] =>
        blocks.filter((each) => each.is === is).map(({ block }) => block.id);
      const ids = (all: Block[]): string[] => all.map(({ id }) => id);
      expect(of('onlyMine')).toEqual(ids(mine.filter((each) => !theirs.includes(each))));
      expect(of('onlyTheirs')).toEqual(ids(theirs.filter((each) => !mine.includes(each))));
      // Without those that moved, what is left stands in one order.
      const still = (all: Block[]): string[] =>
        ids(all).filter(
          (id) =>
            !of('moved').includes(id) &&
            !of('onlyMine').includes(id) &&
            !of('onlyTheirs').includes(id),
        );
      expect(still(mine)).toEqual(still(theirs));
    }),
  );
});

test('fields added one after the other stand as in a form made of the sheet', () => {
  const kind = fc.constantFrom(...KIND_IDS);
  const heading = fc.string({ minLength: 1, maxLength: 30 });
  fc.assert(
    fc.property(fc.array(fc.record({ kind, heading }), { maxLength: 12 }), (made) => {
      const columns: Column[] = made.map((each, n) => ({ ...each, id: `${n}`, settings: {} }));
      const byId = new Map(columns.map((column) => [column.id, column]));
      const added = columns.reduce<Block<never>[]>(
        (held, { id }) => [
          ...held,
          ...flowBehind<never>(held, [{ is: 'field', id, columnId: id }], byId),
        ],
        [],
      );
      expect(added).toEqual(formOfSheet(columns).blocks);
    }),
  );
});

test('the formulas of a form together take no more at a key than one of them may', () => {
  const sums = Array.from({ length: 12 }, (_, n): Column<string> => {
    const id = `sum ${n}`;
    return { id, heading: id, kind: 'computed', settings: { formula: '=ROWS(SEQUENCE(200000))' } };
  });
  const all = [column('notes', 'text'), ...sums];
  const prepared = prepareForm(form(field('notes')), new Map(all.map((each) => [each.id, each])));
  const evaluator = new TextEvaluator(new TextFormulas({ columns: all, moment }));
  const before = stepsTaken();
  const entered = { answers: { 'f-notes': 'all of it' }, untouched: new Set<string>() };
  const { cells, computed } = fill(prepared, entered, context, evaluator);
  expect(stepsTaken() - before).toBeLessThanOrEqual(MOST_STEPS);
  // What a person typed is read all the same, and what came before is there.
  expect(cells).toEqual({ notes: 'all of it' });
  expect(computed).toMatchObject({
    'sum 0': 200_000,
    'sum 11': { error: '#NUM!', why: { code: 'tooLongTogether' } },
  });
});
