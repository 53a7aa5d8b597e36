import { foldText, type Admits } from '@varn/core';
import { Injectable, Logger, type OnModuleInit } from '@nestjs/common';
import { createHmac, randomBytes, timingSafeEqual } from 'node:crypto';
import { Refused } from '../http/refused';
import { SecretWord } from '../store/entities';
import { Store } from '../store/store';
import { isKeptText, slowHash } from './slowHash';

/** Wrong words that cost nothing; after them each makes one wait twice as long. */
const FREE_TRIES = 5;
const FIRST_WAIT_MS = 5000;
const LONGEST_WAIT_MS = 15 * 60_000;
/** People whose tries are remembered; beyond, those who wait no more are forgotten. */
const MOST_REMEMBERED = 10_000;

/** A word as it is kept: by argon2id, or by what an earlier version kept. */
type Kept = { readonly hash: string } | { readonly salt: Buffer; readonly digest: Buffer };

/** Wrong words of one person. */
interface Tries {
  wrong: number;
  waitsUntil: number;
}

/** Words that admit: told to nobody again, kept by a slow hash, compared in constant time. */
@Injectable()
export class SecretWords implements OnModuleInit {
  /** By workbook and name. */
  private readonly kept = new Map<string, Map<string, Kept>>();
  private readonly tries = new Map<string, Tries>();
  /** The words that were right before, by workbook and name: who types one all day waits for no hash. */
  private readonly right = new Map<string, Buffer>();
  private readonly ownKey = randomBytes(32);
  private readonly logger = new Logger('words');

  constructor(private readonly store: Store) {}

  async onModuleInit(): Promise<void> {
    await this.store.open();
    for (const { workbook, name, salt, digest } of await this.store.em().find(SecretWord, {})) {
      const isSlow = digest.startsWith('$argon2id$');
      const old = { salt: bytes(salt), digest: bytes(digest) };
      this.keep(workbook.id, name, isSlow ? { hash: digest } : old);
    }
  }

  /** The names under which a workbook keeps words. */
  namesOf(workbookId: string): string[] {
    return [...(this.kept.get(workbookId)?.keys() ?? [])].sort();
  }

  /** Keeps a word under a name, in place of any that was kept there. */
  async put(workbookId: string, name: string, word: string): Promise<void> {
    const hash = await slowHash(foldText(word));
    // The salt stands in the hash.
    await this.store
      .em()
      .upsert(SecretWord, { workbook: workbookId, name, salt: '', digest: hash });
    this.keep(workbookId, name, { hash });
  }

  /**
   * Tells whether texts are the words, for one person. Wrong ones are counted, and who gives many
   * waits.
   *
   * @returns throws Refused 429 while the person is to wait
   */
  admitsFor(workbookId: string, personId: string): Admits {
    // Held against the same answers again and again, one word is one try.
    const known = new Map<string, boolean>();
    return (name, text) => {
      const asked = JSON.stringify([name, text]);
      const told = known.get(asked);
      if (told !== undefined) return told;
      const who = JSON.stringify([workbookId, name, personId]);
      this.refuseWaiting(who);
      const isRight = this.isRight(workbookId, name, text);
      if (isRight) this.tries.delete(who);
      else this.countWrong(who);
      known.set(asked, isRight);
      return isRight;
    };
  }

  private keep(workbookId: string, name: string, kept: Kept): void {
    const ofWorkbook = this.kept.get(workbookId) ?? new Map<string, Kept>();
    this.kept.set(workbookId, ofWorkbook.set(name, kept));
    this.right.delete(JSON.stringify([workbookId, name]));
  }

  /** Where no word is kept, none is right; it takes as long to tell. */
  private isRight(workbookId: string, name: string, text: string): boolean {
    const of = JSON.stringify([workbookId, name]);
    const before = this.right.get(of);
    const digest = digestOf(text, this.ownKey);
    if (before && timingSafeEqual(before, digest)) return true;
    const kept = this.kept.get(workbookId)?.get(name);
    const isOld = kept !== undefined && 'salt' in kept;
    const isRight = isOld
      ? timingSafeEqual(digestOf(text, kept.salt), kept.digest)
      : isKeptText(kept?.hash ?? null, foldText(text));
    if (isRight) this.right.set(of, digest);
    if (isRight && isOld) this.keepAnew(workbookId, name, text);
    return isRight;
  }

  /** Keeps a word that an earlier version kept otherwise; where that fails, the next right one is. */
  private keepAnew(workbookId: string, name: string, word: string): void {
    this.put(workbookId, name, word).catch((error: unknown) => this.logger.warn(error));
  }

  private refuseWaiting(who: string): void {
    const left = (this.tries.get(who)?.waitsUntil ?? 0) - Date.now();
    if (left > 0) throw Refused.tooMany(Math.ceil(left / 1000));
  }

  private countWrong(who: string): void {
    const { wrong } = this.tries.get(who) ?? { wrong: 0 };
    const wait = wrong + 1 < FREE_TRIES ? 0 : FIRST_WAIT_MS * 2 ** (wrong + 1 - FREE_TRIES);
    const waitsUntil = wait === 0 ? 0 : Date.now() + Math.min(wait, LONGEST_WAIT_MS);
    this.tries.set(who, { wrong: wrong + 1, waitsUntil });
    if (this.tries.size <= MOST_REMEMBERED) return;
    const now = Date.now();
    for (const [each, { waitsUntil: until }] of this.tries) {
      if (until < now) this.tries.delete(each);
    }
  }
}

const bytes = (text: string): Buffer => Buffer.from(text, 'base64');

/** HMAC-SHA-256 (RFC 2104) of the word as people would take it for the same. */
const digestOf = (word: string, salt: Buffer): Buffer =>
  createHmac('sha256', salt).update(foldText(word)).digest();
