import { parse } from 'csv-parse';
import { stringify } from 'csv-stringify/sync';
import { createReadStream, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { sized } from './size.mjs';
import { inFolder, milliseconds, ratio } from './server.mjs';

const { lookThroughFile, readFileInto, rowsOfFile, csvRows } = createRequire(import.meta.url)(
  '@varn/files',
);
const ROWS = sized(100_000, 500);
const COLUMNS = 12;

function content() {
  const row = (n) => [
    `S-${n}`,
    '2026-03-28',
    '09:30',
    'Mereling',
    'ME-01',
    'A name, quoted',
    (n % 140) / 10,
    n % 17,
    7.2,
    n % 2 ? 'yes' : 'no',
    n,
    `note ${n % 50}`,
  ];
  const heading = Array.from({ length: COLUMNS }, (_, n) => `Column ${n + 1}`);
  return stringify([heading, ...Array.from({ length: ROWS }, (_, n) => row(n))]);
}

async function timed(work) {
  const began = performance.now();
  const result = await work();
  return { ms: performance.now() - began, result };
}

/** A file of 100,000 × 12 in and out, next to the parsing and writing libraries alone. */
export function measure() {
  return inFolder(async (folder) => {
    const path = join(folder, 'file.csv');
    writeFileSync(path, content());
    const alone = () =>
      pipeline(
        createReadStream(path),
        parse({ relax_quotes: true, relax_column_count: true }),
        async (rows) => {
          let cells = 0;
          for await (const row of rows) cells += row.length;
          if (cells < ROWS * COLUMNS) throw new Error('the library read too little');
        },
      );
    await alone();
    const parsed = await timed(alone);
    const scouted = await timed(() =>
      lookThroughFile('csv', path, {
        dialect: {},
        keepTotals: false,
        guarded: true,
        locale: 'en-GB',
      }),
    );
    const { dialect, preview, marks } = scouted.result;
    const last = { path, dialect, from: ROWS - 10, count: 10 };
    const deep = await timed(() => rowsOfFile('csv', { ...last, start: marks.at(-1) }));
    const afresh = await timed(() => rowsOfFile('csv', last));
    const records = [];
    const taken = await timed(() =>
      readFileInto(
        'csv',
        { path, dialect, plan: preview.plan, locale: 'en-GB', now: 46_351 },
        async (batch) => void records.push(...batch),
      ),
    );
    const columns = preview.plan.columns.map(({ heading, kind }) => ({
      id: heading,
      heading,
      kind,
      settings: {},
    }));
    const library = await timed(() => stringify(records.map((cells) => cells.map(String))));
    const written = await timed(() => {
      for (let n = 0; n < records.length; n += 1000)
        csvRows(columns, records.slice(n, n + 1000), { guarded: true });
    });
    return [
      {
        what: `parsing library alone, ${ROWS.toLocaleString('en')} × ${COLUMNS}`,
        value: milliseconds(parsed.ms),
      },
      {
        what: 'looked through: layout, kinds, outcomes (own thread)',
        value: milliseconds(scouted.ms),
        target: `${ratio(scouted.ms, parsed.ms)} of the library`,
      },
      {
        what: 'its last rows, from the nearest mark (own thread)',
        value: milliseconds(deep.ms),
        target: `${ratio(deep.ms, afresh.ms)} of reading from the beginning`,
      },
      {
        what: 'read into records (own thread)',
        value: milliseconds(taken.ms),
        target: `${ratio(taken.ms, parsed.ms)} of the library`,
      },
      { what: 'writing library alone', value: milliseconds(library.ms) },
      {
        what: 'written, guarded, dates as ISO 8601',
        value: milliseconds(written.ms),
        target: `${ratio(written.ms, library.ms)} of the library`,
      },
    ];
  });
}
