import 'reflect-metadata';
import { MikroORM } from '@mikro-orm/better-sqlite';
import SQLite from 'better-sqlite3';
import { mkdtempSync, readFileSync, rmSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { createApp } from '../app';
import { oxygenSaturation } from '../demo/oxygen';
import { settingsFrom } from '../settings';
import { SETTINGS_OF_TESTS, start } from '../testing/harness';
import { Checkpoints } from './checkpoints';
import { storeConfig } from './config';
import { MIGRATIONS } from './migrations';
import { MIGRATION_NAMES } from './migrations/names';
import { migratorOf } from './migrator';
import { SheetCache } from './sheetCache';
import { Store } from './store';

test('every migration has its name in the list', () => {
  expect(MIGRATIONS.map(({ name }) => name)).toEqual(MIGRATION_NAMES);
});

test('the migrations make just what the entities want', async () => {
  const orm = await MikroORM.init(storeConfig(':memory:'));
  await migratorOf(orm).up();
  expect(await orm.schema.getUpdateSchemaSQL({ wrap: false })).toBe('');
  await migratorOf(orm).down({ to: 0 });
  await orm.close(true);
});

test('top matter of an older Varn becomes rows outside of the records, cell by cell', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'varn-older-'));
  const orm = await MikroORM.init(storeConfig(join(folder, 'varn.sqlite')));
  const [first = ''] = MIGRATION_NAMES;
  await migratorOf(orm).up({ to: first });
  const run = (sql: string): Promise<unknown> => orm.em.getConnection().execute(sql);
  await run(`insert into workbook (id, name, locale, time_zone) values ('w', 'W', 'en-GB', 'UTC')`);
  const columns = JSON.stringify([{ id: 'a', heading: 'A', kind: 'text', settings: {} }]);
  const topMatter = JSON.stringify([['Title', null, 'far right'], [], ['Notes']]);
  await run(`insert into sheet (id, workbook_id, name, place, heading_row, top_matter, columns,
    revision, arriving) values ('s', 'w', 'S', 0, 4, '${topMatter}', '${columns}', 1, 0)`);
  await migratorOf(orm).up();
  expect(await run(`select loose_columns, has_records from sheet`)).toEqual([
    { loose_columns: '["loose-1-s","loose-2-s"]', has_records: 1 },
  ]);
  const rows = (await run(`select cells from free_row order by order_key`)) as { cells: string }[];
  expect(rows.map(({ cells }) => JSON.parse(cells) as unknown)).toEqual([
    { a: { value: 'Title' }, 'loose-2-s': { value: 'far right' } },
    {},
    { a: { value: 'Notes' } },
  ]);
  await orm.close(true);
  rmSync(folder, { recursive: true });
});

test('starting values of an older Varn store what they stored: those that did not count are suggestions', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'varn-older-'));
  const orm = await MikroORM.init(storeConfig(join(folder, 'varn.sqlite')));
  await migratorOf(orm).up({ to: 'Migration202611250004' });
  const run = (sql: string): Promise<unknown> => orm.em.getConnection().execute(sql);
  await run(`insert into workbook (id, name, locale, time_zone) values ('w', 'W', 'en-GB', 'UTC')`);
  await run(`insert into sheet (id, workbook_id, name, place, columns, revision, arriving)
    values ('s', 'w', 'S', 0, '[]', 1, 0)`);
  const starts = [
    { kind: 'today', counts: true },
    { kind: 'text', text: "o'clock", kept: true },
    { kind: 'beginning', text: 'WQ-' },
    undefined,
  ];
  const blocks = starts.map((start, n) => ({ is: 'field', id: `f${n}`, columnId: 'c', start }));
  const definition = JSON.stringify({ blocks }).replaceAll("'", "''");
  await run(`insert into form (id, sheet_id, name, place, definition, revision, version, draft)
    values ('f', 's', 'F', 0, '${definition}', 1, 1, '{"definition":${definition},"columns":[]}')`);
  await run(
    `insert into form_version (form_id, version, definition, at) values ('f', 1, '${definition}', 0)`,
  );
  await migratorOf(orm).up();
  const [form] = (await run(`select form.definition, draft, form_version.definition as earlier
    from form join form_version on form_id = id`)) as Record<string, string>[];
  const startsOf = (text = '', within = false): unknown => {
    const read = JSON.parse(text) as { definition: { blocks: { start?: object }[] } };
    const { blocks } = within ? read.definition : (read as unknown as typeof read.definition);
    return blocks.map(({ start }) => start);
  };
  const expected = [
    { kind: 'today' },
    { kind: 'text', text: "o'clock", kept: true, suggestion: true },
    { kind: 'beginning', text: 'WQ-' },
    undefined,
  ];
  expect(startsOf(form?.['definition'])).toEqual(expected);
  expect(startsOf(form?.['draft'], true)).toEqual(expected);
  expect(startsOf(form?.['earlier'])).toEqual(expected);
  await orm.close(true);
  rmSync(folder, { recursive: true });
});

test('forms and the log of an older Varn are read as they were meant', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'varn-older-'));
  const orm = await MikroORM.init(storeConfig(join(folder, 'varn.sqlite')));
  await migratorOf(orm).up({ to: 'Migration202611270001' });
  const field = (columnId: string, more: object = {}): object => {
    return { is: 'field', id: `f-${columnId}`, columnId, ...more };
  };
  const blocks = [
    field('mood', { control: 'scale' }),
    field('rank', { control: 'scale', details: { to: 5, ends: ['low', 'high'] } }),
    field('plain'),
  ];
  const column = (id: string): object => ({ id, heading: id, kind: 'computed', settings: {} });
  const draft = {
    definition: { blocks },
    columns: [column('sum'), column('other')],
    formulas: { sum: { text: '⟨0⟩*2', references: [] }, gone: { unread: '1 +' } },
  };
  const rows = {
    workbook: `('w', 'W', 'en-GB', 'UTC', '[]')`,
    sheet: `('s', 'w', 'S', 0, '[]', 1)`,
    form: `('f', 's', 'F', 0, '${JSON.stringify({ blocks })}', 1, '${JSON.stringify(draft)}')`,
    account: `('a', 'A', 'a@x.example', '')`,
    change: `('w', 'rowMoved', 's', 'r', 'x', 'd', 'a', 'grid', 0,
      '{"orderKey":{"value":5}}', '{"orderKey":{"value":7}}')`,
  };
  const columns = {
    workbook: 'id, name, locale, time_zone, names',
    sheet: 'id, workbook_id, name, place, columns, revision',
    form: 'id, sheet_id, name, place, definition, revision, draft',
    account: 'id, name, email, password_hash',
    change: `workbook_id, kind, sheet_id, record_id, write_id, digest, account_id, door, at,
      before, after`,
  };
  const execute = (sql: string): Promise<unknown> => orm.em.getConnection().execute(sql);
  for (const [table, of] of Object.entries(columns)) {
    await execute(`insert into "${table}" (${of}) values ${rows[table as keyof typeof rows]}`);
  }
  await migratorOf(orm).up();
  const [form] = (await execute('select definition, draft from form')) as Record<string, string>[];
  const told = (text: string | undefined): typeof draft => JSON.parse(text ?? '') as typeof draft;
  const scales = [
    field('mood', { control: 'scale', details: { from: 0, to: 10 } }),
    field('rank', { control: 'scale', details: { to: 5, ends: ['low', 'high'], from: 0 } }),
    field('plain'),
  ];
  expect(told(form?.['definition'])).toEqual({ blocks: scales });
  expect(told(form?.['draft'])).toEqual({
    definition: { blocks: scales },
    columns: [{ ...column('sum'), settings: { formula: draft.formulas.sum } }, column('other')],
  });
  const [change] = (await execute('select before, after from change')) as Record<string, string>[];
  expect(Object.values(change ?? {}).map((text) => JSON.parse(text) as unknown)).toEqual([
    { orderKey: 5 },
    { orderKey: 7 },
  ]);
  await orm.close(true);
  rmSync(folder, { recursive: true });
});

test('data of a newer Varn is refused kindly, and not touched', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'varn-newer-'));
  const orm = await MikroORM.init(storeConfig(join(folder, 'varn.sqlite')));
  await migratorOf(orm).up();
  await orm.em
    .getConnection()
    .execute(`insert into mikro_orm_migrations (name) values ('Migration203001010000')`);
  await orm.close(true);
  const app = await createApp({ ...SETTINGS_OF_TESTS, data: folder });
  await expect(app.init()).rejects.toThrow(/written by a newer Varn \(Migration203001010000\)/);
  await app.close();
  rmSync(folder, { recursive: true });
});

test('the database is durable: write-ahead log, flushed at each commit', async () => {
  const running = await start();
  const told = await running.app
    .get(Store)
    .withConnection((database) => [
      database.pragma('journal_mode', { simple: true }),
      database.pragma('synchronous', { simple: true }),
      database.pragma('foreign_keys', { simple: true }),
    ]);
  // SQLite: synchronous 2 is FULL.
  expect(told).toEqual(['wal', 2, 1]);
  await running.stop();
});

test('what is in the write-ahead log comes into the database file beside the server', async () => {
  const path = join(mkdtempSync(join(tmpdir(), 'varn-log-')), 'some.sqlite');
  const database = new SQLite(path);
  database.pragma('journal_mode = WAL');
  database.pragma('wal_autocheckpoint = 0');
  database.exec('CREATE TABLE probe (text TEXT)');
  const checkpoints = new Checkpoints(path);
  const text = 'x'.repeat(1000);
  const insert = database.prepare('INSERT INTO probe VALUES (?)');
  database.transaction(() => {
    for (let n = 0; n < 8000; n += 1) insert.run(text);
  })();
  const isCarriedOver = (): boolean => statSync(path).size > 8_000_000;
  const until = Date.now() + 20_000;
  while (!isCarriedOver() && Date.now() < until) await new Promise((go) => setTimeout(go, 50));
  expect(isCarriedOver()).toBe(true);
  // Whoever waits for it is told once it is all there, also of what came meanwhile.
  database.exec('UPDATE probe SET text = upper(text)');
  await checkpoints.catchUp();
  expect(readFileSync(path).includes('X'.repeat(1000))).toBe(true);
  await checkpoints.stop();
  database.close();
  rmSync(dirname(path), { recursive: true });
}, 30_000);

test('a sheet that is forgotten while it is read is read anew, not of two moments', async () => {
  const running = await start({ demoSamples: 1200 });
  const { store, cache } = { store: running.app.get(Store), cache: running.app.get(SheetCache) };
  const sheetId = running.form.sheet.id;
  cache.drop(sheetId);
  const read = store.reading.bind(store);
  let reads = 0;
  jest.spyOn(store, 'reading').mockImplementation(async (work) => {
    const found = await read(work);
    reads += 1;
    // After its first page, as a write is stored that memory knows nothing of.
    if (reads === 3) {
      await store.withConnection((database) =>
        database.prepare(`UPDATE record SET revision = 77 WHERE sheet_id = ?`).run(sheetId),
      );
      cache.drop(sheetId);
    }
    return found;
  });
  const model = await cache.model(sheetId);
  const revisions = Array.from({ length: model.count }, (_, at) => model.at(at).revision);
  expect(new Set(revisions)).toEqual(new Set([77]));
  expect(cache.modelAtHand(sheetId)).toBe(model);
  await running.stop();
});

test('a sheet that is not in memory is counted in pieces, also while it comes into memory', async () => {
  const running = await start();
  const { store, cache } = { store: running.app.get(Store), cache: running.app.get(SheetCache) };
  const sheetId = running.form.sheet.id;
  const before = await cache.count(sheetId);
  await store.withConnection((database) => {
    const insert = database.prepare(
      `INSERT INTO record (id, sheet_id, order_key, revision, cells) VALUES (?, ?, ?, 1, '{}')`,
    );
    database.transaction(() => {
      for (let n = 0; n < 20_500; n += 1) insert.run(`more-${n}`, sheetId, 1e9 + n * 1024);
    })();
  });
  cache.drop(sheetId);
  const counting = cache.count(sheetId);
  const model = await cache.model(sheetId);
  expect([await counting, model.count, await cache.count(sheetId)]).toEqual(
    Array.from({ length: 3 }, () => before + 20_500),
  );
  await running.stop();
}, 30_000);

test('every start gives the same demo', async () => {
  const [one, two] = [await start(), await start()];
  const told = ({ workbook, form }: typeof one): unknown => [
    workbook.sheets.map(({ name, records }) => [name, records]),
    form.last.records.map(({ cells }) => cells),
    form.lengths,
  ];
  expect(told(one)).toEqual(told(two));
  expect(one.workbook.sheets.map(({ records }) => records)).toEqual([
    48, 62, 20, 310, 180, 60, 0, 0,
  ]);
  expect(one.form.sheet.headingRow).toBe(4);
  await Promise.all([one.stop(), two.stop()]);
});

// Standard Methods 4500-O, as told in scenario and checks (from memory).
test.each([
  [0, 14.621],
  [10, 11.288],
  [20, 9.092],
  [30, 7.559],
])('oxygen saturation at %i °C is %d mg/L', (celsius, saturation) => {
  expect(oxygenSaturation(celsius)).toBeCloseTo(saturation, 2);
});

test.each([
  [{ VARN_PORT: '99999' }, /VARN_PORT/],
  [{ VARN_PORT: 'x' }, /VARN_PORT is ‘x’/],
  [{ VARN_UPLOAD_MB: '-1' }, /VARN_UPLOAD_MB/],
])('%j is refused at the start', (env, message) => {
  expect(() => settingsFrom(env)).toThrow(message);
});
