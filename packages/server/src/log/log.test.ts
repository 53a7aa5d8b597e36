import { paths, type Landed, type RowsView } from '@varn/contract';
import type { Cells } from '@varn/core';
import * as fc from 'fast-check';
import { randomUUID } from 'node:crypto';
import { Store } from '../store/store';
import { goodAnswers, start, type Running } from '../testing/harness';
import { ChangeLog } from './changeLog';
import { lineOf, valuesOf, type ChangeRow } from './changeRow';
import { isRecordLine, type Line, type NewLine } from './line';

const COLUMNS = [
  'workbook_id',
  'kind',
  'sheet_id',
  'record_id',
  'revision',
  'write_id',
  'batch',
  'undoes',
  'digest',
  'account_id',
  'door',
  'at',
  'before',
  'after',
  'grid_row',
  'counted',
  'answer',
] as const;

const value = fc.oneof(fc.string(), fc.integer(), fc.boolean());
const cells = fc.dictionary(fc.string({ minLength: 1 }), value);
const freeCells = fc.dictionary(fc.string({ minLength: 1 }), fc.record({ value }));
const place = fc.record({ orderKey: fc.integer() });
const facts = fc.record({
  workbookId: fc.string(),
  sheetId: fc.string(),
  batch: fc.string(),
  writeId: fc.string(),
  undoes: fc.option(fc.string()),
  digest: fc.string(),
  accountId: fc.string(),
  door: fc.string(),
  answer: fc.option(fc.jsonValue()),
});
const ofRecord = { recordId: fc.uuid(), revision: fc.nat(), gridRow: fc.nat(), counted: fc.nat() };
const ofRow = { rowId: fc.uuid(), revision: fc.nat() };
const nothing = fc.constant(null);
const kind = <K extends string>(...kinds: readonly K[]): fc.Arbitrary<K> =>
  fc.constantFrom(...kinds);
const story = fc.oneof(
  fc.record({
    ...ofRecord,
    kind: kind('recordAdded', 'recordPutBack'),
    before: nothing,
    after: cells,
  }),
  fc.record({ ...ofRecord, kind: kind('recordChanged'), before: cells, after: cells }),
  fc.record({ ...ofRecord, kind: kind('recordRemoved'), before: cells, after: nothing }),
  fc.record({ ...ofRecord, kind: kind('recordMoved'), before: place, after: place }),
  fc.record({ ...ofRow, kind: kind('rowAdded', 'rowPutBack'), before: nothing, after: freeCells }),
  fc.record({ ...ofRow, kind: kind('rowChanged'), before: freeCells, after: freeCells }),
  fc.record({ ...ofRow, kind: kind('rowRemoved'), before: freeCells, after: nothing }),
  fc.record({ ...ofRow, kind: kind('rowMoved'), before: place, after: place }),
  fc.record({ kind: kind('namesChanged'), before: fc.constant([]), after: fc.constant([]) }),
  fc.record({ kind: kind('sheetAdded', 'formRemoved'), before: nothing, after: nothing }),
);

test('a line comes back from the database as it went in, whatever its kind', () => {
  fc.assert(
    fc.property(facts, story, fc.nat(), (of, told, seq) => {
      const line = { ...of, ...told } as NewLine;
      const at = 1_795_000_000_000 + seq;
      const values = valuesOf(line, at);
      const row = Object.fromEntries(COLUMNS.map((name, n) => [name, values[n]]));
      expect(values).toHaveLength(COLUMNS.length);
      // What JSON can't tell apart, such as -0 and 0, the log does not either.
      const kept = JSON.parse(JSON.stringify({ ...line, seq, at })) as unknown;
      expect(
        JSON.parse(JSON.stringify(lineOf({ ...row, id: seq } as unknown as ChangeRow))),
      ).toEqual(kept);
    }),
  );
});

describe('what was written', () => {
  let running: Running;
  beforeAll(async () => {
    running = await start();
  });
  afterAll(() => running.stop());

  const log = (): ChangeLog => running.app.get(ChangeLog);
  const all = (recordId: string): Promise<Line[]> =>
    log().ofRecord(recordId, Number.MAX_SAFE_INTEGER, 100);
  const sheetPath = (): string => running.form.sheet.id;

  const submit = async (): Promise<Landed> => {
    const { form, owner } = running;
    const body = { writeId: randomUUID(), answers: goodAnswers(form) };
    return (await owner.ask<Landed>('POST', paths.submits(form.id), body)).body;
  };

  test('is a story that each record tells: a line begins where the one before it ended', async () => {
    const { owner, workbook } = running;
    const { recordId, writeId } = await submit();
    const path = paths.record(sheetPath(), recordId);
    const change = async (revision: number, ph: string): Promise<Landed> => {
      const answers = { 'samples.ph': ph };
      return (await owner.ask<Landed>('PATCH', path, { writeId: randomUUID(), revision, answers }))
        .body;
    };
    await change(1, '6.5');
    const second = await change(2, '');
    await owner.ask('POST', paths.undo(workbook.id), {
      writeId: randomUUID(),
      undoes: second.writeId,
    });
    const lines = (await all(recordId)).filter(isRecordLine);
    expect(lines.map(({ kind: is }) => is)).toEqual([
      'recordChanged',
      'recordChanged',
      'recordChanged',
      'recordAdded',
    ]);
    expect(lines.map(({ revision }) => revision)).toEqual([4, 3, 2, 1]);
    const ph = (of: object | null): unknown => (of as Cells | null)?.['samples.ph'] ?? null;
    expect(lines.map(({ before, after }) => [ph(before), ph(after)])).toEqual([
      [null, 6.5],
      [6.5, null],
      [7.2, 6.5],
      [null, 7.2],
    ]);
    for (const [n, { before }] of lines.slice(0, -1).entries()) {
      expect(before).toEqual(lines[n + 1]?.after);
    }
    expect(lines[0]?.undoes).toBe(second.writeId);
    expect(lines.at(-1)?.batch).toBe(writeId);
    const seqs = lines.map(({ seq }) => seq);
    expect(seqs).toEqual([...seqs].sort((a, b) => b - a));
  });

  test('is read in pages, and of other records nothing', async () => {
    const [one, other] = [await submit(), await submit()];
    const path = paths.record(sheetPath(), one.recordId);
    for (let revision = 1; revision <= 5; revision += 1) {
      const answers = { 'samples.ph': `${revision}` };
      await running.owner.ask('PATCH', path, { writeId: randomUUID(), revision, answers });
    }
    const whole = await all(one.recordId);
    const paged: Line[] = [];
    for (let before = Number.MAX_SAFE_INTEGER; ; before = paged.at(-1)?.seq ?? 0) {
      const page = await log().ofRecord(one.recordId, before, 2);
      if (page.length === 0) break;
      paged.push(...page);
    }
    expect(paged).toEqual(whole);
    expect(whole).toHaveLength(6);
    expect(await all(other.recordId)).toHaveLength(1);
    expect(await all('nobody')).toEqual([]);
  });

  test('is found by record in an index, however long the log is', async () => {
    const store = running.app.get(Store);
    const plan = await store.withConnection((database) =>
      database
        .prepare(
          'EXPLAIN QUERY PLAN SELECT * FROM change WHERE record_id = ? AND id < ? ORDER BY id DESC',
        )
        .all('r', 1),
    );
    expect(JSON.stringify(plan)).toContain('change_of_record');
  });

  test('tells a row’s moves by their places, and takes them back', async () => {
    const { owner, workbook } = running;
    const sheetId = workbook.sheets.find(({ name }) => name === 'Samples')?.id ?? '';
    const revisionNow = async (): Promise<number> =>
      (await owner.get<{ revision: number }>(paths.sheet(sheetId))).revision;
    const before = await owner.get<RowsView>(paths.freeRows(sheetId, 0, 10));
    const move = {
      writeId: randomUUID(),
      revision: await revisionNow(),
      records: [],
      rows: [1],
      above: 3,
    };
    const { body } = await owner.ask<{ rows: { rowId: string }[] }>(
      'POST',
      paths.moveRows(sheetId),
      move,
    );
    const [line] = await all(body.rows[0]?.rowId ?? '');
    expect(line).toMatchObject({
      kind: 'rowMoved',
      before: { orderKey: expect.any(Number) as number },
      after: { orderKey: expect.any(Number) as number },
    });
    await owner.ask('POST', paths.undo(workbook.id), {
      writeId: randomUUID(),
      undoes: move.writeId,
    });
    const after = await owner.get<RowsView>(paths.freeRows(sheetId, 0, 10));
    const texts = (view: RowsView): string =>
      JSON.stringify(
        (view as unknown as { rows: { cells: unknown }[] }).rows.map((row) => row.cells),
      );
    expect(texts(after)).toBe(texts(before));
  });
});
