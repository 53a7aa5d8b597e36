import type { FormView, Landed } from '@varn/contract';
import { mayAs, type Role } from '@varn/contract/roles';
import { afterMessage, type Filling } from '@varn/core';
import { useCallback, useEffect, useMemo, useReducer } from 'react';
import { useNavigate, useParams } from 'react-router';
import { addresses } from '../addresses';
import type { Begun } from '../api/useBegunWork';
import { focusFirstField } from '../form/focus';
import type { Refusal } from '../form/FormBody';
import { useFilling, type FormFilling } from '../form/useFilling';
import { useSteady } from '../form/useSteady';
import { atDesk, BLANK_DESK, type DeskState } from './deskState';
import { answersOf, erasedBy, type OpenRecord } from './openRecord';
import { useBegunRecord, type BegunRecord } from './useBegunRecord';
import { useSubmit, type Sending, type SentSubmit } from './useSubmit';

export interface DeskProps {
  readonly form: FormView;
  readonly role: Role;
  /** Why the form is not there any more; empty while it is. */
  readonly gone: string;
  /** Whether the form was put to use anew since it was opened. */
  readonly isNewer: boolean;
  readonly onTakeNewer: () => void;
  /** The stored record that is being corrected; `null` for a new one. */
  readonly record: OpenRecord | null;
  readonly onRecord: (record: OpenRecord | null) => void;
  readonly begun: Begun<BegunRecord>;
}

/** The desk as one works at it: a record filled in, sent, corrected, taken back. */
export interface Desk extends DeskState {
  readonly filled: FormFilling;
  readonly sending: Sending;
  readonly busy: boolean;
  readonly mayEnter: boolean;
  /** Whether what was begun here before has come back. */
  readonly isBack: boolean;
  readonly refusals: ReadonlyMap<string, Refusal>;
  readonly rowAddress: (row: number) => string;
  readonly submit: () => void;
  /** Updates the record although it erases something. */
  readonly updateAllTheSame: () => void;
  readonly clear: () => void;
  readonly takeBack: () => void;
  readonly putBack: () => void;
  readonly tryNow: () => void;
}

export function useDesk(props: DeskProps): Desk {
  const { form, role, isNewer, onTakeNewer, record, onRecord, begun } = props;
  const { workbookId = '' } = useParams();
  const navigate = useNavigate();
  const mayEnter = mayAs(role, 'clerk');
  const filled = useFilling(form, { stored: record ? (at) => answersOf(record, at) : undefined });
  const kept = useBegunRecord(begun, filled, record);
  const { sending, submit, resend, update, undo, tryNow, forget } = useSubmit(form, {
    ...kept,
    writeId: begun.id,
    onIdUsed: begun.renew,
  });
  const [state, tell] = useReducer(atDesk, BLANK_DESK);
  const busy = sending.is === 'sending' || sending.is === 'notWritten';
  const { entering = {}, after = {} } = form.definition;
  const sheetAddress = addresses.sheet(workbookId, form.sheet.id);
  const rowAddress = useCallback((row: number) => `${sheetAddress}?row=${row}`, [sheetAddress]);

  useEffect(() => {
    if (!filled.isLoading) focusFirstField();
  }, [filled.isLoading]);
  useKeepUnsent(busy);
  // A write that was answered can be taken back.
  useEffect(() => {
    if (sending.is === 'written') tell({ is: 'landed', landed: sending.landed });
  }, [sending]);
  // Nothing is lost by going on with the newer version where nothing was typed yet.
  useEffect(() => {
    if (isNewer && !filled.begun && !busy) onTakeNewer();
  }, [isNewer, filled.begun, busy, onTakeNewer]);

  const written = (landed: Landed, sent: Filling): void => {
    tell({ is: 'written', said: afterMessage(filled.prepared, sent, filled.context.locale) });
    if (record) onRecord(null);
    else filled.next();
    if (isNewer) onTakeNewer();
    if (after.then === 'record') void navigate(rowAddress(landed.row));
    else if (after.then === 'close') void navigate(addresses.contents(workbookId));
    else focusFirstField();
  };

  const send = (isMeant: boolean): void => {
    if (busy || !mayEnter || filled.isLoading) return;
    tell({ is: 'pressed' });
    const { filling: now, sent } = filled.submitNow();
    const [first] = now.verdicts;
    if (first) {
      forget();
      filled.revealAll();
      if (entering.early === 'heldBack') tell({ is: 'heldBack' });
      else filled.jump(first.fieldId);
      return;
    }
    const then = (landed: Landed): void => written(landed, now);
    if (!record) {
      submit(sent, then);
      return;
    }
    const erasing = erasedBy(record, filled, now);
    if (erasing.length > 0 && !isMeant) tell({ is: 'asked', erasing });
    else update(record, sent, then);
  };

  const refusals = useRefusals(sending, filled.jump);
  const onResend = useSteady((sent: SentSubmit) =>
    resend(sent, (landed) => written(landed, filled.filling)),
  );
  const { unanswered, isBack } = kept;
  useEffect(() => {
    if (unanswered) onResend(unanswered);
  }, [unanswered, onResend]);

  return {
    ...state,
    filled,
    sending,
    busy,
    mayEnter,
    isBack,
    refusals,
    rowAddress,
    submit: useSteady(() => send(false)),
    updateAllTheSame: useSteady(() => send(true)),
    clear: useSteady(() => {
      const before = filled.clear();
      tell({ is: 'cleared', filled: filled.begun ? before : null });
      forget();
      focusFirstField();
    }),
    takeBack: useSteady(() => {
      const last = state.acts.at(-1);
      if (!last) return;
      tell({ is: 'takenBack' });
      if (last.is === 'written') undo(last.landed);
      else {
        filled.bringBack(last.filled);
        focusFirstField();
      }
    }),
    putBack: useSteady(() => {
      if (sending.is === 'takenBack') undo(sending.landed);
    }),
    tryNow: useSteady(tryNow),
  };
}

/** What the server refused, by input; goes to the first of them. */
function useRefusals(
  sending: Sending,
  jump: (inputId: string) => void,
): ReadonlyMap<string, Refusal> {
  const refusals = useMemo(() => refusalsOf(sending), [sending]);
  const showFirst = useSteady(() => {
    const [first] = refusals.keys();
    if (first !== undefined) jump(first);
  });
  useEffect(() => showFirst(), [refusals, showFirst]);
  return refusals;
}

const refusalsOf = (sending: Sending): ReadonlyMap<string, Refusal> =>
  new Map(
    sending.is !== 'refused'
      ? []
      : sending.verdicts.map(({ fieldId, message }) => [
          fieldId,
          { message, text: sending.answers[fieldId] ?? '' },
        ]),
  );

/** Asks before the page is left while something is not written yet. */
function useKeepUnsent(busy: boolean): void {
  useEffect(() => {
    if (!busy) return;
    const ask = (event: BeforeUnloadEvent): void => event.preventDefault();
    window.addEventListener('beforeunload', ask);
    return () => window.removeEventListener('beforeunload', ask);
  }, [busy]);
}
