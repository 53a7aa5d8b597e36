import {
  paths,
  type BinView,
  type HistoryView,
  type Landed,
  type RecordHistoryView,
  type RowsView,
  type SheetView,
  type WorkbookView,
} from '@varn/contract';
import { randomUUID } from 'node:crypto';
import { goodAnswers, start, type Client, type Running } from '../testing/harness';

let running: Running;
let owner: Client;
beforeAll(async () => {
  running = await start();
  owner = running.owner;
});
afterAll(() => running.stop());

const PH = 'samples.ph';
const submit = async (who = owner): Promise<Landed> => {
  const { form } = running;
  const body = { writeId: randomUUID(), answers: goodAnswers(form) };
  return (await who.ask<Landed>('POST', paths.submits(form.id), body)).body;
};
const change = async ({ recordId, revision }: Landed, ph: string, who = owner): Promise<Landed> => {
  const body = { writeId: randomUUID(), revision, answers: { [PH]: ph } };
  return (await who.ask<Landed>('PATCH', paths.record(sheetId(), recordId), body)).body;
};
const sheetId = (): string => running.form.sheet.id;
const storyOf = (recordId: string): Promise<RecordHistoryView> =>
  owner.get<RecordHistoryView>(paths.recordHistory(sheetId(), recordId));

describe('a record tells its history', () => {
  test('who, through what, and what was before and after, the newest first', async () => {
    const clerk = await running.as('clerk');
    const first = await submit(clerk);
    await change(first, '6.5');
    const { entries } = await storyOf(first.recordId);
    expect(entries.map(({ kind, by, door }) => [kind, by, door])).toEqual([
      ['recordChanged', expect.any(String), 'API'],
      ['recordAdded', 'The clerk', running.form.name],
    ]);
    expect(entries[0]?.changes).toEqual([{ columnId: PH, before: 7.2, after: 6.5 }]);
    const date = entries[1]?.changes.find(({ columnId }) => columnId === 'samples.date');
    expect(date).toEqual({ columnId: 'samples.date', before: null, after: '2026-11-24' });
  });

  test('in pages that leave out nothing', async () => {
    let landed = await submit();
    for (let n = 0; n < 55; n += 1) landed = await change(landed, `${(n % 8) + 0.1}`);
    const first = await storyOf(landed.recordId);
    const rest = await owner.get<RecordHistoryView>(
      `${paths.recordHistory(sheetId(), landed.recordId)}?before=${first.next ?? 0}`,
    );
    const revisions = [...first.entries, ...rest.entries].map(({ revision }) => revision);
    expect(revisions).toEqual(Array.from({ length: 56 }, (_, n) => 56 - n));
    expect(rest.next).toBeUndefined();
  });

  test('and goes back to an older state, by a write like any other', async () => {
    const first = await submit();
    const changed = await change(first, '6.5');
    const { entries } = await storyOf(first.recordId);
    const seq = entries.at(-1)?.seq ?? 0;
    const path = paths.bringBackState(sheetId(), first.recordId);
    const body = { writeId: randomUUID(), revision: changed.revision, seq };
    const { status, body: back } = await owner.ask<Landed>('POST', path, body);
    expect([status, back.kind, back.cells[PH], back.revision]).toEqual([
      200,
      'recordChanged',
      7.2,
      3,
    ]);
    for (const [more, refused] of [
      [{ revision: changed.revision }, 409],
      [{ revision: back.revision, seq: seq - 1 }, 404],
      [{ revision: back.revision, seq: -1 }, 404],
    ] as const) {
      const again = await owner.ask('POST', path, { ...body, ...more, writeId: randomUUID() });
      expect([more, again.status]).toEqual([more, refused]);
    }
  });

  test('and to what it came with, where it came with its sheet', async () => {
    const { records } = await owner.get<RowsView>(paths.rows(sheetId(), 3, 1));
    const [{ id: recordId, revision } = { id: '', revision: 0 }] = records;
    const at = (await owner.get<SheetView>(paths.sheet(sheetId()))).columns.findIndex(
      ({ id }) => id === PH,
    );
    const came = records[0]?.cells[at];
    const [first] = (await storyOf(recordId)).entries;
    expect([first?.kind, first?.by, first?.door]).toEqual(['sheetAdded', 'Ines Halloran', 'File']);
    const changed = await change({ recordId, revision } as Landed, '6.4');
    const again = await change(changed, '6.3');
    const { entries } = await storyOf(recordId);
    expect(entries.map(({ kind }) => kind)).toEqual([
      'recordChanged',
      'recordChanged',
      'sheetAdded',
    ]);
    expect(entries.at(-1)?.changes).toContainEqual({ columnId: PH, before: null, after: came });
    const body = { writeId: randomUUID(), revision: again.revision, seq: entries.at(-1)?.seq };
    const path = paths.bringBackState(sheetId(), recordId);
    const { body: back } = await owner.ask<Landed>('POST', path, body);
    expect(back.cells[PH]).toBe(came);
    const other = await owner.get<RowsView>(paths.rows(sheetId(), 4, 1));
    const wrong = { ...body, writeId: randomUUID(), seq: (body.seq ?? 0) - 1 };
    const elsewhere = paths.bringBackState(sheetId(), other.records[0]?.id ?? '');
    expect((await owner.ask('POST', elsewhere, wrong)).status).toBe(404);
  });

  test('also from the bin; of what is not in the sheet there is none', async () => {
    const { recordId, revision } = await submit();
    await owner.ask('POST', paths.removeRecord(sheetId(), recordId), {
      writeId: randomUUID(),
      revision,
    });
    const { entries } = await storyOf(recordId);
    expect(entries.map(({ kind }) => kind)).toEqual(['recordRemoved', 'recordAdded']);
    expect((await owner.ask('GET', paths.recordHistory(sheetId(), 'nobody'))).status).toBe(404);
  });
});

describe('a workbook tells its history', () => {
  const history = (query: Record<string, string> = {}, who = owner): Promise<HistoryView> =>
    who.get<HistoryView>(
      `${paths.history(running.workbook.id)}?${new URLSearchParams(query).toString()}`,
    );

  test('by person, sheet, door and day, each entry what one write did', async () => {
    const clerk = await running.as('clerk');
    const start = Date.now();
    const mine = await submit(clerk);
    await change(mine, '6.4');
    const all = await history({ from: `${start}` });
    expect(all.entries.map(({ says, by }) => [says, by])).toEqual([
      ['record changed', expect.any(String)],
      ['record added', 'The clerk'],
    ]);
    const person = all.people.filter(({ name }) => name === 'The clerk').at(-1)?.id ?? '';
    const persons = await history({ person, from: `${start}` });
    expect(persons.entries.every(({ by }) => by === 'The clerk')).toBe(true);
    expect((await history({ door: running.form.id })).entries[0]).toMatchObject({
      door: running.form.name,
      recordId: mine.recordId,
      row: mine.row,
      mine: false,
      mayTakeBack: false,
    });
    expect((await history({ to: '1' })).entries).toEqual([]);
    expect((await history({ sheet: 'nobody' })).entries).toEqual([]);
  });

  test('and says what can be taken back, and what was', async () => {
    const landed = await submit();
    const entryOf = async (writeId: string) =>
      (await history()).entries.find((entry) => entry.writeId === writeId);
    expect(await entryOf(landed.writeId)).toMatchObject({
      mine: true,
      mayTakeBack: true,
      takenBack: false,
    });
    const undo = { writeId: randomUUID(), undoes: landed.writeId };
    await owner.ask('POST', paths.undo(running.workbook.id), undo);
    expect(await entryOf(landed.writeId)).toMatchObject({ mayTakeBack: false, takenBack: true });
    await owner.ask('POST', paths.undo(running.workbook.id), {
      writeId: randomUUID(),
      undoes: undo.writeId,
    });
    expect(await entryOf(landed.writeId)).toMatchObject({ mayTakeBack: true, takenBack: false });
  });

  test('in pages that go on where the one before ended', async () => {
    const seen: number[] = [];
    let next: number | undefined;
    do {
      const page = await history(next === undefined ? {} : { before: `${next}` });
      seen.push(...page.entries.map(({ seq }) => seq));
      next = page.next;
    } while (next !== undefined);
    expect(seen).toEqual([...new Set(seen)].sort((a, b) => b - a));
    expect(seen.length).toBeGreaterThan(60);
  });

  test('to its own people only', async () => {
    const outsider = await running.as('outsider');
    const reader = await running.as('reader');
    expect((await outsider.ask('GET', paths.history(running.workbook.id))).status).toBe(403);
    expect((await history({}, reader)).entries.every(({ mayTakeBack }) => !mayTakeBack)).toBe(true);
  });
});

describe('the bin', () => {
  const bin = (): Promise<BinView> => owner.get<BinView>(paths.bin(running.workbook.id));
  const sheets = async (): Promise<string[]> =>
    (await owner.get<WorkbookView>(paths.workbook(running.workbook.id))).sheets.map(
      ({ name }) => name,
    );

  test('holds what was removed, by whom and when, and gives it back to its place', async () => {
    const landed = await submit();
    const path = { is: 'record', id: landed.recordId };
    const write = () => ({ writeId: randomUUID() });
    await owner.ask('POST', paths.removeRecord(sheetId(), landed.recordId), {
      ...write(),
      revision: 1,
    });
    const item = (await bin()).items.find(({ id }) => id === path.id);
    expect(item).toMatchObject({
      is: 'record',
      sheet: 'Samples',
      by: expect.any(String) as string,
      revision: 2,
    });
    expect(item?.cells).toContainEqual({ heading: 'pH', shown: '7.20' });
    const back = await owner.ask<Landed>('POST', paths.putBackRecord(sheetId(), landed.recordId), {
      ...write(),
      revision: item?.revision,
    });
    expect([back.status, back.body.row]).toEqual([200, landed.row]);
    expect((await bin()).items.some(({ id }) => id === path.id)).toBe(false);
  });

  test('gives a sheet back, whose name nobody could take meanwhile', async () => {
    const body = { writeId: randomUUID(), name: 'Going', headings: ['A'] };
    const { body: made } = await owner.ask<SheetView>(
      'POST',
      paths.sheets(running.workbook.id),
      body,
    );
    await owner.ask('DELETE', `${paths.sheet(made.id)}?revision=${made.revision}`);
    const waits = (await bin()).items.find(({ id }) => id === made.id);
    expect([waits?.is, await sheets()]).toEqual(['sheet', expect.not.arrayContaining(['Going'])]);
    const path = paths.putBackSheet(running.workbook.id, made.id);
    const taken = await owner.ask<SheetView>('POST', paths.sheets(running.workbook.id), {
      ...body,
      writeId: randomUUID(),
    });
    expect(taken.status).toBe(409);
    expect((await owner.ask('POST', path, { revision: waits?.revision })).status).toBe(204);
    expect(await sheets()).toContain('Going');
    expect((await owner.ask('POST', path, { revision: 9 })).status).toBe(404);
  });

  test('is emptied by the owner alone, for good, and the history says so', async () => {
    const landed = await submit();
    await owner.ask('POST', paths.removeRecord(sheetId(), landed.recordId), {
      writeId: randomUUID(),
      revision: 1,
    });
    const analyst = await running.as('analyst');
    const path = paths.emptyBin(running.workbook.id);
    expect((await analyst.ask('POST', path, { writeId: randomUUID() })).status).toBe(403);
    const before = await owner.get<RowsView>(paths.rows(sheetId(), 0, 100));
    expect((await owner.ask('POST', path, { writeId: randomUUID() })).status).toBe(204);
    const { items, records } = await bin();
    expect([items.filter(({ is }) => is !== 'column'), records]).toEqual([[], 0]);
    expect(await owner.get<RowsView>(paths.rows(sheetId(), 0, 100))).toEqual(before);
    const back = await owner.ask('POST', paths.putBackRecord(sheetId(), landed.recordId), {
      writeId: randomUUID(),
      revision: 2,
    });
    expect(back.status).toBe(404);
    const { entries } = await owner.get<HistoryView>(paths.history(running.workbook.id));
    expect(entries[0]).toMatchObject({
      kind: 'binEmptied',
      says: 'bin emptied',
      mayTakeBack: false,
    });
  });
});
