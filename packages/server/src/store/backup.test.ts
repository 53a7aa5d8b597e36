import { paths, type FileView, type Landed, type RowsView } from '@varn/contract';
import Database from 'better-sqlite3';
import { spawnSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { goodAnswers, start, type Running } from '../testing/harness';
import { backUp, restore } from './backup';
import { checkDatabase, claimDataFolder, databaseIn } from './dataFolder';

const root = mkdtempSync(join(tmpdir(), 'varn-backup-'));
const at = (name: string): string => join(root, name);
afterAll(() => rmSync(root, { recursive: true, force: true }));

async function submit({ form, owner }: Running): Promise<Landed> {
  const { body } = await owner.ask<Landed>('POST', paths.submits(form.id), {
    writeId: randomUUID(),
    answers: goodAnswers(form),
  });
  return body;
}

test('a backup under load holds all that was acknowledged before it, once, and starts', async () => {
  const running = await start({ data: at('own') });
  const name = 'a sketch.txt';
  const { body: file } = await running.owner.ask<FileView>(
    'POST',
    paths.files(running.workbook.id, name),
    'the mouth of the beck',
  );
  const before: Landed[] = [];
  let isOver = false;
  const load = Array.from({ length: 8 }, async () => {
    while (!isOver) before.push(await submit(running));
  });
  while (before.length < 40) await new Promise((resolve) => setTimeout(resolve, 5));
  const known = [...before];
  const told = backUp(at('own'), at('kept'));
  while (before.length < known.length + 40) await new Promise((resolve) => setTimeout(resolve, 5));
  isOver = true;
  await Promise.all(load);
  expect(told).toMatchObject({ workbooks: 1, files: 1 });

  // The server goes on, so its folder can't be restored to.
  const release = claimDataFolder(at('other'), 'a test');
  expect(() => restore(at('kept'), at('other'))).toThrow(/in use by the Varn at a test/);
  release();
  await running.stop();

  const aside = restore(at('kept'), at('own'));
  expect(existsSync(databaseIn(aside ?? ''))).toBe(true);
  const again = await start({ data: at('own') });
  const rows = await again.owner.get<RowsView>(paths.rows(again.form.sheet.id, 0, 1000));
  const ids = rows.records.map(({ id }) => id);
  expect(new Set(ids).size).toBe(ids.length);
  expect(ids).toEqual(expect.arrayContaining(known.map(({ recordId }) => recordId)));
  const { body } = await again.owner.ask('GET', paths.file(again.workbook.id, file.id));
  expect(body).toBe('the mouth of the beck');
  // Who was signed in then is not now; what is written next goes on.
  expect((await running.owner.ask('GET', paths.workbooks).catch(() => null))?.status).not.toBe(200);
  expect((await submit(again)).before).toBe(rows.count);
  await again.stop();
}, 60_000);

test('nothing is overwritten by a backup, and nothing half comes of one', () => {
  expect(() => backUp(at('own'), at('kept'))).toThrow(/is there already/);
  expect(() => backUp(at('nowhere'), at('new'))).toThrow(/no data of Varn’s/);
  expect(() => restore(at('nowhere'), at('own'))).toThrow(/no backup in/);
  const broken = at('broken');
  backUp(at('own'), broken);
  const database = new Database(databaseIn(broken));
  const { id } = database.prepare('SELECT id FROM stored_file').get() as { id: string };
  database.close();
  rmSync(join(broken, 'files', id));
  const size = readFileSync(databaseIn(at('own'))).length;
  expect(() => restore(broken, at('own'))).toThrow(/a sketch.txt is missing/);
  expect(readFileSync(databaseIn(at('own'))).length).toBe(size);
});

describe('a data folder that can’t be used is told of in one sentence', () => {
  test('a file that is no database, and one that is cut', () => {
    const folder = at('damaged');
    backUp(at('own'), folder);
    const path = databaseIn(folder);
    const whole = readFileSync(path);
    writeFileSync(path, 'this is a letter, not a database, and long enough to be one. '.repeat(99));
    expect(() => checkDatabase(folder)).toThrow(/varn\.sqlite is damaged or no database/);
    writeFileSync(join(folder, 'varn.sqlite'), '');
    expect(() => checkDatabase(folder)).toThrow(/varn\.sqlite is empty\. Put a backup/);
    writeFileSync(path, whole.subarray(0, 5000));
    expect(() => checkDatabase(folder)).toThrow(/varn\.sqlite is damaged/);
  });

  test('one of a newer version', () => {
    const folder = at('newer');
    backUp(at('own'), folder);
    const database = new Database(databaseIn(folder));
    database.exec(`INSERT INTO mikro_orm_migrations (name) VALUES ('Migration209901010001')`);
    database.close();
    expect(() => checkDatabase(folder)).toThrow(/written by a newer Varn \(Migration2099/);
  });

  test('one that can’t be written', () => {
    const folder = at('locked');
    writeFileSync(folder, 'a file where a folder was wanted');
    expect(() => claimDataFolder(folder, 'a test')).toThrow(/locked can’t be written \(\w+\)/);
  });

  test('a lock is freed when its process dies, however it does', () => {
    const folder = at('held');
    const held = claimDataFolder(folder, 'http://localhost:1');
    expect(() => claimDataFolder(folder, 'x')).toThrow(
      /in use by the Varn at http:\/\/localhost:1 \(process \d+, since/,
    );
    held();
    // Another process takes it and is killed.
    const script = `const D=require('better-sqlite3');const d=new D(${JSON.stringify(join(folder, 'varn.lock'))});d.exec('BEGIN EXCLUSIVE');process.kill(process.pid,'SIGKILL')`;
    expect(spawnSync(process.execPath, ['-e', script]).signal).toBe('SIGKILL');
    claimDataFolder(folder, 'http://localhost:2')();
  });
});
