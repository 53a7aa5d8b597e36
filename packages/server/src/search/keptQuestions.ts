import type { KeepQuestion, QuestionEntry } from '@varn/contract';
import { mayAs } from '@varn/contract';
import { Injectable } from '@nestjs/common';
import type { Writer } from '../access/access';
import { Refused } from '../http/refused';
import { Catalog, type FormFacts } from '../store/catalog';
import { KeptQuestion } from '../store/entities';
import { Store } from '../store/store';

/** The most questions one person keeps in a workbook. */
const MOST_KEPT = 200;

/** Questions that are kept under a name: by one person, or for everyone in the workbook. */
@Injectable()
export class KeptQuestions {
  constructor(
    private readonly store: Store,
    private readonly catalog: Catalog,
  ) {}

  /** Those a person can ask in a workbook, by name. */
  async of(workbookId: string, personId: string): Promise<QuestionEntry[]> {
    const kept = await this.store
      .em()
      .find(
        KeptQuestion,
        { workbook: workbookId, $or: [{ account: personId }, { isShared: true }] },
        { orderBy: { name: 'asc', id: 'asc' } },
      );
    const isAnalyst = mayAs(this.catalog.role(workbookId, personId) ?? 'reader', 'analyst');
    return kept.flatMap((each): QuestionEntry[] => {
      const { id, name, address, isShared } = each;
      // A form in the bin takes its questions along.
      const form = this.catalog.form(each.form.id);
      const mayChange = each.account.id === personId || (isShared && isAnalyst);
      return form ? [{ id, formId: form.id, name, address, isShared, mayChange }] : [];
    });
  }

  /**
   * Keeps a question, or changes one that is kept; asked twice it is kept once.
   *
   * @throws Refused 403 where a reader shares, or where it is someone else's; 409 where it is too much
   */
  async keep(formId: string, id: string, asked: KeepQuestion, writer: Writer): Promise<void> {
    const form = this.formOf(formId);
    const workbookId = form.sheet.workbook.id;
    const { name, address, isShared } = asked;
    const role = this.catalog.role(workbookId, writer.id) ?? 'reader';
    if (isShared && !mayAs(role, 'clerk')) {
      throw Refused.forbidden('Only people who enter records can keep questions for everyone.');
    }
    const em = this.store.em();
    const held = await em.findOne(KeptQuestion, { id });
    if (held) {
      this.refuseOthers(held, form, writer);
      await em.nativeUpdate(KeptQuestion, { id }, { name: name.trim(), address, isShared });
      return;
    }
    const kept = await em.count(KeptQuestion, { workbook: workbookId, account: writer.id });
    if (kept >= MOST_KEPT) {
      throw Refused.conflict('tooMany', `You keep ${MOST_KEPT} questions here. Delete one first.`);
    }
    await em.upsert(
      KeptQuestion,
      {
        id,
        workbook: workbookId,
        form: formId,
        account: writer.id,
        name: name.trim(),
        address,
        isShared,
      },
      { onConflictAction: 'ignore' },
    );
  }

  /** Forgets a question; one that is gone already stays so. @throws Refused 403 */
  async drop(formId: string, id: string, writer: Writer): Promise<void> {
    const form = this.formOf(formId);
    const em = this.store.em();
    const held = await em.findOne(KeptQuestion, { id });
    if (!held) return;
    this.refuseOthers(held, form, writer);
    await em.nativeDelete(KeptQuestion, { id });
  }

  private refuseOthers(held: KeptQuestion, form: FormFacts, writer: Writer): void {
    if (held.form.id !== form.id) throw Refused.notFound('question of this form');
    if (held.account.id === writer.id) return;
    const role = this.catalog.role(form.sheet.workbook.id, writer.id) ?? 'reader';
    // What someone keeps for themselves is not told of.
    if (!held.isShared) throw Refused.notFound('question of this form');
    if (!mayAs(role, 'analyst')) {
      throw Refused.forbidden(
        'Only the person who keeps this question, or an analyst, can change it.',
      );
    }
  }

  private formOf(formId: string): FormFacts {
    const form = this.catalog.form(formId);
    if (!form) throw Refused.notFound('form');
    return form;
  }
}
