import type { Answers } from '@varn/core';
import { useEffect, useRef, useState } from 'react';
import { useOwnStore } from '../api/ownStore';
import type { FormFilling } from '../form/useFilling';
import { useSteady } from '../form/useSteady';
import type { SentSubmit } from './useSubmit';

/** How long one types on before it is kept. */
const PAUSE_MS = 250;

/** A record that was begun and is not written yet. */
interface BegunRecord {
  /** What was typed, by input; starting values nobody touched are made anew. */
  readonly typed: Answers;
  /** The submit it was sent with, if no answer came: sent again as it was, it is written once. */
  readonly sent?: SentSubmit;
}

export interface Begun {
  /** Whether what was typed on an earlier visit stands in the fields, and nothing since. */
  readonly isBack: boolean;
  /** The submit of an earlier visit that got no answer, to be sent again. */
  readonly unanswered: SentSubmit | null;
  readonly onSent: (sent: SentSubmit) => void;
  readonly onAnswered: (isWritten: boolean) => void;
}

/**
 * Keeps a record that was begun in this browser, over a closed tab and other places, until it is
 * written or cleared. Of several windows on one form only the first keeps and brings back: the
 * others would enter the same record twice.
 */
export function useBegunRecord(formId: string, state: FormFilling, isKept: boolean): Begun {
  const own = useOwnStore();
  const name = `begun.${formId}`;
  const isFirst = useFirstWindow(name, isKept && !state.isLoading);
  const [back, setBack] = useState<Answers | null>(null);
  const [unanswered, setUnanswered] = useState<SentSubmit | null>(null);
  const sent = useRef<SentSubmit>(undefined);
  // Answers that are written must not come back, although they stand in the fields a moment more.
  const written = useRef<Answers>(undefined);
  const isLooked = useRef(false);

  const keep = useSteady(() => {
    if (!isLooked.current || state.answers === written.current) return;
    const typed = Object.fromEntries(
      Object.entries(state.answers).filter(([id]) => !state.untouched.has(id)),
    );
    const begun: BegunRecord = { typed, ...(sent.current && { sent: sent.current }) };
    own.store(name, state.begun || sent.current ? begun : null);
  });

  const lookFor = useSteady(() => {
    isLooked.current = true;
    const found = state.begun ? null : (own.read(name) as BegunRecord | null);
    if (!found) return;
    const ids = new Set(state.prepared.inputs.map(({ id }) => id));
    const typed = Object.entries(found.typed).filter(([id]) => ids.has(id));
    if (typed.length === 0 && !found.sent) return;
    const answers = { ...state.answers, ...Object.fromEntries(typed) };
    const untouched = new Set([...state.untouched].filter((id) => !(id in found.typed)));
    state.bringBack({ answers, untouched });
    setBack(answers);
    sent.current = found.sent;
    setUnanswered(found.sent ?? null);
  });
  useEffect(() => {
    if (!isFirst) return;
    lookFor();
    window.addEventListener('pagehide', keep);
    return () => {
      window.removeEventListener('pagehide', keep);
      keep();
      isLooked.current = false;
    };
  }, [isFirst, lookFor, keep]);

  const { answers, untouched } = state;
  useEffect(() => {
    const pause = setTimeout(keep, PAUSE_MS);
    return () => clearTimeout(pause);
  }, [answers, untouched, keep]);

  const onSent = useSteady((submit: SentSubmit) => {
    sent.current = submit;
    keep();
  });
  const onAnswered = useSteady((isWritten: boolean) => {
    sent.current = undefined;
    if (isWritten) {
      written.current = state.answers;
      if (isLooked.current) own.store(name, null);
    } else keep();
  });
  return { isBack: back === answers, unanswered, onSent, onAnswered };
}

/** Browsers have locks on secure connections; on others each window is the first. */
const HAS_LOCKS = 'locks' in navigator;

/** Whether this is the first of the windows that are open on something; becomes so in its turn. */
function useFirstWindow(name: string, wanted: boolean): boolean {
  const [isFirst, setIsFirst] = useState(false);
  useEffect(() => {
    if (!wanted || !HAS_LOCKS) return;
    const leaving = new AbortController();
    let leave = (): void => undefined;
    const hold = (): Promise<void> => {
      if (leaving.signal.aborted) return Promise.resolve();
      setIsFirst(true);
      return new Promise((resolve) => (leave = resolve));
    };
    navigator.locks
      .request(`varn.${name}`, { signal: leaving.signal }, hold)
      // Who left before their turn is no failure.
      .catch(() => undefined);
    return () => {
      leaving.abort();
      leave();
      setIsFirst(false);
    };
  }, [name, wanted]);
  return HAS_LOCKS ? isFirst : wanted;
}
