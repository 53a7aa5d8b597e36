import { createRequire } from 'node:module';
import { join } from 'node:path';
import { ROOT } from '../lib/run.mjs';

export const COLUMNS = 12;

export const Database = createRequire(join(ROOT, 'packages/server/package.json'))('better-sqlite3');

const columns = Array.from({ length: COLUMNS }, (_, n) => ({
  id: `large.${n}`,
  heading: `Column ${n + 1}`,
  kind: ['wholeNumber', 'number', 'text', 'date'][n % 4],
  settings: {},
}));

/** A record's cells: whole numbers, numbers, short texts of 1,000 sorts, dates. */
function cellsOf(n) {
  const values = columns.map(({ id }, column) => {
    const value = [n, (n % 977) / 10, `text ${n % 1000}`, 45_000 + (n % 1000)][column % 4];
    return `"${id}":${typeof value === 'string' ? `"${value}"` : value}`;
  });
  return `{${values.join(',')}}`;
}

/** Puts a sheet of many records into the database of a server that is stopped. */
export const addLargeSheet = (folder, workbookId, records) =>
  addSheet(folder, workbookId, { id: 'large', name: 'Large', columns, records, cellsOf });

/** The same of any columns. `cellsOf` gives a record's cells as JSON. */
export function addSheet(folder, workbookId, { id, name, columns, records, cellsOf }) {
  const database = new Database(join(folder, 'varn.sqlite'));
  database
    .prepare(
      `INSERT INTO sheet (id, workbook_id, name, place, columns, loose_columns, lost_columns, look,
        revision, arriving, has_records) VALUES (?, ?, ?, 9, ?, '[]', '[]', '{}', 1, 0, 1)`,
    )
    .run(id, workbookId, name, JSON.stringify(columns));
  const insert = database.prepare(
    `INSERT INTO record (id, sheet_id, order_key, revision, cells) VALUES (?, ?, ?, 1, ?)`,
  );
  database.transaction(() => {
    for (let n = 0; n < records; n += 1) insert.run(`${id}-${n}`, id, (n + 1) * 1024, cellsOf(n));
  })();
  database.close();
}
