import { isSame, isSecret, type Answers } from '@varn/core';
import { useEffect, useRef, useState } from 'react';
import type { Begun } from '../api/useBegunWork';
import type { FormFilling } from '../form/useFilling';
import { useSteady } from '../form/useSteady';
import type { OpenRecord } from './openRecord';
import type { SentSubmit } from './useSubmit';

/** How long one types on before it is kept. */
const PAUSE_MS = 250;

/** A record that was begun at the desk, new or stored. */
export interface BegunRecord {
  /** What was typed, by input; starting values nobody touched are made anew. */
  readonly typed: Answers;
  /** The stored record that is corrected, as it was looked at; `null` for a new one. */
  readonly record: OpenRecord | null;
  /** How the fields were called that were typed in, by input: one may be gone later. */
  readonly labels?: Readonly<Record<string, string>>;
  /** What it was sent as, if no answer came: sent again as it was, it is written once. */
  readonly sent?: SentSubmit;
}

export interface KeptRecord {
  /** Whether what was typed on an earlier visit stands in the fields, and nothing since. */
  readonly isBack: boolean;
  /** What was sent on an earlier visit and got no answer, to be sent again. */
  readonly unanswered: SentSubmit | null;
  readonly onSent: (sent: SentSubmit) => void;
  readonly onAnswered: (isWritten: boolean) => void;
}

/** Keeps what stands in the fields of a form, over a closed tab and other places. */
export function useBegunRecord(
  begun: Begun<BegunRecord>,
  state: FormFilling,
  record: OpenRecord | null,
): KeptRecord {
  const [back, setBack] = useState<Answers | null>(null);
  const [unanswered, setUnanswered] = useState<SentSubmit | null>(null);
  const sent = useRef<SentSubmit>(undefined);
  // Answers that are written must not come back, although they stand in the fields a moment more,
  // and are put there anew when the write is told of.
  const written = useRef<Answers>(undefined);
  const isLooked = useRef(false);

  const keep = useSteady(() => {
    if (!isLooked.current || isSame(state.answers, written.current)) return;
    written.current = undefined;
    // Secret words are not left behind in a browser.
    const secret = state.prepared.inputs.filter(({ ruled }) => isSecret(ruled));
    const left = new Set([...state.untouched, ...secret.map(({ id }) => id)]);
    const typed = Object.fromEntries(Object.entries(state.answers).filter(([id]) => !left.has(id)));
    const isBegun = state.begun || sent.current !== undefined;
    const labels = state.typedLabels();
    const more = sent.current && { sent: sent.current };
    begun.keep(isBegun ? { typed, record, labels, ...more } : null);
  });

  const bringBack = useSteady(() => {
    if (isLooked.current) return;
    isLooked.current = true;
    const found = begun.read();
    if (!found) return;
    const { labels = {} } = found;
    const ids = new Set([...state.prepared.inputs.map(({ id }) => id), ...Object.keys(labels)]);
    const typed = Object.entries(found.typed).filter(([id]) => ids.has(id));
    if (typed.length === 0 && !found.sent) return;
    const answers = { ...state.answers, ...Object.fromEntries(typed) };
    const untouched = new Set([...state.untouched].filter((id) => !(id in found.typed)));
    state.bringBack({ answers, untouched }, labels);
    setBack(answers);
    sent.current = found.sent;
    setUnanswered(found.sent ?? null);
  });
  const isReady = begun.isReady && !state.isLoading;
  useEffect(() => {
    if (!isReady) return;
    bringBack();
    window.addEventListener('pagehide', keep);
    return () => {
      window.removeEventListener('pagehide', keep);
      keep();
      isLooked.current = false;
    };
  }, [isReady, bringBack, keep]);

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
    if (!isWritten) keep();
    else {
      written.current = state.answers;
      begun.done();
    }
  });
  return { isBack: back === answers, unanswered, onSent, onAnswered };
}
