/** What the server is asked in a test. */
export interface Asked {
  readonly method: string;
  readonly path: string;
  readonly body: Record<string, unknown>;
}

/** What it answers: a status and a body, or nothing at all. */
export type Answered = { readonly status: number; readonly body?: unknown } | 'none';

/**
 * Stands in for the server in tests of hooks and screens.
 *
 * @param answer what each request is answered with; later ones may be made to wait by a promise
 * @returns what was asked, in order
 */
export function fakeServer(answer: (asked: Asked) => Answered | Promise<Answered>): Asked[] {
  const asked: Asked[] = [];
  global.fetch = jest.fn(async (path: string, init: { method?: string; body?: unknown } = {}) => {
    const { method = 'GET', body } = init;
    const read = typeof body === 'string' ? (JSON.parse(body) as Record<string, unknown>) : {};
    const each = { method, path, body: read };
    asked.push(each);
    const given = await answer(each);
    if (given === 'none') throw new TypeError('no network');
    const text = given.body === undefined ? '' : JSON.stringify(given.body);
    return {
      ...{ ok: given.status < 400, status: given.status, headers: { get: () => null } },
      text: () => Promise.resolve(text),
    };
  }) as unknown as typeof fetch;
  return asked;
}

/** A refusal as the server words it. */
export const refused = (status: number, code: string, message: string, more = {}): Answered => ({
  status,
  body: { statusCode: status, code, message, ...more },
});
