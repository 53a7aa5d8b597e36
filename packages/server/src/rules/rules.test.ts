import {
  paths,
  type BrokenView,
  type ProblemsView,
  type FormEntry,
  type FormView,
  type Refusal,
  type RowsView,
  type SuggestedRulesView,
  type SheetView,
  type Written,
} from '@varn/contract';
import type { Rule } from '@varn/core';
import { createHmac, randomBytes, randomUUID } from 'node:crypto';
import { SecretWords } from '../access/secretWords';
import { SecretWord } from '../store/entities';
import { Store } from '../store/store';
import { start, type Running } from '../testing/harness';

let running: Running;
let sheet: SheetView;
beforeAll(async () => {
  running = await start();
  const { owner, workbook } = running;
  const body = { writeId: randomUUID(), name: 'Loans', headings: ['Out', 'Back'] };
  sheet = (await owner.ask<SheetView>('POST', paths.sheets(workbook.id), body)).body;
  for (const n of [0, 1]) {
    const path = paths.column(sheet.id, sheet.columns[n]?.id ?? '');
    await owner.ask('PATCH', path, { kind: 'number', revision: sheet.revision });
    sheet = await owner.get<SheetView>(paths.sheet(sheet.id));
  }
  const [out, back] = sheet.columns.map(({ id }) => id) as [string, string];
  const rows = [
    [5, 7],
    [5, 4],
    [15, 20],
  ];
  const added = rows.map(([a, b]) => ({ answers: { [out]: `${a}`, [back]: `${b}` } }));
  const { revision } = sheet;
  await owner.ask('POST', paths.cells(sheet.id), { writeId: randomUUID(), revision, added });
});
afterAll(() => running.stop());

const columnAt = (n: number): string => sheet.columns[n]?.id ?? '';
const broken = async (n: number, rules: unknown[]) =>
  running.owner.ask<BrokenView>('POST', paths.brokenRules(sheet.id, columnAt(n)), { rules });

test('stored values that would break rules are counted, told with their rows, and left alone', async () => {
  const rules: Rule[] = [
    { must: { is: 'compared', by: '>=', columnId: columnAt(0) } },
    { must: { is: 'between', to: 10 }, strictness: 'ask' },
  ];
  const { body } = await broken(1, rules);
  expect(body).toMatchObject({ counts: [1, 1], records: 2 });
  expect(body.first.map(({ row, text, says }) => [row, text, says])).toEqual([
    [3, '4', ['‘4’ must be at least Out.']],
    [4, '20', ['‘20’ must be at most 10.']],
  ]);

  const { revision } = await running.owner.get<SheetView>(paths.sheet(sheet.id));
  const path = paths.column(sheet.id, columnAt(1));
  expect((await running.owner.ask('PATCH', path, { settings: { rules }, revision })).status).toBe(
    200,
  );
  // The record that breaks one can be changed elsewhere, and is judged where the rule reads.
  const { records } = await running.owner.get<RowsView>(paths.rows(sheet.id, 2, 1));
  const [record] = records;
  const edit = async (answers: Record<string, string>, at: number) => {
    const now = await running.owner.get<SheetView>(paths.sheet(sheet.id));
    const body = {
      writeId: randomUUID(),
      revision: now.revision,
      partly: true,
      records: [{ id: record?.id, revision: at, answers }],
    };
    return (await running.owner.ask<Written>('POST', paths.cells(sheet.id), body)).body;
  };
  const written = await edit({ [columnAt(0)]: '16' }, record?.revision ?? 0);
  expect(written.refused).toEqual([]);
  const refused = await edit({ [columnAt(0)]: '21' }, (record?.revision ?? 0) + 1);
  expect(refused.refused.map(({ message }) => message)).toEqual([
    'Back ‘20’ must be at least Out.',
  ]);
});

test('what is no rule is refused, and says so', async () => {
  const hanging = {
    must: { is: 'matches', pattern: `${'(a{500}'.repeat(3)}${'){500}'.repeat(3)}` },
  };
  for (const rules of [
    [{ must: { is: 'matches' } }],
    [{ must: { is: 'matches', pattern: '(' } }],
    [hanging],
    [{}],
    'none',
    [{ must: { is: 'length' } }],
  ]) {
    const { status, body } = await broken(1, rules as unknown[]);
    expect([status, JSON.stringify(body)]).toEqual([400, expect.stringContaining('rules')]);
  }
  expect((await broken(7, [])).status).toBe(404);
});

test('no value comes in twice where a rule says so, whatever stood there before', async () => {
  const { owner, workbook } = running;
  const made = { writeId: randomUUID(), name: 'Numbers', headings: ['Number', 'Season'] };
  let own = (await owner.ask<SheetView>('POST', paths.sheets(workbook.id), made)).body;
  const [number, season] = own.columns.map(({ id }) => id) as [string, string];
  const add = async (texts: [string, string][]): Promise<Written> => {
    const added = texts.map(([a, b]) => ({ answers: { [number]: a, [season]: b } }));
    const { revision } = await owner.get<SheetView>(paths.sheet(own.id));
    const body = { writeId: randomUUID(), revision, partly: true, added };
    return (await owner.ask<Written>('POST', paths.cells(own.id), body)).body;
  };
  await add(Array.from({ length: 30 }, (_, n) => [`RW-${n + 10}`, 'First']));
  const path = paths.suggestedRules(own.id, number);
  const { suggestions } = await owner.get<SuggestedRulesView>(path);
  expect(suggestions).toEqual([
    { rule: { must: { is: 'picture', picture: "'RW-'99" } }, values: 30, exceptions: 0 },
    { rule: { must: { is: 'unique' } }, values: 30, exceptions: 0 },
  ]);
  await add([['RW-10', 'First']]);
  own = await owner.get<SheetView>(paths.sheet(own.id));
  const rules: Rule[] = [{ must: { is: 'unique', with: [season] }, message: '{value} is there.' }];
  const body = { settings: { rules }, revision: own.revision };
  expect((await owner.ask('PATCH', paths.column(own.id, number), body)).status).toBe(200);
  const tried = await owner.ask<BrokenView>('POST', paths.brokenRules(own.id, number), { rules });
  expect(tried.body).toMatchObject({ counts: [2], records: 2 });
  expect(tried.body.first[0]?.says).toEqual(['RW-10 is there.']);
  const problems = await owner.get<ProblemsView>(paths.problems(own.workbookId));
  expect(problems.sheets.find(({ sheetId }) => sheetId === own.id)?.values).toBe(2);
  const { refused } = await add([
    ['rw-10', 'first'],
    ['RW-10', 'Second'],
    ['RW-77', 'First'],
    ['RW-77', 'First'],
  ]);
  expect(refused.map(({ at, message }) => [at, message])).toEqual([
    [0, 'rw-10, first is there.'],
    [3, 'RW-77, First is there.'],
  ]);
});

test('a computed column holds to rules: told where it comes of, in the grid and at the desk', async () => {
  const { owner, workbook } = running;
  const form = workbook.sheets
    .flatMap(({ forms }) => forms)
    .find(({ name }) => name === 'Lend kit') as FormEntry;
  const { sheet: loans } = await owner.get<FormView>(paths.form(form.id));
  const total = loans.columns.find(({ heading }) => heading === 'Total');
  const rules: Rule[] = [{ must: { is: 'between', to: 300 }, message: '{value} is too much.' }];
  const { formula: _formula, ...settings } = total?.settings ?? {};
  const now = await owner.get<SheetView>(paths.sheet(loans.id));
  const patch = { settings: { ...settings, rules }, revision: now.revision };
  expect((await owner.ask('PATCH', paths.column(loans.id, total?.id ?? ''), patch)).status).toBe(
    200,
  );

  const { revision } = await owner.get<SheetView>(paths.sheet(loans.id));
  const edit = async (more: object): Promise<Written> => {
    const body = { writeId: randomUUID(), revision, partly: true, ...more };
    return (await owner.ask<Written>('POST', paths.cells(loans.id), body)).body;
  };
  const cells = {
    'kit-loans.item': 'Waders',
    'kit-loans.deposit': '100',
    'kit-loans.quantity': '4',
  };
  const { refused } = await edit({ added: [{ answers: cells }] });
  expect(refused.map(({ column, message }) => [column, message])).toEqual([
    ['kit-loans.deposit', '£400.00 is too much.'],
  ]);
  const [record] = (await owner.get<RowsView>(paths.rows(loans.id, 0, 1))).records;
  const at = { id: record?.id, revision: record?.revision };
  const more = await edit({ records: [{ ...at, answers: { 'kit-loans.quantity': '4000' } }] });
  expect(more.refused.map(({ column }) => column)).toEqual(['kit-loans.quantity']);

  const { definition } = await owner.get<FormView>(paths.form(form.id));
  const inputs = new Map<string, string>();
  for (const block of definition.blocks) {
    if (block.is === 'field') inputs.set(block.columnId, block.id);
  }
  const answers = { 'kit-loans.borrower': 'Edo Garrick', 'kit-loans.out': '1/3/2026', ...cells };
  const body = {
    writeId: randomUUID(),
    answers: Object.fromEntries(
      Object.entries(answers).map(([id, text]) => [inputs.get(id) ?? '', text]),
    ),
  };
  const submitted = await owner.ask<Refusal>('POST', paths.submits(form.id), body);
  expect(submitted.body.verdicts?.map(({ fieldId, message }) => [fieldId, message])).toEqual([
    [inputs.get('kit-loans.deposit'), '£400.00 is too much.'],
  ]);
  const tried = await owner.ask<BrokenView>('POST', paths.brokenRules(loans.id, total?.id ?? ''), {
    rules: [{ must: { is: 'between', to: 100 } }],
  });
  expect(tried.body.records).toBeGreaterThan(10);
  expect(tried.body.first[0]?.says[0]).toMatch(/^‘£[\d.]+’ must be at most 100\.$/);
});

test('what is only noted is written, and told', async () => {
  const { owner } = running;
  const now = await owner.get<SheetView>(paths.sheet(sheet.id));
  const rules: Rule[] = [{ must: { is: 'between', to: 10 }, strictness: 'note' }];
  const body = { settings: { rules }, revision: now.revision };
  expect((await owner.ask('PATCH', paths.column(sheet.id, columnAt(0)), body)).status).toBe(200);
  const [record] = (await owner.get<RowsView>(paths.rows(sheet.id, 2, 1))).records;
  const path = paths.record(sheet.id, record?.id ?? '');
  const change = {
    writeId: randomUUID(),
    revision: record?.revision,
    answers: { [columnAt(0)]: '17' },
  };
  expect((await owner.ask('PATCH', path, change)).status).toBe(200);
  const { revision } = await owner.get<SheetView>(paths.sheet(sheet.id));
  const added = { writeId: randomUUID(), revision, added: [{ answers: { [columnAt(0)]: '12' } }] };
  const { body: written } = await owner.ask<Written>('POST', paths.cells(sheet.id), added);
  expect(written.notes).toEqual([{ column: columnAt(0), message: '‘12’ must be at most 10.' }]);
});

test('a word that admits stays on the server, is asked for at the submit, and guessing is slowed', async () => {
  const { owner, workbook } = running;
  const made = { writeId: randomUUID(), name: 'Keys', headings: ['Holder', 'Word'] };
  const own = (await owner.ask<SheetView>('POST', paths.sheets(workbook.id), made)).body;
  const [holder, word] = own.columns.map(({ id }) => id) as [string, string];
  const secret: Rule = { must: { is: 'secretWord', name: 'Keys 2026', forgotten: true } };
  const patch = { settings: { rules: [secret] }, revision: own.revision };
  expect((await owner.ask('PATCH', paths.column(own.id, word), patch)).status).toBe(200);
  const put = { name: 'Keys 2026', word: 'Herón' };
  const names = await owner.ask('PUT', paths.secretWords(workbook.id), put);
  expect(names.body).toEqual({ names: ['Keys 2026'] });

  // What stands on disk takes as long to guess as a password.
  const stored = async (): Promise<string | undefined> => {
    const { digest } = await running.app
      .get(Store)
      .em()
      .findOneOrFail(SecretWord, { name: 'Keys 2026' });
    return /^\$argon2id\$/.exec(digest)?.[0];
  };
  expect(await stored()).toBe('$argon2id$');

  const begin = { writeId: randomUUID(), name: 'Keys' };
  const form = (await owner.ask<FormEntry>('POST', paths.sheetForms(own.id), begin)).body;
  const { definition, ...shown } = await owner.get<FormView>(paths.form(form.id));
  expect(JSON.stringify(shown).toLowerCase()).not.toMatch(/her[oó]n/);
  const inputOf = (columnId: string): string =>
    definition.blocks.find((each) => each.is === 'field' && each.columnId === columnId)?.id ?? '';
  const submit = (text: string) => {
    const answers = { [inputOf(holder)]: 'Edo Garrick', [inputOf(word)]: text };
    return owner.ask<Refusal>('POST', paths.submits(form.id), { writeId: randomUUID(), answers });
  };
  const check = async (text: string, words: boolean): Promise<unknown> => {
    const body = { answers: { [inputOf(word)]: text }, words };
    const answer = await owner.ask<{ verdicts?: unknown[] }>('POST', paths.checks(form.id), body);
    return [answer.status, answer.body.verdicts?.length];
  };

  expect((await submit(' HERO\u0301N ')).status).toBe(201);
  expect((await submit('stork')).body.verdicts?.map(({ message }) => message)).toEqual([
    'That is not the secret word. Check it, or ask who gave it to you.',
  ]);
  const { records } = await owner.get<RowsView>(paths.rows(own.id, 0, 9));
  expect(records.map(({ cells }) => cells)).toEqual([['Edo Garrick', null]]);
  // A check that computes on the way asks for no word; one on leaving the field does.
  expect(await check('stork', false)).toEqual([200, 0]);
  expect(await check('stork', true)).toEqual([200, 1]);
  expect(await check('herón', true)).toEqual([200, 0]);
  const guesses = ['a', 'b', 'c', 'd', 'e'];
  for (const guess of guesses) expect(await check(guess, true)).toEqual([200, 1]);
  expect(await check('herón', true)).toEqual([429, undefined]);
  expect((await submit('herón')).status).toBe(429);
  // A whole file of guesses is no way round.
  const { revision } = await owner.get<SheetView>(paths.sheet(own.id));
  const added = guesses.map((guess) => ({ answers: { [holder]: 'x', [word]: guess } }));
  const many = { writeId: randomUUID(), revision, partly: true, added };
  expect((await owner.ask('POST', paths.cells(own.id), many)).status).toBe(429);
});

test('a word that an earlier version kept admits as before, and is then kept as others are', async () => {
  const { workbook } = running;
  const store = running.app.get(Store);
  const name = 'Old gate';
  const salt = randomBytes(16);
  const digest = createHmac('sha256', salt).update('heron').digest('base64');
  const kept = { workbook: workbook.id, name, salt: salt.toString('base64'), digest };
  await store.em().upsert(SecretWord, kept);
  for (const before of [/=$/, /^\$argon2id\$/]) {
    expect((await store.em().findOneOrFail(SecretWord, { name })).digest).toMatch(before);
    const words = new SecretWords(store);
    await words.onModuleInit();
    const tries = ['stork', 'Heron', 'HERON ', 'stork', 'heron'];
    const told = tries.map((text) => words.admitsFor(workbook.id, 'Edo')(name, text));
    expect(told).toEqual([false, true, true, false, true]);
    expect(words.admitsFor(workbook.id, 'Edo')('No gate', '')).toBe(false);
    await new Promise((resolve) => setTimeout(resolve, 300));
  }
});

test('all matches and values changed ask for a word as a cell does, and their guesses count', async () => {
  const { owner, workbook } = running;
  const clerk = await running.as('clerk');
  const made = { writeId: randomUUID(), name: 'Gate', headings: ['Holder', 'Word'] };
  const gate = (await owner.ask<SheetView>('POST', paths.sheets(workbook.id), made)).body;
  const [holder, word] = gate.columns.map(({ id }) => id) as [string, string];
  const added = [{ answers: { [holder]: 'Edo Garrick', [word]: 'plover' } }];
  const first = { writeId: randomUUID(), revision: gate.revision, added };
  await owner.ask('POST', paths.cells(gate.id), first);
  const rules: Rule[] = [{ must: { is: 'secretWord', name: 'Gate' } }];
  const { revision } = await owner.get<SheetView>(paths.sheet(gate.id));
  await owner.ask('PATCH', paths.column(gate.id, word), { settings: { rules }, revision });
  await owner.ask('PUT', paths.secretWords(workbook.id), { name: 'Gate', word: 'dipper' });
  const matches = (text: string) =>
    clerk.ask<Refusal>('POST', paths.changeMatches(gate.id), {
      writeId: randomUUID(),
      ...{ view: '{}', count: 1, columnId: word, text },
    });
  const values = (to: string) =>
    clerk.ask<Refusal>('POST', paths.changeValues(gate.id, word), {
      writeId: randomUUID(),
      changes: [{ from: ['plover'], to }],
      count: 1,
    });
  const refused = [
    422,
    'No record was changed. That is not the secret word. Check it, or ask who gave it to you.',
  ];
  // A preview is no place to guess.
  const looked = { view: '{}', count: 1, columnId: word, text: 'stork' };
  const preview = await clerk.ask('POST', paths.previewMatches(gate.id), looked);
  expect(preview.body).toMatchObject({ changed: 1, refused: 0 });
  for (const change of [matches, values]) {
    const { status, body } = await change('stork');
    expect([status, body.message]).toEqual(refused);
  }
  for (const guess of ['a', 'b']) expect((await matches(guess)).status).toBe(422);
  expect((await values('c')).status).toBe(422);
  expect((await matches('dipper')).status).toBe(429);
  const { records } = await owner.get<RowsView>(paths.rows(gate.id, 0, 9));
  expect(records.map(({ cells }) => cells)).toEqual([['Edo Garrick', 'plover']]);
});
