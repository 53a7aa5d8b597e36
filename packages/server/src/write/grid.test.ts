import {
  paths,
  type FormulaView,
  type FormView,
  type FreeRowsView,
  type NameView,
  type Refusal,
  type RowsView,
  type SheetView,
  type UndoView,
  type UsesView,
  type Written,
  type ConversionView,
} from '@varn/contract';
import { randomUUID } from 'node:crypto';
import { Calculator } from '../calculation/calculator';
import { SheetCache } from '../store/sheetCache';
import { goodAnswers, start, type Answer, type Client, type Running } from '../testing/harness';

let running: Running;
let owner: Client;
const ids: Record<string, string> = {};
beforeAll(async () => {
  running = await start();
  owner = running.owner;
  for (const { name, id } of running.workbook.sheets) ids[name] = id;
});
afterAll(() => running.stop());

const idOf = (name: string): string => ids[name] ?? '';
const sheet = (name: string): Promise<SheetView> => owner.get<SheetView>(paths.sheet(idOf(name)));

/** Values of a sheet's free rows, errors as texts. */
async function free(name: string): Promise<unknown[][]> {
  const { rows } = await owner.get<FreeRowsView>(paths.freeRows(idOf(name), 0, 200));
  return rows.map(({ cells }) =>
    cells.map((cell) => {
      const value = cell?.value ?? null;
      return typeof value === 'object' && value !== null ? value.error : value;
    }),
  );
}

/** Types texts into free cells: `{ 3: { 0: 'text' } }` by row and column. */
async function type(
  name: string,
  cells: Record<number, Record<number, string>>,
  by = owner,
): Promise<Answer<Written & Refusal>> {
  const { revision } = await sheet(name);
  const rows = Object.entries(cells).map(([row, texts]) => ({ row: Number(row), cells: texts }));
  return by.ask('POST', paths.cells(idOf(name)), { writeId: randomUUID(), revision, rows });
}

async function revise<T>(method: string, path: string, name: string, body: object = {}) {
  const { revision } = await sheet(name);
  return method === 'DELETE'
    ? owner.ask<T & Refusal>(method, `${path}?revision=${revision}`)
    : owner.ask<T & Refusal>(method, path, { ...body, revision });
}

async function takeBack(anyway = false): Promise<Answer<Written & Refusal>> {
  const { undo } = await owner.get<UndoView>(paths.undo(running.workbook.id));
  return owner.ask('POST', paths.undo(running.workbook.id), {
    writeId: randomUUID(),
    undoes: undo?.writeId,
    anyway,
  });
}

async function doAgain(): Promise<Answer<Written & Refusal>> {
  const { redo } = await owner.get<UndoView>(paths.undo(running.workbook.id));
  return owner.ask('POST', paths.undo(running.workbook.id), {
    writeId: randomUUID(),
    undoes: redo?.writeId,
  });
}

test('the demo’s Choices and Summary are alive', async () => {
  const choices = await free('Choices');
  expect(choices).toHaveLength(43);
  expect(choices.slice(3, 43).map((row) => row[6])).toEqual(
    Array.from({ length: 40 }, (_, n) => n + 1),
  );
  const summary = await free('Summary');
  const counts = summary.slice(3, 7).map((row) => Number(row[1]));
  expect(counts[3]).toBe(20);
  expect((counts[0] ?? 0) + (counts[1] ?? 0) + (counts[2] ?? 0)).toBe(20);
  // Standard Methods 4500-O, as told in the scenario (from memory): mg/L at 0, 10, 20, 30 °C.
  const handbook = [14.621, 11.288, 9.092, 7.559];
  handbook.forEach((value, n) => expect(summary[3 + n]?.[7]).toBeCloseTo(value, 2));
  expect(summary.flat().filter((value) => String(value).startsWith('#'))).toEqual([]);
});

test('totals and counts follow a submit at once, on every sheet', async () => {
  const before = await free('Summary');
  const answers = { ...goodAnswers(running.form), 'samples.ph': '2.5', 'samples.oxygen': '10' };
  const { body } = await owner.ask<{ row: number }>('POST', paths.submits(running.form.id), {
    writeId: randomUUID(),
    answers,
  });
  const after = await free('Summary');
  expect(after[3]?.[1]).toBe(Number(before[3]?.[1]) + 1);
  expect(after[6]?.[3]).toBe(2.5);
  const { records } = await owner.get<RowsView>(paths.rows(idOf('Samples'), 0, 200));
  const held = records.flatMap(({ cells }) => (typeof cells[9] === 'number' ? [cells[9]] : []));
  const mean = held.reduce((sum, each) => sum + each, 0) / held.length;
  expect(held).toContain(2.5);
  expect((await free('Samples'))[2]?.[9]).toBeCloseTo(Math.round(mean * 10) / 10, 9);
  const rows = await owner.get<RowsView>(paths.rows(idOf('Samples'), body.row - 5, 1));
  const columns = (await sheet('Samples')).columns.map(({ id }) => id);
  // 10 mg/L of 11.95 at 7.5 °C.
  expect(rows.records[0]?.cells[columns.indexOf('samples.oxygen-percent')]).toBeCloseTo(83.5, 0);
});

test('under a stream of writes, while sheets come in, whoever reads results reads right ones', async () => {
  const { workbook, form } = running;
  const count = async (): Promise<number> => Number((await free('Summary'))[6]?.[1]);
  const before = await count();
  const submit = (): Promise<Answer<Refusal>> =>
    owner.ask('POST', paths.submits(form.id), {
      writeId: randomUUID(),
      answers: goodAnswers(form),
    });
  for (let round = 1; round <= 6; round += 1) {
    const name = `Sheet ${round}`;
    const added = { writeId: randomUUID(), name, headings: ['Day'] };
    const [written, , ...read] = await Promise.all([
      Promise.all(Array.from({ length: 10 }, submit)),
      owner.ask('POST', paths.sheets(workbook.id), added),
      ...Array.from({ length: 4 }, count),
    ]);
    expect(written.map(({ status }) => status)).toEqual(Array.from({ length: 10 }, () => 201));
    for (const each of read) {
      expect(each).toBeGreaterThanOrEqual(before + (round - 1) * 10);
      expect(each).toBeLessThanOrEqual(before + round * 10);
    }
    expect(await count()).toBe(before + round * 10);
  }
});

test('formulas typed in cells are checked, and errors are values with their reason', async () => {
  expect((await type('Choices', { 20: { 8: '=SUM(F4:F10)', 9: '=1/0' } })).status).toBe(200);
  const cells = await free('Choices');
  expect([cells[19]?.[8], cells[19]?.[9]]).toEqual([272.5, '#DIV/0!']);
  const wrong = await type('Choices', { 21: { 8: '=SUMM(1)', 9: 'right' } });
  expect([wrong.status, wrong.body.cells]).toEqual([
    422,
    [expect.objectContaining({ code: 'unknownFunction', from: 1, to: 5, column: '8' })],
  ]);
  expect((await free('Choices'))[20]?.[9]).toBeNull();
  for (const formula of [`=${'('.repeat(4900)}1`, `=${'1+'.repeat(5000)}1`, '=1e400', '=((']) {
    expect((await type('Choices', { 21: { 8: formula } })).status).toBe(422);
  }
  const long = (operators: number): string => `=${'1+'.repeat(operators)}1`;
  expect((await type('Choices', { 21: { 8: long(1001) } })).status).toBe(422);
  expect((await type('Choices', { 21: { 8: long(1000) } })).status).toBe(200);
  expect((await free('Choices'))[20]?.[8]).toBe(1001);
});

test('a row outside of the records is guarded by its revision', async () => {
  const { rows } = await owner.get<FreeRowsView>(paths.freeRows(idOf('Choices'), 0, 1));
  const seen = rows[0]?.revision ?? 0;
  expect((await type('Choices', { 1: { 0: 'What one can choose' } })).status).toBe(200);
  const { revision } = await sheet('Choices');
  const write = (looked: number): Promise<Answer<Refusal>> =>
    owner.ask('POST', paths.cells(idOf('Choices')), {
      writeId: randomUUID(),
      revision,
      rows: [{ row: 1, revision: looked, cells: { 0: 'Mine' } }],
    });
  expect([(await write(seen)).body.code, (await write(seen + 1)).status]).toEqual([
    'changedSince',
    200,
  ]);
  await takeBack();
  await takeBack();
  expect((await free('Choices'))[0]?.[0]).toBe('What can be chosen');
});

test('a cell outside of the records keeps how it stands out whatever is typed, and undo knows it', async () => {
  const dress = async (styles: object): Promise<Answer<Written & Refusal>> => {
    const { revision } = await sheet('Choices');
    const rows = [{ row: 40, cells: {}, styles }];
    return owner.ask('POST', paths.cells(idOf('Choices')), {
      writeId: randomUUID(),
      revision,
      rows,
    });
  };
  const styles = async (): Promise<unknown[]> => {
    const { rows } = await owner.get<FreeRowsView>(paths.freeRows(idOf('Choices'), 39, 1));
    return [0, 1, 2].map((column) => rows[0]?.cells[column]?.style ?? null);
  };
  expect((await dress({ 0: { heading: true, back: 'pine' }, 1: { strong: true } })).status).toBe(
    200,
  );
  // A blank cell stands out as well, and a change leaves the rest of it.
  expect(await styles()).toEqual([{ heading: true, back: 'pine' }, { strong: true }, null]);
  await dress({ 0: { strong: true, back: '' }, 1: { strong: false } });
  expect(await styles()).toEqual([{ strong: true, heading: true }, null, null]);
  for (const text of ['Notes', '=1+1', '']) {
    await type('Choices', { 40: { 0: text } });
    expect((await styles())[0]).toEqual({ strong: true, heading: true });
  }
  for (let n = 0; n < 4; n += 1) await takeBack();
  expect(await styles()).toEqual([{ heading: true, back: 'pine' }, { strong: true }, null]);
  for (const wrong of [{ back: 'red' }, { strong: 'yes' }, { size: 40 }]) {
    expect((await dress({ 0: wrong })).status).toBe(400);
  }
});

test('a formula is tried as it is typed: what is wrong, what to look at again, what it gives', async () => {
  const check = (text: string, columnId?: string): Promise<Answer<FormulaView>> =>
    owner.ask('POST', paths.checkFormula(idOf('Kit loans')), { text, columnId });
  expect((await check('=SUM(C4:C6')).body.notes).toEqual([
    expect.objectContaining({ from: 1, to: 5, strictness: 'refuse' }),
  ]);
  expect((await check(`='Quantity'="2"`, 'kit-loans.total')).body.notes).toEqual([
    expect.objectContaining({ strictness: 'ask', from: 1, to: 15 }),
  ]);
  const given = await check(`='Quantity'*2`, 'kit-loans.total');
  expect([given.body.notes, given.body.gives.length]).toEqual([[], 5]);
  expect((await check('=TODAY()')).body.gives[0]).toMatch(/^\d\d\/\d\d\/\d{4}$/);
});

test('undo and redo walk through one’s own writes, structure too, and survive nothing else', async () => {
  const at = async (): Promise<unknown> => (await free('Choices'))[30]?.[8];
  await type('Choices', { 31: { 8: 'one' } });
  await type('Choices', { 31: { 8: 'two' } });
  expect((await takeBack()).status).toBe(200);
  expect(await at()).toBe('one');
  expect((await doAgain()).status).toBe(200);
  expect(await at()).toBe('two');
  await takeBack();
  await takeBack();
  expect(await at()).toBeNull();
  await doAgain();
  await doAgain();
  expect(await at()).toBe('two');

  const ph = paths.column(idOf('Samples'), 'samples.ph');
  expect((await revise('DELETE', ph, 'Samples')).status).toBe(200);
  expect((await free('Summary'))[6]?.[2]).toBe('#REF!');
  expect((await takeBack()).status).toBe(200);
  expect((await free('Summary'))[6]?.[2]).toBeGreaterThan(6);
  expect((await sheet('Samples')).columns[9]?.heading).toBe('pH');
});

test('undo asks when someone changed the same since, and shows both', async () => {
  const analyst = await running.as('analyst');
  await type('Choices', { 32: { 8: 'mine', 9: 'also mine' } });
  await type('Choices', { 32: { 8: 'theirs' } }, analyst);
  const asked = await takeBack();
  expect([asked.status, asked.body.code]).toEqual([409, 'changedSince']);
  expect(JSON.stringify(asked.body.both)).toContain('theirs');
  expect((await takeBack(true)).status).toBe(200);
  expect((await free('Choices'))[31]?.slice(8, 10)).toEqual([null, null]);
});

describe('records in the grid', () => {
  const edit = async (body: object, by = owner): Promise<Answer<Written & Refusal>> => {
    const { revision } = await sheet('Kit loans');
    return by.ask('POST', paths.cells(idOf('Kit loans')), {
      writeId: randomUUID(),
      revision,
      ...body,
    });
  };
  const rows = (from: number, count: number, view?: object): Promise<RowsView> =>
    owner.get(paths.rows(idOf('Kit loans'), from, count, view && JSON.stringify(view)));

  test('go through the one write path: revisions, verdicts, what is asked about, computed cells', async () => {
    const { records } = await rows(0, 2);
    const [first, second] = records;
    const quantity = { 'kit-loans.quantity': '3' };
    const written = await edit({
      records: [{ id: first?.id, revision: 1, answers: quantity }],
      added: [{ answers: { 'kit-loans.item': 'kick net', 'kit-loans.deposit': '10' } }],
    });
    expect(written.body.records.map(({ kind }) => kind)).toEqual(['recordChanged', 'recordAdded']);
    const [changed] = (await rows(0, 1)).records;
    expect(changed?.cells[4]).toBe(Number(changed?.cells[2]) * 3);
    const stale = await edit({ records: [{ id: first?.id, revision: 1, answers: quantity }] });
    expect(stale.status).toBe(409);
    const wrong = {
      records: [
        {
          id: second?.id,
          revision: 1,
          answers: { 'kit-loans.quantity': 'x', 'kit-loans.deposit': '7' },
        },
      ],
    };
    expect((await edit(wrong)).body.cells).toEqual([
      expect.objectContaining({ code: 'notANumber', column: 'kit-loans.quantity', at: 0 }),
    ]);
    const partly = await edit({ ...wrong, partly: true });
    expect([partly.body.refused.length, partly.body.records.length]).toEqual([1, 1]);
    expect((await rows(1, 1)).records[0]?.cells[2]).toBe(7);
    const fine = {
      added: [{ answers: { 'kit-loans.item': 'Waders', 'kit-loans.deposit': '7.234' } }],
    };
    expect((await edit(fine)).body.cells?.[0]).toMatchObject({
      code: 'finerThanMinor',
      strictness: 'ask',
    });
    const meant = { added: [{ ...fine.added[0], meant: ['kit-loans.deposit'] }] };
    expect((await edit(meant)).status).toBe(200);
    expect(
      (
        await edit({
          records: [{ id: second?.id, revision: 2, answers: { 'kit-loans.total': '1' } }],
        })
      ).status,
    ).toBe(422);
  });

  test('are put in under the heading, moved and removed, and ranges go along', async () => {
    const { count, records } = await rows(0, 3);
    const [first] = records;
    const totals = async (): Promise<unknown[]> => ((await free('Kit loans'))[1] ?? []).slice(3, 5);
    const [quantity] = await totals();
    const deposit = {
      'kit-loans.item': 'Throw bag',
      'kit-loans.deposit': '12',
      'kit-loans.quantity': '100',
    };
    await edit({ added: [{ answers: deposit, above: first?.id }] });
    expect((await rows(0, 1)).records[0]?.cells[3]).toBe(100);
    expect((await totals())[0]).toBe(Number(quantity) + 100);
    const [put] = (await rows(0, 1)).records;
    const { revision } = await sheet('Kit loans');
    const move = {
      writeId: randomUUID(),
      revision,
      rows: [],
      records: [{ id: put?.id, revision: 1 }],
      above: 6,
    };
    expect((await owner.ask('POST', paths.moveRows(idOf('Kit loans')), move)).status).toBe(200);
    expect((await rows(1, 1)).records[0]?.id).toBe(put?.id);
    const gone = {
      writeId: randomUUID(),
      revision,
      rows: [],
      records: [{ id: put?.id, revision: 2 }],
    };
    expect((await owner.ask('POST', paths.removeRows(idOf('Kit loans')), gone)).status).toBe(200);
    expect([(await rows(0, 1)).count, (await totals())[0]]).toEqual([count, quantity]);
  });

  test('a view of one’s own filters and sorts, totals follow it, and nothing stored changes', async () => {
    await revise('PATCH', paths.sheet(idOf('Kit loans')), 'Kit loans', {
      look: { totals: { 'kit-loans.quantity': 'SUM' } },
    });
    const all = await rows(0, 1000);
    const view = {
      filters: [
        { columnId: 'kit-loans.item', says: 'net' },
        { columnId: 'kit-loans.quantity', says: '2..4' },
      ],
      order: [{ columnId: 'kit-loans.out', falling: true }],
    };
    const found = await rows(0, 1000, view);
    const expected = all.records.filter(
      ({ cells }) => cells[1] === 'Kick net' && Number(cells[3]) >= 2 && Number(cells[3]) <= 4,
    );
    expect(found.count).toBe(expected.length);
    const outs = found.records.map(({ cells }) => cells[5] as string);
    expect(outs).toEqual([...outs].sort().reverse());
    const sum = (records: RowsView['records']): number =>
      records.reduce((total, { cells }) => total + Number(cells[3] ?? 0), 0);
    expect(found.totals?.['kit-loans.quantity']).toBe(sum(expected));
    expect(all.totals?.['kit-loans.quantity']).toBe(sum(all.records));
    expect((await rows(0, 1000)).records).toEqual(all.records);
    const wrong = await owner.ask<Refusal>(
      'GET',
      paths.rows(
        idOf('Kit loans'),
        0,
        5,
        JSON.stringify({ filters: [{ columnId: 'kit-loans.out', says: '> soon' }] }),
      ),
    );
    expect([wrong.status, wrong.body.code]).toEqual([400, 'notACondition']);
  });

  test('figures of chosen cells and the next cell with a text, in a view of one’s own too', async () => {
    const { columns, headingRow } = await sheet('Kit loans');
    const place = columns.findIndex(({ heading }) => heading === 'Quantity');
    const amount = columns[place]?.id ?? '';
    const view = JSON.stringify({ filters: [{ columnId: amount, says: '>= 2' }] });
    for (const asked of [undefined, view]) {
      const { records } = await owner.get<RowsView>(paths.rows(idOf('Kit loans'), 0, 1000, asked));
      const held = records.map(({ cells }) => cells[place]).filter((each) => each !== null);
      const numbers = held as number[];
      for (const [from, to] of [
        [0, 10_000],
        [3, 9],
      ] as const) {
        const box = { part: 'records', from, to, left: place, right: place + 1 };
        const body = { boxes: [box], ...(asked && { view: asked }) };
        const { body: figures } = await owner.ask('POST', paths.figures(idOf('Kit loans')), body);
        const part = from === 0 ? numbers : numbers.slice(from, to);
        const sum = part.reduce((total, each) => total + each, 0);
        expect(figures).toEqual({
          filled: part.length,
          numbers: part.length,
          sum,
          mean: sum / part.length,
          least: Math.min(...part),
          most: Math.max(...part),
        });
      }
      const item = columns.findIndex(({ heading }) => heading === 'Item');
      const wanted = records[5]?.cells[item] as string;
      const hits = records.flatMap(({ cells }, n) => (cells[item] === wanted ? [n] : []));
      const find = async (row?: number, back = false): Promise<unknown> => {
        const after = row !== undefined && { after: { part: 'records', row, column: item } };
        const text = ` ${wanted.toUpperCase()}`;
        const body = { text, back, ...after, ...(asked && { view: asked }) };
        return (await owner.ask('POST', paths.find(idOf('Kit loans')), body)).body;
      };
      const found = (row: number | undefined) => {
        const nth = hits.indexOf(row ?? -1) + 1;
        return { cell: { part: 'records', row, column: item }, count: hits.length, nth };
      };
      expect(await find()).toEqual(found(hits[0]));
      expect(await find(hits[0])).toEqual(found(hits[1]));
      expect(await find(hits.at(-1))).toEqual(found(hits[0]));
      expect(await find(hits[1], true)).toEqual(found(hits[0]));
      expect(await find(hits[0], true)).toEqual(found(hits.at(-1)));
    }
    const above = { part: 'free', from: 1, to: headingRow, left: 0, right: 50 };
    const top = await owner.ask('POST', paths.figures(idOf('Kit loans')), { boxes: [above] });
    expect(Object.keys(top.body as object)).toContain('numbers');
    const none = await owner.ask('POST', paths.find(idOf('Kit loans')), { text: 'nowhere at all' });
    expect(none.body).toEqual({ cell: null });
  });

  test('rows outside of the records are for analysts', async () => {
    const clerk = await running.as('clerk');
    expect((await type('Kit loans', { 1: { 1: 'x' } }, clerk)).status).toBe(403);
  });
});

describe('columns', () => {
  test('a change of kind tells first what it does, keeps the rest as text, and is taken back whole', async () => {
    const at = (await sheet('Volunteers')).columns;
    const [last] = at.slice(-1);
    const preview = await revise<ConversionView>(
      'POST',
      paths.conversion(idOf('Volunteers'), last?.id ?? ''),
      'Volunteers',
      { kind: 'date' },
    );
    expect(preview.body.kept).toBeGreaterThan(0);
    expect(preview.body.problems[0]?.to).toContain('not a date');
    const before = await owner.get<RowsView>(paths.rows(idOf('Volunteers'), 0, 100));
    const done = await revise<SheetView>(
      'PATCH',
      paths.column(idOf('Volunteers'), last?.id ?? ''),
      'Volunteers',
      { kind: 'date' },
    );
    expect(done.body.columns.at(-1)?.kind).toBe('date');
    await takeBack();
    expect(await owner.get<RowsView>(paths.rows(idOf('Volunteers'), 0, 100))).toMatchObject({
      records: before.records.map(({ id, cells }) => ({ id, cells })),
    });
  });

  test('one computed as of writing keeps its values when what they were computed of changes', async () => {
    const made = await revise<SheetView>('POST', paths.columns(idOf('Kit loans')), 'Kit loans', {
      heading: 'Share',
      kind: 'computed',
      formula: `'Deposit'/MAX('Kit loans'!'Deposit')`,
      follows: false,
    });
    const share = made.body.columns.findIndex(({ heading }) => heading === 'Share');
    expect(made.body.columns[share]?.settings.formula).toBe(
      `='Deposit'/MAX('Kit loans'!'Deposit')`,
    );
    const stored = (await owner.get<RowsView>(paths.rows(idOf('Kit loans'), 5, 1))).records[0]
      ?.cells[share];
    await owner.ask('POST', paths.cells(idOf('Kit loans')), {
      writeId: randomUUID(),
      revision: made.body.revision,
      added: [{ answers: { 'kit-loans.item': 'Waders', 'kit-loans.deposit': '240' } }],
    });
    const rows = await owner.get<RowsView>(paths.rows(idOf('Kit loans'), 0, 1000));
    expect(rows.records[5]?.cells[share]).toBe(stored);
    // Of the largest deposit before it was written.
    expect(rows.records.at(-1)?.cells[share]).toBe(240 / 120);
    const wrong = await revise('POST', paths.columns(idOf('Kit loans')), 'Kit loans', {
      heading: 'Wrong',
      kind: 'computed',
      formula: `='Weight'*2`,
    });
    expect([wrong.status, wrong.body.message]).toEqual([400, expect.stringContaining('‘Weight’')]);
  });
});

test('sheets come, are renamed, moved and removed; names of ranges hold; all of it is taken back', async () => {
  const made = await owner.ask<SheetView>('POST', paths.sheets(running.workbook.id), {
    writeId: randomUUID(),
    name: 'Plan',
    headings: ['Task', 'Days'],
  });
  ids['Plan'] = made.body.id;
  const named = await owner.ask<NameView[]>('POST', paths.sheetNames(idOf('Choices')), {
    writeId: randomUUID(),
    name: 'deposits',
    range: 'F4:F10',
  });
  expect(named.body).toEqual([
    expect.objectContaining({ name: 'deposits', range: 'Choices!F4:F10' }),
  ]);
  await type('Summary', { 30: { 0: '=SUM(deposits)' } });
  expect((await free('Summary'))[29]?.[0]).toBe(272.5);
  await revise('PATCH', paths.sheet(idOf('Choices')), 'Choices', { name: 'Lists of choices' });
  const { rows } = await owner.get<FreeRowsView>(paths.freeRows(idOf('Summary'), 0, 40));
  expect(rows[29]?.cells[0]?.formula).toBe('=SUM(deposits)');
  const taken = await revise('PATCH', paths.sheet(idOf('Plan')), 'Plan', { name: 'Samples' });
  expect(taken.status).toBe(409);
  expect((await revise('PATCH', paths.sheet(idOf('Plan')), 'Plan', { place: 0 })).status).toBe(200);
  const order = async (): Promise<string[]> =>
    (
      await owner.get<{ sheets: { name: string }[] }>(paths.workbook(running.workbook.id))
    ).sheets.map(({ name }) => name);
  expect((await order())[0]).toBe('Plan');
  expect((await revise('DELETE', paths.sheet(idOf('Plan')), 'Plan')).status).toBe(204);
  expect(await order()).not.toContain('Plan');
  expect((await owner.ask('GET', paths.sheet(idOf('Plan')))).status).toBe(404);
  await takeBack();
  expect(await order()).toContain('Plan');
});

test('a paste of 200,000 cells is written; a larger one is refused whole with the limit named', async () => {
  const made = await owner.ask<SheetView>('POST', paths.sheets(running.workbook.id), {
    writeId: randomUUID(),
    name: 'Pasted',
    headings: [],
  });
  ids['Pasted'] = made.body.id;
  const cells = Object.fromEntries(Array.from({ length: 20 }, (_, n) => [n, String(n)]));
  const paste = (count: number): Promise<Answer<Written & Refusal>> =>
    owner.ask('POST', paths.cells(idOf('Pasted')), {
      writeId: randomUUID(),
      revision: made.body.revision,
      rows: Array.from({ length: count }, (_, n) => ({ row: n + 1, cells })),
    });
  const over = await paste(13_000);
  expect([over.status, over.body.message]).toEqual([413, expect.stringContaining('250000')]);
  expect((await paste(10_000)).status).toBe(200);
  const { count, rows } = await owner.get<FreeRowsView>(paths.freeRows(idOf('Pasted'), 9_999, 5));
  expect([count, rows[0]?.cells[19]?.value]).toEqual([10_000, 19]);
}, 60_000);

test('what is in memory is what reading everything anew gives, formulas too', async () => {
  const told = async (): Promise<unknown> => [
    await free('Summary'),
    await free('Kit loans'),
    (await owner.get<RowsView>(paths.rows(idOf('Kit loans'), 0, 1000))).records,
  ];
  const before = await told();
  const cache = running.app.get(SheetCache);
  for (const id of Object.values(ids)) cache.drop(id);
  const calculator = running.app.get(Calculator);
  calculator.drop(running.workbook.id);
  await calculator.settled(running.workbook.id);
  expect(await told()).toEqual(before);
}, 60_000);

test('a key is one record’s on every path: desk, grid, paste, put back; a trial has none', async () => {
  const name = 'Volunteers';
  const { columns } = await sheet(name);
  const [key, called] = ['Id', 'Name'].map((heading) => {
    return columns.find((each) => each.heading === heading)?.id ?? '';
  }) as [string, string];
  const path = paths.column(idOf(name), key);
  expect((await revise('PATCH', path, name, { settings: { key: true } })).status).toBe(200);
  const rows = (): Promise<RowsView> => owner.get<RowsView>(paths.rows(idOf(name), 0, 100));
  const at = columns.findIndex((each) => each.id === key);
  const edit = async (body: object): Promise<Answer<Written & Refusal>> => {
    const { revision } = await sheet(name);
    return owner.ask('POST', paths.cells(idOf(name)), { writeId: randomUUID(), revision, ...body });
  };
  const [one, two] = (await rows()).records;
  const taken = one?.cells[at] as string;

  const { headingRow, forms } = { ...(await sheet(name)), forms: running.workbook.sheets };
  const formId = forms.find((each) => each.name === name)?.forms[0]?.id ?? '';
  const form = await owner.get<FormView>(paths.form(formId));
  const fieldOf = (columnId: string): string =>
    form.definition.blocks.find((each) => each.is === 'field' && each.columnId === columnId)?.id ??
    '';
  const level = columns.find((each) => each.heading === 'Training level');
  const answers = {
    [fieldOf(key)]: taken,
    [fieldOf(called)]: 'Somebody Else',
    [fieldOf(level?.id ?? '')]: level?.settings.choices?.[0] ?? '',
  };
  const submitted = await owner.ask<Refusal>('POST', paths.submits(formId), {
    writeId: randomUUID(),
    answers,
  });
  expect(submitted.body.verdicts).toMatchObject([{ code: 'keyTaken', row: headingRow + 1 }]);
  expect(submitted.body.verdicts?.[0]?.message).toContain(
    one?.cells[columns.findIndex((each) => each.id === called)] as string,
  );
  const trial = await owner.ask('POST', paths.trials(formId), { writeId: randomUUID(), answers });
  expect(trial.status).toBe(201);

  // In the grid the rest is written; in one paste, of two the first.
  const typed = { id: two?.id, revision: two?.revision, answers: { [key]: ` ${taken} ` } };
  const pasted = await edit({
    partly: true,
    records: [typed],
    added: ['9001', '9001', '9002'].map((text) => ({ answers: { [key]: text } })),
  });
  expect(pasted.body.refused.map(({ list, at, code }) => [list, at, code])).toEqual([
    ['records', 0, 'keyTaken'],
    ['added', 1, 'keyTaken'],
  ]);
  expect(pasted.body.records).toHaveLength(2);
  expect((await edit({ records: [typed] })).status).toBe(422);

  // Two records exchange their keys; a removed one does not come back beside its successor.
  const answersOf = (text: unknown): object => ({ answers: { [key]: String(text) } });
  const swap = await edit({
    records: [
      { id: one?.id, revision: one?.revision, ...answersOf(two?.cells[at]) },
      { id: two?.id, revision: two?.revision, ...answersOf(taken) },
    ],
  });
  expect(swap.status).toBe(200);
  const last = (await rows()).records.at(-1);
  const { revision } = await sheet(name);
  const removal = await owner.ask<Written>('POST', paths.removeRows(idOf(name)), {
    writeId: randomUUID(),
    revision,
    records: [{ id: last?.id, revision: last?.revision }],
    rows: [],
  });
  expect((await edit({ added: [answersOf('9002')] })).status).toBe(200);
  const back = await owner.ask<Refusal>('POST', paths.undo(running.workbook.id), {
    writeId: randomUUID(),
    undoes: removal.body.writeId,
  });
  expect([back.status, back.body.verdicts?.[0]?.code]).toEqual([422, 'keyTaken']);
});

test('the grid says of a value it writes that a form would not take it', async () => {
  const { columns, revision } = await sheet('Samples');
  const [record] = (await owner.get<RowsView>(paths.rows(idOf('Samples'), 0, 1))).records;
  const air = columns.find(({ heading }) => heading === 'Air temp')?.id ?? '';
  const put = (text: string): Promise<Answer<Written>> =>
    owner.ask('POST', paths.cells(idOf('Samples')), {
      writeId: randomUUID(),
      revision,
      records: [{ id: record?.id, revision: record?.revision, answers: { [air]: text } }],
    });
  const { status, body } = await put('99');
  expect([status, body.records[0]?.cells[air]]).toEqual([200, 99]);
  expect(body.notes).toEqual([
    { column: air, message: '‘Log a sample’ would not take it: ‘99’ must be from -30 to 45.' },
  ]);
});

test('before a column, a name or a sheet is deleted it is told what uses it, and what becomes of that', async () => {
  const { columns } = await sheet('Kit loans');
  const column = (heading: string): string =>
    columns.find((each) => each.heading === heading)?.id ?? '';
  const uses = async (name: string, of: object = {}): Promise<string[]> => {
    const found = await owner.get<UsesView>(paths.uses(idOf(name), of));
    return found.uses.map(({ where, becomes }) => `${where} ${becomes}`);
  };
  expect(await uses('Kit loans', { columnId: column('Item') })).toEqual([
    'The field Item of Lend kit is taken off the form',
    'The starting value of Deposit in Lend kit is left blank',
  ]);
  expect(await uses('Kit loans', { columnId: column('Out') })).toContain(
    "A rule of 'Kit loans'!'Back' no longer applies",
  );
  expect(await uses('Kit loans', { columnId: column('Quantity') })).toContain(
    "'Kit loans'!'Total' gives #REF!",
  );
  expect(await uses('Samples')).toEqual(
    expect.arrayContaining(['The form Log a sample goes with the sheet', 'Summary!B4 gives #REF!']),
  );
  const writeId = randomUUID();
  await owner.ask('POST', paths.sheetNames(idOf('Choices')), {
    writeId,
    name: 'KitPrices',
    range: 'F4:F10',
  });
  await type('Summary', { 20: { 5: '=SUM(KitPrices)' } });
  const names = await owner.get<NameView[]>(paths.names(running.workbook.id));
  const name = names.find((each) => each.name === 'KitPrices');
  expect(await uses('Choices', { nameId: name?.id })).toEqual(['Summary!F20 gives #REF!']);
  expect((await owner.ask('GET', paths.uses(idOf('Choices'), { nameId: 'none' }))).status).toBe(
    404,
  );
});
