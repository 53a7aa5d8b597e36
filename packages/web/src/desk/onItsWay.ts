import type { Landed } from '@varn/contract';
import { useEffect, useRef, useState } from 'react';
import { request } from '../api/client';
import { useWaitingLine } from '../api/useWaitingLine';
import type { WaitingSubmit } from '../api/waitingLine';
import type { FilledIn } from '../form/filledIn';
import { useSteady } from '../form/useSteady';

/** A new record that was submitted and is not answered yet, while the next one is entered. */
export interface OnItsWay {
  readonly path: string;
  readonly body: WaitingSubmit['body'];
  /** What stood in the fields, to be brought back where it is taken back. */
  readonly filled: FilledIn;
  /** What the form says once it is written. */
  readonly said: string;
}

/** By write id; of the window, so that a desk that is opened anew goes on with them. */
const onItsWay = new Map<string, OnItsWay>();

interface Outcomes {
  readonly onWritten: (landed: Landed, of: OnItsWay) => void;
  /** It waits in the line to be corrected: who types on must not find it in the fields. */
  readonly onRefused: () => void;
}

/**
 * Submits that settle behind the record that is entered: each is told of once it is answered, in
 * whichever window it was sent.
 *
 * @returns how many are on their way, and how one is put there
 */
export function useOnItsWay(
  formId: string,
  { onWritten, onRefused }: Outcomes,
): { readonly count: number; readonly put: (writeId: string, of: OnItsWay) => void } {
  const { waiting, refused, line } = useWaitingLine();
  const [, redraw] = useState(0);
  const asked = useRef(new Set<string>());
  const written = useSteady((landed: Landed) => {
    const of = onItsWay.get(landed.writeId);
    if (!of) return;
    onItsWay.delete(landed.writeId);
    redraw((n) => n + 1);
    onWritten(landed, of);
  });
  useEffect(() => line.onLanded(written), [line, written]);

  const settle = useSteady(() => {
    const known = new Set([...waiting, ...refused].map(({ body }) => body.writeId));
    for (const { body } of refused) if (onItsWay.delete(body.writeId)) onRefused();
    // Another window sent it: asked once more, the server gives the first answer again.
    for (const [writeId, { path, body }] of onItsWay) {
      if (known.has(writeId) || asked.current.has(writeId)) continue;
      asked.current.add(writeId);
      request<Landed>('POST', path, body)
        .then(written)
        .catch(() => onItsWay.delete(writeId));
    }
  });
  useEffect(() => settle(), [waiting, refused, settle]);

  return {
    count: waiting.filter((each) => each.formId === formId).length,
    put: (writeId, of) => onItsWay.set(writeId, of),
  };
}
