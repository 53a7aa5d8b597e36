import Database from 'better-sqlite3';
import {
  accessSync,
  constants,
  existsSync,
  mkdirSync,
  readFileSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { join } from 'node:path';
import { MIGRATION_NAMES } from './migrations/names';

/** The database of a data folder. */
export const databaseIn = (folder: string): string => join(folder, 'varn.sqlite');
const LOCK = 'varn.lock';
const HOLDER = 'varn.holder';
const OTHER_FOLDER = 'or choose another folder with VARN_DATA';

/** Who serves a data folder. */
interface Holder {
  readonly process: number;
  readonly address: string;
  readonly since: string;
}

/**
 * Takes a data folder for this process alone, until it gives it back or ends: the system frees the
 * lock, however the process ends.
 *
 * @param address where it will be served
 * @returns gives the folder back
 * @throws Error in one sentence, when another process has it or it can't be used
 */
export function claimDataFolder(folder: string, address: string): () => void {
  makeUsable(folder);
  const lock = new Database(join(folder, LOCK), { timeout: 0 });
  try {
    lock.exec('BEGIN EXCLUSIVE');
  } catch (error) {
    lock.close();
    if (codeOf(error) !== 'SQLITE_BUSY') throw error;
    throw new Error(
      `${folder} is in use by ${holderOf(folder)}. Stop that one first, ${OTHER_FOLDER}.`,
      { cause: error },
    );
  }
  const holder: Holder = { process: process.pid, address, since: new Date().toISOString() };
  writeFileSync(join(folder, HOLDER), JSON.stringify(holder));
  held.add(lock);
  return () => {
    held.delete(lock);
    lock.close();
  };
}

/** Locks are held as long as the process, although nobody else may keep them. */
const held = new Set<Database.Database>();

function holderOf(folder: string): string {
  try {
    const held = JSON.parse(readFileSync(join(folder, HOLDER), 'utf8')) as Holder;
    return `the Varn at ${held.address} (process ${held.process}, since ${held.since})`;
  } catch {
    // It has the lock, and has not said its name yet.
    return 'another Varn';
  }
}

function makeUsable(folder: string): void {
  try {
    mkdirSync(folder, { recursive: true });
    const paths = [folder, databaseIn(folder), `${databaseIn(folder)}-wal`];
    for (const path of paths.filter((each) => existsSync(each))) {
      accessSync(path, constants.R_OK | constants.W_OK);
    }
  } catch (error) {
    const { path = folder, code = '' } = error as NodeJS.ErrnoException;
    throw new Error(
      `${path} can’t be written (${code}). Give Varn’s user the right to, ${OTHER_FOLDER}.`,
      { cause: error },
    );
  }
}

/**
 * Looks whether the database of a folder can be opened by this version, before anything is started.
 *
 * @throws Error in one sentence that names the file and what to do
 */
export function checkDatabase(folder: string): void {
  const path = databaseIn(folder);
  if (!existsSync(path)) return;
  // A copy that was cut off: what was there would be taken for a new folder, and nothing be said.
  if (statSync(path).size === 0 && !existsSync(`${path}-wal`)) {
    throw new Error(
      `${path} is empty. Put a backup in its place with npm run restore, delete it to begin anew, ${OTHER_FOLDER}.`,
    );
  }
  let names: readonly string[];
  try {
    names = executedIn(path);
  } catch (error) {
    const code = codeOf(error);
    if (code === 'SQLITE_NOTADB' || code.startsWith('SQLITE_CORRUPT')) {
      throw new Error(
        `${path} is damaged or no database of Varn’s. Put a backup in its place with npm run restore, ${OTHER_FOLDER}.`,
        { cause: error },
      );
    }
    throw new Error(
      `${path} can’t be opened (${code}). Check the disk and who may write there, ${OTHER_FOLDER}.`,
      { cause: error },
    );
  }
  const newer = names.find((name) => !MIGRATION_NAMES.includes(name));
  if (newer !== undefined) {
    throw new Error(
      `${path} was written by a newer Varn (${newer}). Start that version, ${OTHER_FOLDER}.`,
    );
  }
}

function executedIn(path: string): string[] {
  const database = new Database(path, { timeout: 5000 });
  try {
    // Reads every page of the schema, which a file of other bytes does not survive.
    database.pragma('schema_version');
    const tables = database
      .prepare(`SELECT name FROM sqlite_master WHERE name = 'mikro_orm_migrations'`)
      .all();
    if (tables.length === 0) return [];
    const rows = database.prepare('SELECT name FROM mikro_orm_migrations').all();
    return (rows as { name: string }[]).map(({ name }) => name);
  } finally {
    database.close();
  }
}

const codeOf = (error: unknown): string => (error as { code?: string } | null)?.code ?? 'unknown';
