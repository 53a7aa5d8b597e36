import {
  paths,
  type OverviewView,
  type PlaceEntry,
  type RowsView,
  type SheetView,
  type WorkbookEntry,
  type WorkbookView,
} from '@varn/contract';
import { randomUUID } from 'node:crypto';
import { goodAnswers, start, type Running } from '../testing/harness';

let running: Running;
beforeAll(async () => {
  running = await start();
});
afterAll(() => running.stop());

test('a workbook’s locale, zone and currency are changed once, and values are read and shown so', async () => {
  const { owner, workbook, form } = running;
  const before = await owner.get<WorkbookView>(paths.workbook(workbook.id));
  expect(before).toMatchObject({ locale: 'en-GB', currency: 'GBP' });
  const change = {
    writeId: randomUUID(),
    name: ' River watch ',
    locale: 'de-DE',
    timeZone: 'Europe/Berlin',
    currency: 'SEK',
  };
  const path = paths.workbook(workbook.id);
  for (const wrong of [{ locale: 'x' }, { timeZone: 'Mars' }, { currency: 'sek' }, { name: ' ' }]) {
    expect((await owner.ask('PATCH', path, { ...change, ...wrong })).status).toBe(400);
  }
  const changed = await owner.ask<WorkbookView>('PATCH', path, change);
  expect(changed.body).toMatchObject({ locale: 'de-DE', currency: 'SEK', name: 'River watch' });
  // Sent again it is done once: what came in between stays.
  await owner.ask('PATCH', path, { ...change, writeId: randomUUID(), currency: 'NOK' });
  expect((await owner.ask<WorkbookView>('PATCH', path, change)).body.currency).toBe('NOK');

  const own = { 'samples.date': '24.11.2026', 'samples.ph': '7,25', 'samples.water-temp': '7,5' };
  const answers = { ...goodAnswers(form), ...own };
  const submitted = await owner.ask<{ row: number }>('POST', paths.submits(form.id), {
    writeId: randomUUID(),
    answers,
  });
  expect(submitted.status).toBe(201);
  const sheet = await owner.get<SheetView>(paths.sheet(form.sheet.id));
  const at = submitted.body.row - sheet.headingRow - 1;
  const { records } = await owner.get<RowsView>(paths.rows(sheet.id, at, 1));
  expect(records[0]?.cells).toEqual(expect.arrayContaining(['2026-11-24', 7.25]));

  const added = { heading: 'Fee', kind: 'money', revision: sheet.revision };
  const { body } = await owner.ask<SheetView>('POST', paths.columns(sheet.id), added);
  expect(body.columns.find(({ heading }) => heading === 'Fee')?.settings.currency).toBe('NOK');
});

test('places, what came in today, and who wrote last are told to those who may see them', async () => {
  const { owner, workbook, form } = running;
  const places = await owner.get<PlaceEntry[]>(paths.places);
  expect(places).toContainEqual(
    expect.objectContaining({ is: 'column', label: 'Turbidity', sheet: 'Samples' }),
  );
  const outsider = await running.as('outsider');
  expect(await outsider.get(paths.places)).toEqual([]);
  const overview = await owner.get<OverviewView>(paths.overview(workbook.id));
  const samples = overview.sheets.find(({ sheetId }) => sheetId === form.sheet.id);
  expect(samples).toMatchObject({ today: 1, last: { by: 'Ines Halloran' } });
  // One that came in as a file was written last then; one without records never.
  const [stations, summary] = ['Stations', 'Summary'].map((name) => {
    const { id } = workbook.sheets.find((each) => each.name === name) ?? { id: '' };
    return overview.sheets.find(({ sheetId }) => sheetId === id);
  });
  expect(stations).toMatchObject({ today: 0, last: { by: 'Ines Halloran' } });
  expect(summary).toEqual({ sheetId: summary?.sheetId, today: 0 });
  const [entry] = await owner.get<WorkbookEntry[]>(paths.workbooks);
  expect(entry?.last?.by).toBe('Ines Halloran');
});
