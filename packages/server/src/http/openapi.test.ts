import { paths } from '@varn/contract';
import { start, type Running } from '../testing/harness';

interface Document {
  openapi: string;
  paths: Record<
    string,
    Record<string, { responses: Record<string, unknown>; requestBody?: object }>
  >;
  components: { schemas: Record<string, { properties?: object }> };
}

let running: Running;
let document: Document;
beforeAll(async () => {
  running = await start();
  document = await running.owner.get<Document>(paths.openapi);
});
afterAll(() => running.stop());

test('every shape that is spoken of is there, with its fields', () => {
  const named = [...JSON.stringify(document).matchAll(/"#\/components\/schemas\/(\w+)"/g)].map(
    ([, name]) => name ?? '',
  );
  expect(new Set(named).size).toBeGreaterThan(20);
  for (const name of named) {
    expect([
      name,
      Object.keys(document.components.schemas[name]?.properties ?? {}).length > 0,
    ]).toEqual([name, true]);
  }
});

test('every route tells what it answers, and every write what it takes', () => {
  expect(document.openapi).toMatch(/^3\./);
  for (const [path, methods] of Object.entries(document.paths)) {
    for (const [method, route] of Object.entries(methods)) {
      const succeeds = Object.keys(route.responses).some((status) => status.startsWith('2'));
      expect([method, path, succeeds]).toEqual([method, path, true]);
      const takes = ['post', 'patch', 'put'].includes(method);
      expect([method, path, route.requestBody !== undefined]).toEqual([method, path, takes]);
    }
  }
});

test('what is not sent as JSON is refused at every door that takes it, and never fails', async () => {
  const { owner, workbook, form } = running;
  const known: Record<string, string> = {
    workbookId: workbook.id,
    sheetId: form.sheet.id,
    formId: form.id,
  };
  let asked = 0;
  for (const [path, methods] of Object.entries(document.paths)) {
    const at = path.replace(/\{(\w+)\}/g, (_, name: string) => known[name] ?? 'none');
    for (const [method, { requestBody }] of Object.entries(methods)) {
      if (!JSON.stringify(requestBody ?? {}).includes('application/json')) continue;
      asked += 1;
      for (const body of ['{"a":1}', '[[[]]]', '']) {
        const { status } = await owner.ask(method.toUpperCase(), at, body);
        expect([method, path, body, status >= 400 && status < 500]).toEqual([
          method,
          path,
          body,
          true,
        ]);
      }
    }
  }
  expect(asked).toBeGreaterThan(30);
});

test.each([
  ['/api/health', 'x-content-type-options', 'nosniff'],
  ['/api/openapi.json', 'x-content-type-options', 'nosniff'],
])('%s is not to be guessed at', async (path, header, value) => {
  const { headers } = await running.owner.ask('GET', path);
  expect(headers.get(header)).toBe(value);
});
