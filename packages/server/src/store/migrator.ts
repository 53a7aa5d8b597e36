import type { MikroORM } from '@mikro-orm/core';
import { createRequire } from 'node:module';
import { MIGRATION_NAMES } from './migrations/names';

/** What runs migrations, as MikroORM's package gives it. */
type Migrator = InstanceType<(typeof import('@mikro-orm/migrations'))['Migrator']>;

const load = createRequire(__filename);

/**
 * The migrator of a store. Its package takes a fifth of a second to load, so it is loaded only when
 * there is something to migrate.
 */
export function migratorOf(orm: MikroORM): Migrator {
  const { Migrator } = load('@mikro-orm/migrations') as typeof import('@mikro-orm/migrations');
  const { MIGRATIONS } = load('./migrations') as typeof import('./migrations');
  orm.config.set('migrations', {
    ...orm.config.get('migrations'),
    migrationsList: MIGRATIONS,
    allOrNothing: true,
    snapshot: false,
  });
  return new Migrator(orm.em as ConstructorParameters<typeof Migrator>[0]);
}

/**
 * Brings the schema up to date and gives how many steps that took.
 *
 * @throws Error when the data is of a newer Varn
 */
export async function bringUpToDate(orm: MikroORM): Promise<number> {
  const done = await executedNames(orm);
  const newer = done.find((name) => !MIGRATION_NAMES.includes(name));
  if (newer !== undefined) {
    throw new Error(
      `The data was written by a newer Varn (${newer}). Start that version, or choose another folder with VARN_DATA.`,
    );
  }
  if (MIGRATION_NAMES.every((name) => done.includes(name))) return 0;
  return (await migratorOf(orm).up()).length;
}

async function executedNames(orm: MikroORM): Promise<string[]> {
  const connection = orm.em.getConnection();
  const table = 'mikro_orm_migrations';
  const tables = (await connection.execute(
    `select name from sqlite_master where type = 'table' and name = '${table}'`,
  )) as unknown[];
  if (tables.length === 0) return [];
  const rows = (await connection.execute(`select name from ${table}`)) as { name: string }[];
  return rows.map(({ name }) => name);
}
