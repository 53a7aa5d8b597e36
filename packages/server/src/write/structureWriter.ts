import type { StructureChangeKind } from '@varn/core';
import type { SqlEntityManager } from '@mikro-orm/better-sqlite';
import { Injectable } from '@nestjs/common';
import { EventHub } from '../events/eventHub';
import { Refused } from '../http/refused';
import { Catalog } from '../store/catalog';
import { Change } from '../store/entities';
import { Store } from '../store/store';
import type { Writer } from '../access/access';

export interface StructureOrder {
  readonly writeId: string;
  readonly writer: Writer;
  readonly kind: StructureChangeKind;
  /** Digest of what is asked; a repeat of the same gets the first answer. */
  readonly digest: string;
}

/** What a change of structure touched, and what is answered. */
export interface StructureAnswer<T> {
  readonly workbookId: string;
  readonly sheetId: string;
  readonly answer: T;
}

/** Writes what is rare: sheets, columns, forms. Logged and told of like records are. */
@Injectable()
export class StructureWriter {
  constructor(
    private readonly store: Store,
    private readonly catalog: Catalog,
    private readonly events: EventHub,
  ) {}

  /** What was answered to a write, if it was carried out before. @throws Refused 409 */
  async answerOf<T>({
    writeId,
    digest,
  }: Omit<StructureOrder, 'kind' | 'writer'>): Promise<T | null> {
    const first = await this.store.em().findOne(Change, { writeId });
    return first ? (answered(first, digest) as T) : null;
  }

  /** Carries a change out once, however often it is sent. */
  async write<T>(
    { writeId, writer, kind, digest }: StructureOrder,
    work: (em: SqlEntityManager) => Promise<StructureAnswer<T>>,
  ): Promise<T> {
    const done = await this.store.transaction(async (em) => {
      const first = await em.findOne(Change, { writeId });
      if (first) return { answer: answered(first, digest) as T };
      const { workbookId, sheetId, answer } = await work(em);
      const seq = await em.insert(Change, {
        workbook: workbookId,
        kind,
        sheetId,
        writeId,
        batch: writeId,
        digest,
        answer,
        account: writer.id,
        door: 'structure',
        at: Date.now(),
        before: null,
        after: null,
      });
      return {
        answer,
        event: { seq, kind, sheetId, writeId, by: writer.name, personId: writer.id },
        workbookId,
      };
    });
    if (done.event) {
      await this.catalog.refresh(done.workbookId);
      this.events.publish(done.workbookId, done.event);
    }
    return done.answer;
  }
}

/** @throws Refused 409 where the write id was another write's */
function answered(first: Change, digest: string): unknown {
  if (first.digest === digest) return first.answer;
  throw Refused.conflict(
    'writeIdUsed',
    'This write id was used for another write. Make a new one.',
  );
}
