import Database from 'better-sqlite3';
import {
  copyFileSync,
  constants,
  cpSync,
  existsSync,
  fsyncSync,
  mkdirSync,
  openSync,
  closeSync,
  readdirSync,
  renameSync,
  rmSync,
  statSync,
} from 'node:fs';
import { join } from 'node:path';
import { checkDatabase, claimDataFolder, databaseIn } from './dataFolder';

/** What a backup holds. */
export interface BackedUp {
  readonly workbooks: number;
  readonly records: number;
  readonly files: number;
  readonly bytes: number;
}

/** What of a data folder is kept: the database with its companions, and the files of forms. */
const KEPT = ['varn.sqlite', 'varn.sqlite-wal', 'varn.sqlite-shm', 'files', 'uploads'];

/**
 * Copies a data folder as it is at one moment, also while a server writes to it. The database is
 * copied by SQLite in one read transaction; the files are those the copy knows of, which are
 * never changed once they are stored. Who is signed in, and files that wait to be brought in, are
 * left out.
 *
 * @param into a folder that is not there yet; it is there when all of it is
 * @throws Error in one sentence
 */
export function backUp(folder: string, into: string): BackedUp {
  if (!existsSync(databaseIn(folder))) throw new Error(`There is no data of Varn’s in ${folder}.`);
  if (existsSync(into)) {
    throw new Error(
      `${into} is there already. Name a folder that is not, so that nothing is lost.`,
    );
  }
  const part = `${into}.part`;
  rmSync(part, { recursive: true, force: true });
  mkdirSync(join(part, 'files'), { recursive: true });
  const source = new Database(databaseIn(folder), { readonly: true, timeout: 10_000 });
  source.prepare('VACUUM INTO ?').run(databaseIn(part));
  source.close();
  const copy = new Database(databaseIn(part));
  copy.exec('DELETE FROM session; DELETE FROM upload;');
  const files = copy.prepare('SELECT id FROM stored_file').all() as { id: string }[];
  const count = (sql: string): number => (copy.prepare(sql).get() as { n: number }).n;
  const workbooks = count('SELECT count(*) AS n FROM workbook');
  const records = count('SELECT count(*) AS n FROM record WHERE removed_at IS NULL');
  copy.close();
  let { size: bytes } = statSync(databaseIn(part));
  for (const { id } of files) {
    const to = join(part, 'files', id);
    copyFileSync(join(folder, 'files', id), to, constants.COPYFILE_FICLONE);
    flush(to);
    bytes += statSync(to).size;
  }
  checkWhole(part);
  flush(databaseIn(part));
  flush(join(part, 'files'));
  flush(part);
  renameSync(part, into);
  return { workbooks, records, files: files.length, bytes };
}

/**
 * Puts a backup in the place of a folder's data, which is kept beside it.
 *
 * @returns where what was there before is now; `null` where there was nothing
 * @throws Error in one sentence; then nothing was changed
 */
export function restore(from: string, folder: string): string | null {
  if (!existsSync(databaseIn(from))) throw new Error(`There is no backup in ${from}.`);
  checkDatabase(from);
  checkWhole(from);
  const release = claimDataFolder(folder, 'npm run restore');
  try {
    // Whole in the folder before anything there is touched.
    const coming = join(folder, 'restoring');
    rmSync(coming, { recursive: true, force: true });
    cpSync(from, coming, { recursive: true });
    const held = readdirSync(folder).filter((name) => KEPT.includes(name));
    const aside = join(folder, `before-${new Date().toISOString().replace(/[:.]/g, '-')}`);
    if (held.length > 0) mkdirSync(aside);
    for (const name of held) renameSync(join(folder, name), join(aside, name));
    for (const name of readdirSync(coming).filter((each) => KEPT.includes(each))) {
      renameSync(join(coming, name), join(folder, name));
    }
    rmSync(coming, { recursive: true, force: true });
    flush(folder);
    return held.length > 0 ? aside : null;
  } finally {
    release();
  }
}

/** @throws Error where the database of a folder is damaged, or a file it knows of is missing */
function checkWhole(folder: string): void {
  const database = new Database(databaseIn(folder), { readonly: true });
  try {
    const [result] = database.pragma('quick_check(1)') as { quick_check: string }[];
    if (result?.quick_check !== 'ok') throw new Error(`${databaseIn(folder)} is damaged.`);
    const files = database.prepare('SELECT id, name FROM stored_file').all();
    const missing = (files as { id: string; name: string }[]).find(
      ({ id }) => !existsSync(join(folder, 'files', id)),
    );
    if (missing) throw new Error(`The file ${missing.name} is missing in ${folder}.`);
  } finally {
    database.close();
  }
}

function flush(path: string): void {
  const handle = openSync(path, 'r');
  fsyncSync(handle);
  closeSync(handle);
}
