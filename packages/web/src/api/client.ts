import type { Refusal } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { waitWhileBusy } from './busy';
import { setSignedOut } from './signedOut';

/** The server refused: its words, its code, and where. */
export class ApiRefusal extends Error {
  constructor(readonly refusal: Refusal) {
    super(refusal.message);
    this.name = 'ApiRefusal';
  }
}

/** What proxies answer for a server that does not. */
const UNANSWERED: ReadonlySet<number> = new Set([502, 503, 504]);
/** What a server answers that was asked too often: later it gets to it. */
const TOO_OFTEN = 429;
/** What it answers when too many wait: nothing was begun. */
const BUSY = 503;
/** How often one comes again of itself. */
const MOST_RETURNS = 5;

/** No answer came: the server is stopped or busy, or the network is down. */
export class NoAnswer extends Error {
  constructor(
    message = 'The server does not answer.',
    /** What one can do about it. */
    readonly advice = 'Check the network, then try again.',
    /** What becomes of a write that waits. */
    readonly meanwhile = 'Everything is kept, and Varn tries again.',
  ) {
    super(message);
    this.name = 'NoAnswer';
  }
}

/** The session ended: as without an answer, what was sent is sent again, once one is signed in. */
export class SignedOut extends NoAnswer {
  constructor() {
    super('You are signed out.', 'Sign in, then try again.', 'It is sent when you sign in again.');
    this.name = 'SignedOut';
  }
}

type Method = 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE';

/** How long an answer is waited for; as long as it takes without it. */
interface Patience {
  /** Milliseconds, each time it is asked. */
  readonly waitMs?: number | undefined;
  /** Ends it: the server leaves off what nobody waits for. */
  readonly signal?: AbortSignal;
}

/**
 * Asks the API.
 *
 * @throws ApiRefusal when the server refused or failed, NoAnswer when it did not get to answer
 */
export async function request<T>(
  method: Method,
  path: string,
  body?: unknown,
  patience: Patience = {},
): Promise<T> {
  const text = await requestText(method, path, body, patience);
  return (text === '' ? undefined : JSON.parse(text)) as T;
}

/** The same where the answer is a text of its own, such as CSV. */
export async function requestText(
  method: Method,
  path: string,
  body?: unknown,
  patience: Patience = {},
): Promise<string> {
  let response = await send(method, path, body, patience);
  for (let returns = 0; response.status === BUSY && returns < MOST_RETURNS; returns += 1) {
    const seconds = Number(response.headers.get('retry-after') ?? NaN);
    // So answers a proxy for a server that is not there.
    if (Number.isNaN(seconds)) break;
    await waitWhileBusy(seconds);
    response = await send(method, path, body, patience);
  }
  const text = await response.text();
  // At the door itself it is said of what was typed there.
  if (response.status === 401 && !path.startsWith(paths.session)) {
    setSignedOut(true);
    throw new SignedOut();
  }
  if (response.status === TOO_OFTEN) throw new NoAnswer(refusalOf(text, TOO_OFTEN).message, '');
  if (UNANSWERED.has(response.status)) throw new NoAnswer();
  if (!response.ok) throw new ApiRefusal(refusalOf(text, response.status));
  return text;
}

async function send(
  method: Method,
  path: string,
  body: unknown,
  { waitMs, signal }: Patience,
): Promise<Response> {
  const isFile = body instanceof Blob;
  try {
    return await fetch(path, {
      method,
      ...(waitMs !== undefined && { signal: AbortSignal.timeout(waitMs) }),
      ...(signal && { signal }),
      ...(body !== undefined && {
        headers: { 'content-type': isFile ? 'application/octet-stream' : 'application/json' },
        body: isFile ? body : JSON.stringify(body),
      }),
    });
  } catch {
    const isOffline = typeof navigator === 'object' && !navigator.onLine;
    throw isOffline ? new NoAnswer('You are offline.') : new NoAnswer();
  }
}

export const get = <T>(path: string): Promise<T> => request<T>('GET', path);

function refusalOf(text: string, statusCode: number): Refusal {
  try {
    return JSON.parse(text) as Refusal;
  } catch {
    const what = statusCode >= 500 ? 'failed' : 'refused';
    return { statusCode, code: 'refused', message: `The server ${what} (${statusCode}).` };
  }
}

/** The words for whatever went wrong. */
export function sayError(error: unknown): string {
  if (error instanceof NoAnswer) return `${error.message} ${error.advice}`.trim();
  return error instanceof Error ? error.message : 'That did not work. Try again.';
}
