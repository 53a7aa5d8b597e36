import type { FormView, Landed, RowsView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { mayAs, type Role } from '@varn/contract/roles';
import { afterMessage, isSecret, nameOfRecord, type Filling } from '@varn/core';
import { useEffect, useMemo, useReducer, useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { useSWRConfig } from 'swr';
import { addresses } from '../addresses';
import { landsOnTop } from '../api/applyEvent';
import { get, type NoAnswer, sayError, SignedOut } from '../api/client';
import type { Begun } from '../api/useBegunWork';
import { useWaitingLine } from '../api/useWaitingLine';
import { focusFirstField, focusFirstSoon, isBusyElsewhere } from '../form/focus';
import { focusBar, isBarFocused } from '../keys/focusBar';
import type { Refusal } from '../form/FormBody';
import { useFilling, type FormFilling } from '../form/useFilling';
import { useSteady } from '../form/useSteady';
import { atDesk, BLANK_DESK, type DeskState } from './deskState';
import { answersOf, copiedAnswers, erasedBy, storedOtherwise, type OpenRecord } from './openRecord';
import { useOnItsWay } from './onItsWay';
import { useBegunRecord, type BegunRecord } from './useBegunRecord';
import type { Carried, DeskPlace } from './useDeskPlace';
import { useSettling, type Settling } from './useSettling';
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
  readonly place: DeskPlace;
  readonly begun: Begun<BegunRecord>;
}

/** The desk as one works at it: a record filled in, sent, corrected, taken back. */
export interface Desk extends DeskState {
  readonly filled: FormFilling;
  readonly sending: Sending;
  readonly busy: boolean;
  /** How many records are sent behind the one that is entered, and why they wait. */
  readonly onItsWay: number;
  readonly lineWhy: NoAnswer | null;
  readonly mayEnter: boolean;
  /** Whether what was begun here before has come back. */
  readonly isBack: boolean;
  readonly refusals: ReadonlyMap<string, Refusal>;
  /** What others did to the record meanwhile. */
  readonly settling: Settling;
  /** Whether the form was cleared just now, and nothing begun since. */
  readonly cleared: boolean;
  /** What is stored where something else stands in the form, by input id. */
  readonly stored: ReadonlyMap<string, string>;
  /** What the stored record is called. */
  readonly name: string;
  readonly submit: () => void;
  /** Updates the record, and steps on. */
  readonly submitAndStep: () => void;
  readonly remove: () => void;
  readonly duplicate: () => void;
  /** Puts the record that someone deleted back from the bin, and updates it with what was typed. */
  readonly restoreAndUpdate: () => void;
  /** What was typed over a stored record becomes a new one. */
  readonly enterAsNew: () => void;
  /** Opens the record that was written last. */
  readonly openLast: () => void;
  readonly openRow: (row: number) => void;
  /** An older state was put back: the record stands here as it is by now. */
  readonly broughtBack: (landed: Landed) => void;
  /** Updates the record although it erases something. */
  readonly updateAllTheSame: () => void;
  readonly clear: () => void;
  readonly takeBack: () => void;
  readonly putBack: () => void;
  readonly tryNow: () => void;
}

export function useDesk(props: DeskProps): Desk {
  const { form, role, isNewer, onTakeNewer, record, place, begun } = props;
  const { workbookId = '' } = useParams();
  const navigate = useNavigate();
  const { mutate } = useSWRConfig();
  const mayEnter = mayAs(role, 'clerk');
  const filled = useFilling(form, {
    stored: record ? (at) => answersOf(record, at) : undefined,
    held: record ?? undefined,
  });
  const kept = useBegunRecord(begun, filled, record);
  const settling = useSettling(record, filled, form.sheet);
  const base = settling.base ?? record;
  const { carried, copied } = place.opened;
  const { waiting, why: lineWhy, line } = useWaitingLine();
  // Words that must not be left in a browser are sent from the fields.
  const hasSecret = filled.prepared.inputs.some(({ ruled }) => isSecret(ruled));
  const handOn = (sent: SentSubmit, why: NoAnswer | null): boolean => {
    // Whoever is signed out signs in again first; the line is kept in the browser.
    if (record || hasSecret || why instanceof SignedOut) return false;
    const { id: formId, name: formName } = form;
    const { body, path } = sent;
    const { answers, untouched } = filled;
    const said = afterMessage(filled.prepared, filled.submitNow().filling, locale);
    onItsWay.put(body.writeId, { path, body, filled: { answers, untouched }, said });
    line.add({ workbookId, formId, formName, path, body }, why);
    kept.onAnswered(true);
    tell({ is: 'written', said: '' });
    filled.next();
    focusFirstSoon();
    return true;
  };
  const { sending, submit, resend, update, undo, remove, restore, tryNow, forget, told } =
    useSubmit(form, {
      ...kept,
      writeId: begun.id,
      onIdUsed: begun.renew,
      begins: carried?.sending,
      onNoAnswer: handOn,
      // What leads elsewhere once it is written is waited for.
      joinsLine: () => waiting.length > 0 || form.definition.after?.then === undefined,
    });
  const [state, tell] = useReducer(atDesk, carried?.desk ?? BLANK_DESK);
  const busy = sending.is === 'sending' || sending.is === 'notWritten';
  const { entering = {}, after = {} } = form.definition;
  const { locale } = filled.context;
  const stored = useMemo(
    () => (base ? storedOtherwise(base, filled) : NOTHING_OTHERWISE),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- of what it reads only these change
    [base, filled.answers, filled.prepared, filled.context],
  );

  const { isInBar } = place.opened;
  const stays = isInBar && carried !== null;
  const [focusedBefore] = useState(() => document.activeElement);
  useEffect(() => {
    if (filled.isLoading) return;
    // Who went elsewhere while the form was on its way, as to the bar or to *Find*, stays there.
    if (stays) focusBar();
    else if (!isBarFocused() && !isBusyElsewhere(focusedBefore)) focusFirstField();
  }, [filled.isLoading, stays, focusedBefore]);
  // A write that was answered can be taken back.
  useEffect(() => {
    if (sending.is === 'written') tell({ is: 'landed', landed: sending.landed });
  }, [sending]);
  const onItsWay = useOnItsWay(form.id, {
    onWritten: (landed, { filled: of, said }) => {
      if (landed.sheetId !== form.sheet.id || busy) return;
      tell({ is: 'settled', said });
      tell({ is: 'landed', landed, filled: of });
      if (sending.is !== 'refused') told({ is: 'written', landed });
    },
    onRefused: () => {
      if (sending.is === 'waits') forget();
    },
  });
  useKeepUnsent(busy || (onItsWay.count > 0 && lineWhy === null));
  const takeNewer = useSteady(() => {
    if (record || sending.is === 'idle') onTakeNewer();
    else place.goToNew({ carried: { sending, desk: state } });
  });
  // Nothing is lost by going on with the newer version where nothing was typed yet.
  useEffect(() => {
    if (isNewer && !filled.begun && !busy) takeNewer();
  }, [isNewer, filled.begun, busy, takeNewer]);
  const fillInCopied = useSteady(() => {
    for (const [id, text] of Object.entries(copied?.answers ?? {})) filled.type(id, text);
  });
  useEffect(() => {
    if (!filled.isLoading && !record && copied) fillInCopied();
  }, [filled.isLoading, record, copied, fillInCopied]);

  /** What is still to be read when another record stands here. */
  const carrying = (now: Sending, landed: Landed, said: string): Carried => ({
    sending: now,
    desk: atDesk(atDesk({ ...state, said }, { is: 'landed', landed }), { is: 'written', said }),
  });

  const written = (landed: Landed, sent: Filling, thenOn = false): void => {
    const said = afterMessage(filled.prepared, sent, locale);
    tell({ is: 'written', said });
    // The newer version begins with the next record, and what became of this one stays to be read.
    const carry = record || isNewer ? carrying({ is: 'written', landed }, landed, said) : null;
    if (record && thenOn) place.step('on', carry);
    else if (record && place.view !== '') place.goTo(record.id, carry);
    else if (after.then === 'record') {
      void navigate(`${addresses.sheet(workbookId, form.sheet.id)}?row=${landed.row}`);
    } else if (after.then === 'close') void navigate(addresses.contents(workbookId));
    else if (carry) place.goToNew({ carried: carry });
    if (carry) return;
    const { answers, untouched } = filled;
    tell({ is: 'landed', landed, filled: { answers, untouched } });
    filled.next();
    focusFirstSoon();
  };

  const send = (isMeant: boolean, thenOn = false): void => {
    if (busy || !mayEnter || filled.isLoading) return;
    if (settling.isGone) {
      focusGone();
      return;
    }
    if (filled.leftBehind.length > 0) {
      focusLeftBehind();
      return;
    }
    // A second press belongs to the record that was just written, not to the next one.
    const isJustSent = sending.is === 'written' || sending.is === 'waits';
    if (!record && !filled.begun && isJustSent) return;
    tell({ is: 'pressed' });
    const { filling: now, sent } = filled.submitNow();
    const [first] = now.verdicts;
    const unseen = record ? null : filled.unseenPage();
    if (unseen !== null && (!first || filled.pageOf(first.fieldId) >= unseen)) {
      // What nobody has looked at yet is not sent, and not told to be wrong.
      forget();
      filled.goToPage(unseen);
      focusFirstSoon();
      return;
    }
    if (first) {
      forget();
      filled.revealAll();
      if (entering.early === 'heldBack') tell({ is: 'heldBack' });
      else filled.jump(first.fieldId);
      return;
    }
    const then = (landed: Landed): void => written(landed, now, thenOn);
    if (!base) {
      submit(sent, then);
      return;
    }
    if (settling.contests.length > 0) {
      tell({ is: 'unsettled' });
      return;
    }
    if (stored.size === 0) {
      if (thenOn) place.step('on');
      else tell({ is: 'unchanged' });
      return;
    }
    const erasing = erasedBy(base, filled, now);
    if (erasing.length > 0 && !isMeant) tell({ is: 'asked', erasing });
    else update(base, sent, then);
  };

  // The update follows once the record is known to be there again, as it is by now.
  const [restored, setRestored] = useState<Landed | null>(null);
  const isThere = restored !== null && !settling.isGone && !busy;
  const goOnUpdating = useSteady(() => {
    if (!isThere || !base || base.revision < restored.revision) return;
    setRestored(null);
    send(false);
  });
  useEffect(() => goOnUpdating(), [isThere, base, goOnUpdating]);

  const refusals = useRefusals(sending, filled.jump);
  const onResent = useSteady((landed: Landed) => written(landed, filled.submitNow().filling));
  const onResend = useSteady((sent: SentSubmit) => resend(sent, onResent));
  const { unanswered, isBack } = kept;
  useEffect(() => {
    if (unanswered) onResend(unanswered);
  }, [unanswered, onResend]);

  /** Goes to what was taken back or put back, where it is a record that stands in the sheet. */
  const afterUndo = (landed: Landed): void => {
    if (landed.kind === 'recordRemoved') return;
    const now: Sending = { is: 'written', landed, undone: true };
    if (record || landed.kind === 'recordPutBack') {
      place.goTo(landed.recordId, { sending: now, desk: { ...state, said: '' } });
    }
  };

  const lastAct = state.acts.at(-1);

  return {
    ...state,
    filled,
    sending,
    busy,
    onItsWay: onItsWay.count,
    lineWhy,
    mayEnter,
    isBack,
    refusals,
    // Whoever deleted it oneself need not be told.
    settling: sending.is === 'removed' ? { ...settling, isGone: false } : settling,
    cleared: !filled.begun && lastAct?.is === 'cleared',
    stored,
    name: base ? nameOfRecord(base.cells, form.sheet.columns, locale) : '',
    submit: useSteady(() => send(false)),
    submitAndStep: useSteady(() => send(false, true)),
    updateAllTheSame: useSteady(() => send(true)),
    remove: useSteady(() => {
      if (!base || busy) return;
      remove(base, (landed) => {
        const carry = carrying({ is: 'removed', landed }, landed, '');
        begun.keep(null);
        if (place.opened.at === null) place.goToNew({ carried: carry });
        else place.step('on', carry);
      });
    }),
    duplicate: useSteady(() => {
      if (!base) return;
      const from = nameOfRecord(base.cells, form.sheet.columns, locale);
      place.goToNew({ copied: { answers: copiedAnswers(base, filled), from } });
    }),
    restoreAndUpdate: useSteady(() => {
      const { removed } = settling;
      if (busy || !base || !removed) return;
      restore({ id: base.id, revision: removed.revision }, (landed) => {
        setRestored(landed);
        void mutate(paths.record(form.sheet.id, base.id));
      });
    }),
    enterAsNew: useSteady(() => {
      // The correction of what is gone ends here: from now on it is begun as a new record.
      kept.onAnswered(true);
      place.goToNew({ copied: { answers: filled.answers, from: '' } });
    }),
    openLast: useSteady(() => {
      const last = state.acts.findLast((act) => act.is === 'written');
      const isThere = last?.is === 'written' && last.landed.kind !== 'recordRemoved';
      if (isThere) place.goTo(last.landed.recordId);
      else place.step(landsOnTop(form) ? 'first' : 'last');
    }),
    openRow: useSteady((row: number) => {
      const { sheet } = form;
      const path = paths.rows(sheet.id, Math.max(0, row - sheet.headingRow - 1), 1);
      get<RowsView>(path)
        .then(({ records: [found] }) => found && place.goTo(found.id))
        .catch((error: unknown) => tell({ is: 'written', said: sayError(error) }));
    }),
    broughtBack: useSteady((landed: Landed) => {
      begun.keep(null);
      place.goTo(landed.recordId, carrying({ is: 'written', landed }, landed, ''));
    }),
    clear: useSteady(() => {
      const before = filled.clear();
      tell({ is: 'cleared', filled: filled.begun ? before : null });
      forget();
      focusFirstSoon();
    }),
    takeBack: useSteady(() => {
      const last = lastAct;
      // The last one may be on its way: it is not there yet to be taken back.
      if (!last || onItsWay.count > 0) return;
      tell({ is: 'takenBack' });
      if (last.is === 'written') {
        undo(last.landed, (landed) => {
          afterUndo(landed);
          // What was typed is back in the fields, to be corrected and sent again.
          if (last.filled && landed.kind === 'recordRemoved' && !record && !filled.begun) {
            filled.bringBack(last.filled);
            focusFirstSoon();
          }
        });
      } else {
        filled.bringBack(last.filled);
        focusFirstSoon();
      }
    }),
    putBack: useSteady(() => {
      if (sending.is === 'takenBack') undo(sending.landed);
      else if (sending.is === 'removed') {
        tell({ is: 'takenBack' });
        undo(sending.landed, afterUndo);
      }
    }),
    tryNow: useSteady(tryNow),
  };
}

/** Goes to what can be done with a record that is gone. */
const focusLeftBehind = (): void =>
  document.querySelector<HTMLElement>('[data-left-behind] button')?.focus();
const focusGone = (): void =>
  document.querySelector<HTMLElement>('[data-gone] button:not(:disabled)')?.focus();

const NOTHING_OTHERWISE: ReadonlyMap<string, string> = new Map();

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
