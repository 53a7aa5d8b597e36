import type { CountsView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import type { Question } from '@varn/core';
import { useEffect, useState } from 'react';
import { request, sayError } from '../api/client';

/** How long one types on before it is counted. */
const PAUSE_MS = 60;

/**
 * How many records a question finds, condition by condition: of the latest question, one request
 * after the other.
 *
 * @param seen changes when the records do, so that they are counted anew
 */
export function useCounts(
  sheetId: string,
  question: Question,
  seen: number,
): { counts: CountsView | null; isOld: boolean; failure: string } {
  const asked = JSON.stringify(question);
  const [told, setTold] = useState<{ counts: CountsView; of: string } | null>(null);
  const [failure, setFailure] = useState('');
  useEffect(() => {
    const asks = new AbortController();
    const { signal } = asks;
    const waiting = setTimeout(() => {
      request<CountsView>('POST', paths.counts(sheetId), JSON.parse(asked), { signal })
        .then((counts) => {
          if (signal.aborted) return;
          setTold({ counts, of: asked });
          setFailure('');
        })
        .catch((error: unknown) => {
          if (!signal.aborted) setFailure(sayError(error));
        });
    }, PAUSE_MS);
    return () => {
      asks.abort();
      clearTimeout(waiting);
    };
  }, [sheetId, asked, seen]);
  return { counts: told?.counts ?? null, isOld: told?.of !== asked, failure };
}
