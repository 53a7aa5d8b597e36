import type {
  FormView,
  Landed,
  Submit,
  Undo,
  UpdateRecord,
  VerdictView,
  Written,
} from '@varn/contract';
import { paths } from '@varn/contract/paths';
import type { Answers } from '@varn/core';
import { useEffect, useRef, useState } from 'react';
import { useSWRConfig } from 'swr';
import { newId } from '../api/newId';
import { ApiRefusal, NoAnswer, request, sayError } from '../api/client';
import { apply } from '../api/events';
import { waitBefore } from '../api/useWrites';

/** Where sending stands. */
export type Sending =
  | { readonly is: 'idle' }
  | { readonly is: 'sending' }
  /** No answer came: everything is kept, and the same write is tried again. */
  | { readonly is: 'notWritten' }
  | { readonly is: 'written'; readonly landed: Landed }
  | { readonly is: 'takenBack'; readonly landed: Landed }
  | { readonly is: 'refused'; readonly message: string; readonly verdicts: readonly VerdictView[] };

/** A submit as it was sent. */
export interface SentSubmit {
  readonly path: string;
  readonly body: Submit;
}

type Then = (landed: Landed) => void;

interface Write {
  readonly method?: 'PATCH';
  readonly path: string;
  readonly body: Submit | UpdateRecord | Undo;
  readonly then: Then;
  /** Told when the server has answered. */
  readonly onAnswered?: ((isWritten: boolean) => void) | undefined;
}

interface SubmitOptions {
  /** Writes trial records with the draft, where that is being tried. */
  readonly trial?: boolean;
  readonly onSent?: (sent: SentSubmit) => void;
  readonly onAnswered?: (isWritten: boolean) => void;
}

/**
 * Sends writes one at a time. A write that got no answer is sent again under the same write id
 * until it gets one, so it lands once however the network behaves.
 */
export function useSubmit(
  form: FormView,
  { trial = false, onSent, onAnswered }: SubmitOptions = {},
): {
  sending: Sending;
  /** @param meant fields whose answers are meant, although they were asked about */
  submit: (answers: Answers, meant: ReadonlySet<string>, then: Then) => void;
  /** Sends a submit that got no answer again, as it was. */
  resend: (sent: SentSubmit, then: Then) => void;
  update: (
    record: { id: string; revision: number },
    answers: Answers,
    meant: ReadonlySet<string>,
    then: Then,
  ) => void;
  undo: (landed: Landed) => void;
  tryNow: () => void;
  forget: () => void;
} {
  const { mutate } = useSWRConfig();
  const [sending, setSending] = useState<Sending>({ is: 'idle' });
  const pending = useRef<Write | null>(null);
  const waiting = useRef<ReturnType<typeof setTimeout>>(undefined);
  const { workbookId } = form.sheet;

  async function send(attempt: number): Promise<void> {
    const write = pending.current;
    if (!write) return;
    clearTimeout(waiting.current);
    if (attempt === 0) setSending({ is: 'sending' });
    try {
      const answer = await request<Landed | Written>(
        write.method ?? 'POST',
        write.path,
        write.body,
      );
      const landed = 'records' in answer ? answer.records[0] : answer;
      if (!landed) throw new Error('The server told of no record. Look at the sheet.');
      pending.current = null;
      const { seq, kind, sheetId, writeId } = landed;
      apply(mutate, workbookId, { seq, kind, sheetId, writeId, by: '', landed });
      write.onAnswered?.(true);
      write.then(landed);
    } catch (error) {
      if (error instanceof NoAnswer) {
        setSending({ is: 'notWritten' });
        waiting.current = setTimeout(() => void send(attempt + 1), waitBefore(attempt));
        return;
      }
      pending.current = null;
      write.onAnswered?.(false);
      const verdicts = error instanceof ApiRefusal ? (error.refusal.verdicts ?? []) : [];
      setSending({ is: 'refused', message: sayError(error), verdicts });
    }
  }

  useEffect(() => () => clearTimeout(waiting.current), []);

  function begin(write: Write): void {
    if (pending.current) return;
    pending.current = write;
    void send(0);
  }

  const writtenBy = (then: Then): Then => {
    return (landed) => {
      setSending({ is: 'written', landed });
      then(landed);
    };
  };
  const resend = (sent: SentSubmit, then: Then): void =>
    begin({ ...sent, then: writtenBy(then), onAnswered });

  return {
    sending,
    resend,
    submit: (answers, meant, then) => {
      const sent = {
        path: trial ? paths.trials(form.id) : paths.submits(form.id),
        body: {
          writeId: newId(),
          answers,
          ...(!trial && { version: form.version }),
          ...(meant.size > 0 && { meant: [...meant] }),
        },
      };
      onSent?.(sent);
      resend(sent, then);
    },
    update: ({ id, revision }, answers, meant, then) =>
      begin({
        method: 'PATCH',
        path: paths.formRecord(form.id, id),
        body: {
          writeId: newId(),
          revision,
          answers,
          version: form.version,
          ...(meant.size > 0 && { meant: [...meant] }),
        },
        then: writtenBy(then),
      }),
    undo: (undone) =>
      begin({
        path: paths.undo(workbookId),
        body: { writeId: newId(), undoes: undone.writeId },
        then: (landed) =>
          setSending(
            landed.kind === 'recordRemoved'
              ? { is: 'takenBack', landed }
              : { is: 'written', landed },
          ),
      }),
    tryNow: () => void send(1),
    forget: () => setSending({ is: 'idle' }),
  };
}
