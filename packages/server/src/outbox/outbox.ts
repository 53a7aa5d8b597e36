import type { NoticeView, OutboxView } from '@varn/contract';
import { mayAs } from '@varn/contract';
import { Injectable } from '@nestjs/common';
import type { Writer } from '../access/access';
import { newId } from '../ids';
import { Account, Membership, Notice } from '../store/entities';
import { Store } from '../store/store';

/** The most notices that are shown. */
const MOST_SHOWN = 200;

/** Something people are to know, whether they look or not. */
export interface Message {
  readonly subject: string;
  readonly text: string;
  /** Where what it is about stands, in the application. */
  readonly link: string;
  /** What it is about: it is told of once, until it is over. */
  readonly about: string;
}

/** What carries messages to people: here the outbox, elsewhere a mail server could. */
export abstract class Mailer {
  abstract send(workbookId: string, to: readonly Writer[], message: Message): Promise<void>;
}

/** Keeps what would be mailed, for each person who would get it. */
@Injectable()
export class Outbox extends Mailer {
  /** Those who are sent something now, by what it is about. */
  private readonly sending = new Set<string>();

  constructor(private readonly store: Store) {
    super();
  }

  async send(workbookId: string, to: readonly Writer[], message: Message): Promise<void> {
    const em = this.store.em();
    for (const { id: account } of to) {
      await em.insert(Notice, {
        id: newId(),
        workbook: workbookId,
        account,
        at: Date.now(),
        subject: message.subject,
        text: message.text,
        link: message.link,
        about: message.about,
        isOver: false,
        readAt: null,
      });
    }
  }

  /** Tells those who look after a workbook of something, unless they were and it lasts. */
  async tellOnce(workbookId: string, message: Message): Promise<void> {
    const key = `${workbookId} ${message.about}`;
    if (this.sending.has(key)) return;
    this.sending.add(key);
    try {
      const lasting = { workbook: workbookId, about: message.about, isOver: false };
      if ((await this.store.em().count(Notice, lasting)) > 0) return;
      await this.send(workbookId, await this.analystsOf(workbookId), message);
    } finally {
      this.sending.delete(key);
    }
  }

  /** What was told of is over: when it comes again it is told of again. */
  async over(workbookId: string, about: string): Promise<void> {
    const lasting = { workbook: workbookId, about, isOver: false };
    await this.store.em().nativeUpdate(Notice, lasting, { isOver: true });
  }

  /** What one person got, the newest first. */
  async of(workbookId: string, person: Writer): Promise<OutboxView> {
    const em = this.store.em();
    const own = { workbook: workbookId, account: person.id };
    const held = await em.find(Notice, own, {
      orderBy: { at: 'desc', id: 'desc' },
      limit: MOST_SHOWN,
    });
    const { email } = await em.findOneOrFail(Account, person.id);
    const notices = held.map(({ id, at, subject, text, link, readAt }): NoticeView => ({
      id,
      at,
      to: `${person.name} <${email}>`,
      subject,
      text,
      ...(link !== null && { link }),
      isRead: readAt !== null,
    }));
    return { notices, unread: await em.count(Notice, { ...own, readAt: null }) };
  }

  async read(workbookId: string, ids: readonly string[], person: Writer): Promise<void> {
    const own = { workbook: workbookId, account: person.id, id: { $in: [...ids] }, readAt: null };
    await this.store.em().nativeUpdate(Notice, own, { readAt: Date.now() });
  }

  private async analystsOf(workbookId: string): Promise<Writer[]> {
    const members = await this.store
      .em()
      .find(Membership, { workbook: workbookId }, { populate: ['account'] });
    return members
      .filter(({ role }) => mayAs(role, 'analyst'))
      .map(({ account: { id, name } }) => ({ id, name }));
  }
}
