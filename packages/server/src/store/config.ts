import { ReflectMetadataProvider, type Options } from '@mikro-orm/core';
import { defineConfig, type BetterSqliteDriver } from '@mikro-orm/better-sqlite';
import type { Database } from 'better-sqlite3';
import { ENTITIES } from './entities';

/** Pages in the write-ahead log from which on a commit carries them over itself. */
export const MOST_LOGGED_PAGES = 16_384;

/** Pages the connection keeps in memory, in negative kibibytes as SQLite has it. */
export const CACHE_SIZE = -65_536;

/** The store's settings for a database file (`:memory:` for one that is gone afterwards). */
export function storeConfig(path: string): Options<BetterSqliteDriver> {
  return defineConfig({
    dbName: path,
    entities: ENTITIES,
    metadataProvider: ReflectMetadataProvider,
    metadataCache: { enabled: false },
    debug: false,
    logger: () => undefined,
    // One connection: SQLite has one writer, and what is read must be what was written.
    pool: {
      min: 1,
      max: 1,
      afterCreate: (...args: unknown[]) => {
        const [database, done] = args as [Database, (error: unknown, connection: Database) => void];
        database.pragma('journal_mode = WAL');
        // FULL: what was acknowledged survives a power cut.
        database.pragma('synchronous = FULL');
        database.pragma('busy_timeout = 5000');
        database.pragma('foreign_keys = ON');
        database.pragma(`cache_size = ${CACHE_SIZE}`);
        // Beyond so many pages what `Checkpoints` did not carry over yet is done at a commit.
        database.pragma(`wal_autocheckpoint = ${MOST_LOGGED_PAGES}`);
        // And what a large write left there is given back to the disk.
        database.pragma('journal_size_limit = 67108864');
        done(null, database);
      },
    },
  });
}
