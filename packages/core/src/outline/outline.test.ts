import * as fc from 'fast-check';
import { proposedHeading } from '../forms';
import type { Column, KindId } from '../kinds';
import { sayOutlineProblem } from '../words';
import { readOutline, writeOutline, type OutlinedForm, type OutlineReading } from '.';
import { anyForm } from './testing/anyForm';

const read = (text: string, columns: readonly Column<string>[] = []): OutlineReading => {
  let n = 0;
  return readOutline(text, { columns, newId: () => `n${(n += 1)}` });
};
const outlined = (reading: OutlineReading): OutlinedForm => ({
  ...reading,
  name: reading.name ?? '',
});

/** The same with ids told by the order in which they are met. */
function withoutIds(form: OutlinedForm): unknown {
  const ids = new Map<string, string>();
  const known = [
    ...form.definition.blocks.flatMap((block) => [
      block.id,
      ...(block.is === 'field' ? [block.columnId] : []),
      ...(block.is === 'group' ? block.members.flatMap((each) => [each.id, each.columnId]) : []),
    ]),
  ];
  for (const id of known) if (!ids.has(id)) ids.set(id, `#${ids.size}`);
  const rename = (value: unknown): unknown => {
    if (typeof value === 'string') return ids.get(value) ?? value;
    if (Array.isArray(value)) return value.map(rename);
    if (typeof value !== 'object' || value === null) return value;
    return Object.fromEntries(
      Object.entries(value).map(([name, each]) => [ids.get(name) ?? name, rename(each)]),
    );
  };
  const { name, definition, columns } = form;
  return rename({ name, definition, columns });
}

test('read, written and read again, a form is the same, whatever it holds', () => {
  fc.assert(
    fc.property(anyForm, (form) => {
      const text = writeOutline(form);
      const reading = read(text);
      expect(reading.problems).toEqual([]);
      expect(withoutIds(outlined(reading))).toEqual(withoutIds(form));
      expect(writeOutline(outlined(reading))).toBe(text);
    }),
    { numRuns: 400 },
  );
});

test('a label that begins with a sign of the outline is kept, whatever the sign', () => {
  const signs = fc.constantFrom('=', '-', '#', '>', '/', '*', '"', "'", ' ', ':', 'form', 'x');
  const labels = fc.array(signs, { minLength: 1, maxLength: 6 }).map((all) => all.join('').trim());
  fc.assert(
    fc.property(
      labels.filter((each) => each !== ''),
      (label) => {
        const columns = [{ id: 'c', heading: label, kind: 'text', settings: {} } as const];
        const definition = { blocks: [{ is: 'field', id: 'b', columnId: 'c' } as const] };
        const reading = read(writeOutline({ name: '', definition, columns: [...columns] }));
        expect(reading.problems).toEqual([]);
        expect(reading.columns.map(({ heading }) => heading)).toEqual([label]);
      },
    ),
    { numRuns: 500 },
  );
});

test.each<[line: string, says: string]>([
  ['Name: text required', 'Put a comma before ‘required’.'],
  ['Name: text must be written like "99"', 'Put a comma before ‘must be written like "99"’.'],
  ['Depth: number, min 0', '‘min 0’ means nothing here. Did you mean ‘0..’?'],
  ['Depth: number max 3', '‘max 3’ means nothing here. Did you mean ‘..3’?'],
  [
    'Name: text, from 3 to 20 characters',
    '‘from 3 to 20 characters’ means nothing here. Did you mean ‘3..20’?',
  ],
  ['At: datetime', '‘datetime’ is not a kind of field. Did you mean ‘moment’?'],
  ['Price: currency', '‘currency’ is not a kind of field. Did you mean ‘money’?'],
  ['Dose: number, per day', '‘per day’ means nothing here. Did you mean ‘unit "per day"’?'],
  ['Care: 5 stars', '‘5 stars’ is not a kind of field. Did you mean ‘steps 1..5’?'],
])('what is said as elsewhere is answered with how it is said here: %s', (line, says) => {
  expect(read(line).problems.map(sayOutlineProblem)).toEqual([says]);
  const meant = /mean ‘(.*)’\?$/.exec(says)?.[1];
  const said = /^‘(.*?)’/.exec(says)?.[1];
  const mended = meant === undefined || said === undefined ? '' : line.replace(said, meant);
  expect(read(mended).problems).toEqual([]);
});

test('no text is too odd to be read, and each problem says where it is and what to do', () => {
  const odd = fc.oneof(
    fc.string({ unit: 'grapheme' }),
    fc.stringMatching(/^[a-z"'(),:=. \n]{0,40}$/),
  );
  fc.assert(
    fc.property(fc.array(odd), (lines) => {
      const { problems, definition } = read(lines.join('\n'));
      const count = lines.join('\n').split(/\r\n|\r|\n/).length;
      for (const problem of problems) {
        expect(problem.line).toBeGreaterThanOrEqual(1);
        expect(problem.line).toBeLessThanOrEqual(count);
        expect(problem.column).toBeGreaterThanOrEqual(1);
        expect(sayOutlineProblem(problem)).toMatch(/^.{10,}[.)?]$/su);
      }
      expect(new Set(definition.blocks.map(({ id }) => id)).size).toBe(definition.blocks.length);
    }),
  );
});

test.each<[line: string, settings: object]>([
  [
    "one of Stations!'Code', shown with 'Name', narrowed by 'River'",
    { source: "Stations!'Code'", second: "'Name'", narrowed: [{ by: "'River'", columnId: 'r' }] },
  ],
  [
    `one of Stations!'Code', narrowed by 'Water' as "River"`,
    { source: "Stations!'Code'", narrowed: [{ by: "'Water'", columnId: 'r' }] },
  ],
  [
    'several of Choices!B4.., sorted, others are noted',
    { source: 'Choices!B4..', order: 'rising', strictness: 'note' },
  ],
  [
    "one of Stations!'Code', where 'In use', fills River",
    { source: "Stations!'Code'", where: "'In use'", fills: [{ from: "'River'", columnId: 'r' }] },
  ],
  ['one of =prices', { source: 'prices' }],
  ['radio of SEQUENCE(31), first ("7")', { source: 'SEQUENCE(31)', first: ['7'] }],
])('a list is read of %s', (line, settings) => {
  const river: Column<string> = { id: 'r', heading: 'River', kind: 'text', settings: {} };
  const { columns, problems } = read(`Station: ${line}`, [river]);
  expect([problems, columns[0]?.settings.list]).toEqual([[], settings]);
});

test.each<[line: string, rules: object[] | string]>([
  [
    'number 0..14, ask above 9 "Rinse the meter, and read again."',
    [
      {
        must: { is: 'between', to: 9 },
        strictness: 'ask',
        message: 'Rinse the meter, and read again.',
      },
    ],
  ],
  [
    'number, must be at most Later and be a whole number, note below 3 when Later is blank',
    [
      { must: { is: 'all', of: [{ is: 'compared', by: '<=', columnId: 'n3' }, { is: 'whole' }] } },
      {
        must: { is: 'between', from: 3 },
        when: { columnId: 'n3', holds: 'blank' },
        strictness: 'note',
      },
    ],
  ],
  ['date, should not be after today', [{ must: { is: 'future', not: true }, strictness: 'ask' }]],
  [
    'text, must be written like "\'RW-\'9", must be unique',
    [{ must: { is: 'picture', picture: "'RW-'9" } }, { must: { is: 'unique' } }],
  ],
  [
    'number, must be at most Nowhere',
    '1:28 The rule can’t be read from ‘Nowhere’ on. Write it like: must be from 0 to 14.',
  ],
])('rules are read of ‘%s’, and written so', (line, expected) => {
  const reading = read(`A: ${line}\nLater: number`);
  const { columns, problems } = reading;
  if (typeof expected === 'string') {
    expect(
      problems.map((each) => `${each.line}:${each.column} ${sayOutlineProblem(each)}`),
    ).toEqual([expected]);
    return;
  }
  expect([problems, columns[0]?.settings.rules]).toEqual([[], expected]);
  expect(writeOutline(outlined(reading))).toContain(`A: ${line}\n`);
});

test('choices stay choices, whatever signs they hold; a list on a later line finds its column', () => {
  const [plain] = read('A: one of (Great!, Bad!, x..y)').columns;
  expect(plain?.settings.choices).toEqual(['Great!', 'Bad!', 'x..y']);
  const { columns } = read("A: one of S!'B', narrowed by 'Later'\nLater: text");
  expect(columns[0]?.settings.list?.narrowed?.[0]?.columnId).toBe(columns[1]?.id);
  const { problems } = read("A: text, narrowed by 'B'");
  expect(problems.map(({ code }) => code)).toEqual(['standsAlone']);
});

/** A line, and what of its first field is to be found in it. */
test.each<[line: string, expected: object]>([
  [
    'Water temp: number 0..40, required',
    { kind: 'number', limits: { from: 0, to: 40 }, required: true },
  ],
  ['Water temp: number from 0 to 40, in °C', { limits: { from: 0, to: 40 }, unit: '°C' }],
  ['Depth: number, at least 0.5', { limits: { from: 0.5 } }],
  [
    'Day: date 2026-01-01..2026-12-31, starts today',
    { limits: { from: 46_023, to: 46_387 }, start: { kind: 'today' } },
  ],
  [
    'River: one of Ash Beck, Corrow Water, required',
    { choices: ['Ash Beck', 'Corrow Water'], required: true },
  ],
  [
    'River: radio of (Ash Beck | Corrow, lower)',
    { control: 'radio', choices: ['Ash Beck', 'Corrow, lower'] },
  ],
  ['Smell: several of (None, Earthy), parted by "|"', { kind: 'severalChoices', separator: '|' }],
  ["Why: one of (Don't know, Other), own answer", { choices: ["Don't know", 'Other'], own: '' }],
  ['How bad: rating 1..5', { control: 'steps', kind: 'wholeNumber', details: { from: 1, to: 5 } }],
  ['Deposit: money EUR 0..500', { kind: 'money', currency: 'EUR', limits: { from: 0, to: 500 } }],
  [
    'Code: text 3..8, starts with "WQ-"',
    { limits: { from: 3, to: 8 }, start: { kind: 'beginning', text: 'WQ-' } },
  ],
  ['Notes', { kind: 'text' }],
  ['Note: lines, hint "One, two"', { kind: 'text', control: 'lines', hint: 'One, two' }],
  ['"note": yes/no', { kind: 'yesNo', heading: 'note' }],
  [
    'Phone: phone GB, required when \'Call me\' = "yes, please"',
    { requiredWhen: `'Call me' = "yes, please"` },
  ],
  [
    'Total: computed = \'Price\' * 2, column "Sum"',
    { kind: 'computed', formula: "'Price' * 2", heading: 'Sum', label: 'Total' },
  ],
  [
    "Mine: text, starts = 'Code', as a suggestion, kept",
    { start: { kind: 'formula', formula: "'Code'", suggestion: true, kept: true } },
  ],
  ['No.: text, starts next', { start: { kind: 'next' } }],
  ['No.: text, starts next "K-000"', { start: { kind: 'next', pattern: 'K-000' } }],
  ['Day: date, starts today, counts', { start: { kind: 'today' } }],
])('%s', (line, expected) => {
  const { definition, columns, problems } = read(line);
  const [block] = definition.blocks;
  const [column] = columns;
  expect(problems).toEqual([]);
  expect({
    ...column,
    ...column?.settings,
    ...block,
  }).toMatchObject(expected);
});

test.each<[text: string, says: string, line: number, column: number]>([
  ['pH: numbr', 'Did you mean ‘number’?', 1, 5],
  ['// x\npH: number, requird', 'Did you mean ‘required’?', 2, 13],
  ['pH: number\npH: text', 'is on line 1 already', 2, 1],
  ['Smell: number, parted by "|"', 'does not go with number', 1, 26],
  ['How: statements of (a, b)', 'lists nothing', 1, 1],
  ['  pH: number 1..x', 'not a number', 1, 14],
  [': text', 'label is missing', 1, 1],
  ['pH: text, shown when', 'formula is missing', 1, 21],
  ['Station: number', 'holds one choice in the sheet, not number', 1, 10],
  ['pH: numbr 0..14', 'Did you mean ‘number’?', 1, 5],
  ["pH: text, requird when 'Dry'", 'Did you mean ‘required', 1, 11],
  ['pH: xyzzy 0..14', 'is not a kind of field. Write text', 1, 5],
  ['Catch: number, repeated 101 times', 'can’t be repeated 101 times; 1 to 100', 1, 8],
  ['Catch: 2.5 times number', 'is not a kind of field', 1, 8],
  ['Catch: 0 times number', 'lists nothing', 1, 1],
  ['pH: number, decimals 99', 'a whole number from 0 to 15', 1, 13],
  ['pH: money XXQ', 'three letters of ISO 4217', 1, 11],
  ['pH: number, width 0', 'a number from 1 to 12', 1, 13],
  ['pH: lines, high 900 lines', 'a number from 1 to 50', 1, 12],
  ['pH: phone, column ""', 'a heading of 1 to 200', 1, 19],
  ['look: dens', 'Did you mean ‘dense’?', 1, 7],
  ['pH: text, as a suggestion', 'nothing is there', 1, 26],
])('%j: %s', (text, says, line, column) => {
  const station: Column<string> = { id: 's', heading: 'Station', kind: 'oneChoice', settings: {} };
  const [problem] = read(text, [station]).problems;
  expect(problem && sayOutlineProblem(problem)).toContain(says);
  expect(problem).toMatchObject({ line, column });
});

test.each([
  '3 times whole number 0..9',
  'whole number 0..9, repeated 3 times',
  '3 × whole number 0..9',
])('Catch: %s', (said) => {
  const { definition, columns, problems } = read(`Catch: ${said}`);
  expect(problems).toEqual([]);
  expect(definition.blocks).toMatchObject([{ as: 'repeated', limits: { from: 0, to: 9 } }]);
  expect(columns.map(({ heading }) => heading)).toEqual(['Catch 1', 'Catch 2', 'Catch 3']);
});

test.each<[labels: string[], headings: string[]]>([
  [
    ['Water temp', 'Does it smell?'],
    ['Water temp', 'Does it smell?'],
  ],
  [['Please say what you smelt at the water this morning'], ['Please say what you smelt at the']],
  [['How many fish, roughly, as far as one could see?'], ['How many fish']],
  [['Name of the station (as it is on the map we sent)'], ['Name of the station']],
  [['Would you do it again? If not, please say why'], ['Would you do it again']],
  [
    ['How far do you agree with the first one here', 'How far do you agree with the second one'],
    ['How far do you agree with the', 'How far do you agree with the 2'],
  ],
  [['Donaudampfschifffahrtsgesellschaftskapitän'], ['Donaudampfschifffahrtsgesellscha']],
  [['🧪'.repeat(40)], ['🧪'.repeat(32)]],
])('for %j it proposes %j', (labels, headings) => {
  const { columns, definition, problems } = read(
    labels.map((each) => `"${each}": lines`).join('\n'),
  );
  expect(problems).toEqual([]);
  expect(columns.map(({ heading }) => heading)).toEqual(headings);
  expect(
    definition.blocks.map((each, n) => (each.is === 'field' ? (each.label ?? headings[n]) : '')),
  ).toEqual(labels);
});

test('a proposed heading is a short name, whatever the label', () => {
  fc.assert(
    fc.property(fc.string({ unit: 'grapheme', minLength: 1 }), (label) => {
      const heading = proposedHeading(label);
      expect([...heading].length).toBeLessThanOrEqual(Math.min(32, [...label].length));
      expect(heading === label || [...label].length > 32).toBe(true);
      expect(heading).not.toBe('');
      expect(proposedHeading(heading)).toBe(heading);
    }),
  );
});

test('lines of groups, notes and settings', () => {
  const { definition, columns, name, problems } = read(`
    form: Season survey
    look: accent pine, roomy
    after: keep (Who), say "Thank you, {Who}"
    # About you
    Who: text
    note:
      Be **frank**.
      Nobody is named.
    ---
    Agreement: statements of (No, Neither, Yes), required
      The water looks clean
      I would swim here, column "Swim"
    Smell: several of (Earthy, Sewage), each a column
    Catch: number, repeated 3 times
    message good: "Thank you"
  `);
  expect(problems).toEqual([]);
  expect(name).toBe('Season survey');
  expect(definition.blocks.map(({ is }) => is)).toEqual([
    'heading',
    'field',
    'note',
    'divider',
    'group',
    'group',
    'group',
    'message',
  ]);
  expect(columns.map(({ heading, kind }) => [heading, kind])).toEqual<[string, KindId][]>([
    ['Who', 'text'],
    ['The water looks clean', 'oneChoice'],
    ['Swim', 'oneChoice'],
    ['Smell Earthy', 'yesNo'],
    ['Smell Sewage', 'yesNo'],
    ['Catch 1', 'number'],
    ['Catch 2', 'number'],
    ['Catch 3', 'number'],
  ]);
  const who = definition.blocks[1];
  expect(definition.after?.keep).toEqual([who?.id]);
  expect(definition.after?.message).toBe(`Thank you, {#${columns[0]?.id ?? ''}}`);
});

test('a line about a column of the sheet changes what it says of it, and nothing else', () => {
  const sheet: Column<string>[] = [
    { id: 'r', heading: 'River', kind: 'oneChoice', settings: { choices: ['Ash Beck'] } },
    { id: 't', heading: 'Water temp', kind: 'number', settings: { unit: '°C' } },
  ];
  const { definition, columns } = read(
    'water temp: number\nRiver: one of (Ash Beck, Mereling)',
    sheet,
  );
  expect(definition.blocks.map((each) => each.is === 'field' && each.columnId)).toEqual(['t', 'r']);
  expect(columns).toEqual([{ ...sheet[0], settings: { choices: ['Ash Beck', 'Mereling'] } }]);
});

test('what is the same keeps its id when the lines are read again', () => {
  const first = read('A: text\nheading: One\nB: number');
  const again = readOutline('heading: Two\nB: number, required\na\nC: text', {
    columns: [],
    planned: first.columns,
    previous: first.definition,
    newId: () => 'new',
  });
  const idOf = (reading: OutlineReading, at: number): string =>
    reading.definition.blocks[at]?.id ?? '';
  expect([idOf(again, 0), idOf(again, 1), idOf(again, 2)]).toEqual([
    idOf(first, 1),
    idOf(first, 2),
    idOf(first, 0),
  ]);
  expect(idOf(again, 3)).toBe('new');
});

test('an outline of 10,000 lines is read, and a longer one is told of', () => {
  const lines = Array.from({ length: 10_001 }, (_, n) => (n < 500 ? `F${n}: text` : ''));
  const { problems, definition } = read(lines.join('\n'));
  expect(definition.blocks).toHaveLength(500);
  expect(problems.map(({ code, line }) => [code, line])).toEqual([['tooManyLines', 10_001]]);
});

test.each<[what: string, line: (n: number) => string, blocks: number, columns: number]>([
  ['fields', (n) => `F${n}: text`, 1000, 1000],
  ['notes', (n) => `note: N${n}`, 1500, 0],
  ['repeated', (n) => `R${n}: number, repeated 100 times`, 10, 1000],
])(
  'of 10,000 %s a form takes what it has room for, and says once from where on',
  (_what, line, blocks, count) => {
    const { problems, definition, columns } = read(
      Array.from({ length: 10_000 }, (_, n) => line(n)).join('\n'),
    );
    expect([definition.blocks.length, columns.length]).toEqual([blocks, count]);
    expect(problems.map(({ code, line: at }) => [code, at])).toEqual([['noRoom', blocks + 1]]);
  },
);
