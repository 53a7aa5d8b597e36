import {
  paths,
  type FormulaView,
  type FreeRowsView,
  type Refusal,
  type RowsView,
  type SheetView,
  type UndoView,
  type Written,
} from '@varn/contract';
import { randomUUID } from 'node:crypto';
import { mkdtempSync, rmSync } from 'node:fs';
import { connect } from 'node:net';
import { tmpdir } from 'node:os';
import { Readable } from 'node:stream';
import { finished } from 'node:stream/promises';
import { join } from 'node:path';
import { Sessions } from './access/sessions';
import { keepOnDisk } from './files/keepOnDisk';
import { Catalog } from './store/catalog';
import { Membership } from './store/entities';
import { Store } from './store/store';
import { Client, goodAnswers, start, type Answer, type Running } from './testing/harness';

let running: Running;
let reader: Client;
let analyst: Client;
const nobody = (): Client => new Client(running.base, '');
const folder = mkdtempSync(join(tmpdir(), 'varn-reliability-'));
const open = async (): Promise<void> => {
  running = await start({ data: folder });
  reader = await running.as('reader');
  analyst = await running.as('analyst');
};
beforeAll(open);
afterAll(async () => {
  await running.stop();
  rmSync(folder, { recursive: true, force: true });
});

const idOf = (name: string): string =>
  running.workbook.sheets.find((sheet) => sheet.name === name)?.id ?? '';
const sheetOf = (name: string): Promise<SheetView> =>
  analyst.get<SheetView>(paths.sheet(idOf(name)));

/** Sends bytes as they are, and gives the status and the body that come back. */
/** @param body what follows the head; of `null` nothing does, and the answer is waited for */
function raw(
  head: string,
  body: Buffer | string | null = '',
): Promise<{ status: number; body: string }> {
  const { hostname, port } = new URL(running.base);
  return new Promise((resolve, reject) => {
    const socket = connect(Number(port), hostname);
    let text = '';
    socket.on('data', (chunk) => (text += chunk.toString('latin1')));
    socket.on('close', () => {
      const [, status = '0', rest = ''] =
        /^HTTP\/1.1 (\d+)[\s\S]*?\r\n\r\n([\s\S]*)$/.exec(text) ?? [];
      resolve({ status: Number(status), body: rest });
    });
    socket.on('error', reject);
    socket.write(head.replace(/\n/g, '\r\n'));
    if (body !== null) socket.end(body);
  });
}

describe('formulas of a reader', () => {
  test.each([
    '=SEARCH("*b";REPT("a";1000000))',
    '=NETWORKDAYS(1;1e300)',
    '=SUM(COUNTIF(SEQUENCE(100000);SEQUENCE(100000)&"*"))',
    '=SUM(SEQUENCE(10000)*TRANSPOSE(SEQUENCE(10000)))',
    '=ROWS(UNIQUE(SEQUENCE(1000000)))',
    '=SUBSTITUTE(REPT("a";1000000);"a";REPT("b";1000000))',
    '=TEXTJOIN(REPT("a";1000000);FALSE;SEQUENCE(100000))',
  ])('%s is answered', async (text) => {
    const answer = await reader.ask<FormulaView>('POST', paths.checkFormula(idOf('Summary')), {
      text,
    });
    expect([answer.status, answer.body.gives.length]).toEqual([200, 1]);
    expect((await nobody().ask('GET', paths.health)).status).toBe(200);
  });

  test('are counted: who asks too often waits', async () => {
    const other = await running.as('reader');
    const ask = (client: Client): Promise<Answer<Refusal>> =>
      client.ask('POST', paths.checkFormula(idOf('Summary')), { text: '=1' });
    const statuses = await Promise.all(
      Array.from({ length: 80 }, async () => (await ask(other)).status),
    );
    expect(statuses.filter((status) => status === 429).length).toBe(20);
    // It is each person's own count.
    expect((await ask(analyst)).status).toBe(200);
  });
});

test('stored hostile formulas keep no sheet from opening, also after a restart', async () => {
  const made = await analyst.ask<SheetView>('POST', paths.sheets(running.workbook.id), {
    writeId: randomUUID(),
    name: 'Hostile',
    headings: [],
  });
  const hostile = [
    '=SUM(COUNTIF(SEQUENCE(100000);SEQUENCE(100000)&"*"))',
    '=SEQUENCE(10000)*TRANSPOSE(SEQUENCE(10000))',
    '=SEARCH(REPT("?a";1000)&"b";REPT("a";1000000))',
    '=A4+1',
  ];
  const edit = await analyst.ask<Written>('POST', paths.cells(made.body.id), {
    writeId: randomUUID(),
    revision: made.body.revision,
    rows: hostile.map((text, n) => ({ row: n + 1, cells: { 0: text } })),
  });
  expect(edit.status).toBe(200);
  const kit = await sheetOf('Kit loans');
  const formulas = ["='Second'+1", `=SUM(COUNTIF(SEQUENCE(3000);"*"&SEQUENCE(500)))+'First'`];
  for (const [n, heading] of ['First', 'Second'].entries()) {
    const { revision } = await sheetOf('Kit loans');
    const added = await analyst.ask('POST', paths.columns(kit.id), {
      heading,
      kind: 'number',
      revision,
    });
    expect([n, added.status]).toEqual([n, 201]);
  }
  for (const [n, heading] of ['First', 'Second'].entries()) {
    const { revision, columns } = await sheetOf('Kit loans');
    const id = columns.find((column) => column.heading === heading)?.id ?? '';
    const change = { kind: 'computed', formula: formulas[n], follows: true, revision };
    expect((await analyst.ask('PATCH', paths.column(kit.id, id), change)).status).toBe(200);
  }
  const check = async (): Promise<void> => {
    for (const { id } of running.workbook.sheets) {
      expect((await reader.ask('GET', paths.rows(id, 0, 50))).status).toBe(200);
    }
    const view = await reader.get<FreeRowsView>(paths.freeRows(made.body.id, 0, 10));
    const whys = view.rows.slice(0, 4).map(({ cells }) => cells[0]?.why?.code);
    expect(whys).toEqual(['tooLong', 'tooLong', 'tooLong', 'circle']);
    const rows = await reader.get<RowsView>(paths.rows(kit.id, 0, 5));
    const { columns } = await sheetOf('Kit loans');
    const at = columns.findIndex(({ heading }) => heading === 'First');
    expect(rows.records[0]?.cells[at]).toMatchObject({ error: '#REF!', why: { code: 'circle' } });
  };
  await check();
  await running.stop();
  await open();
  await check();
}, 120_000);

test('a circle of columns is told with its path where it is written', async () => {
  const { id, columns } = await sheetOf('Kit loans');
  const columnId = columns.find(({ heading }) => heading === 'Quantity')?.id ?? '';
  const { body } = await analyst.ask<FormulaView>('POST', paths.checkFormula(id), {
    text: "='Quantity'+1",
    columnId,
  });
  expect(body.notes.map(({ message }) => message)).toEqual([
    expect.stringContaining("Kit loans!'Quantity' → Kit loans!'Quantity'"),
  ]);
});

describe('before a body is read', () => {
  test('access is decided: a body of 24 MB from nobody is refused at its head', async () => {
    const head = `POST ${paths.cells(idOf('Samples'))} HTTP/1.1\nHost: localhost\nContent-Type: application/json\nContent-Length: 24000000\nConnection: close\n\n`;
    // Not a byte of the body is sent.
    const { status } = await raw(head, null);
    expect(status).toBe(401);
  });

  test.each<[string, () => string, number, number]>([
    ['signing in', () => paths.session, 5_000, 413],
    ['the demo', () => paths.demoSession, 5_000, 413],
    ['inserting rows', () => paths.insertRows(idOf('Samples')), 70_000, 413],
    ['a submit', () => paths.submits(running.form.id), 2_200_000, 413],
  ])('%s has a limit of its own', async (_what, path, bytes, status) => {
    const answer = await running.owner.ask<Refusal>('POST', path(), { text: 'x'.repeat(bytes) });
    expect([answer.status, answer.body.code]).toEqual([status, 'tooLarge']);
  });

  test.each<[string, string, string]>([
    ['a list', '[0,0,0]', 'shape'],
    ['depth', `${'['.repeat(1500)}${']'.repeat(1500)}`, 'tooDeep'],
    ['depth in an object', `{"a":${'{"a":'.repeat(60)}1${'}'.repeat(60)}}`, 'tooDeep'],
    ['a NUL', '{"personId":"a\\u0000b"}', 'holdsNul'],
    ['an escaped escape is no NUL', '{"personId":"a\\\\u0000b"}', 'notFound'],
    ['an escape at the end', '{"personId":"a\\\\"}', 'notFound'],
    ['an escape of nothing', '{"personId":"\\', 'badRequest'],
    ['brackets in a text', `{"personId":"${'['.repeat(60)}"}`, 'notFound'],
  ])('%s', async (_what, body, code) => {
    const response = await fetch(running.base + paths.demoSession, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body,
    });
    expect([response.status < 500, ((await response.json()) as Refusal).code]).toEqual([
      true,
      code,
    ]);
  });

  test('a refusal names twenty fields at most', async () => {
    const extra = Object.fromEntries(Array.from({ length: 300 }, (_, n) => [`x${n}`, n]));
    const answer = await nobody().ask<Refusal>('POST', paths.session, extra);
    expect([answer.status, answer.body.fields?.length]).toEqual([400, 20]);
    const rows = Array.from({ length: 20_000 }, () => ({}));
    const paste = await analyst.ask<Refusal>('POST', paths.cells(idOf('Samples')), {
      writeId: randomUUID(),
      revision: 1,
      rows,
    });
    expect([paste.status, paste.body.fields]).toEqual([
      400,
      [{ path: 'rows[0].row', message: 'is missing' }],
    ]);
  });
});

describe('what is wrong is refused, not failed', () => {
  test.each<[string, () => Promise<Answer<Refusal>>, number]>([
    ['a view that is null', () => reader.ask('GET', `${rowsOf()}&view=null`), 400],
    ['a view that is a list', () => reader.ask('GET', `${rowsOf()}&view=[]`), 400],
    ['a NUL in an id', () => reader.ask('GET', '/api/sheets/a%00b'), 400],
    ['a broken escape', () => reader.ask('GET', '/api/sheets/%'), 400],
    ['a part that is too long', () => reader.ask('GET', `/api/sheets/${'a'.repeat(500)}`), 414],
    [
      'a record named twice',
      async () => {
        const [record] = (await reader.get<RowsView>(rowsOf())).records;
        return analyst.ask('POST', paths.removeRows(idOf('Samples')), {
          writeId: randomUUID(),
          revision: 1,
          records: [record, record].map((each) => ({ id: each?.id, revision: each?.revision })),
          rows: [],
        });
      },
      400,
    ],
  ])('%s', async (_what, ask, status) => {
    const answer = await ask();
    expect([answer.status, answer.body.statusCode]).toEqual([status, status]);
    expect(answer.body.message).toMatch(/\w{3}/);
  });

  const rowsOf = (): string => paths.rows(idOf('Samples'), 0, 5);

  test.each([
    ['no HTTP', 'HELLO\n\n', 400],
    ['headers without end', `GET / HTTP/1.1\nHost: localhost\nX: ${'a'.repeat(40_000)}\n\n`, 431],
  ])('%s is answered in our shape', async (_what, head, status) => {
    const answer = await raw(head);
    const refusal = JSON.parse(answer.body) as Refusal;
    expect([answer.status, refusal.statusCode]).toEqual([status, status]);
  });

  test('a name that is not the server’s gets nothing', async () => {
    const { status } = await raw(
      `GET ${paths.health} HTTP/1.1\nHost: elsewhere.example\nConnection: close\n\n`,
    );
    expect(status).toBe(421);
  });
});

describe('a full disk', () => {
  test('is told of, nothing is half written, and writing goes on when there is room', async () => {
    const { form, owner, app } = running;
    const store = app.get(Store);
    const submit = (): Promise<Answer<Refusal>> =>
      owner.ask('POST', paths.submits(form.id), {
        writeId: randomUUID(),
        answers: { ...goodAnswers(form), 'samples.notes': 'x'.repeat(200_000) },
      });
    const count = async (): Promise<number> => (await owner.get<RowsView>(rowsOf())).count;
    const before = await count();
    // SQLite takes a file that may not grow as a disk that is full.
    const limit = (pages: string): Promise<unknown> =>
      store.withConnection((database) => {
        database.pragma('wal_checkpoint(TRUNCATE)');
        return database.pragma(`max_page_count = ${pages}`);
      });
    await limit('1');
    const refused = await submit();
    expect([refused.status, refused.body.code, refused.body.message]).toEqual([
      507,
      'diskFull',
      expect.stringContaining('nothing was written'),
    ]);
    expect(await count()).toBe(before);
    await limit('1073741823');
    expect((await submit()).status).toBe(201);
    expect(await count()).toBe(before + 1);
  });

  test('an upload that finds no room is read to its end, so that the connection goes on', async () => {
    const body = Readable.from(Array.from({ length: 50 }, () => Buffer.alloc(64 * 1024)));
    const keeping = keepOnDisk(body, '/dev/full', 1e9, { name: 'a.csv', cure: '' });
    await expect(keeping).rejects.toMatchObject({ code: 'ENOSPC' });
    await finished(body);
    expect(body.readableEnded).toBe(true);
  });

  const rowsOf = (): string => paths.rows(idOf('Samples'), 0, 1);
});

test('answers of the API are kept by no cache', async () => {
  for (const path of [paths.health, paths.session, paths.workbooks, '/api/nothing']) {
    const { headers } = await reader.ask('GET', path);
    expect([path, headers.get('cache-control')]).toEqual([path, 'no-store']);
  }
});

describe('streams of events', () => {
  const stream = async (client: Client, query = ''): Promise<Response> =>
    fetch(`${running.base}${paths.events(running.workbook.id)}${query}`, {
      headers: { cookie: client.cookie },
    });
  const ended = async (response: Response): Promise<boolean> => {
    for await (const _ of response.body ?? []);
    return true;
  };

  test('end at sign-out, and when a membership ends', async () => {
    const leaving = await running.as('reader');
    const leavingStream = await stream(leaving);
    await leaving.ask('DELETE', paths.session);
    await expect(ended(leavingStream)).resolves.toBe(true);

    const dropped = await running.as('clerk');
    const droppedStream = await stream(dropped);
    const person = await running.app.get(Sessions).personOf(dropped.cookie);
    const em = running.app.get(Store).em();
    await em.nativeDelete(Membership, { account: person?.id ?? '' });
    await running.app.get(Catalog).refresh(running.workbook.id);
    await submit('after the membership ended');
    await expect(ended(droppedStream)).resolves.toBe(true);
  });

  test('of one person are twenty at most: the oldest is told that it gave way', async () => {
    const many = await running.as('reader');
    const open: Response[] = [];
    for (let n = 0; n < 23; n += 1) open.push(await stream(many));
    const texts = open.slice(0, 3).map((response) => response.text());
    for (const text of await Promise.all(texts)) expect(text).toMatch(/event: gaveWay\n.*\n\n$/);
    // The others go on, each person's apart.
    const others = [...open.slice(3), await stream(reader)].map((response) =>
      response.body?.getReader(),
    );
    await submit('told to twenty');
    for (const each of others) {
      let text = '';
      while (!text.includes('told to twenty')) {
        text += new TextDecoder().decode((await each?.read())?.value as Uint8Array);
        expect(text).not.toContain('gaveWay');
      }
      await each?.cancel();
    }
  });

  test('from a number above the last, all is to be read anew', async () => {
    const response = await stream(reader, '?after=999999999');
    const decoder = new TextDecoder();
    let text = '';
    for await (const part of response.body ?? []) {
      text += decoder.decode(part as Uint8Array);
      if (text.includes('event: reload')) break;
    }
    expect(text).toMatch(/id: \d+\nevent: reload/);
  });

  test('who does not read is cut off, and nothing is kept for', async () => {
    const { hostname, port } = new URL(running.base);
    const socket = connect(Number(port), hostname);
    socket.pause();
    socket.write(
      `GET ${paths.events(running.workbook.id)} HTTP/1.1\r\nHost: localhost\r\nCookie: ${reader.cookie}\r\n\r\n`,
    );
    const closed = new Promise((resolve) => socket.on('close', resolve));
    socket.on('error', () => undefined);
    const notes = 'x'.repeat(900_000);
    for (let n = 0; n < 12; n += 1) await submit(notes);
    socket.resume();
    await expect(closed).resolves.toBeDefined();
  }, 60_000);

  async function submit(notes: string): Promise<void> {
    const { form, owner } = running;
    const answers = { ...goodAnswers(form), 'samples.notes': notes };
    const { status } = await owner.ask('POST', paths.submits(form.id), {
      writeId: randomUUID(),
      answers,
    });
    expect(status).toBe(201);
  }
});

test('one’s own writes are found by batch, however large they are', async () => {
  const made = await analyst.ask<SheetView>('POST', paths.sheets(running.workbook.id), {
    writeId: randomUUID(),
    name: 'Filled',
    headings: [],
  });
  const paste = async (count: number): Promise<void> => {
    const sheet = await analyst.get<SheetView>(paths.sheet(made.body.id));
    const rows = Array.from({ length: count }, (_, n) => ({ row: n + 1, cells: { 0: `${n}` } }));
    const body = { writeId: randomUUID(), revision: sheet.revision, rows };
    expect((await analyst.ask('POST', paths.cells(sheet.id), body)).status).toBe(200);
  };
  await paste(3);
  await paste(5000);
  const undo = async (): Promise<string> => {
    const { undo: entry } = await analyst.get<UndoView>(paths.undo(running.workbook.id));
    await analyst.ask('POST', paths.undo(running.workbook.id), {
      writeId: randomUUID(),
      undoes: entry?.writeId,
    });
    return entry?.says ?? '';
  };
  expect(await undo()).toMatch(/5,?000 changes/);
  expect(await undo()).toMatch(/^[34] changes/);
}, 60_000);
