import type {
  FormView,
  Landed,
  MoveRecord,
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
import { ANSWER_MS } from '../api/useWaitingLine';
import { ApiRefusal, NoAnswer, request, sayError } from '../api/client';
import { applyOwn } from '../api/events';
import { insist } from '../api/insist';
import type { Submission } from '../form/filledIn';

/** Where sending stands. */
export type Sending =
  | { readonly is: 'idle' }
  | { readonly is: 'sending' }
  /** No answer came: everything is kept, and the same write is tried again. */
  | { readonly is: 'notWritten'; readonly why: NoAnswer }
  /** No answer came: it waits in line, and one goes on with the next record. */
  | { readonly is: 'waits'; readonly why: NoAnswer | null }
  /** @param undone whether it is what was there before a change that was taken back */
  | { readonly is: 'written'; readonly landed: Landed; readonly undone?: true }
  | { readonly is: 'takenBack'; readonly landed: Landed }
  /** A stored record went to the bin. */
  | { readonly is: 'removed'; readonly landed: Landed }
  | {
      readonly is: 'refused';
      readonly message: string;
      readonly verdicts: readonly VerdictView[];
      /** What was refused. */
      readonly answers: Answers;
    };

/** A submit as it was sent. */
export interface SentSubmit {
  readonly path: string;
  readonly body: Submit | UpdateRecord;
  readonly method?: 'PATCH';
}

type Then = (landed: Landed) => void;

interface Write extends Omit<SentSubmit, 'body'> {
  readonly body: SentSubmit['body'] | Undo | MoveRecord;
  readonly then: Then;
  /** Told when the server has answered. */
  readonly onAnswered?: ((isWritten: boolean) => void) | undefined;
  /** Takes over what got no answer, if it may wait in line. @returns whether it does */
  readonly onNoAnswer?: ((why: NoAnswer) => boolean) | undefined;
}

interface SubmitOptions {
  /** The write id of what is submitted next; each has one of its own. */
  readonly writeId: string;
  /** Writes trial records with the draft, where that is being tried. */
  readonly trial?: boolean;
  /** What is still to be read of the record before. */
  readonly begins?: Sending | undefined;
  readonly onSent?: (sent: SentSubmit) => void;
  readonly onAnswered?: (isWritten: boolean) => void;
  /** Takes over a new record that got no answer. @returns whether it waits in line from now on */
  readonly onNoAnswer?: (sent: SentSubmit, why: NoAnswer | null) => boolean;
  /** Whether a new record joins the line at once, so that one goes on with the next. */
  readonly joinsLine?: () => boolean;
  /** Told that the write id was used by another window: it needs a new one. */
  readonly onIdUsed?: () => void;
}

/** Whether a submit makes a new record. */
const isNew = ({ method }: SentSubmit): boolean => method === undefined;

/** Whether what was begun here was taken up, and written, in another window as well. */
const isOfAnotherWindow = (error: unknown): boolean =>
  error instanceof ApiRefusal && error.refusal.code === 'writeIdUsed';
const WRITTEN_THERE =
  'This record was already written from another window. Look at the last rows; submit again only if this is another record.';

/**
 * Sends writes one at a time. A write that got no answer is sent again under the same write id
 * until it gets one, so it lands once however the network behaves.
 */
export function useSubmit(
  form: FormView,
  options: SubmitOptions,
): {
  sending: Sending;
  submit: (sent: Submission['sent'], then: Then) => void;
  /** Sends what got no answer again, as it was. */
  resend: (sent: SentSubmit, then: Then) => void;
  update: (record: { id: string; revision: number }, sent: Submission['sent'], then: Then) => void;
  /** Puts a record back from the bin. */
  restore: (record: { id: string; revision: number }, then: Then) => void;
  /** Sends a stored record to the bin. */
  remove: (record: { id: string; revision: number }, then: Then) => void;
  undo: (landed: Landed, then?: Then) => void;
  /** Tells of what became of a write that was sent elsewhere. */
  told: (now: Sending) => void;
  tryNow: () => void;
  forget: () => void;
} {
  const { writeId, trial = false, begins, onSent, onAnswered, onNoAnswer, onIdUsed } = options;
  const { mutate } = useSWRConfig();
  const [sending, setSending] = useState<Sending>(begins ?? { is: 'idle' });
  const isBusy = useRef(false);
  const isGone = useRef(false);
  const goOn = useRef<() => void>(() => undefined);
  const { workbookId } = form.sheet;

  useEffect(() => {
    isGone.current = false;
    return () => {
      isGone.current = true;
      goOn.current();
    };
  }, []);

  /** Waits until it is time, or until one is told to go on. */
  const pause = (ms: number): Promise<void> =>
    new Promise((resolve) => {
      const waiting = setTimeout(resolve, ms);
      goOn.current = () => {
        clearTimeout(waiting);
        resolve();
      };
    });

  async function carryOut(write: Write): Promise<void> {
    const { method, path, body, then, onAnswered } = write;
    setSending({ is: 'sending' });
    let waits = false;
    const ask = (): Promise<Landed | Written> =>
      request(method ?? 'POST', path, body, { waitMs: write.onNoAnswer && ANSWER_MS });
    try {
      const answer = await insist(ask, {
        pause,
        isGone: () => isGone.current,
        onNoAnswer: (error) => {
          waits = write.onNoAnswer?.(error) ?? false;
          setSending(waits ? { is: 'waits', why: error } : { is: 'notWritten', why: error });
          return waits ? 'leave' : undefined;
        },
      });
      const landed = 'records' in answer ? answer.records[0] : answer;
      if (!landed) throw new Error('The server told of no record. Look at the sheet.');
      const { seq, kind, sheetId, writeId } = landed;
      applyOwn(mutate, workbookId, { seq, kind, sheetId, writeId, by: '', landed });
      onAnswered?.(true);
      then(landed);
    } catch (error) {
      // Whoever left takes what is unanswered up again, and so does the line.
      if (error instanceof NoAnswer) return;
      if (isOfAnotherWindow(error)) onIdUsed?.();
      onAnswered?.(false);
      const verdicts = error instanceof ApiRefusal ? (error.refusal.verdicts ?? []) : [];
      const message = isOfAnotherWindow(error) ? WRITTEN_THERE : sayError(error);
      const answers = 'answers' in body ? body.answers : {};
      setSending({ is: 'refused', message, verdicts, answers });
    }
  }

  function begin(write: Write): void {
    if (isBusy.current) return;
    isBusy.current = true;
    void carryOut(write).finally(() => {
      isBusy.current = false;
    });
  }

  const resend = (sent: SentSubmit, then: Then): void =>
    begin({
      ...sent,
      then: (landed) => {
        setSending({ is: 'written', landed });
        then(landed);
      },
      onAnswered,
      ...(isNew(sent) && onNoAnswer && { onNoAnswer: (why) => onNoAnswer(sent, why) }),
    });
  const send = (sent: SentSubmit, then: Then): void => {
    if (isBusy.current) return;
    if (isNew(sent) && options.joinsLine?.() && onNoAnswer?.(sent, null)) {
      setSending({ is: 'waits', why: null });
      return;
    }
    onSent?.(sent);
    resend(sent, then);
  };

  return {
    sending,
    resend,
    submit: (filled, then) =>
      send(
        {
          path: trial ? paths.trials(form.id) : paths.submits(form.id),
          body: { writeId, ...filled, ...(!trial && { version: form.version }) },
        },
        then,
      ),
    update: ({ id, revision }, filled, then) =>
      send(
        {
          method: 'PATCH',
          path: paths.formRecord(form.id, id),
          body: { writeId, revision, ...filled, version: form.version },
        },
        then,
      ),
    restore: ({ id, revision }, then) =>
      begin({
        path: paths.putBackRecord(form.sheet.id, id),
        body: { writeId: newId(), revision },
        then: (landed) => {
          setSending({ is: 'written', landed });
          then(landed);
        },
      }),
    remove: ({ id, revision }, then) =>
      begin({
        path: paths.removeRecord(form.sheet.id, id),
        body: { writeId: newId(), revision },
        then: (landed) => {
          setSending({ is: 'removed', landed });
          then(landed);
        },
      }),
    undo: (undone, then) =>
      begin({
        path: paths.undo(workbookId),
        body: { writeId: newId(), undoes: undone.writeId },
        then: (landed) => {
          setSending(
            landed.kind === 'recordRemoved'
              ? { is: 'takenBack', landed }
              : { is: 'written', landed, undone: true },
          );
          then?.(landed);
        },
      }),
    told: setSending,
    tryNow: () => goOn.current(),
    forget: () => setSending({ is: 'idle' }),
  };
}
