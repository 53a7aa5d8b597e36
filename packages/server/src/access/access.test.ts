import { paths, type Refusal, type RowsOfFile } from '@varn/contract';
import { randomUUID } from 'node:crypto';
import { Client, cookieOf, start, type Running } from '../testing/harness';

type Who = 'owner' | 'analyst' | 'clerk' | 'reader' | 'outsider' | 'signedOut';
const EVERYONE: Who[] = ['owner', 'analyst', 'clerk', 'reader', 'outsider', 'signedOut'];
const from = (least: Who): Who[] => EVERYONE.slice(0, EVERYONE.indexOf(least) + 1);

let running: Running;
let clients: Record<Who, Client>;
beforeAll(async () => {
  running = await start();
  clients = {
    owner: await running.as('owner'),
    analyst: await running.as('analyst'),
    clerk: await running.as('clerk'),
    reader: await running.as('reader'),
    outsider: await running.as('outsider'),
    signedOut: new Client(running.base, ''),
  };
});
afterAll(() => running.stop());

const workbookId = (): string => running.workbook.id;
const sheetId = (): string => running.form.sheet.id;
const formId = (): string => running.form.id;
const upload = (): string => 'no-such-upload';
const write = (rest: object = {}): object => ({ writeId: randomUUID(), ...rest });

/** Every route, whom it lets in, and a request that is in order but for what it names. */
const ROUTES: [route: string, path: () => string, least: Who, body?: () => unknown][] = [
  ['GET /api/health', () => paths.health, 'signedOut'],
  ['GET /api/session', () => paths.session, 'signedOut'],
  ['POST /api/session', () => paths.session, 'signedOut', () => ({ email: 'a@b.example' })],
  ['POST /api/session/demo', () => paths.demoSession, 'signedOut', () => ({ personId: 'nobody' })],
  ['DELETE /api/session', () => `${paths.session}?`, 'signedOut'],
  ['GET /api/workbooks', () => paths.workbooks, 'outsider'],
  ['GET /api/places', () => paths.places, 'outsider'],
  ['POST /api/workbooks', () => paths.workbooks, 'outsider', () => write({ name: '' })],
  [
    'PATCH /api/workbooks/{workbookId}',
    () => paths.workbook(workbookId()),
    'analyst',
    () => write({ name: '' }),
  ],
  ['GET /api/workbooks/{workbookId}/overview', () => paths.overview(workbookId()), 'reader'],
  ['GET /api/workbooks/{workbookId}/problems', () => paths.problems(workbookId()), 'reader'],
  [
    'POST /api/workbooks/{workbookId}/forms',
    () => paths.forms(workbookId()),
    'analyst',
    () => write({ name: 'A form', sheetId: 'none' }),
  ],
  [
    'POST /api/workbooks/{workbookId}/files',
    () => paths.files(workbookId(), 'a.txt'),
    'clerk',
    () => 'a file',
  ],
  [
    'GET /api/workbooks/{workbookId}/files/{fileId}',
    () => paths.file(workbookId(), 'none'),
    'reader',
  ],
  ['GET /api/forms/{formId}/draft', () => paths.draft(formId()), 'analyst'],
  [
    'PUT /api/forms/{formId}/draft',
    () => paths.draft(formId()),
    'analyst',
    () => ({ definition: { blocks: [] }, columns: [], revision: -1 }),
  ],
  ['DELETE /api/forms/{formId}/draft', () => `${paths.draft(formId())}?revision=-1`, 'analyst'],
  [
    'POST /api/forms/{formId}/use',
    () => paths.use(formId()),
    'analyst',
    () => write({ revision: -1 }),
  ],
  [
    'POST /api/forms/{formId}/versions/{version}/bring-back',
    () => paths.bringBack(formId(), 99),
    'analyst',
    () => ({ revision: -1 }),
  ],
  [
    'POST /api/forms/{formId}/trials',
    () => paths.trials(formId()),
    'analyst',
    () => write({ answers: {} }),
  ],
  [
    'POST /api/sheets/{sheetId}/remove-trials',
    () => paths.removeTrials(sheetId()),
    'analyst',
    () => write(),
  ],
  [
    'PATCH /api/forms/{formId}/records/{recordId}',
    () => paths.formRecord(formId(), 'none'),
    'clerk',
    () => write({ answers: {}, revision: -1 }),
  ],
  ['GET /api/workbooks/{workbookId}', () => paths.workbook(workbookId()), 'reader'],
  ['GET /api/workbooks/{workbookId}/history', () => paths.history(workbookId()), 'reader'],
  ['GET /api/workbooks/{workbookId}/bin', () => paths.bin(workbookId()), 'clerk'],
  [
    'POST /api/workbooks/{workbookId}/bin/empty',
    () => paths.emptyBin(workbookId()),
    'owner',
    () => ({ writeId: 'no id' }),
  ],
  [
    'POST /api/workbooks/{workbookId}/sheets/{sheetId}/put-back',
    () => paths.putBackSheet(workbookId(), 'none'),
    'analyst',
    () => ({ revision: -1 }),
  ],
  ['GET /api/sheets/{sheetId}/records/{recordId}', () => paths.record(sheetId(), 'none'), 'reader'],
  [
    'GET /api/sheets/{sheetId}/records/{recordId}/history',
    () => paths.recordHistory(sheetId(), 'none'),
    'reader',
  ],
  [
    'POST /api/sheets/{sheetId}/records/{recordId}/bring-back',
    () => paths.bringBackState(sheetId(), 'none'),
    'clerk',
    () => write({ revision: -1, seq: 1 }),
  ],
  [
    'POST /api/sheets/{sheetId}/counts',
    () => paths.counts(sheetId()),
    'reader',
    () => ({ filters: [] }),
  ],
  [
    'POST /api/sheets/{sheetId}/search',
    () => paths.search(sheetId()),
    'reader',
    () => ({ text: 'a', most: 1 }),
  ],
  [
    'POST /api/sheets/{sheetId}/known',
    () => paths.known(sheetId()),
    'clerk',
    () => ({ answers: {} }),
  ],
  ['GET /api/sheets/{sheetId}/today', () => paths.today(sheetId()), 'reader'],
  [
    'PUT /api/forms/{formId}/questions/{questionId}',
    () => paths.question(formId(), randomUUID()),
    'reader',
    () => ({ name: 'Mine', address: 'holds=ash', isShared: false }),
  ],
  [
    'DELETE /api/forms/{formId}/questions/{questionId}',
    () => paths.question(formId(), randomUUID()),
    'reader',
  ],
  [
    'POST /api/sheets/{sheetId}/matches/preview',
    () => paths.previewMatches(sheetId()),
    'clerk',
    () => ({ view: '{}', count: -1, columnId: 'none', text: '' }),
  ],
  [
    'POST /api/sheets/{sheetId}/matches/left',
    () => paths.leftMatches(sheetId()),
    'clerk',
    () => ({ view: '{}', count: -1, columnId: 'none', text: '' }),
  ],
  [
    'POST /api/sheets/{sheetId}/matches/change',
    () => paths.changeMatches(sheetId()),
    'clerk',
    () => write({ view: '{}', count: -1, columnId: 'none', text: '' }),
  ],
  [
    'POST /api/sheets/{sheetId}/matches/remove',
    () => paths.removeMatches(sheetId()),
    'clerk',
    () => write({ view: '{}', count: -1 }),
  ],
  [
    'POST /api/sheets/{sheetId}/replace/preview',
    () => paths.previewReplace(sheetId()),
    'clerk',
    () => ({ text: 'a', by: 'b', view: '!' }),
  ],
  [
    'POST /api/sheets/{sheetId}/replace/left',
    () => paths.leftReplace(sheetId()),
    'clerk',
    () => ({ text: 'a', by: 'b', view: '!' }),
  ],
  [
    'POST /api/sheets/{sheetId}/replace',
    () => paths.replaceAll(sheetId()),
    'clerk',
    () => write({ text: 'a', by: 'b', view: '!', cells: 0 }),
  ],
  ['GET /api/workbooks/{workbookId}/events', () => paths.events(workbookId()), 'reader'],
  [
    'POST /api/workbooks/{workbookId}/undo',
    () => paths.undo(workbookId()),
    'clerk',
    () => write({ undoes: randomUUID() }),
  ],
  ['GET /api/workbooks/{workbookId}/undo', () => paths.undo(workbookId()), 'clerk'],
  [
    'GET /api/workbooks/{workbookId}/underway/{writeId}',
    () => paths.underway(workbookId(), 'none'),
    'clerk',
  ],
  [
    'DELETE /api/workbooks/{workbookId}/underway/{writeId}',
    () => paths.underway(workbookId(), 'none'),
    'clerk',
  ],
  ['GET /api/workbooks/{workbookId}/names', () => paths.names(workbookId()), 'reader'],
  [
    'POST /api/workbooks/{workbookId}/sheets',
    () => paths.sheets(workbookId()),
    'analyst',
    () => write({ name: 'Samples', headings: [] }),
  ],
  [
    'PATCH /api/sheets/{sheetId}',
    () => paths.sheet(sheetId()),
    'analyst',
    () => ({ revision: -1 }),
  ],
  ['DELETE /api/sheets/{sheetId}', () => `${paths.sheet(sheetId())}?revision=-1`, 'analyst'],
  ['GET /api/sheets/{sheetId}/free-rows', () => paths.freeRows(sheetId(), 0, 5), 'reader'],
  [
    'POST /api/sheets/{sheetId}/figures',
    () => paths.figures(sheetId()),
    'reader',
    () => ({ boxes: [] }),
  ],
  ['GET /api/sheets/{sheetId}/uses', () => paths.uses(sheetId()), 'analyst'],
  ['POST /api/sheets/{sheetId}/find', () => paths.find(sheetId()), 'reader', () => ({ text: 'a' })],
  [
    'POST /api/sheets/{sheetId}/cells',
    () => paths.cells(sheetId()),
    'clerk',
    () => write({ revision: -1 }),
  ],
  [
    'POST /api/sheets/{sheetId}/insert-rows',
    () => paths.insertRows(sheetId()),
    'analyst',
    () => write({ revision: -1, at: 1, count: 1 }),
  ],
  [
    'POST /api/sheets/{sheetId}/remove-rows',
    () => paths.removeRows(sheetId()),
    'clerk',
    () => write({ revision: -1, records: [], rows: [] }),
  ],
  [
    'POST /api/sheets/{sheetId}/move-rows',
    () => paths.moveRows(sheetId()),
    'analyst',
    () => write({ revision: -1, records: [], rows: [], above: 1 }),
  ],
  [
    'POST /api/sheets/{sheetId}/check-formula',
    () => paths.checkFormula(sheetId()),
    'reader',
    () => ({ text: '=1+1' }),
  ],
  [
    'POST /api/sheets/{sheetId}/names',
    () => paths.sheetNames(sheetId()),
    'analyst',
    () => write({ name: 'A1', range: 'B4:B9' }),
  ],
  ['DELETE /api/sheets/{sheetId}/names/{nameId}', () => paths.name(sheetId(), 'none'), 'analyst'],
  [
    'GET /api/sheets/{sheetId}/columns/{columnId}/values',
    () => paths.columnValues(sheetId(), 'none'),
    'reader',
  ],
  ['GET /api/sheets/{sheetId}/lists', () => paths.sheetLists(sheetId()), 'reader'],
  [
    'POST /api/sheets/{sheetId}/lists/try',
    () => paths.tryList(sheetId()),
    'analyst',
    () => ({ list: { source: 'SEQUENCE(3)' } }),
  ],
  ['GET /api/workbooks/{workbookId}/lists', () => paths.lists(workbookId()), 'clerk'],
  [
    'GET /api/sheets/{sheetId}/columns/{columnId}/list',
    () => paths.list(sheetId(), 'none'),
    'clerk',
  ],
  [
    'GET /api/sheets/{sheetId}/columns/{columnId}/variants',
    () => paths.variants(sheetId(), 'none'),
    'clerk',
  ],
  [
    'POST /api/sheets/{sheetId}/columns/{columnId}/rules/broken',
    () => paths.brokenRules(sheetId(), 'none'),
    'clerk',
    () => ({ rules: [{ must: { is: 'whole' } }] }),
  ],
  [
    'GET /api/workbooks/{workbookId}/secret-words',
    () => paths.secretWords(workbookId()),
    'analyst',
  ],
  [
    'PUT /api/workbooks/{workbookId}/secret-words',
    () => paths.secretWords(workbookId()),
    'analyst',
    () => ({ name: '', word: 'x' }),
  ],
  [
    'GET /api/sheets/{sheetId}/columns/{columnId}/rules/suggested',
    () => paths.suggestedRules(sheetId(), 'none'),
    'clerk',
  ],
  [
    'POST /api/sheets/{sheetId}/renamed-item',
    () => paths.renamedItem(sheetId()),
    'clerk',
    () => ({ before: 'a', after: 'b' }),
  ],
  [
    'POST /api/sheets/{sheetId}/columns/{columnId}/values/count',
    () => paths.countValues(sheetId(), 'none'),
    'clerk',
    () => ({ changes: [{ from: ['a'], to: 'b' }] }),
  ],
  [
    'POST /api/sheets/{sheetId}/columns/{columnId}/values/left',
    () => paths.leftValues(sheetId(), 'none'),
    'clerk',
    () => ({ changes: [{ from: ['a'], to: 'b' }] }),
  ],
  [
    'POST /api/sheets/{sheetId}/columns/{columnId}/values/change',
    () => paths.changeValues(sheetId(), 'none'),
    'clerk',
    () => write({ changes: [{ from: ['a'], to: 'b' }], count: 1 }),
  ],
  ['GET /api/workbooks/{workbookId}/outbox', () => paths.outbox(workbookId()), 'reader'],
  [
    'POST /api/workbooks/{workbookId}/outbox/read',
    () => paths.readNotices(workbookId()),
    'reader',
    () => ({ ids: ['none'] }),
  ],
  [
    'POST /api/sheets/{sheetId}/columns/{columnId}/conversion',
    () => paths.conversion(sheetId(), 'none'),
    'analyst',
    () => ({ revision: -1 }),
  ],
  [
    'DELETE /api/sheets/{sheetId}/columns/{columnId}',
    () => `${paths.column(sheetId(), 'none')}?revision=-1`,
    'analyst',
  ],
  [
    'POST /api/sheets/{sheetId}/columns/{columnId}/put-back',
    () => `${paths.column(sheetId(), 'none')}/put-back`,
    'analyst',
    () => ({ revision: -1 }),
  ],
  ['GET /api/sheets/{sheetId}', () => paths.sheet(sheetId()), 'reader'],
  ['GET /api/sheets/{sheetId}/rows', () => paths.rows(sheetId(), 0, 5), 'reader'],
  ['GET /api/sheets/{sheetId}/csv', () => paths.csv(sheetId(), 'on'), 'reader'],
  [
    'POST /api/sheets/{sheetId}/columns',
    () => paths.columns(sheetId()),
    'analyst',
    () => ({ heading: 'X', kind: 'text', revision: -1 }),
  ],
  [
    'PATCH /api/sheets/{sheetId}/columns/{columnId}',
    () => paths.column(sheetId(), 'none'),
    'analyst',
    () => ({ revision: -1 }),
  ],
  [
    'PATCH /api/sheets/{sheetId}/records/{recordId}',
    () => paths.record(sheetId(), 'none'),
    'clerk',
    () => write({ revision: 1, answers: {} }),
  ],
  [
    'POST /api/sheets/{sheetId}/records/{recordId}/remove',
    () => `${paths.record(sheetId(), 'none')}/remove`,
    'clerk',
    () => write({ revision: 1 }),
  ],
  [
    'POST /api/sheets/{sheetId}/records/{recordId}/put-back',
    () => `${paths.record(sheetId(), 'none')}/put-back`,
    'clerk',
    () => write({ revision: 1 }),
  ],
  ['POST /api/sheets/{sheetId}/forms', () => paths.sheetForms(sheetId()), 'analyst', () => write()],
  ['GET /api/forms/{formId}', () => paths.form(formId()), 'reader'],
  ['DELETE /api/forms/{formId}', () => `${paths.form(formId())}?revision=-1`, 'analyst'],
  [
    'POST /api/workbooks/{workbookId}/forms/{formId}/put-back',
    () => paths.putBackForm(workbookId(), 'none'),
    'analyst',
    () => write(),
  ],
  [
    'PATCH /api/forms/{formId}',
    () => paths.form(formId()),
    'analyst',
    () => ({ name: 'X', revision: -1 }),
  ],
  [
    'POST /api/forms/{formId}/submits',
    () => paths.submits(formId()),
    'clerk',
    () => write({ answers: {} }),
  ],
  [
    'POST /api/forms/{formId}/checks',
    () => paths.checks(formId()),
    'reader',
    () => write({ answers: {} }),
  ],
  ['POST /api/uploads', () => paths.uploads('a.csv'), 'outsider', () => 'a,b\n1,2'],
  ['POST /api/uploads/{uploadId}/preview', () => paths.preview(upload()), 'outsider', () => ({})],
  ['POST /api/uploads/{uploadId}/bring-in', () => paths.bringIn(upload()), 'outsider', bringIn],
  ['POST /api/uploads/{uploadId}/rows', () => paths.fileRows(upload()), 'outsider', lookAt],
  ['POST /api/uploads/{uploadId}/rows/check', () => paths.checkRows(upload()), 'analyst', ofFile],
  [
    'POST /api/uploads/{uploadId}/rows/add',
    () => paths.addRows(upload()),
    'analyst',
    () => write(ofFile()),
  ],
  ['POST /api/uploads/{uploadId}/rows/held', () => paths.heldRows(upload()), 'analyst', ofFile],
  ['DELETE /api/uploads/{uploadId}', () => paths.upload(upload()), 'outsider'],
];

function lookAt(): object {
  return { encoding: 'utf-8', delimiter: ',', from: 1, count: 10 };
}

function ofFile(): object {
  const { encoding, delimiter, headingRow, headingRows, keepTotals, guarded } =
    bringIn() as RowsOfFile;
  const columns = [{ index: 0, columnId: 'none', decimal: '.', dateOrder: 'dmy' }];
  return {
    sheetId: sheetId(),
    ...{ encoding, delimiter, headingRow, headingRows, keepTotals, guarded, columns },
  };
}

function bringIn(): object {
  const column = { index: 0, heading: 'A', kind: 'text', decimal: '.', dateOrder: 'dmy' };
  const reading = {
    encoding: 'utf-8',
    delimiter: ',',
    headingRow: 1,
    headingRows: 1,
    keepTotals: false,
    guarded: true,
  };
  return write({ workbookId: workbookId(), sheetName: 'S', ...reading, columns: [column] });
}

describe.each(ROUTES)('%s', (route, path, least, body) => {
  test.each(EVERYONE)('%s', async (who) => {
    const [method = ''] = route.split(' ');
    const stop = new AbortController();
    const { base, cookie } = clients[who];
    const content = body?.();
    const isFile = typeof content === 'string';
    const response = await fetch(base + path(), {
      method,
      signal: stop.signal,
      headers: {
        ...(cookie && path() !== `${paths.session}?` && { cookie }),
        ...(content !== undefined && {
          'content-type': isFile ? 'application/octet-stream' : 'application/json',
        }),
      },
      ...(content !== undefined && { body: isFile ? content : JSON.stringify(content) }),
    });
    const { status } = response;
    // A stream of events never ends: its head is all that is wanted.
    stop.abort();
    if (from(least).includes(who)) {
      expect([403, 500]).not.toContain(status);
      if (who !== 'signedOut') expect(status).not.toBe(401);
    } else expect(status).toBe(who === 'signedOut' ? 401 : 403);
  });
});

test('the table walks every route there is', async () => {
  const { paths: documented } = await running.owner.get<{ paths: Record<string, object> }>(
    paths.openapi,
  );
  const all = Object.entries(documented).flatMap(([path, methods]) =>
    Object.keys(methods).map((method) => `${method.toUpperCase()} ${path}`),
  );
  expect(ROUTES.map(([route]) => route).sort()).toEqual(all.sort());
});

describe('writes come from our own pages', () => {
  const demo = (headers: Record<string, string>): Promise<{ status: number }> =>
    clients.signedOut.ask<Refusal>('POST', paths.demoSession, { personId: 'nobody' }, headers);
  test.each<[Record<string, string>, number]>([
    [{}, 404],
    [{ origin: 'OWN' }, 404],
    [{ origin: 'http://elsewhere.example' }, 403],
    [{ origin: 'null' }, 403],
    [{ 'sec-fetch-site': 'cross-site' }, 403],
  ])('%j gets %i', async ({ origin, ...headers }, status) => {
    const own = origin === 'OWN' ? running.base : origin;
    expect((await demo({ ...headers, ...(own !== undefined && { origin: own }) })).status).toBe(
      status,
    );
  });
});

test('the session cookie is http-only, same-site, and worth nothing after signing out', async () => {
  const { body } = await clients.signedOut.ask<{ demoPeople: { id: string }[] }>(
    'GET',
    paths.session,
  );
  const answer = await clients.signedOut.ask('POST', paths.demoSession, {
    personId: body.demoPeople[1]?.id,
  });
  expect(answer.headers.get('set-cookie')).toMatch(
    /^varn_session=[\w-]{43}; Path=\/; HttpOnly; SameSite=Lax; Max-Age=\d+$/,
  );
  const client = new Client(running.base, cookieOf(answer));
  expect((await client.ask('GET', paths.workbooks)).status).toBe(200);
  expect((await client.ask('DELETE', paths.session)).status).toBe(204);
  expect((await client.ask('GET', paths.workbooks)).status).toBe(401);
});

test('a session ends when its time is over', async () => {
  const client = await running.as('reader');
  expect((await client.ask('GET', paths.workbooks)).status).toBe(200);
  const late = jest.spyOn(Date, 'now').mockReturnValue(Date.now() + 15 * 86_400_000);
  expect((await client.ask('GET', paths.workbooks)).status).toBe(401);
  late.mockRestore();
});

test('a password is asked for in as much time whether or not the address is known, and not for ever', async () => {
  const tries = [];
  for (let n = 0; n < 11; n += 1) {
    const guess = { email: `ines${n}@riverwatch.example`, password: 'guess' };
    // What a request says of its address is believed of no one but a proxy that is known.
    const headers = { 'x-forwarded-for': `10.0.0.${n}` };
    tries.push(await clients.signedOut.ask<Refusal>('POST', paths.session, guess, headers));
  }
  expect(tries[0]?.body.code).toBe('wrongPassword');
  expect(tries.at(-1)?.status).toBe(429);
});

test('behind a proxy one account is not guessed at from many addresses', async () => {
  const behind = await start({ proxies: 1 });
  const nobody = new Client(behind.base, '');
  const guess = { email: 'ines@riverwatch.example', password: 'guess' };
  const statuses: number[] = [];
  for (let n = 0; n < 12; n += 1) {
    const headers = { 'x-forwarded-for': `10.0.0.${n}` };
    statuses.push((await nobody.ask('POST', paths.session, guess, headers)).status);
  }
  expect(statuses).toEqual([...Array<number>(10).fill(401), 429, 429]);
  await behind.stop();
}, 30_000);

test.each<[string, unknown, number]>([
  ['{', 'not JSON', 400],
  ['unknown field', { writeId: randomUUID(), answers: {}, admin: true }, 400],
  ['no write id', { answers: {} }, 400],
  ['answers that are no texts', { writeId: randomUUID(), answers: { a: 1 } }, 400],
  ['answers that are a list', { writeId: randomUUID(), answers: ['a'] }, 400],
  ['a field the form has not', { writeId: randomUUID(), answers: { nope: 'x' } }, 400],
  [
    'a prototype',
    JSON.parse('{"writeId":"00000000-0000-4000-8000-000000000000","answers":{"__proto__":"x"}}'),
    400,
  ],
])('a submit with %s is refused with what and where', async (_name, body, expected) => {
  const text = body === 'not JSON' ? '{"writeId":' : JSON.stringify(body);
  const response = await fetch(running.base + paths.submits(formId()), {
    method: 'POST',
    headers: { cookie: clients.clerk.cookie, 'content-type': 'application/json' },
    body: text,
  });
  const refusal = (await response.json()) as Refusal;
  expect([response.status, refusal.statusCode]).toEqual([expected, expected]);
  expect(refusal.message.length).toBeGreaterThan(8);
});

test.each(['/api/nothing', '/api/sheets/none', '/api/forms/none', '/api/workbooks/none'])(
  '%s is not there: 404 in the shape of every refusal',
  async (path) => {
    const { status, body } = await clients.owner.ask<Refusal>('GET', path);
    expect([status, body.code]).toEqual([404, 'notFound']);
  },
);

test.each([
  'from=-1&count=5',
  'from=0&count=1001',
  'from=x&count=5',
  'count=5',
  'from=0&count=5&x=1',
])('rows?%s is refused', async (query) => {
  expect((await clients.owner.ask('GET', `${paths.sheet(sheetId())}/rows?${query}`)).status).toBe(
    400,
  );
});
