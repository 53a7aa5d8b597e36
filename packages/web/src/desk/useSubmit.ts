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

interface Write {
  readonly method?: 'PATCH';
  readonly path: string;
  readonly body: Submit | UpdateRecord | Undo;
  readonly then: (landed: Landed) => void;
}

/**
 * Sends writes one at a time. A write that got no answer is sent again under the same write id
 * until it gets one, so it lands once however the network behaves.
 */
export function useSubmit(
  form: FormView,
  /** Writes trial records with the draft, where that is being tried. */
  { trial = false } = {},
): {
  sending: Sending;
  /** @param meant fields whose answers are meant, although they were asked about */
  submit: (answers: Answers, meant: ReadonlySet<string>, then: (landed: Landed) => void) => void;
  update: (
    record: { id: string; revision: number },
    answers: Answers,
    meant: ReadonlySet<string>,
    then: (landed: Landed) => void,
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
      write.then(landed);
    } catch (error) {
      if (error instanceof NoAnswer) {
        setSending({ is: 'notWritten' });
        waiting.current = setTimeout(() => void send(attempt + 1), waitBefore(attempt));
        return;
      }
      pending.current = null;
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

  return {
    sending,
    submit: (answers, meant, then) =>
      begin({
        path: trial ? paths.trials(form.id) : paths.submits(form.id),
        body: {
          writeId: crypto.randomUUID(),
          answers,
          ...(!trial && { version: form.version }),
          ...(meant.size > 0 && { meant: [...meant] }),
        },
        then: (landed) => {
          setSending({ is: 'written', landed });
          then(landed);
        },
      }),
    update: ({ id, revision }, answers, meant, then) =>
      begin({
        method: 'PATCH',
        path: paths.formRecord(form.id, id),
        body: {
          writeId: crypto.randomUUID(),
          revision,
          answers,
          version: form.version,
          ...(meant.size > 0 && { meant: [...meant] }),
        },
        then: (landed) => {
          setSending({ is: 'written', landed });
          then(landed);
        },
      }),
    undo: (undone) =>
      begin({
        path: paths.undo(workbookId),
        body: { writeId: crypto.randomUUID(), undoes: undone.writeId },
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
