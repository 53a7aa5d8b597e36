import type { ChangeEvent, FormView, Role, WorkbookView } from '@varn/contract';
import { paths } from '@varn/contract';
import type { NestFastifyApplication } from '@nestjs/platform-fastify';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Sessions } from '../access/sessions';
import { createApp } from '../app';
import { newId } from '../ids';
import type { Settings } from '../settings';
import { Catalog } from '../store/catalog';
import { Account, Membership } from '../store/entities';
import { Store } from '../store/store';

/** What the API answered. */
export interface Answer<T = never> {
  status: number;
  body: T;
  headers: Headers;
}

/** Someone who asks the API, signed in or not. */
export class Client {
  constructor(
    readonly base: string,
    readonly cookie: string,
  ) {}

  async ask<T>(
    method: string,
    path: string,
    body?: unknown,
    headers: Record<string, string> = {},
  ): Promise<Answer<T>> {
    const isText = typeof body === 'string';
    const response = await fetch(this.base + path, {
      method,
      headers: {
        ...(this.cookie && { cookie: this.cookie }),
        ...(body !== undefined && {
          'content-type': isText ? 'application/octet-stream' : 'application/json',
        }),
        ...headers,
      },
      ...(body !== undefined && { body: isText ? body : JSON.stringify(body) }),
    });
    const text = await response.text();
    const isJson = response.headers.get('content-type')?.includes('application/json') ?? false;
    return {
      status: response.status,
      body: (isJson ? JSON.parse(text) : text) as T,
      headers: response.headers,
    };
  }

  /** Reads, and reads again while what it reads is being computed. */
  async get<T>(path: string): Promise<T> {
    for (;;) {
      const { body } = await this.ask<T & { computing?: boolean }>('GET', path);
      if ((body as { computing?: boolean } | null)?.computing !== true) return body;
    }
  }

  /** Events after a sequence number, until `count` came. */
  async events(workbookId: string, after: number, count: number): Promise<ChangeEvent[]> {
    const stop = new AbortController();
    const response = await fetch(`${this.base}${paths.events(workbookId)}?after=${after}`, {
      headers: { cookie: this.cookie },
      signal: stop.signal,
    });
    const events: ChangeEvent[] = [];
    let text = '';
    const decoder = new TextDecoder();
    for await (const chunk of response.body ?? []) {
      text += decoder.decode(chunk as Uint8Array, { stream: true });
      const blocks = text.split('\n\n');
      text = blocks.pop() ?? '';
      for (const block of blocks) {
        const data = /^data: (.*)$/m.exec(block)?.[1];
        const logged = !block.includes('event: recalculated');
        if (data !== undefined && logged) events.push(JSON.parse(data) as ChangeEvent);
      }
      if (events.length >= count) break;
    }
    stop.abort();
    return events;
  }
}

/** A running server on a folder of its own, with the demo in it. */
export interface Running {
  app: NestFastifyApplication;
  base: string;
  folder: string;
  /** Signs someone in who has a role in the workbook, or none. */
  as: (role: Role | 'outsider') => Promise<Client>;
  owner: Client;
  workbook: WorkbookView;
  /** The demo's form. */
  form: FormView;
  stop: () => Promise<void>;
}

export const SETTINGS_OF_TESTS: Omit<Settings, 'data'> = {
  host: '127.0.0.1',
  port: 0,
  demo: true,
  demoSamples: 20,
  origin: null,
  proxies: 0,
  logLevel: 'fatal',
  mostUploadBytes: 64 * 1024 * 1024,
  mostFileBytes: 1024 * 1024,
  web: null,
};

export async function start(settings: Partial<Settings> = {}): Promise<Running> {
  const folder = settings.data ?? mkdtempSync(join(tmpdir(), 'varn-test-'));
  const app = await createApp({ ...SETTINGS_OF_TESTS, data: folder, ...settings });
  await app.listen(0, '127.0.0.1');
  const base = await app.getUrl();
  const nobody = new Client(base, '');
  const { body } = await nobody.ask<{ demoPeople: { id: string }[] }>('GET', paths.session);
  const session = await nobody.ask('POST', paths.demoSession, { personId: body.demoPeople[0]?.id });
  const owner = new Client(base, cookieOf(session));
  const [entry] = await owner.get<{ id: string }[]>(paths.workbooks);
  const workbook = await owner.get<WorkbookView>(paths.workbook(entry?.id ?? ''));
  const formId = workbook.sheets.find(({ name }) => name === 'Samples')?.forms[0]?.id ?? '';
  return {
    app,
    base,
    folder,
    owner,
    workbook,
    form: await owner.get<FormView>(paths.form(formId)),
    as: (role) => signIn(app, base, workbook.id, role),
    stop: async () => {
      await app.close();
      if (!settings.data) rmSync(folder, { recursive: true, force: true });
    },
  };
}

export function cookieOf({ headers }: { headers: Headers }): string {
  return headers.get('set-cookie')?.split(';')[0] ?? '';
}

async function signIn(
  app: NestFastifyApplication,
  base: string,
  workbookId: string,
  role: Role | 'outsider',
): Promise<Client> {
  const id = newId();
  const em = app.get(Store).em();
  await em.insert(Account, {
    id,
    name: `The ${role}`,
    email: `${id}@riverwatch.example`,
    passwordHash: '-',
    demo: false,
  });
  if (role !== 'outsider') {
    await em.insert(Membership, { workbook: workbookId, account: id, role });
    await app.get(Catalog).refresh(workbookId);
  }
  const cookie = await app.get(Sessions).open(id);
  return new Client(base, cookie.split(';')[0] ?? '');
}

/** Answers the demo's form accepts. */
const GOOD_ANSWERS = {
  'samples.date': '24/11/2026',
  'samples.time': '9.30',
  'samples.river': 'ash beck',
  'samples.station': 'AB-01',
  'samples.observer': '',
  'samples.water-temp': '7.5',
  'samples.ph': '7.2',
};

/** The same, with an observer of this demo. */
export function goodAnswers({ sheet, last }: FormView): Record<string, string> {
  const at = sheet.columns.findIndex(({ id }) => id === 'samples.observer');
  return { ...GOOD_ANSWERS, 'samples.observer': (last.records[0]?.cells[at] ?? '') as string };
}
