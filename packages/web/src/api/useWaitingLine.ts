import type { Landed } from '@varn/contract';
import { useEffect, useSyncExternalStore } from 'react';
import { useSWRConfig } from 'swr';
import { request } from './client';
import { applyOwn } from './events';
import { useSession } from './resources';
import { lineOf, type LineState, type WaitingLine, type WaitingSubmit } from './waitingLine';

/** How long a submit waits for its answer: on a network that hangs it joins the line. */
export const ANSWER_MS = 15_000;

const send = ({ path, body }: WaitingSubmit): Promise<Landed> =>
  request<Landed>('POST', path, body, { waitMs: ANSWER_MS });

const useLine = (): WaitingLine => lineOf(useSession().data?.person?.id ?? '', send);

/** The submits that wait to be sent, and the line they stand in. */
export function useWaitingLine(): LineState & { readonly line: WaitingLine } {
  const line = useLine();
  return { ...useSyncExternalStore(line.subscribe, line.snapshot), line };
}

/** Sends what waits, as long as one is signed in. */
export function useSendingLine(): void {
  const line = useLine();
  const { mutate } = useSWRConfig();
  useEffect(
    () =>
      line.start(({ workbookId }, landed) => {
        const { seq, kind, sheetId, writeId } = landed;
        applyOwn(mutate, workbookId, { seq, kind, sheetId, writeId, by: '', landed });
      }),
    [line, mutate],
  );
}
