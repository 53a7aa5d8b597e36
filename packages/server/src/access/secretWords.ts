import { foldText, type Admits } from '@varn/core';
import { Injectable, type OnModuleInit } from '@nestjs/common';
import { createHmac, randomBytes, timingSafeEqual } from 'node:crypto';
import { Refused } from '../http/refused';
import { SecretWord } from '../store/entities';
import { Store } from '../store/store';

/** Wrong words that cost nothing; after them each makes one wait twice as long. */
const FREE_TRIES = 5;
const FIRST_WAIT_MS = 5000;
const LONGEST_WAIT_MS = 15 * 60_000;
/** People whose tries are remembered; beyond, those who wait no more are forgotten. */
const MOST_REMEMBERED = 10_000;

interface Kept {
  readonly salt: Buffer;
  readonly digest: Buffer;
}

/** Wrong words of one person. */
interface Tries {
  wrong: number;
  waitsUntil: number;
}

/** Words that admit: told to nobody again, kept as digests, compared in constant time. */
@Injectable()
export class SecretWords implements OnModuleInit {
  /** By workbook and name. */
  private readonly kept = new Map<string, Map<string, Kept>>();
  private readonly tries = new Map<string, Tries>();

  constructor(private readonly store: Store) {}

  async onModuleInit(): Promise<void> {
    await this.store.open();
    for (const { workbook, name, salt, digest } of await this.store.em().find(SecretWord, {})) {
      this.keep(workbook.id, name, { salt: bytes(salt), digest: bytes(digest) });
    }
  }

  /** The names under which a workbook keeps words. */
  namesOf(workbookId: string): string[] {
    return [...(this.kept.get(workbookId)?.keys() ?? [])].sort();
  }

  /** Keeps a word under a name, in place of any that was kept there. */
  async put(workbookId: string, name: string, word: string): Promise<void> {
    const salt = randomBytes(16);
    const kept = { salt, digest: digestOf(word, salt) };
    await this.store.em().upsert(SecretWord, {
      workbook: workbookId,
      name,
      salt: salt.toString('base64'),
      digest: kept.digest.toString('base64'),
    });
    this.keep(workbookId, name, kept);
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
      const isRight = this.isRight(this.kept.get(workbookId)?.get(name), text);
      if (isRight) this.tries.delete(who);
      else this.countWrong(who);
      known.set(asked, isRight);
      return isRight;
    };
  }

  private keep(workbookId: string, name: string, kept: Kept): void {
    const ofWorkbook = this.kept.get(workbookId) ?? new Map<string, Kept>();
    this.kept.set(workbookId, ofWorkbook.set(name, kept));
  }

  /** Where no word is kept, none is right; it takes as long to tell. */
  private isRight(kept: Kept | undefined, text: string): boolean {
    const { salt, digest } = kept ?? NO_WORD;
    return timingSafeEqual(digestOf(text, salt), digest) && kept !== undefined;
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

const NO_WORD: Kept = { salt: Buffer.alloc(16), digest: Buffer.alloc(32) };
