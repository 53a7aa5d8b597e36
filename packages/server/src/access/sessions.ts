import { Inject, Injectable } from '@nestjs/common';
import { createHash, randomBytes } from 'node:crypto';
import { SETTINGS, type Settings } from '../settings';
import { Account, Session } from '../store/entities';
import { Store } from '../store/store';
import type { Writer } from './access';

const COOKIE = 'varn_session';
const DAY_SECONDS = 86_400;
const SESSION_DAYS = 14;
/** Sessions held in memory; more than that are read from the database when asked for. */
const MOST_HELD = 10_000;

/** Who is signed in, by a cookie whose token only the browser knows. */
@Injectable()
export class Sessions {
  /** By token: a look-up without a digest for every request. */
  private readonly held = new Map<string, { person: Writer; expiresAt: number }>();

  /** By token: who is to know when its session ends. */
  private readonly endings = new Map<string, Set<() => void>>();

  constructor(
    private readonly store: Store,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {}

  /** Signs a person in and gives the cookie to set. */
  async open(accountId: string): Promise<string> {
    const token = randomBytes(32).toString('base64url');
    const expiresAt = Date.now() + SESSION_DAYS * DAY_SECONDS * 1000;
    await this.store.transaction(async (em) => {
      await em.nativeDelete(Session, { expiresAt: { $lt: Date.now() } });
      await em.insert(Session, { tokenDigest: digest(token), account: accountId, expiresAt });
    });
    return this.cookie(token, SESSION_DAYS * DAY_SECONDS);
  }

  /** Signs out the browser that sent the cookies, and gives the cookie that ends it there too. */
  async close(cookies: string | undefined): Promise<string> {
    const token = tokenIn(cookies);
    if (token) {
      this.held.delete(token);
      await this.store.em().nativeDelete(Session, { tokenDigest: digest(token) });
      this.endings.get(token)?.forEach((ended) => ended());
    }
    return this.cookie('', 0);
  }

  /**
   * Tells when the browser that sent the cookies signs out, until the function given back is called.
   */
  onEnd(cookies: string | undefined, ended: () => void): () => void {
    const token = tokenIn(cookies) ?? '';
    const listeners = this.endings.get(token) ?? new Set();
    this.endings.set(token, listeners.add(ended));
    return () => {
      listeners.delete(ended);
      if (listeners.size === 0) this.endings.delete(token);
    };
  }

  /** The id of the person the cookies belong to, where that is known without asking; else `null`. */
  knownPersonOf(cookies: string | undefined): string | null {
    const token = tokenIn(cookies);
    return token === null ? null : (this.held.get(token)?.person.id ?? null);
  }

  /** The person the cookies belong to, or `null`. */
  async personOf(cookies: string | undefined): Promise<Writer | null> {
    const token = tokenIn(cookies);
    if (!token) return null;
    const session = this.held.get(token) ?? (await this.read(token));
    if (session && session.expiresAt > Date.now()) return session.person;
    this.held.delete(token);
    return null;
  }

  private async read(token: string): Promise<{ person: Writer; expiresAt: number } | null> {
    const stored = await this.store
      .em()
      .findOne(Session, { tokenDigest: digest(token) }, { populate: ['account'] });
    if (!stored) return null;
    const { id, name } = stored.account;
    const session = { person: { id, name }, expiresAt: stored.expiresAt };
    if (this.held.size >= MOST_HELD) this.held.clear();
    this.held.set(token, session);
    return session;
  }

  private cookie(token: string, maxAge: number): string {
    const secure = this.settings.origin?.startsWith('https:') ? '; Secure' : '';
    return `${COOKIE}=${token}; Path=/; HttpOnly; SameSite=Lax; Max-Age=${maxAge}${secure}`;
  }
}

function tokenIn(cookies: string | undefined): string | null {
  return /(?:^|;\s*)varn_session=([\w-]{43})(?:;|$)/.exec(cookies ?? '')?.[1] ?? null;
}

function digest(token: string): string {
  return createHash('sha256').update(token).digest('base64url');
}

export function accountView({ id, name, email }: Account): {
  id: string;
  name: string;
  email: string;
} {
  return { id, name, email };
}
